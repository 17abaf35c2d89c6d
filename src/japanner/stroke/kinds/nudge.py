"""Nudging: dabs that push pixels about by way of a displacement field."""

from __future__ import annotations

import math
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster.field import Field, Warp, resampled
from japanner.raster.geometry import TILE, Key, Rect, union
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster, Sheet
from japanner.stroke import _kernels_nudge as kernels
from japanner.stroke.brush import Brush
from japanner.stroke.kinds.dabs import DabRows, around, extents
from japanner.stroke.kinds.wet_layer import gathered, scatter
from japanner.stroke.kinds.working import WorkingStroke

__all__ = ["NUDGES", "NudgeStroke"]

Shift = NDArray[np.float32]

# Growth and turn of one tip size of travel at full strength.
GROWTH: Final = 0.35
TURN: Final = 0.6

NUDGES: Final[dict[str, Shift]] = {
    "push": np.zeros((2, 2), np.float32),
    "grow": np.array([[-GROWTH, 0], [0, -GROWTH]], np.float32),
    "shrink": np.array([[GROWTH, 0], [0, GROWTH]], np.float32),
    "twirl": np.array([[0, TURN], [-TURN, 0]], np.float32),
    "back": np.zeros((2, 2), np.float32),
}
"""From the offset to its middle, in px, to how a dab shifts what is there on one tip size of travel."""

NO_FRISKET: Final = np.zeros((0, 0), np.float32)
# Bands of rows that are shifted beside each other.
BAND_PX: Final = 128


class NudgeStroke(WorkingStroke):
    """Shifts paint; `origin` is never resampled twice, however many strokes follow each other.

    While the hand moves, what is under it is resampled quickly; when the stroke ends, all of it as well as it can be.
    """

    BATCH = 64

    def __init__(self, base: Raster, origin: Raster, field: Field, brush: Brush, frisket: Sheet | None) -> None:
        self.tiles: dict[Key, NDArray[np.uint16]] = {}
        self.origin = origin
        self._former, self._shifts = field, dict[Key, Shift]()
        self._base, self._brush, self._frisket = base, brush, frisket
        self._last: NDArray[np.float32] | None = None
        self._shown: list[Rect] = []

    @property
    def field(self) -> Field:
        """Where each pixel takes its paint from now; it is frozen by this."""
        return self._former.with_tiles(self._shifts)

    def put(self, rows: DabRows) -> list[Rect]:
        """Shift along dabs; the changed canvas areas."""
        area = around(extents(rows)).intersected(self._base.rect)
        dabs = self._steps(rows)
        if area.empty:
            return []
        reach = math.ceil(np.abs(dabs[:, 4:]).max(initial=0) + GROWTH * dabs[:, 2].max(initial=0)) + 2
        region = area.grown(reach)
        shifts = gathered(self._shifts, region, 2, self._former.tile)
        frisket = NO_FRISKET if self._frisket is None else self._frisket.coverage(region)
        room, within = np.empty_like(shifts), area.moved(-region.x0, -region.y0)
        for dab in dabs:
            self._dab(dab, shifts, room, frisket, region, area)
        scatter(self._shifts, region, shifts)
        if self.unseen:
            self._own(area)
        else:
            self._show(area, shifts[:, within.y0 : within.y1, within.x0 : within.x1], quick=True)
        self._shown.append(area)
        return [area]

    def warp(self, result: Raster) -> Warp:
        return Warp(self.origin, self.field, result)

    def end(self, pace: float) -> list[Rect]:
        """What was shown quickly, as well as it can be; the changed canvas areas."""
        areas, self._shown = self._shown, []
        for key in sorted(self.tiles):
            tile = Rect.of_tile(key).intersected(self._base.rect)
            piece = union(one for area in areas if not (one := area.intersected(tile)).empty)
            if not piece.empty:
                self._show(piece, gathered(self._shifts, piece, 2, self._former.tile), quick=False)
        return areas

    def _steps(self, rows: DabRows) -> NDArray[np.float32]:
        """Dabs as the kernel takes them; the first of a stroke has no step."""
        before = rows[:1, :2] if self._last is None else self._last[None]
        self._last = rows[-1, :2].copy()
        steps = np.diff(np.concatenate((before, rows[:, :2])), axis=0)
        return np.column_stack((rows[:, :2], np.maximum(rows[:, 2], 1), rows[:, 3] * rows[:, 4], steps))

    def _dab(
        self, dab: Shift, shifts: Shift, room: Shift, frisket: NDArray[np.float32], region: Rect, area: Rect
    ) -> None:
        how = self._brush.nudge
        turn = NUDGES[how] * np.float32(np.hypot(dab[4], dab[5]) / (2 * dab[2]))
        step = dab[None].copy()
        if how not in ("push", "back"):
            step[0, 4:] = 0
        x, y, radius = (float(v) for v in dab[:3])
        reach = Rect(math.floor(x - radius), math.floor(y - radius), math.ceil(x + radius), math.ceil(y + radius))
        place = reach.intersected(area)
        if place.empty:
            return
        place = place.moved(-region.x0, -region.y0)

        def rows(top: int) -> None:
            bottom = min(top + BAND_PX, place.y1)
            kernels.nudge(
                shifts, room, step, turn, frisket, how == "back", region.x0, region.y0, top, bottom, place.x0, place.x1
            )  # fmt: skip

        each(range(place.y0, place.y1, BAND_PX), rows, worth_it=3)
        under = np.s_[:, place.y0 : place.y1, place.x0 : place.x1]
        shifts[under] = room[under]

    def _own(self, area: Rect) -> None:
        """Have tiles of the stroke's own."""
        for key, _ in area.tiles():
            if key not in self.tiles:
                self.tiles[key] = self._base.tile(key).copy()

    def _show(self, area: Rect, shifts: Shift, *, quick: bool) -> None:
        made = resampled(self.origin, shifts, area, quick=quick)
        self._own(area)
        for key, local in area.tiles():
            at = local.moved(key[1] * TILE - area.x0, key[0] * TILE - area.y0)
            there, here = np.s_[:, local.y0 : local.y1, local.x0 : local.x1], np.s_[:, at.y0 : at.y1, at.x0 : at.x1]
            fresh = made[here]
            if key in self._former.tiles:
                # What this stroke has not moved stays as it is, whatever friskets and held edges made of it before.
                rests = (shifts[here] == self._former.tiles[key][there]).all(axis=0)
                fresh = np.where(rests, self._base.tile(key)[there], fresh)
            self.tiles[key][there] = fresh
