"""A painting at a fraction of its size, for trying out on it what would take long on the whole."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TypeVar, cast

import numpy as np

from japanner.painting.model import Frisket, Layer, Painting
from japanner.raster import _kernels_tiles as kernels
from japanner.raster.geometry import TILE
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster, Sheet

__all__ = ["reduced", "shrunk"]

AnyRaster = TypeVar("AnyRaster", bound=Raster)


def reduced(
    painting: Painting, step: int, remaker: Callable[[int], Callable[[Raster], Raster]] | None = None
) -> Painting:
    """The painting with every pixel the mean of `step` x `step`, a power of two; hidden parts are left empty.

    Hidden layers of the others are not: makers take them for maps. remaker: gives for the uid of a layer, or 0 for the
    frisket, what reduces a raster of it; None: all are reduced anew.
    """
    if step == 1:
        return painting.settled()
    if remaker is None:
        remaker = lambda owner: lambda raster: shrunk(raster, step)  # noqa: E731
    width, height = -(-painting.width // step), -(-painting.height // step)

    def layer(one: Layer, shown: bool) -> Layer:
        if not shown:
            return replace(one, pixels=Raster(width, height), mask=None, relief=None, warp=None, laid=None)
        small = one.remade(remaker(one.uid))
        # Heights count in px, of which there are fewer now.
        return small.relief_scaled(1 / step)

    parts = tuple(
        replace(
            part,
            layers=tuple(layer(one, part.shown) for one in part.layers),
            comb=tuple(one.scaled(1 / step) for one in part.comb),
        )
        for part in painting.parts
    )
    frisket = painting.frisket and Frisket(cast(Sheet, remaker(0)(painting.frisket.sheet)))
    maquette = painting.maquette.scaled(1 / step)
    return replace(painting, width=width, height=height, parts=parts, frisket=frisket, maquette=maquette)


def shrunk(raster: AnyRaster, step: int) -> AnyRaster:
    """Every pixel the mean of `step` x `step`."""
    width, height = -(-raster.width // step), -(-raster.height // step)
    area = raster.bounds()
    empty = type(raster)(width, height)
    if area.empty:
        return empty
    rows, columns = zip(*raster.tiles, strict=True)
    side, top, left = TILE // step, min(rows), min(columns)
    out = np.zeros((raster.PLANES, (max(rows) - top + 1) * side, (max(columns) - left + 1) * side), np.uint16)

    def work(key: tuple[int, int]) -> None:
        kernels.shrink_tile(raster.tiles[key], out, step, (key[0] - top) * side, (key[1] - left) * side)

    each(raster.tiles, work)
    return empty.written(left * side, top * side, out)
