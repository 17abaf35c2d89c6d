"""Tooltips that lead on: under the words stands the way to the page of the guide about them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

from PySide6.QtCore import QEvent, QObject, QPoint, QRect, Qt, QTimer
from PySide6.QtGui import QCursor, QHelpEvent
from PySide6.QtWidgets import QApplication, QFrame, QHBoxLayout, QLabel, QPushButton, QWidget

__all__ = ["Tips"]

BESIDE: Final = QPoint(2, 18)
NEAR_PX: Final = 10
WORDS_PX: Final = 420
LOOK_MS: Final = 200
ENDS: Final = (
    QEvent.Type.MouseButtonPress, QEvent.Type.KeyPress, QEvent.Type.Wheel, QEvent.Type.TabletPress,
    QEvent.Type.WindowDeactivate,
)  # fmt: skip


class Tips(QObject):
    """Shows the tooltips of widgets that the guide has a section about; all others Qt shows as ever.

    topic_of: the section about a widget, "" for none. read: opens the guide there. A tip stays while the pointer is at
    its widget or on the tip itself, so that *more* can be pressed.
    """

    def __init__(self, window: QWidget, topic_of: Callable[[QWidget], str], read: Callable[[str], None]) -> None:
        super().__init__(window)
        self._topic_of, self._read, self._topic = topic_of, read, ""
        self._about: QWidget | None = None
        self.box = QFrame(window, Qt.WindowType.ToolTip)
        self.box.setObjectName("tip")
        self.box.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating)
        self.words = QLabel()
        self.more = QPushButton("more")
        self.more.setObjectName("plain")
        self.more.setToolTip("The page of the guide about this (F1)")
        self.more.clicked.connect(self._on_more)
        row = QHBoxLayout(self.box)
        row.setContentsMargins(6, 3, 3, 3)
        row.addWidget(self.words, 1)
        row.addWidget(self.more, 0, Qt.AlignmentFlag.AlignBottom)
        self._clock = QTimer(self)
        self._clock.setInterval(LOOK_MS)
        self._clock.timeout.connect(self._look)
        application = QApplication.instance()
        assert application is not None
        application.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        kind = event.type()
        if kind == QEvent.Type.ToolTip and isinstance(event, QHelpEvent) and isinstance(watched, QWidget):
            return self._show(watched, event.globalPos())
        if self._about is not None and kind in ENDS and not (
            isinstance(watched, QWidget) and (watched is self.box or self.box.isAncestorOf(watched))
        ):  # fmt: skip
            self.hide()
        return False

    def _show(self, widget: QWidget, at: QPoint) -> bool:
        if self.box.isAncestorOf(widget):
            return True  # a tip has no tips
        topic = self._topic_of(widget) if widget.toolTip() else ""
        if not topic:
            self.hide()
            return False
        self._about, self._topic = widget, topic
        self.words.setWordWrap(False)
        self.words.setText(widget.toolTip())
        if self.words.sizeHint().width() > WORDS_PX:
            self.words.setWordWrap(True)
            self.words.setFixedWidth(WORDS_PX)
        else:
            self.words.setMinimumWidth(0)
            self.words.setMaximumWidth(WORDS_PX)
        self.box.adjustSize()
        self.box.move(self._placed(at))
        self.box.show()
        self._clock.start()
        return True

    def _placed(self, at: QPoint) -> QPoint:
        """Below the pointer and on the screen; above it where there is no room."""
        screen = QApplication.screenAt(at) or QApplication.primaryScreen()
        room, box = screen.availableGeometry(), QRect(at + BESIDE, self.box.size())
        if box.bottom() > room.bottom():
            box.moveBottom(at.y() - NEAR_PX)
        box.moveLeft(max(min(box.left(), room.right() - box.width()), room.left()))
        return box.topLeft()

    def _look(self) -> None:
        """Whether the pointer is still where the tip is about, on it, or on the way to it."""
        about, at = self._about, QCursor.pos()
        if about is None or not about.isVisible():
            self.hide()
            return
        place = QRect(about.mapToGlobal(QPoint(0, 0)), about.size())
        near = self.box.frameGeometry().adjusted(-NEAR_PX, -NEAR_PX - BESIDE.y(), NEAR_PX, NEAR_PX)
        if not place.contains(at) and not near.contains(at):
            self.hide()

    def _on_more(self) -> None:
        topic = self._topic
        self.hide()
        self._read(topic)

    def hide(self) -> None:
        """Put the tip away."""
        self._about = None
        self._clock.stop()
        self.box.hide()
