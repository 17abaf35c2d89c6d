"""The line over the easel: what task the hand is at, and its options."""

from __future__ import annotations

from typing import Final

from PySide6.QtCore import QRect, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics
from PySide6.QtWidgets import QApplication, QLabel, QPushButton, QWidget

from japanner.desk.easel.task import Task
from japanner.desk.settings import recall, remember
from japanner.desk.theme import font
from japanner.desk.widgets.bar import GRIP, Bar
from japanner.desk.widgets.option_row import Options

__all__ = ["TaskLine"]

GAP: Final = 8
PAD: Final = 4
HINT_PX: Final = 620
LINE_PX: Final = 26


class TaskLine(Bar):
    """One line at rest; what does not fit is one press away, and how it was left is remembered for each task.

    Not there while the painter paints.
    """

    leave_wanted = Signal()
    guide_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.task: Task | None = None
        self._title = QLabel(self)
        self._title.setObjectName("heading")
        self._clip = QWidget(self)
        self.more = self._plain("more ▾", "All options of this, and how it is done")
        self.more.clicked.connect(self._toggle)
        leave = self._leave = self._plain("paint on", "Leave this and go back to painting (Esc)")
        leave.clicked.connect(self.leave_wanted)
        self.guide = self._plain("guide", "The page of the guide that is about this")
        self.guide.clicked.connect(lambda _=False: self.guide_wanted.emit())
        self._hint = QLabel(self)
        self._hint.setObjectName("quiet")
        self._hint.setWordWrap(True)
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        application.focusChanged.connect(self._on_focus)

    def _plain(self, text: str, tip: str) -> QPushButton:
        button = QPushButton(text, self)
        button.setObjectName("plain")
        button.setToolTip(tip)
        return button

    @property
    def unfolded(self) -> bool:
        kept = recall("task lines", {})
        return self.task is not None and kept.get(self.task.title, self.task.unfolds) is True

    def _toggle(self) -> None:
        if self.task is not None:
            remember("task lines", {**recall("task lines", {}), self.task.title: not self.unfolded})
            self.resized.emit()

    def _on_focus(self, _: QWidget | None, now: QWidget | None) -> None:
        """The keyboard has gone to an option below the first line."""
        if now is None or not self.isVisible() or not self._clip.isAncestorOf(now) or self.unfolded:
            return
        if now.mapTo(self._clip, now.rect().topLeft()).y() >= self._clip.height():
            self._toggle()

    def show_task(self, task: Task | None) -> None:
        """Show the options of a task, or none."""
        if self.task is not None:
            options = self.task.options
            options.setParent(None)  # the task keeps its options for the next time
            if isinstance(options, Options):
                options.refilled.disconnect(self.resized)
        self.task = task
        if task is not None:
            self._title.setText(task.title)
            task.options.setParent(self._clip)
            task.options.show()
            if isinstance(task.options, Options):
                task.options.refilled.connect(self.resized)
            self.show_hint(task.hint)
        self.setVisible(task is not None)
        self.resized.emit()

    def show_hint(self, hint: str) -> None:
        """Say how the task is done; folded, the foot of the easel says it."""
        if hint != self._hint.text():
            self._hint.setText(hint)
            self.resized.emit()

    def fit(self, width: int) -> tuple[int, int]:
        options = None if self.task is None else self.task.options
        if not isinstance(options, Options):
            return 0, 0
        self.more.setText("less ▴" if self.unfolded else "more ▾")
        title, more, leave = (one.sizeHint() for one in (self._title, self.more, self._leave))
        guide = self.guide.sizeHint()
        left = GRIP + title.width() + GAP
        bare = left + leave.width() + guide.width() + 3 * GAP
        flow, unfolded = options.flow, self.unfolded
        flow.folded = not unfolded
        foldable = unfolded or bool(self._hint.text()) or not flow.fits(width - bare)
        room = width - bare - (more.width() + GAP if foldable else 0)
        if not unfolded and not flow.fits(room):
            room = width - bare - more.width() - GAP
        # Unfolded, the options have lines of their own, below title and buttons.
        beside = left if not unfolded else GRIP
        wide = min(flow.one_line(), room if not unfolded else width - GRIP - GAP)
        inner_high = flow.heightForWidth(wide) if unfolded else flow.first_line(wide)
        first = max(LINE_PX, more.height()) if unfolded else max(inner_high, more.height())
        high = first + 2 * PAD + (inner_high + PAD if unfolded else 0)
        self._title.setGeometry(QRect(GRIP, PAD, title.width(), first))
        top = PAD if not unfolded else first + 2 * PAD
        self._clip.setGeometry(beside, top, wide, inner_high)
        options.setGeometry(0, 0, wide, max(flow.heightForWidth(wide), inner_high))
        least = more.width() + guide.width() + leave.width() + 2 * GAP
        x = left + wide + GAP if not unfolded else max(GRIP + wide - least, left)
        self.more.setVisible(foldable)
        for button, size in ((self.more, more), (self.guide, guide), (self._leave, leave)):
            if button is not self.more or foldable:
                button.setGeometry(x, PAD + max((first - size.height()) // 2, 0), size.width(), size.height())
                x += size.width() + GAP
        self._hint.setVisible(unfolded and bool(self._hint.text()))
        if self._hint.isVisibleTo(self):
            tall = self._hint_height(x - beside - GAP)
            self._hint.setGeometry(beside, high - PAD + 2, x - beside - GAP, tall)
            high += tall + 2
        return x, high

    def _hint_height(self, width: int) -> int:
        metrics = QFontMetrics(font(11))
        flags = Qt.TextFlag.TextWordWrap
        return metrics.boundingRect(QRect(0, 0, max(width, 80), 1000), flags, self._hint.text()).height() + 2

    def sizeHint(self) -> QSize:
        return QSize(*self.fit(HINT_PX))
