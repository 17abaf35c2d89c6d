"""What a fill or a frisket by colour looks at."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.painting.model import Layer, Painting
from japanner.painting.picture.compositor import Compositor, plan, shown_tile, sketch_layers
from japanner.raster import accumulate
from japanner.raster.accumulate import Accumulator
from japanner.raster.fill import difference_into, seed_of
from japanner.raster.geometry import TILE, Key
from japanner.raster.modes import blend_tile
from japanner.raster.parallel import each

__all__ = ["REFERENCES", "difference_from"]

REFERENCES: Final = ("visible", "sketch", "layer")


def difference_from(painting: Painting, x: float, y: float, reference: str, layer: int) -> NDArray[np.float32]:
    """How far every pixel of the reference is from the one at (x, y): 100 times the OKLab distance, float32 (h, w).

    reference: "visible", all that is shown; "sketch", the shown layers of that role and of drawings; "layer", the
    layer `layer` alone.
    """
    column, row = int(np.floor(checks.number("x", x, -1e6, 1e6))), int(np.floor(checks.number("y", y, -1e6, 1e6)))
    if not (0 <= column < painting.width and 0 <= row < painting.height):
        raise InputError(f"The point {x:.0f}, {y:.0f} lies outside the canvas")
    tile = _source(painting, reference, layer)
    first = tile((row // TILE, column // TILE))
    seed = (0.0, 0.0, 0.0, 0.0) if first is None else seed_of(first, column % TILE, row % TILE)
    out = np.empty((painting.height, painting.width), np.float32)
    areas = dict(painting.rect.tiles())

    def work(key: Key) -> None:
        acc = tile(key)
        if acc is not None:
            difference_into(out, acc, key, seed, areas[key])
            return
        y0, y1, x0, x1 = areas[key].moved(key[1] * TILE, key[0] * TILE).rows_and_columns
        out[y0:y1, x0:x1] = 100 * seed[3]  # bare canvas differs by the seed's coverage

    each(areas, work)
    return out


def _source(painting: Painting, reference: str, uid: int) -> Callable[[Key], Accumulator | None]:
    if checks.one_of("reference", reference, REFERENCES) == "visible":
        steps, compositor = plan(painting), Compositor()
        return lambda key: compositor.tile(painting, steps, key)
    layers = [painting.layer(uid)] if reference == "layer" else list(sketch_layers(painting))
    if not layers:
        raise InputError("There is no sketch to look at: no layer has that role")
    return lambda key: _alone(layers, key)


def _alone(layers: list[Layer], key: Key) -> Accumulator | None:
    """Some layers over nothing, each plainly on the one before; None where all are bare."""
    tiles = [(tile, layer.strength) for layer in layers if (tile := shown_tile(layer, key)) is not None]
    if not tiles:
        return None
    acc = accumulate.blank()
    for tile, strength in tiles:
        blend_tile("Normal", acc, tile, strength)
    return acc
