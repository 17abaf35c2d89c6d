"""Well spread ways for rays, the same every time."""

from __future__ import annotations

from functools import cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.light.rays.tree import Floats

__all__ = ["KINDS", "about_light", "kinds_of", "over_half_space"]

KINDS: Final = 4
"""Every pixel of KINDS x KINDS takes a set of ways of its own; even means over them take them all (Keller and
Heidrich 2001).
"""
# Neighbours' sets follow each other at a distance, so that any two next to each other are unlike.
_ORDER: Final = np.array(((0, 8, 2, 10), (12, 4, 14, 6), (3, 11, 1, 9), (15, 7, 13, 5)))


@cache
def _spread(count: int) -> NDArray[np.float64]:
    """KINDS * KINDS sets of `count` places in a square (m, count, 2): every set, if count is a power of two, and all
    together evenly spread (the first two dimensions of Sobol 1967: bits of the number turned round, and those bits
    times Pascal's triangle).
    """
    number = np.arange(KINDS * KINDS * count, dtype=np.uint32)
    x, y, column = np.zeros_like(number), np.zeros_like(number), np.uint32(1 << 31)
    for bit in range(32):
        taken = ((number >> np.uint32(bit)) & np.uint32(1)).astype(bool)
        x[taken] ^= np.uint32(1 << (31 - bit))
        y[taken] ^= column
        column ^= column >> np.uint32(1)
    # Away from the corner, where the sequence begins.
    shift = np.array((0.37, 0.71))
    return ((np.stack((x, y), -1) / 2**32 + shift) % 1).reshape(KINDS * KINDS, count, 2)


@cache
def over_half_space(count: int) -> Floats:
    """Ways (m, count, 3) about z, as many as the cosine of their angle to it (Malley's method)."""
    radius, angle = np.sqrt(_spread(count)[..., 0]), 2 * np.pi * _spread(count)[..., 1]
    z = np.sqrt(np.maximum(1 - radius**2, 0))
    return np.stack((radius * np.cos(angle), radius * np.sin(angle), z), axis=-1).astype(np.float32)


def about_light(direction: Floats, size_deg: float, count: int) -> Floats:
    """Ways (m, count, 3) evenly over the disc of a light of this angular size around a direction."""
    towards = np.asarray(direction, float)
    across = np.cross(towards, (0.0, 1.0, 0.0) if abs(towards[1]) < 0.9 else (1.0, 0.0, 0.0))
    across /= np.linalg.norm(across)
    up = np.cross(towards, across)
    radius = np.sqrt(_spread(count)[..., :1]) * np.tan(np.radians(size_deg) / 2)
    angle = 2 * np.pi * _spread(count)[..., 1:]
    ways = towards + radius * (np.cos(angle) * across + np.sin(angle) * up)
    return (ways / np.linalg.norm(ways, axis=-1, keepdims=True)).astype(np.float32)


def kinds_of(rows: NDArray[np.signedinteger], columns: NDArray[np.signedinteger]) -> NDArray[np.int64]:
    """Which set a pixel takes."""
    return _ORDER[rows % KINDS, columns % KINDS].astype(np.int64)
