"""Tables that kernels look light up in, made once from this room's formulas."""

from __future__ import annotations

from functools import cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import lab, srgb

__all__ = ["STEPS", "decode_table", "encode_table", "value_table"]

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
def value_table() -> Table:
    """L* over the square root of luminance 0..1."""
    return np.ascontiguousarray(lab.lightness(np.linspace(0, 1, STEPS + 1) ** 2), dtype=np.float32)
