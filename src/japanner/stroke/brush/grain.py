"""Grain: the texture that paint catches on."""

from __future__ import annotations

from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster.textures import SIDE, texture
from japanner.stroke.brush import Brush

__all__ = ["NO_GRAIN", "grain_of"]

NO_GRAIN: Final = np.zeros((0, 0), np.float32)


def grain_of(brush: Brush) -> NDArray[np.float32]:
    """Heights 0..1 of one square of the brush's grain that joins itself on all sides; empty if it has none."""
    if not brush.grain or not brush.grain_depth:
        return NO_GRAIN
    return _square(brush.grain, round(brush.grain_scale, 2))


@lru_cache(maxsize=8)
def _square(kind: str, scale: float) -> NDArray[np.float32]:
    side = max(round(SIDE * scale), 8)
    square = np.ascontiguousarray(texture(kind, side, side, scale, contrast=1.4), np.float32)
    square.setflags(write=False)
    return square
