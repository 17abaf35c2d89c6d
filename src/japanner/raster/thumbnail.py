"""Small pictures of sparse pixels."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import TILE, Rect
from japanner.raster.tiles import Raster

__all__ = ["thumbnail"]


def thumbnail(raster: Raster, longest: int, area: Rect | None = None) -> NDArray[np.uint8]:
    """Premultiplied RGBA uint8 (h, w, 4) of `area` (else of all), block means.

    The longer side gets at least half of and at most `longest` px, as far as blocks of a whole tile allow.
    """
    area = (area or raster.rect).intersected(raster.rect)
    step = 1
    while max(area.width, area.height) / step > longest and step < TILE:
        step *= 2
    keys = [key for key, _ in area.tiles()]
    if not keys:
        return np.zeros((1, 1, 4), np.uint8)
    (top, left), (bottom, right) = keys[0], keys[-1]
    side = TILE // step
    small = np.zeros(((bottom - top + 1) * side, (right - left + 1) * side, 4), np.uint8)
    # Few samples of a block are enough for a picture of this size.
    stride = max(step // 8, 1)
    for row, column in keys:
        tile = raster.tiles.get((row, column))
        if tile is not None:
            block = tile[:, ::stride, ::stride].reshape(4, side, step // stride, side, step // stride)
            mean = block.mean(axis=(2, 4), dtype=np.float32) / np.float32(257)
            y, x = (row - top) * side, (column - left) * side
            small[y : y + side, x : x + side] = mean.transpose(1, 2, 0)
    y, x = (area.y0 - top * TILE) // step, (area.x0 - left * TILE) // step
    return np.ascontiguousarray(small[y : y - (-area.height // step), x : x - (-area.width // step)])
