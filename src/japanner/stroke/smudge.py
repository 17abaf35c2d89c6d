"""Smudging: the tip drags wet paint along."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster import accumulate
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster
from japanner.stroke import _kernels_dab as kernels
from japanner.stroke.brush import Brush
from japanner.stroke.dabs import DabRows, around, extents

__all__ = ["SmudgeStroke", "VisibleTile"]

FloatTile = NDArray[np.float32]
VisibleTile = Callable[[Key], FloatTile]
"""Gives a tile of the visible picture as an accumulator of its own."""

# From this size on, both cores work on a dab: a gain at 500 px, where it was measured; a small one is not worth a
# hand-over.
LARGE_PX: Final = 200
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
        self._drag(rows, area)
        changed = around(extents(rows)).intersected(area)
        for key, local in changed.tiles():
            if key not in self.tiles:
                self.tiles[key] = self._base.tile(key).copy()
            accumulate.store_into(self._paint[key], self.tiles[key], local)
        return [changed]

    def _drag(self, rows: DabRows, area: Rect) -> None:
        target = _gathered(self._paint, area, self._load_paint)
        source = target if self._visible is None else _gathered(self._seen, area, self._visible)
        local = rows.copy()
        local[:, 0] -= area.x0
        local[:, 1] -= area.y0
        per_dab = 1 - (1 - local[:, 3]) ** np.float32(self._brush.spacing / REFERENCE_SPACING)
        local[:, 3] = np.minimum(per_dab, MOST_TAKEN * min(self._brush.carry, 1.0))
        settings = self._brush.tip == "mop", np.float32(self._brush.edge), np.float32(self._brush.carry)

        def drag(some: DabRows, top: int, bottom: int) -> None:
            apart = self._visible is not None
            kernels.smudge(target, source, apart, self._carried, some, *settings, top, bottom, 0, area.width)

        if self._brush.size_px < LARGE_PX:
            drag(local, 0, area.height)
        else:
            # Within a dab, rows have nothing to do with each other: two cores take half of them each.
            for dab in np.split(local, len(local)):
                middle = min(max(int(dab[0, 1]), 0), area.height)
                halves = ((0, middle), (middle, area.height))
                each(halves, partial(_on_rows, drag, dab), worth_it=2)
        _scatter(self._paint, area, target)
        if self._visible is not None:
            _scatter(self._seen, area, source)

    def _load_paint(self, key: Key) -> FloatTile:
        # Every tile that is read becomes part of the stroke's picture of the layer.
        return accumulate.loaded(self._base.tile(key))


def _on_rows(drag: Callable[[DabRows, int, int], None], dab: DabRows, rows: tuple[int, int]) -> None:
    drag(dab, *rows)


def _gathered(store: dict[Key, FloatTile], area: Rect, load: VisibleTile) -> FloatTile:
    """The pixels of `area` as one region (4, h, w); tiles that `store` does not have yet are loaded into it."""
    region = np.empty((4, area.height, area.width), np.float32)

    def take(piece: tuple[Key, Rect]) -> None:
        key, local = piece
        if key not in store:
            store[key] = load(key)
        region[_part(key, local, area)] = store[key][_within(local)]

    each(area.tiles(), take)
    return region


def _scatter(store: dict[Key, FloatTile], area: Rect, region: FloatTile) -> None:
    def give(piece: tuple[Key, Rect]) -> None:
        key, local = piece
        store[key][_within(local)] = region[_part(key, local, area)]

    each(area.tiles(), give)


def _part(key: Key, local: Rect, area: Rect) -> tuple[slice, slice, slice]:
    return _within(local.moved(key[1] * TILE - area.x0, key[0] * TILE - area.y0))


def _within(rect: Rect) -> tuple[slice, slice, slice]:
    return slice(None), slice(rect.y0, rect.y1), slice(rect.x0, rect.x1)
