"""Tables for dodging and burning, made once from the colour room's formulas."""

from __future__ import annotations

from functools import cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import lab, srgb
from japanner.color.value import tone_weight

__all__ = ["decode_table", "encode_table", "gain_table", "value_table", "weight_table"]

Table = NDArray[np.float32]

# Over the square root of linear light the encoding is smooth: 4096 steps interpolate it to 1e-7.
STEPS: Final = 4096


@cache
def decode_table() -> Table:
    """Linear light of every 16-bit code."""
    return np.ascontiguousarray(srgb.decode(np.arange(65536) / 65535), dtype=np.float32)


@cache
def encode_table() -> Table:
    """Encoded value 0..1 over the square root of linear light 0..1."""
    return np.ascontiguousarray(srgb.encode(np.linspace(0, 1, STEPS + 1) ** 2), dtype=np.float32)


@cache
def gain_table(stops: float) -> Table:
    """Gain 2 ** (stops * t) over t 0..1."""
    return np.ascontiguousarray(2.0 ** (stops * np.linspace(0, 1, STEPS + 1)), dtype=np.float32)


@cache
def weight_table(tone: str) -> Table:
    """Weight of a tone range over the square root of luminance 0..1."""
    values = lab.lightness(np.linspace(0, 1, STEPS + 1) ** 2)
    return np.ascontiguousarray(tone_weight(tone, values), dtype=np.float32)


@cache
def value_table() -> Table:
    """L* over the square root of luminance 0..1."""
    return np.ascontiguousarray(lab.lightness(np.linspace(0, 1, STEPS + 1) ** 2), dtype=np.float32)
