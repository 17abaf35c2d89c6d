"""Keys that act while they are held."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Final

from PySide6.QtCore import QEvent, QObject, QPointF, Qt
from PySide6.QtGui import QCursor, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QApplication, QLineEdit, QMainWindow, QPlainTextEdit

from japanner.desk.commands.command import HELD, PANEL_KEYS, Held
from japanner.desk.easel.easel import Easel
from japanner.desk.easel.pick_ring import PickRing
from japanner.desk.window.bench_page import BenchPage

__all__ = ["HeldKeys"]

KEYS: Final[dict[int, Held]] = {QKeySequence.fromString(one.key)[0].key(): one for one in HELD}  # type: ignore[index]
PANELS: Final = {QKeySequence.fromString(key)[0].key(): name for name, key in PANEL_KEYS.items()}  # type: ignore[index]
TEXT_FIELDS = (QLineEdit, QPlainTextEdit)
# A key that is let go sooner was tapped.
TAP_S: Final = 0.3
MODIFIERS: Final = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier


class HeldKeys(QObject):
    """Sees all keys before anybody else; while `listening()`, the held ones act, and digits in between belong to the
    stroke ring.
    """

    def __init__(
        self, window: QMainWindow, easel: Easel, bench: BenchPage, run: Callable[[str], object],
        listening: Callable[[], bool],
    ) -> None:  # fmt: skip
        """`run` does what a command of some path does, for keys that were only tapped."""
        super().__init__(window)
        self._window, self._easel, self._bench, self._run, self._listening = window, easel, bench, run, listening
        self._pressed_at_s = 0.0
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
            # With the focus nowhere, keys come to the window itself.
            here = watched is focus or (focus is None and watched is self._window)
            if here and not isinstance(focus, TEXT_FIELDS) and self._held(event):
                return True
        return super().eventFilter(watched, event)

    def _held(self, event: QKeyEvent) -> bool:
        key, kind = Qt.Key(event.key()), event.type()
        digit = event.key() - Qt.Key.Key_0.value
        is_digit = 0 <= digit <= 9
        if kind == QEvent.Type.ShortcutOverride and is_digit and self._easel.holding == "ring":
            event.accept()
            return True
        plain = not event.modifiers() & MODIFIERS
        if key in PANELS and plain and self._bench.alone:
            return self._panel(PANELS[key], event)
        if kind == QEvent.Type.KeyPress:
            if is_digit and self._easel.type_digit(digit):
                return True
            if key in KEYS and plain:
                if not event.isAutoRepeat():
                    self._pressed_at_s = _time_of(event)
                    self._hold(KEYS[key].what)
                return True
        elif kind == QEvent.Type.KeyRelease and key in KEYS:
            if not event.isAutoRepeat():
                self._let_go(KEYS[key], self._tapped(event))
            return True
        return False

    def _panel(self, name: str, event: QKeyEvent) -> bool:
        """With the easel alone: held, the panel lies over the picture as long; tapped, until it is left."""
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
        elif event.isAutoRepeat():
            return True
        elif event.type() == QEvent.Type.KeyPress:
            self._pressed_at_s = _time_of(event)
            self._bench.hold(name, down=True)
        elif event.type() == QEvent.Type.KeyRelease:
            self._bench.hold(name, down=False, stays=self._tapped(event))
        return True

    def _tapped(self, release: QKeyEvent) -> bool:
        return _time_of(release) - self._pressed_at_s < TAP_S

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

    def _let_go(self, held: Held, tapped: bool) -> None:
        if self._ring is not None and held.what == "pick":
            self._ring.take()
            self._ring = None
            return
        used = self._easel.ring_used
        if self._easel.holding == held.what:
            self._easel.letting_go()
        if held.tap and tapped and not used:
            self._run(held.tap)


def _time_of(event: QKeyEvent) -> float:
    """When the key moved, not when we came to hear of it: a tap stays one while the program is busy."""
    return event.timestamp() / 1000 or time.monotonic()
