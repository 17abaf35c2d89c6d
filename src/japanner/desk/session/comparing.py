"""The painting as it was, in the place of the painting as it is."""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from japanner.painting.live.moments import LAST_SAVE, Moments
from japanner.painting.model import Painting
from japanner.raster.geometry import Rect

__all__ = ["Comparing"]

Former = tuple[Painting, list[Rect]]


class Comparing(QObject):
    """Blinks between now and a moment: before the last change, the last save, or one that was kept."""

    blinked = Signal()
    told = Signal(str)

    def __init__(
        self, painting: Callable[[], Painting], *, last_change: Callable[[], Former | None],
        last_save: Callable[[], Painting], rest: Callable[[], None],
        show: Callable[[Painting, list[Rect]], None], parent: QObject | None = None,
    ) -> None:  # fmt: skip
        """`last_change`: the painting before it, and where it differs; `rest`: puts the hand to rest."""
        super().__init__(parent)
        self._painting, self._last_change, self._last_save = painting, last_change, last_save
        self._rest, self._show = rest, show
        self.moments = Moments()
        self.before_shown = False

    def blink(self) -> None:
        """Show the painting as it was at the moment chosen to compare with; again to come back."""
        self._rest()
        former, now = self._former(), self._painting()
        if former is None:
            self.told.emit("There is nothing to compare with yet.")
            return
        painting, areas = former
        if (painting.width, painting.height) != (now.width, now.height):
            self.told.emit("The canvas had another size then; undo to see it.")
            return
        self.before_shown = not self.before_shown
        self._show(painting if self.before_shown else now, areas)
        self.blinked.emit()

    def _former(self) -> Former | None:
        """The painting to compare with, and where it may differ."""
        chosen, whole = self.moments.chosen, [self._painting().rect]
        if chosen == LAST_SAVE:
            return self._last_save(), whole
        if isinstance(chosen, int):
            return self.moments.kept[chosen].painting, whole
        former = self._last_change()
        return None if former is None else (former[0], former[1] or whole)

    def last_saved(self) -> Painting:
        """The painting as it was saved, or as it was opened."""
        return self._last_save()

    def keep_moment(self) -> None:
        """Keep the painting as it is now to compare with later."""
        self.moments.keep(time.strftime("%H:%M:%S"), self._painting())
        self.told.emit("This moment is kept to compare with. Look › Compare with chooses another one.")

    def compare_with(self, what: str | int) -> None:
        """Choose what `blink` shows: LAST_CHANGE, LAST_SAVE or the index of a kept moment."""
        self.end()
        self.moments.chosen = what
        self.blinked.emit()

    def end(self) -> None:
        """Show the present painting again."""
        if self.before_shown:
            self.blink()

    def forget(self) -> None:
        """There is another painting."""
        self.before_shown = False
        self.moments.forget()
