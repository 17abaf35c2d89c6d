"""What may change: every stroke, fill and filter passes through here."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from japanner.raster import _kernels_tiles as kernels
from japanner.raster.geometry import Key, Rect
from japanner.raster.modes import WHOLE
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster, Sheet
from japanner.types import Tile

__all__ = ["FREE", "Limit", "held_in", "lifted", "where_other"]


@dataclass(frozen=True, eq=False)
class Limit:
    """A frisket lets paint through by its coverage; held edges keep the coverage of the paint that was there."""

    frisket: Sheet | None = None
    hold_edges: bool = False

    @property
    def free(self) -> bool:
        return self.frisket is None and not self.hold_edges

    def apply(self, key: Key, base: Tile, out: Tile, area: Rect = WHOLE) -> None:
        """Hold `area` of tile `out`, freshly made from `base`, to the limit, in place."""
        if self.hold_edges:
            kernels.hold_edges(base, out, *area.rows_and_columns)
        if self.frisket is not None:
            kernels.mix_tile(base, self.frisket.tile(key), out, *area.rows_and_columns)

    def applied(self, base: Raster, fresh: Raster) -> Raster:
        """`fresh`, made from `base`, held to the limit."""
        if self.free:
            return fresh
        keys = [key for key in base.tiles.keys() | fresh.tiles.keys() if base.tile(key) is not fresh.tile(key)]
        tiles = {key: fresh.tile(key).copy() for key in keys}
        each(sorted(keys), lambda key: self.apply(key, base.tile(key), tiles[key]))
        # A tile that came out as it was stays the one it was: nothing to show anew, nothing to keep for undo.
        return base.with_tiles({key: tile for key, tile in tiles.items() if not np.array_equal(tile, base.tile(key))})


FREE = Limit()


def held_in(tile: Tile, cover: NDArray[np.float32]) -> Tile:
    """A tile times coverage 0..1 (TILE, TILE), rounded; the same one if that changes nothing."""
    out = np.empty_like(tile)
    return out if kernels.held_in(tile, cover, out) else tile


def where_other(tile: Tile, other: Tile) -> Tile:
    """The pixels of a tile that differ from those of another; the rest is empty."""
    out = np.empty_like(tile)
    kernels.where_other(tile, other, out)
    return out


def lifted(pixels: Raster, sheet: Sheet) -> tuple[Raster, Raster]:
    """What a sheet lets be taken of some pixels, and what stays; together they are what was there."""
    empty = Raster(pixels.width, pixels.height)
    rest = Limit(sheet).applied(pixels, empty)
    tiles = {key: tile - rest.tile(key) for key, tile in pixels.tiles.items() if rest.tile(key) is not tile}
    return empty.with_tiles(tiles), rest
