"""What the program says over the easel: sentences that stay until they are read, and how far a job is."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable
from typing import Final

from PySide6.QtCore import QPoint, QSize, Qt, QTimer, Signal
from PySide6.QtWidgets import QFrame, QLabel, QListWidget, QProgressBar, QPushButton, QVBoxLayout, QWidget

from japanner.desk.widgets.bar import GAP, GRIP, PAD, Bar

__all__ = ["MOST_KEPT", "MessageBar", "MessageList", "Messages", "ProgressBar", "sentence"]

STEPS: Final = 1000
MOST_KEPT: Final = 50
WORDS_PX: Final = 560
# A job that is over sooner shows no bar: it would only flicker.
SHOWN_AFTER_MS: Final = 150


class MessageBar(Bar):
    """The last sentence; it stays until the next one, or until it is pressed."""

    def __init__(self) -> None:
        super().__init__()
        self.message = QLabel(self)
        self.message.setWordWrap(True)
        self.message.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.offer = _button("", "Do what the message says", self)
        self.report = _button("report…", "What went wrong, as text to be copied", self)
        self.earlier = _button("earlier", "What was said before", self)
        self.away = _button("✕", "Put the message away (or press it)", self)
        self.away.setAccessibleName("Put the message away")
        self.setToolTip("Press to put it away")
        for button in (self.report, self.earlier, self.away):
            button.setObjectName("plain")
        self.pressed.connect(self.hide)
        self.away.clicked.connect(self.hide)

    def fit(self, width: int) -> tuple[int, int]:
        return self.fit_words(self.message, (self.offer, self.report, self.earlier, self.away), width, WORDS_PX)


class ProgressBar(Bar):
    """What is being done, how far it is, and the way to give it up."""

    def __init__(self) -> None:
        super().__init__()
        self.words, self.progress = QLabel(self), QProgressBar(self)
        self.progress.setTextVisible(False)
        self.stop = _button("Stop", "Give up what is being done; the painting stays as it is", self)

    def fit(self, width: int) -> tuple[int, int]:
        stop = self.stop.sizeHint()
        wide = min(width, WORDS_PX)
        words = min(self.words.sizeHint().width(), wide // 2)
        high = max(stop.height(), 22)
        self.words.setGeometry(GRIP, PAD, words, high)
        left, right = GRIP + words + GAP, wide - GAP - stop.width()
        self.progress.setGeometry(left, PAD + high // 2 - 2, max(right - GAP - left, 20), 4)
        self.stop.setGeometry(right, PAD + (high - stop.height()) // 2, stop.width(), stop.height())
        return wide, high + 2 * PAD


class MessageList(QFrame):
    """What was said, the last one first."""

    def __init__(self, parent: QWidget, kept: deque[tuple[float, str]]) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setObjectName("panel")
        self.list = QListWidget()
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        for at, text in reversed(kept):
            self.list.addItem(f"{time.strftime('%H:%M', time.localtime(at))}   {text}")
        column = QVBoxLayout(self)
        column.setContentsMargins(1, 1, 1, 1)
        column.addWidget(self.list)
        self.resize(QSize(460, min(60 + 34 * len(kept), 380)))


class Messages(QWidget):
    """Both bars, and the last fifty sentences. It is no widget to be shown: its bars lie over the easel."""

    stop_wanted = Signal()
    report_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.hide()
        self.kept: deque[tuple[float, str]] = deque(maxlen=MOST_KEPT)
        self.bar, self.job = MessageBar(), ProgressBar()
        self.message = self.bar.message
        self._offered: Callable[[], object] | None = None
        self.bar.offer.clicked.connect(self._take_offer)
        self.bar.report.clicked.connect(self.report_wanted)
        self.bar.earlier.clicked.connect(lambda: self.show_list(self.bar.mapToGlobal(QPoint(0, self.bar.height()))))
        self.job.stop.clicked.connect(self.stop_wanted)
        self._late = QTimer(self)
        self._late.setSingleShot(True)
        self._late.setInterval(SHOWN_AFTER_MS)
        self._late.timeout.connect(self._show_job)

    def tell(
        self, text: str, *, with_report: bool = False, offer: tuple[str, Callable[[], object]] | None = None
    ) -> None:
        """Say one sentence. offer: words of a button, and what it does."""
        words = sentence(text)
        self.kept.append((time.time(), words))
        self.message.setText(words)
        self.bar.report.setVisible(with_report)
        self.bar.earlier.setVisible(len(self.kept) > 1)
        self._offered = None if offer is None else offer[1]
        self.bar.offer.setVisible(offer is not None)
        if offer is not None:
            self.bar.offer.setText(offer[0])
        self.bar.show()
        self.bar.resized.emit()

    def _take_offer(self) -> None:
        act, self._offered = self._offered, None
        self.bar.hide()
        if act is not None:
            act()

    def show_list(self, at: QPoint) -> None:
        """The last fifty, to be read again."""
        made = MessageList(self.bar.window(), self.kept)
        made.move(at)
        made.show()

    def begin(self, words: str) -> None:
        """A job begins."""
        self.job.words.setText(words)
        self.job.progress.setRange(0, 0)
        self.job.stop.setEnabled(True)
        self._late.start()

    def _show_job(self) -> None:
        self.job.show()
        self.job.resized.emit()

    def go_on(self, done: float, words: str) -> None:
        """A job is so far, 0..1."""
        self.job.progress.setRange(0, STEPS)
        self.job.progress.setValue(round(done * STEPS))
        if self.job.stop.isEnabled() and words != self.job.words.text():
            self.job.words.setText(words)
            self.job.resized.emit()

    def stopping(self) -> None:
        """The job ends as soon as it can."""
        self.job.words.setText("Stopping …")
        self.job.stop.setEnabled(False)
        self._show_job()

    def end(self) -> None:
        """No job runs any more."""
        self._late.stop()
        self.job.hide()
        self.job.resized.emit()


def sentence(text: str) -> str:
    """The text with a stop at its end."""
    return f"{text}." if text and text[-1] not in ".!?…" else text


def _button(text: str, tip: str, parent: QWidget) -> QPushButton:
    button = QPushButton(text, parent)
    button.setToolTip(tip)
    return button
