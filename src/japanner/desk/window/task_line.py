"""The line above the easel: what task the hand is at, and its options."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from japanner.desk.easel.task import Task

__all__ = ["TaskLine"]


class TaskLine(QWidget):
    """Hidden while the painter paints."""

    leave_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._title = QLabel()
        self._title.setObjectName("heading")
        self._title.setFixedWidth(74)
        self._row = QHBoxLayout()
        leave = QPushButton("paint on")
        leave.setObjectName("plain")
        leave.setToolTip("Leave this and go back to painting (Esc)")
        leave.clicked.connect(self.leave_wanted)
        self._hint = QLabel()
        self._hint.setObjectName("quiet")
        self._hint.setWordWrap(True)
        self._hint.setContentsMargins(82, 0, 0, 0)
        row = QHBoxLayout()
        row.setSpacing(8)
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 5, 6, 5)
        column.setSpacing(4)
        column.addLayout(row)
        column.addWidget(self._hint)
        row.addWidget(self._title, 0, Qt.AlignmentFlag.AlignTop)
        row.addLayout(self._row, 1)
        row.addWidget(leave, 0, Qt.AlignmentFlag.AlignTop)
        self.hide()

    def show_task(self, task: Task | None) -> None:
        """Show the options of a task, or hide the line."""
        while (item := self._row.takeAt(0)) is not None:
            if widget := item.widget():
                widget.setParent(None)  # the task keeps its options for the next time
        if task is not None:
            self._title.setText(task.title)
            self._row.addWidget(task.options, 1)
            task.options.show()
            self.show_hint(task.hint)
        self.setVisible(task is not None)

    def show_hint(self, hint: str) -> None:
        """Say how the task is done."""
        self._hint.setText(hint)
        self._hint.setVisible(bool(hint))
