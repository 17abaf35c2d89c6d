"""Nudging: dabs that push pixels about by way of a displacement field."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster.field import Field, resampled
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.tiles import Raster, Sheet
from japanner.stroke.brush import Brush
from japanner.stroke.dabs import DabRows, around, extents

__all__ = ["NUDGES", "NudgeStroke"]

Shift = NDArray[np.float32]
Move = Callable[[Shift, Shift], Shift]

# Growth and turn of one tip size of travel at full strength.
GROWTH: Final = 0.35
TURN: Final = 0.6


def _push(offset: Shift, step: Shift) -> Shift:
    return np.broadcast_to(-step[:, None, None], offset.shape)


def _grow(offset: Shift, step: Shift) -> Shift:
    return offset * np.float32(-GROWTH)


def _shrink(offset: Shift, step: Shift) -> Shift:
    return offset * np.float32(GROWTH)


def _twirl(offset: Shift, step: Shift) -> Shift:
    x, y = offset
    return np.stack((y, -x)) * np.float32(TURN)


NUDGES: Final[dict[str, Move]] = {"push": _push, "grow": _grow, "shrink": _shrink, "twirl": _twirl, "back": _push}
"""How a full dab shifts what is under it: from offsets to its centre (2, h, w) and its step (2,), in px."""


class NudgeStroke:
    """Shifts paint; `origin` is never resampled twice, however many strokes follow each other."""

    BATCH: Final = 64

    def __init__(self, base: Raster, origin: Raster, field: Field, brush: Brush, frisket: Sheet | None) -> None:
        self.tiles: dict[Key, NDArray[np.uint16]] = {}
        self.origin, self.field = origin, field
        self._base, self._brush, self._frisket = base, brush, frisket
        self._last: NDArray[np.float32] | None = None

    def put(self, rows: DabRows) -> list[Rect]:
        """Shift along dabs; the changed canvas areas."""
        area = around(extents(rows)).intersected(self._base.rect)
        for row in rows:
            self._dab(row)
        if area.empty:
            return []
        self._show(area)
        return [area]

    def _dab(self, row: NDArray[np.float32]) -> None:
        at, radius = row[:2], max(float(row[2]), 1.0)
        step = np.zeros(2, np.float32) if self._last is None else at - self._last
        self._last = at.copy()
        area = around(extents(row[None])).intersected(self._base.rect)
        if area.empty or not step.any():
            return
        ys, xs = np.mgrid[area.y0 : area.y1, area.x0 : area.x1].astype(np.float32) + np.float32(0.5)
        offset = np.stack((xs - at[0], ys - at[1]))
        # Flat in the middle and smooth at the rim, so that a feature keeps its shape while it is moved.
        q = np.clip(np.hypot(*offset) / np.float32(radius), 0, 1)
        weight = (1 - q * q) ** 2 * row[3] * row[4]
        if self._frisket is not None:
            weight *= self._frisket.coverage(area)
        how = self._brush.nudge
        if how == "back":
            share = weight * np.float32(min(float(np.hypot(*step)) / radius, 1.0))
            self.field = self.field.written(area, self.field.read(area) * (1 - share))
            return
        travel = 1.0 if how == "push" else float(np.hypot(*step)) / (2 * radius)
        shifts = NUDGES[how](offset, step) * weight * np.float32(travel)
        self.field = self.field.after(area, shifts.astype(np.float32))

    def _show(self, area: Rect) -> None:
        made = resampled(self.origin, self.field.read(area), area)
        for key, local in area.tiles():
            if key not in self.tiles:
                self.tiles[key] = self._base.tile(key).copy()
            at = local.moved(key[1] * TILE - area.x0, key[0] * TILE - area.y0)
            self.tiles[key][:, local.y0 : local.y1, local.x0 : local.x1] = made[:, at.y0 : at.y1, at.x0 : at.x1]
