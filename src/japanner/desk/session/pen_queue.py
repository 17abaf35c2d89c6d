"""Reports of the pen that wait for the brush, so that a slow one does not fall behind the hand more and more."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from time import perf_counter
from typing import Final

from PySide6.QtCore import QObject, QTimer

__all__ = ["PenQueue"]

Samples = Sequence[Sequence[float]]
QUICK_S: Final = 0.010
"""A brush that keeps within this paints at every report at once."""


class PenQueue(QObject):
    """Gives reports to `paint`: each at once while that is quick, else all that have come in meanwhile together.

    What a stroke becomes does not depend on how its reports are bundled.
    """

    def __init__(self, parent: QObject, paint: Callable[[Samples], None]) -> None:
        super().__init__(parent)
        self._paint, self._waiting = paint, list[Sequence[float]]()
        self._took_s = 0.0
        # It runs when no more events are waiting.
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self.flush)

    def take(self, samples: Samples) -> None:
        """The next reports of the pen."""
        self._waiting += samples
        if self._took_s < QUICK_S:
            self.flush()
        elif not self._soon.isActive():
            self._soon.start(0)

    def flush(self) -> None:
        """Paint what is waiting."""
        self._soon.stop()
        waiting, self._waiting = self._waiting, []
        if waiting:
            start = perf_counter()
            self._paint(waiting)
            self._took_s = perf_counter() - start

    def drop(self) -> None:
        """Forget what is waiting, and how slow the brush was."""
        self._soon.stop()
        self._waiting, self._took_s = [], 0.0
