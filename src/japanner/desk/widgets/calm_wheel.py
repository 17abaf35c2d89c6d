"""The wheel over a column scrolls it; a control under the pointer takes it only when it is meant."""

from __future__ import annotations

import time
from typing import Final

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QScrollArea, QWidget

__all__ = ["calm"]

# A control that the pointer has rested on for so long, without a scroll meanwhile, is meant.
RESTED_S: Final = 0.5


class _Calm(QObject):
    """Knows since when the pointer rests on one control."""

    def __init__(self, control: QWidget) -> None:
        super().__init__(control)
        self._control, self._since = control, time.monotonic()
        control.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        kind = event.type()
        if kind == QEvent.Type.Enter:
            self._since = time.monotonic()
        elif kind == QEvent.Type.Wheel and not self._meant():
            self._since = time.monotonic()
            event.ignore()  # it goes on to what scrolls
            return True
        return False

    def _meant(self) -> bool:
        rested = time.monotonic() - self._since >= RESTED_S
        return rested or self._control.hasFocus() or not _scrolls(self._control)


def _scrolls(control: QWidget) -> bool:
    """Whether the control stands in something that the wheel would move."""
    above = control.parentWidget()
    while above is not None:
        if isinstance(above, QScrollArea) and above.verticalScrollBar().maximum() > 0:
            return True
        above = above.parentWidget()
    return False


def calm(control: QWidget) -> None:
    """Let a control take the wheel only if it has the focus, or the pointer has rested on it."""
    _Calm(control)
