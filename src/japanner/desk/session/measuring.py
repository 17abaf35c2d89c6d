"""Lines of proportion in the hand: drawn and dragged on the canvas and on pinned pictures alike."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Final

from PySide6.QtCore import QObject, Signal

from japanner.files.shelf.references import size_of
from japanner.painting.model import MOST_MEASURES, Measure, Painting
from japanner.painting.operations import Operation, SetMeasures
from japanner.review.measuring import LineCompared, compared, laid_on_canvas, laying, steps_along
from japanner.review.proportion import Place, Similarity

__all__ = ["Measuring"]

REACH_PX: Final = 12.0
"""Of the screen: so near to an end a press takes hold of it."""
SHORTEST_PX: Final = 3.0
SNAP_DEG: Final = 15.0
CANVAS: Final = ""


class Measuring(QObject):
    """What is measured with, and the line in the hand until it counts.

    on: presses measure. kind: what the next press begins. chosen: the number of the line touched last. against: the
    pinned picture that the canvas is measured against. both: a new line is laid on the other picture, too. cells: of
    the grid along the canvas's longer side, 0 for none.
    """

    changed = Signal()
    told = Signal(str)

    def __init__(
        self, painting: Callable[[], Painting], apply: Callable[[Operation], object], parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self._painting, self._apply = painting, apply
        self.on, self.kind, self.chosen = False, "line", 0
        self.against, self.both, self.cells = "", True, 0
        self._held: tuple[Measure, int] | None = None
        """The line in the hand, and which of its ends (2: all of it)."""
        self._fresh = False

    def set(self, **settings: object) -> None:
        """Change on, kind, against, both, cells or chosen."""
        for name, value in settings.items():
            setattr(self, name, value)
        self.changed.emit()

    # --- what there is ----------------------------------------------------------------------------------

    def lines_on(self, picture: str) -> list[Measure]:
        """Those on the canvas (""), or on a pinned picture, as they are dragged."""
        kept = [one for one in self._painting().measures if one.picture == picture]
        if self._held is None or self._held[0].picture != picture:
            return kept
        held = self._held[0]
        return [one for one in kept if (one.number, one.kind) != (held.number, held.kind)] + [held]

    def laying(self) -> Similarity | None:
        """How the picture that is measured against lies on the canvas; None where there is none."""
        size = self._size(self.against)
        return laying(self._now(), self.against, *size) if self.against and size else None

    def compared(self) -> list[LineCompared]:
        """The canvas's lines against those of the picture, the one in hand as it is dragged."""
        size = self._size(self.against)
        return compared(self._now(), self.against, *size) if self.against and size else []

    def steps_of(self, divider: Measure) -> tuple[list[Place], float]:
        """Where a divider's steps end, and how many there are; none where its line is gone."""
        length = self._length_for(divider)
        return steps_along(divider, length) if length else ([], 0.0)

    def _now(self) -> Painting:
        """The painting with the line in hand as it is dragged."""
        painting = self._painting()
        return replace(painting, measures=self._with(self._held[0])) if self._held else painting

    def _size(self, picture: str) -> tuple[int, int] | None:
        found = next((one for one in self._painting().board if one.name == picture), None)
        return None if found is None else size_of(found)

    def _length_for(self, divider: Measure) -> float:
        """The length that a divider steps by, in px of what it lies on: of its line there, or of the same elsewhere."""
        painting = self._now()
        own = [one for one in painting.measures if one.number == divider.by and one.kind == "line"]
        here = next((one for one in own if one.picture == divider.picture), None)
        if here is not None:
            return here.length
        fit, other = self.laying(), next(iter(own), None)
        if fit is None or other is None:
            return 0.0
        return other.length / fit.scale if divider.picture else other.length * fit.scale

    # --- the hand ---------------------------------------------------------------------------------------

    def press(self, picture: str, x: float, y: float, px: float) -> None:
        """Take hold of an end, or begin a line; px: canvas px of one of the screen's."""
        found = self._near(picture, x, y, REACH_PX * px)
        if found is not None:
            self._held, self._fresh = found, False
            self.chosen = found[0].number
        else:
            self._begin(picture, x, y)
        self.changed.emit()

    def _begin(self, picture: str, x: float, y: float) -> None:
        measures, by = self._painting().measures, 0
        if len(measures) > MOST_MEASURES - 2:  # one may be laid on both
            self.told.emit("There are as many lines as can be kept: take some away first.")
            return
        if self.kind == "divider":
            lines = {one.number: one for one in measures if one.kind == "line"}
            dividers = {one.number: one.by for one in measures if one.kind == "divider"}
            by = self.chosen if self.chosen in lines else dividers.get(self.chosen, max(lines, default=0))
            if not by:
                self.told.emit("A divider steps by a line's length: draw a line first.")
                return
        number = 1 + max((one.number for one in measures), default=0)
        x, y = round(x, 2), round(y, 2)
        self._held, self._fresh = (Measure(self.kind, number, x, y, x, y, picture, by), 1), True
        self.chosen = number

    def move(self, x: float, y: float, *, snap: bool = False) -> None:
        """Take the end along; snap: at steps of 15 degrees."""
        if self._held is None:
            return
        line, end = self._held
        if line.kind in ("plumb", "level"):
            line = replace(line, x0=round(x, 2), y0=round(y, 2), x1=round(x, 2), y1=round(y, 2))
        else:
            fixed = line.ends[1 - end]
            line = line.with_end(end, *(_snapped(fixed, (x, y)) if snap else (x, y)))
        self._held = line, end
        self.changed.emit()

    def release(self, px: float) -> None:
        """Let the line count; one of nearly no length is dropped."""
        if self._held is None:
            return
        (line, _), fresh = self._held, self._fresh
        self._held = None
        if line.kind in ("plumb", "level") or line.length > SHORTEST_PX * px:
            measures = self._with(line)
            if fresh and self.both and line.kind == "line":
                measures = self._on_both(line, measures)
            self._set(measures)
        self.changed.emit()

    def take_away(self) -> None:
        """Take away the line touched last, wherever it lies."""
        kept = tuple(one for one in self._painting().measures if self.chosen not in (one.number, one.by))
        if len(kept) == len(self._painting().measures):
            self.told.emit("Touch a line first: that one is taken away.")
            return
        self._set(kept)

    def clear(self) -> None:
        """Take away all lines."""
        if self._painting().measures:
            self._set(())

    def _near(self, picture: str, x: float, y: float, reach: float) -> tuple[Measure, int] | None:
        found = []
        for one in self.lines_on(picture):
            if one.kind in ("plumb", "level"):
                away = abs(x - one.x0) if one.kind == "plumb" else abs(y - one.y0)
                found.append((away, one, 1))
            else:
                found += [(math.hypot(x - a, y - b), one, end) for end, (a, b) in enumerate(one.ends)]
        away, line, end = min(found, key=lambda one: one[0], default=(math.inf, None, 0))
        return (line, end) if line is not None and away <= reach else None

    def _with(self, line: Measure) -> tuple[Measure, ...]:
        same = (line.number, line.kind, line.picture)
        kept = (one for one in self._painting().measures if (one.number, one.kind, one.picture) != same)
        return (*kept, line)

    def _on_both(self, line: Measure, measures: tuple[Measure, ...]) -> tuple[Measure, ...]:
        """The same line on the other picture, where that lies over or under it."""
        fit = self.laying()
        if fit is None or line.picture not in (CANVAS, self.against):
            return measures
        laid = laid_on_canvas(line, fit, back=not line.picture)
        return (*measures, replace(laid, picture=CANVAS if line.picture else self.against))

    def _set(self, measures: tuple[Measure, ...]) -> None:
        self._apply(SetMeasures(measures))


def _snapped(fixed: Place, at: Place) -> Place:
    """The place as far from the fixed one, at a multiple of 15 degrees."""
    across, down = at[0] - fixed[0], at[1] - fixed[1]
    angle = math.radians(round(math.degrees(math.atan2(down, across)) / SNAP_DEG) * SNAP_DEG)
    long = across * math.cos(angle) + down * math.sin(angle)
    return fixed[0] + long * math.cos(angle), fixed[1] + long * math.sin(angle)
