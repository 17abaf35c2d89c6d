"""Tables for dodging and burning, made once from the colour room's formulas."""

from __future__ import annotations

from functools import cache

import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.color.tables import STEPS
from japanner.color.value import tone_weight

__all__ = ["gain_table", "weight_table"]

Table = NDArray[np.float32]


@cache
def gain_table(stops: float) -> Table:
    """Gain 2 ** (stops * t) over t 0..1."""
    return np.ascontiguousarray(2.0 ** (stops * np.linspace(0, 1, STEPS + 1)), dtype=np.float32)


@cache
def weight_table(tone: str) -> Table:
    """Weight of a tone range over the square root of luminance 0..1."""
    values = lab.lightness(np.linspace(0, 1, STEPS + 1) ** 2)
    return np.ascontiguousarray(tone_weight(tone, values), dtype=np.float32)
