"""A report as text to be copied: of an error, or of this program on this machine."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLabel, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from japanner.desk.trouble import log_file

__all__ = ["ReportView"]


class ReportView(QDialog):
    """The text, a button that copies it, and where the log lies; Escape closes it."""

    def __init__(self, parent: QWidget, report: str) -> None:
        super().__init__(parent)
        self.setWindowTitle("Report")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.text = QPlainTextEdit(report)
        self.text.setReadOnly(True)
        self.text.setAccessibleName("Report")
        copy = QPushButton("Copy")
        copy.setToolTip("Put the report on the clipboard")
        copy.clicked.connect(self.copy)
        where = QLabel(f"The log lies in {log_file()}")
        where.setObjectName("quiet")
        row = QHBoxLayout()
        row.addWidget(where, 1)
        row.addWidget(copy)
        column = QVBoxLayout(self)
        column.addWidget(self.text)
        column.addLayout(row)
        self.resize(720, 420)

    def copy(self) -> None:
        """Put the report on the clipboard."""
        QGuiApplication.clipboard().setText(self.text.toPlainText())
