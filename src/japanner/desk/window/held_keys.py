"""Keys that act while they are held."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QPointF, Qt
from PySide6.QtGui import QCursor, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QApplication, QLineEdit, QMainWindow, QPlainTextEdit

from japanner.desk.commands.command import HELD
from japanner.desk.easel.easel import Easel
from japanner.desk.easel.pick_ring import PickRing

__all__ = ["HeldKeys"]

KEYS = {QKeySequence.fromString(one.key)[0].key(): one.what for one in HELD}  # type: ignore[index]
TEXT_FIELDS = (QLineEdit, QPlainTextEdit)


class HeldKeys(QObject):
    """Sees all keys before anybody else; while `listening()`, the held ones act, and digits in between belong to the
    stroke ring.
    """

    def __init__(self, window: QMainWindow, easel: Easel, listening: Callable[[], bool]) -> None:
        super().__init__(window)
        self._window, self._easel, self._listening = window, easel, listening
        self._ring: PickRing | None = None  # the one that picking up has put up beside the easel
        self._application().installEventFilter(self)

    @staticmethod
    def _application() -> QApplication:
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        return application

    def stop(self) -> None:
        """Listen no more."""
        self._application().removeEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and self._window.isActiveWindow() and self._listening():
            focus = QApplication.focusWidget()
            if watched is focus and not isinstance(focus, TEXT_FIELDS) and self._held(event):
                return True
        return super().eventFilter(watched, event)

    def _held(self, event: QKeyEvent) -> bool:
        key, kind = Qt.Key(event.key()), event.type()
        digit = event.key() - Qt.Key.Key_0.value
        is_digit = 0 <= digit <= 9
        if kind == QEvent.Type.ShortcutOverride and is_digit and self._easel.holding == "ring":
            event.accept()
            return True
        plain = not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if kind == QEvent.Type.KeyPress:
            if is_digit and self._easel.type_digit(digit):
                return True
            if key in KEYS and plain:
                if not event.isAutoRepeat():
                    self._hold(KEYS[key])
                return True
        elif kind == QEvent.Type.KeyRelease and key in KEYS:
            if not event.isAutoRepeat():
                self._let_go(KEYS[key])
            return True
        return False

    def _hold(self, what: str) -> None:
        """A key that is held acts where the pointer is: colours can be picked up beside the easel, too."""
        if what == "pick" and not self._easel.has_pointer:
            widget, at = QApplication.widgetAt(QCursor.pos()), QCursor.pos()
            ring = getattr(widget, "pick", None)
            if widget is not None and isinstance(ring, PickRing):
                self._ring = ring
                ring.move(QPointF(widget.mapFromGlobal(at)))
                return
        self._easel.hold(what)

    def _let_go(self, what: str) -> None:
        if self._ring is not None and what == "pick":
            self._ring.take()
            self._ring = None
        elif self._easel.holding == what:
            self._easel.letting_go()
