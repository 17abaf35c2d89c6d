"""Moving, scaling, turning, skewing, mirroring and perspective."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np

from japanner.errors import InputError
from japanner.painting.model import Frisket, Layer, Painting
from japanner.painting.operations.base import Change, some_layers, tiles_between
from japanner.raster import accumulate
from japanner.raster.geometry import Rect, union
from japanner.raster.limit import lifted
from japanner.raster.modes import blend_tile
from japanner.raster.resample import checked_matrix, moved_by
from japanner.raster.tiles import Raster

__all__ = ["Transform", "content_area"]


def content_area(painting: Painting, layers: tuple[int, ...]) -> Rect:
    """The rectangle around what a move of `layers` takes along: their paint, inside the frisket if there is one."""
    area = union(painting.layer(uid).pixels.bounds() for uid in layers)
    if painting.frisket is not None:
        area = area.intersected(painting.frisket.sheet.bounds())
    return area


@dataclass(frozen=True)
class Transform:
    """Take what is on layers, inside the frisket if there is one, where a matrix takes it.

    matrix: 9 numbers, row by row, from canvas positions to canvas positions. Masks and the frisket go along.
    """

    op: ClassVar[str] = "transform"
    layers: tuple[int, ...]
    matrix: tuple[float, ...]

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        return self._applied(painting, quick=False)

    def glance(self, painting: Painting) -> tuple[Painting, Change]:
        """Roughly what `apply` does, quickly enough to follow the hand."""
        return self._applied(painting, quick=True)

    def _applied(self, painting: Painting, *, quick: bool) -> tuple[Painting, Change]:
        layers = some_layers(painting, self.layers)
        area = content_area(painting, layers)
        if area.empty:
            raise InputError("There is nothing to move: no paint on these layers, or none inside the frisket")
        matrix = checked_matrix(self.matrix, area)
        frisket, areas = painting.frisket, set[Rect]()
        for uid in layers:
            layer = painting.layer(uid)
            fresh = _moved(layer, frisket, matrix, quick)
            areas.update(tiles_between(layer.pixels, fresh.pixels))
            painting = painting.with_layer(uid, pixels=fresh.pixels, mask=fresh.mask, relief=fresh.relief)
        if frisket is not None:
            sheet = moved_by(frisket.sheet, matrix, quick=quick)
            if not sheet.tiles:
                raise InputError("That would take everything off the canvas")
            painting = replace(painting, frisket=Frisket(sheet))
        return painting, Change("move", tuple(sorted(areas)))

    def scaled(self, factor: float) -> Transform:
        """The same on a painting `factor` times as large."""
        grow, shrink = np.diag((factor, factor, 1.0)), np.diag((1 / factor, 1 / factor, 1.0))
        values = (grow @ np.reshape(self.matrix, (3, 3)) @ shrink).reshape(-1)
        return Transform(self.layers, tuple(float(v) for v in values))


def _moved(layer: Layer, frisket: Frisket | None, matrix: np.ndarray, quick: bool) -> Layer:
    if frisket is None:
        return layer.remade(lambda raster: moved_by(raster, matrix, quick=quick))

    def moved(raster: Raster) -> Raster:
        taken, rest = lifted(raster, frisket.sheet)
        return _over(rest, moved_by(taken, matrix, quick=quick))

    return replace(layer.remade(moved), mask=layer.mask)


def _over(below: Raster, above: Raster) -> Raster:
    tiles = {}
    for key, tile in above.tiles.items():
        acc = accumulate.loaded(below.tile(key))
        blend_tile("Normal", acc, tile)
        tiles[key] = accumulate.stored(acc)
    return below.with_tiles(tiles)
