"""Smudging: the tip drags wet paint along."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster import accumulate
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.tiles import Raster
from japanner.stroke import _kernels_dab as kernels
from japanner.stroke.brush import Brush
from japanner.stroke.dabs import DabRows, area_of

__all__ = ["SmudgeStroke", "VisibleTile"]

FloatTile = NDArray[np.float32]
VisibleTile = Callable[[Key], FloatTile]
"""Gives a tile of the visible picture as an accumulator of its own."""

# Strength is meant for dabs a quarter of the size apart; other spacings are converted to it.
REFERENCE_SPACING: Final = 0.25
# A dab that took up more than this share of what it carries would be full of what it has just laid.
MOST_TAKEN: Final = 0.9


class SmudgeStroke:
    """Drags paint; it works on float copies of the tiles, so many weak dabs lose nothing to rounding.

    `carry` of the brush is how far paint travels, in tip sizes; strength is how much of the picture goes with it.
    Neither depends on spacing.
    """

    # The tiles under a bundle of dabs are gathered into one region; a long bundle would make a large one.
    BATCH: Final = 24

    def __init__(self, base: Raster, brush: Brush, visible: VisibleTile | None) -> None:
        """`visible` is needed when the brush picks up from all that is visible."""
        self.tiles: dict[Key, NDArray[np.uint16]] = {}
        self._base = base
        self._brush = brush
        self._visible = visible if brush.pick_from == "visible" else None
        self._paint: dict[Key, FloatTile] = {}
        self._seen: dict[Key, FloatTile] = {}
        half = math.ceil(brush.size_px / 2) + 2
        self._carried = np.full((4, 2 * half + 1, 2 * half + 1), -1, np.float32)

    def put(self, rows: DabRows) -> list[Rect]:
        """Drag along dabs; the changed canvas areas."""
        margin = self._carried.shape[1] // 2 + 1
        xs, ys = np.floor(rows[:, 0]).astype(int), np.floor(rows[:, 1]).astype(int)
        reach = Rect(int(xs.min()), int(ys.min()), int(xs.max()) + 1, int(ys.max()) + 1).grown(margin)
        area = reach.intersected(self._base.rect)
        if area.empty:
            return []
        keys = [key for key, _ in area.tiles()]
        corner = Rect.of_tile(keys[0])
        self._drag(rows, area, keys, corner)
        changed = area_of(rows).intersected(area)
        for key, local in changed.tiles():
            if key not in self.tiles:
                self.tiles[key] = self._base.tile(key).copy()
            accumulate.store_into(self._paint[key], self.tiles[key], local)
        return [changed]

    def _drag(self, rows: DabRows, area: Rect, keys: list[Key], corner: Rect) -> None:
        target = self._gathered(self._paint, keys, self._load_paint)
        source = target if self._visible is None else self._gathered(self._seen, keys, self._visible)
        local = rows.copy()
        local[:, 0] -= corner.x0
        local[:, 1] -= corner.y0
        per_dab = 1 - (1 - local[:, 3]) ** np.float32(self._brush.spacing / REFERENCE_SPACING)
        local[:, 3] = np.minimum(per_dab, MOST_TAKEN * min(self._brush.carry, 1.0))
        kernels.smudge(
            target,
            source,
            self._visible is not None,
            self._carried,
            local,
            self._brush.tip == "mop",
            np.float32(self._brush.edge),
            np.float32(self._brush.carry),
            *area.moved(-corner.x0, -corner.y0).rows_and_columns,
        )
        self._scatter(self._paint, keys, target)
        if self._visible is not None:
            self._scatter(self._seen, keys, source)

    def _load_paint(self, key: Key) -> FloatTile:
        # Every tile that is read becomes part of the stroke's picture of the layer.
        return accumulate.loaded(self._base.tile(key))

    def _gathered(self, store: dict[Key, FloatTile], keys: list[Key], load: VisibleTile) -> FloatTile:
        """The tiles as one region; it starts at the first tile's corner."""
        (row0, column0), (row1, column1) = keys[0], keys[-1]
        region = np.empty((4, (row1 - row0 + 1) * TILE, (column1 - column0 + 1) * TILE), np.float32)
        for key in keys:
            if key not in store:
                store[key] = load(key)
            region[_part(key, keys[0])] = store[key]
        return region

    @staticmethod
    def _scatter(store: dict[Key, FloatTile], keys: list[Key], region: FloatTile) -> None:
        for key in keys:
            np.copyto(store[key], region[_part(key, keys[0])])


def _part(key: Key, first: Key) -> tuple[slice, slice, slice]:
    y, x = (key[0] - first[0]) * TILE, (key[1] - first[1]) * TILE
    return slice(None), slice(y, y + TILE), slice(x, x + TILE)
