"""Small pictures of sparse pixels."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import TILE
from japanner.raster.tiles import Raster

__all__ = ["thumbnail"]


def thumbnail(raster: Raster, longest: int) -> NDArray[np.uint8]:
    """Premultiplied RGBA uint8 (h, w, 4), block means, each side at least half of and at most `longest`."""
    step = 1
    while max(raster.width, raster.height) / step > longest and step < TILE:
        step *= 2
    side = TILE // step
    rows, columns = -(-raster.height // TILE), -(-raster.width // TILE)
    small = np.zeros((rows * side, columns * side, 4), np.uint8)
    for (row, column), tile in raster.tiles.items():
        # Few samples of a block are enough for a picture of this size.
        stride = max(step // 8, 1)
        block = tile[:, ::stride, ::stride].reshape(4, side, step // stride, side, step // stride)
        mean = block.mean(axis=(2, 4), dtype=np.float32) / np.float32(257)
        small[row * side : (row + 1) * side, column * side : (column + 1) * side] = mean.transpose(1, 2, 0)
    return np.ascontiguousarray(small[: -(-raster.height // step), : -(-raster.width // step)])
