"""A layer's pixels while wet paint is dragged about: float planes in the space that the brush mixes in."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

import numpy as np

from japanner.raster import accumulate
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.parallel import each
from japanner.raster.soften import area_coarse
from japanner.raster.tiles import Raster
from japanner.stroke import _kernels_mixing as kernels
from japanner.stroke.brush import Brush
from japanner.stroke.kinds.mixing_space import Planes, from_space, into_space, model_of, planes_of
from japanner.types import Tile

__all__ = ["VisibleTile", "WetLayer"]

VisibleTile = Callable[[Key], Planes]
"""Gives a tile of the visible picture as an accumulator of its own."""

# Texture finer than this many px has its half in the fine band of a Gaussian of deviation 1.
GRAIN_SIGMA: Final = 0.5
# Copying so many tiles is not worth a hand-over to the other core.
FEW_TILES: Final = 7


class WetLayer:
    """Tiles are loaded when they are first reached; many weak dabs lose nothing to rounding meanwhile.

    With `keep_grain_px` of the brush, the planes hold what is coarser than that, and what is finer is added when pixels
    are stored: it stays where it is (Burt & Adelson 1983 for splitting into bands).
    """

    def __init__(self, base: Raster, brush: Brush) -> None:
        self._base, self._mixing = base, brush.mixing
        self._sigma = GRAIN_SIGMA * brush.keep_grain_px
        self._planes: dict[Key, Planes] = {}
        self._fine: dict[Key, Planes] = {}

    @property
    def planes(self) -> int:
        return planes_of(self._mixing)

    def gathered(self, area: Rect) -> Planes:
        """The planes of an area as one region (p, h, w)."""
        return gathered(self._planes, area, self.planes, self._load)

    def scatter(self, area: Rect, region: Planes) -> None:
        """Put a region back."""
        scatter(self._planes, area, region)

    def seen(self, visible: VisibleTile) -> VisibleTile:
        """Tiles of the visible picture in the same space."""
        return lambda key: into_space(self._mixing, visible(key))

    def store(self, tiles: dict[Key, Tile], area: Rect) -> None:
        """Round what has been dragged in an area into the stroke's own tiles."""

        def put(piece: tuple[Key, Rect]) -> None:
            key, local = piece
            if key not in tiles:
                tiles[key] = self._base.tile(key).copy()
            pixels = from_space(self._mixing, self._planes[key], local)
            if self._sigma:
                pixels = _with_fine(pixels, self._fine[key], local)
            accumulate.store_into(pixels, tiles[key], local)
            if model_of(self._mixing):
                # What no dab has touched stays as it is, to the last bit, whatever else is stored with it.
                kernels.keep_untouched(tiles[key], self._base.tile(key), *local.rows_and_columns)

        each(area.tiles(), put, worth_it=FEW_TILES)

    def _load(self, key: Key) -> Planes:
        # Every tile that is read becomes part of the stroke's picture of the layer.
        pixels = accumulate.loaded(self._base.tile(key))
        if self._sigma:
            coarse = np.zeros_like(pixels)
            there = Rect.of_tile(key).intersected(self._base.rect)
            coarse[:, : there.height, : there.width] = area_coarse(self._base, there, self._sigma)
            self._fine[key] = pixels - coarse
            pixels = coarse
        return into_space(self._mixing, pixels)


def _with_fine(pixels: Planes, fine: Planes, local: Rect) -> Planes:
    """Both bands together where `local` is; elsewhere `pixels` may hold anything, and nothing is made of it."""
    inside = _within(local)
    whole = np.zeros_like(pixels)
    whole[inside] = pixels[inside] + fine[inside]
    np.clip(whole[3], 0, 1, out=whole[3])
    np.clip(whole[:3], 0, whole[3], out=whole[:3])
    return whole


def gathered(store: dict[Key, Planes], area: Rect, planes: int, load: VisibleTile) -> Planes:
    """The pixels of `area` as one region (p, h, w); tiles that `store` does not have yet are loaded into it."""
    region = np.empty((planes, area.height, area.width), np.float32)

    def take(piece: tuple[Key, Rect]) -> None:
        key, local = piece
        if key not in store:
            store[key] = load(key)
        region[_part(key, local, area)] = store[key][_within(local)]

    each(area.tiles(), take, worth_it=FEW_TILES)
    return region


def scatter(store: dict[Key, Planes], area: Rect, region: Planes) -> None:
    """Put a region back into its tiles."""

    def give(piece: tuple[Key, Rect]) -> None:
        key, local = piece
        store[key][_within(local)] = region[_part(key, local, area)]

    each(area.tiles(), give, worth_it=FEW_TILES)


def _part(key: Key, local: Rect, area: Rect) -> tuple[slice, slice, slice]:
    return _within(local.moved(key[1] * TILE - area.x0, key[0] * TILE - area.y0))


def _within(rect: Rect) -> tuple[slice, slice, slice]:
    return slice(None), slice(rect.y0, rect.y1), slice(rect.x0, rect.x1)
