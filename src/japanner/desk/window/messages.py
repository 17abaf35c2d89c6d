"""What the program says above the easel: one sentence, and how far a job is."""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton, QVBoxLayout, QWidget

__all__ = ["Messages"]

TOLD_MS = 9000
STEPS = 1000


class Messages(QWidget):
    """Two lines that are there only while there is something to say."""

    stop_wanted = Signal()
    report_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.message = QLabel()
        self.message.setWordWrap(True)
        self.message.setStyleSheet("font-size: 12px;")
        self.report = _button("report…", "What went wrong, as text to be copied")
        self.report.setObjectName("plain")
        self.report.clicked.connect(self.report_wanted)
        self.message_line = _line(self.message, self.report, stretched=self.message)
        self.words, self.progress = QLabel(), QProgressBar()
        self.progress.setTextVisible(False)
        stop = _button("Stop", "Give up what is being done; the painting stays as it is")
        stop.clicked.connect(self.stop_wanted)
        self.progress_line = _line(self.words, self.progress, stop, stretched=self.progress)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.progress_line)
        column.addWidget(self.message_line)
        self._hush = QTimer(self)
        self._hush.setSingleShot(True)
        self._hush.timeout.connect(self.message_line.hide)

    def tell(self, text: str, *, with_report: bool = False) -> None:
        """Say one sentence; it goes by itself, unless there is a report to it."""
        self.message.setText(sentence(text))
        self.report.setVisible(with_report)
        self.message_line.show()
        if with_report:
            self._hush.stop()
        else:
            self._hush.start(TOLD_MS)

    def begin(self, words: str) -> None:
        """A job begins."""
        self.words.setText(words)
        self.progress.setRange(0, 0)
        self.progress_line.show()

    def go_on(self, done: float, words: str) -> None:
        """A job is so far, 0..1."""
        self.progress.setRange(0, STEPS)
        self.progress.setValue(round(done * STEPS))
        self.words.setText(words)

    def end(self) -> None:
        """No job runs any more."""
        self.progress_line.hide()


def sentence(text: str) -> str:
    """The text with a stop at its end."""
    return f"{text}." if text and text[-1] not in ".!?…" else text


def _button(text: str, tip: str) -> QPushButton:
    button = QPushButton(text)
    button.setToolTip(tip)
    return button


def _line(*widgets: QWidget, stretched: QWidget) -> QWidget:
    line = QWidget()
    line.setObjectName("panel")
    line.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
    row = QHBoxLayout(line)
    row.setContentsMargins(10, 3, 10, 3)
    for widget in widgets:
        row.addWidget(widget, 1 if widget is stretched else 0)
    line.hide()
    return line
