"""Pictures along the way of a painting, painted anew beside the window while its growth is looked at."""

from __future__ import annotations

from bisect import bisect_right, insort
from collections.abc import Callable, Sequence

from PySide6.QtCore import QObject, Signal

from japanner.desk.session.latest import Latest
from japanner.painting.document.way import Seen, Way, pictures_along
from japanner.types import Record

__all__ = ["Pictures"]

Wish = Sequence[Record]


def _paint(records: Wish, deliver: Callable[[Seen], None], told: Callable[[float], None]) -> None:
    for one in pictures_along(records, lambda share, _: told(share)):
        deliver(one)


class Pictures(QObject):
    """Those of the file are there at once; finer ones arrive from the first change on."""

    arrived = Signal(int)  # after which change

    def __init__(self, parent: QObject, failed: Callable[[str], None]) -> None:
        super().__init__(parent)
        self._places: list[int] = []
        self._seen: dict[int, Seen] = {}
        self._of: tuple[int, int] = (0, 0)
        self._complete = False
        self._latest = Latest(self, _paint)
        self._latest.delivered.connect(self._take)
        self._latest.failed.connect(failed)

    def begin(self, way: Way, records: Sequence[Record]) -> None:
        """Show this way; what was painted of the same before stays."""
        of = id(records), len(records)
        if of != self._of or not self._seen:
            self._of, self._complete = of, False
            self._seen = {one.at: one for one in way.known}
            self._places = sorted(self._seen)
        if way.whole and not self._complete:
            self._count = way.count
            self._latest.want(list(records))

    def stop(self) -> None:
        """Paint no more of them for now."""
        self._latest.stop()

    def wait(self) -> None:
        """Until all are there."""
        self._latest.settle()

    def at(self, change: int) -> Seen | None:
        """The last picture up to a change; None where there is none yet."""
        place = bisect_right(self._places, change)
        if place:
            return self._seen[self._places[place - 1]]
        return self._seen[self._places[0]] if self._places else None

    @property
    def places(self) -> Sequence[int]:
        """After which changes there are pictures."""
        return self._places

    def _take(self, _: Wish, one: Seen) -> None:
        if one.at not in self._seen:
            insort(self._places, one.at)
        self._seen[one.at] = one
        self._complete = self._complete or one.at == self._count
        self.arrived.emit(one.at)
