"""The relief of a layer under the painting's key light."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from japanner.light.relief import THICKEST_PX, light_relief
from japanner.painting.model import Layer, Light
from japanner.raster import accumulate
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.modes import WHOLE

__all__ = ["light_layer", "neighbours"]


def neighbours(key: Key) -> Iterator[Key]:
    """The tile and the eight around it: its slopes reach a pixel into them."""
    return ((key[0] + down, key[1] + right) for down in (-1, 0, 1) for right in (-1, 0, 1))


def light_layer(
    layer: Layer,
    light: Light,
    acc: NDArray[np.float32],
    key: Key,
    strength: float,
    *,
    opaque: bool = True,
    area: Rect = WHOLE,
) -> None:
    """Light `area` of a tile's accumulator by the relief of a layer that has just been blended on it."""
    relief = layer.relief
    if relief is None or not relief.amount:
        return
    heights = _heights(layer, key)
    if heights is not None:
        light_relief(acc, heights, light.direction, gloss=relief.gloss, strength=strength, opaque=opaque, area=area)


def _heights(layer: Layer, key: Key) -> NDArray[np.float32] | None:
    """Heights in px of a tile and one pixel around it, (TILE + 2, TILE + 2), as they are to be lit; None if all flat.

    What lies beyond the canvas counts as at the height of its border.
    """
    assert layer.relief is not None
    heights, mask = layer.relief.heights, layer.mask
    if not any(near in heights.tiles for near in neighbours(key)):
        return None
    scale = np.float32(layer.relief.amount * THICKEST_PX / 65535)
    out = np.zeros((TILE + 2, TILE + 2), np.float32)
    corner = Rect(key[1] * TILE - 1, key[0] * TILE - 1, (key[1] + 1) * TILE + 1, (key[0] + 1) * TILE + 1)
    for near, local in corner.intersected(heights.rect).tiles():
        tile = heights.tiles.get(near)
        if tile is None:
            continue
        if mask is not None:
            tile = accumulate.masked(tile, mask.pixels.tile(near), mask.ground)
        there = local.moved(near[1] * TILE - corner.x0, near[0] * TILE - corner.y0)
        piece = tile[3, local.y0 : local.y1, local.x0 : local.x1]
        np.multiply(piece, scale, out=out[there.y0 : there.y1, there.x0 : there.x1], casting="unsafe")
    _repeat_border(out, corner, heights.rect)
    return out


def _repeat_border(out: NDArray[np.float32], corner: Rect, canvas: Rect) -> None:
    if corner.y0 < canvas.y0:
        out[0] = out[1]
    if corner.x0 < canvas.x0:
        out[:, 0] = out[:, 1]
    bottom, right = canvas.y1 - corner.y0, canvas.x1 - corner.x0
    if bottom < out.shape[0]:
        out[bottom] = out[bottom - 1]
    if right < out.shape[1]:
        out[:, right] = out[:, right - 1]
