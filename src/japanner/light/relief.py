"""Relief: the thickness of paint, and how the key light shows it.

Heights are the coverage of a raster of their own, 0 bare to 1 thickest, so that the strokes that lay, wipe and drag
paint do the same with its thickness.
"""

from __future__ import annotations

import math
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color.tables import decode_table, encode_table
from japanner.light import _kernels_relief as kernels
from japanner.raster.geometry import Rect
from japanner.raster.modes import WHOLE

__all__ = ["AMBIENT", "THICKEST_PX", "light_relief", "raised_light"]

Accumulator = NDArray[np.float32]
Direction = tuple[float, float, float]

THICKEST_PX: Final = 12.0
"""Height of the thickest paint, in canvas px."""
AMBIENT: Final = 0.35
"""Share of the light on paint that comes from all around (our choice)."""
LOWEST: Final = 0.3
"""Sine of the lowest elevation over the canvas that the light falls from: a sheet lit along its surface, or from
behind, would be all shadow."""


def raised_light(direction: Direction) -> Direction:
    """A unit vector towards the light as it falls on the canvas: lifted to the least elevation if it is below."""
    x, y, z = direction
    if z >= LOWEST:
        return direction
    flat = math.hypot(x, y)
    if flat == 0:
        return 0.0, 0.0, 1.0
    scale = math.sqrt(1 - LOWEST**2) / flat
    return x * scale, y * scale, LOWEST


def light_relief(
    acc: Accumulator,
    heights: NDArray[np.float32],
    direction: Direction,
    *,
    gloss: float = 0.0,
    strength: float = 1.0,
    ambient: float = AMBIENT,
    opaque: bool = True,
    area: Rect = WHOLE,
) -> None:
    """Light `area` of an accumulator (4, h, w) by the slopes of `heights` (h + 2, w + 2; px), in place.

    direction: unit vector towards the light, x right, y up, z to the viewer. gloss: linear light of the brightest
    sheen, 0..1. strength: 0 leaves all as it is.
    """
    x, y, z = raised_light(direction)
    numbers = (np.float32(v) for v in (x, -y, z, ambient, gloss, strength))
    kernels.light_relief(acc, heights, *numbers, decode_table(), encode_table(), opaque, *area.rows_and_columns)
