"""Strokes that gather coverage and apply it to the paint as it was when the stroke began."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster
from japanner.stroke import _kernels_dab as kernels
from japanner.stroke.brush import Brush
from japanner.stroke.dabs import DabRows, around, extents
from japanner.stroke.exposure import decode_table, encode_table, gain_table, value_table, weight_table
from japanner.stroke.image_tip import tip_coverage

__all__ = ["RESOLVERS", "CoverageStroke", "Paint"]

Tile = NDArray[np.uint16]
Colour = tuple[float, float, float]
Resolve = Callable[[Tile, NDArray[np.float32], Tile, Rect], None]
"""Fill an area of the third tile from the first, as it was, and the coverage."""


@dataclass(frozen=True)
class Paint:
    """What a coverage stroke paints with: the brush, the colour, and the value steps that dodge and burn may aim at."""

    brush: Brush
    colour: Colour
    steps: tuple[float, ...] = ()


def _lay(paint: Paint) -> Resolve:
    r, g, b = (np.float32(c) for c in paint.colour)
    return lambda base, coverage, out, area: kernels.lay_tile(base, coverage, r, g, b, out, *area.rows_and_columns)


def _wipe(paint: Paint) -> Resolve:
    return lambda base, coverage, out, area: kernels.wipe_tile(base, coverage, out, *area.rows_and_columns)


def _expose(sign: int) -> Callable[[Paint], Resolve]:
    def make(paint: Paint) -> Resolve:
        brush = paint.brush
        if brush.aim == "step":
            return _to_step(paint, up=sign > 0)
        decode, encode, weight = decode_table(), encode_table(), weight_table(brush.tone)
        if brush.keep_hue:
            stops = np.float32(sign * brush.stops)
            return lambda base, coverage, out, area: kernels.expose_in_hue(
                base, coverage, stops, decode, encode, weight, out, *area.rows_and_columns
            )
        gain = gain_table(sign * brush.stops)
        return lambda base, coverage, out, area: kernels.expose_tile(
            base, coverage, gain, decode, encode, weight, out, *area.rows_and_columns
        )

    return make


def _to_step(paint: Paint, *, up: bool) -> Resolve:
    steps = np.ascontiguousarray(paint.steps, np.float32)
    tables = (decode_table(), encode_table(), value_table(), steps)
    return lambda base, coverage, out, area: kernels.step_tile(base, coverage, *tables, up, out, *area.rows_and_columns)


def _chroma(sign: int) -> Callable[[Paint], Resolve]:
    def make(paint: Paint) -> Resolve:
        change = np.float32(sign)
        return lambda base, coverage, out, area: kernels.chroma_tile(
            base, coverage, decode_table(), encode_table(), change, out, *area.rows_and_columns
        )

    return make


# From how many tiles on both cores take them. Nine tiles of laying were no quicker that way, of exposure nearly twice
# as quick; where laying begins to gain has not been measured.
SLOW_TILES, QUICK_TILES = 2, 24

RESOLVERS: Final[dict[str, Callable[[Paint], Resolve]]] = {
    "lay": _lay,
    "wipe": _wipe,
    "dodge": _expose(+1),
    "burn": _expose(-1),
    "saturate": _chroma(+1),
    "desaturate": _chroma(-1),
}


class CoverageStroke:
    """Lay, wipe, dodge, burn: dabs add to a coverage, and the paint is made anew from it and the old paint.

    So nothing accumulates in the paint itself: overlapping passes inside one stroke leave no stripe.
    """

    BATCH: Final = 512

    def __init__(self, base: Raster, paint: Paint, kind: str) -> None:
        self.tiles: dict[Key, Tile] = {}
        self._base = base
        self._brush = brush = paint.brush
        self._coverage: dict[Key, NDArray[np.float32]] = {}
        self._image = tip_coverage(brush.image) if brush.tip == "image" else None
        self._kind = kind
        self._resolve = RESOLVERS[kind](paint)

    def repaint(self, paint: Paint) -> None:
        """Paint with something else; before the first dab."""
        self._resolve = RESOLVERS[self._kind](paint)

    def put(self, rows: DabRows) -> list[Rect]:
        """Stamp dabs and renew the paint under them; the changed canvas areas."""
        changed = []
        reached = extents(rows)

        def renew(key: Key) -> None:
            part = Rect.of_tile(key).intersected(self._base.rect)
            near = ((reached[:, :2] < part[2:]) & (reached[:, 2:] > part[:2])).all(axis=1)
            if near.any():
                area = around(reached[near]).intersected(part)
                self._renew(key, rows[near], area.moved(-key[1] * TILE, -key[0] * TILE))
                changed.append(area)

        keys = [key for key, _ in around(reached).intersected(self._base.rect).tiles()]
        each(keys, renew, worth_it=QUICK_TILES if self._kind in ("lay", "wipe") else SLOW_TILES)
        return changed

    def _renew(self, key: Key, rows: DabRows, local: Rect) -> None:
        base = self._base.tile(key)
        if key not in self.tiles:
            self._coverage[key] = np.zeros((TILE, TILE), np.float32)
            self.tiles[key] = base.copy()
        brush, coverage = self._brush, self._coverage[key]
        left_px, top_px = np.float32(key[1] * TILE), np.float32(key[0] * TILE)
        edge = np.float32(brush.edge)
        if self._image is not None:
            kernels.stamp_image(coverage, rows, left_px, top_px, self._image, brush.even, *local.rows_and_columns)
        else:
            mop = brush.tip == "mop"
            kernels.stamp(coverage, rows, left_px, top_px, mop, edge, brush.even, *local.rows_and_columns)
        self._resolve(base, coverage, self.tiles[key], local)
