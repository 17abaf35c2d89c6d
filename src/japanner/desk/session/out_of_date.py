"""Which made layers are out of date: looked up beside the window once the painting rests."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Final

from PySide6.QtCore import QObject, QTimer, Signal

from japanner.desk.session.latest import Latest
from japanner.painting.makers import outdated
from japanner.painting.model import Painting

__all__ = ["OutOfDate"]

REST_MS: Final = 600


class OutOfDate(QObject):
    """Knows the runs of makers whose layers would come out otherwise by now."""

    changed = Signal()

    def __init__(self, painting: Callable[[], Painting], parent: QObject) -> None:
        super().__init__(parent)
        self.runs: frozenset[int] = frozenset()
        self._painting = painting
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self._look)
        self._latest = Latest(self, _runs)
        self._latest.delivered.connect(self._take)

    def ask(self, *_: object) -> None:
        """Look again once nothing has changed for a while."""
        self._rest.start()

    def _look(self) -> None:
        self._latest.want(self._painting())

    def _take(self, painting: Painting, runs: frozenset[int]) -> None:
        if painting is self._painting() and runs != self.runs:
            self.runs = runs
            self.changed.emit()

    def settle(self) -> None:
        """Until what has been asked for is known."""
        if self._rest.isActive():
            self._rest.stop()
            self._look()
        self._latest.settle()


def _runs(painting: Painting, deliver: Callable[[Any], None], told: Callable[[float], None]) -> None:
    found = set[int]()
    for part in painting.parts:
        told(0.0)
        found |= {one.run for one in outdated(painting, part)}
    deliver(frozenset(found))
