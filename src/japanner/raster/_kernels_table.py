"""Curves: tables looked up between their entries, and sRGB's; compiled into the kernels that use them."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import inlined, woven

F = np.float32


@inlined
def between(table, position):
    """Linear interpolation in a table at `position` 0..1."""
    scaled = position * F(table.size - 1)
    # By way of int32: the machine has no quick conversion from float to a 64-bit unsigned number.
    index = uintp(np.int32(scaled))
    low, high = table[index], table[min(index + uintp(1), uintp(table.size - 1))]
    return low + (high - low) * (scaled - F(np.int32(scaled)))


@woven
def encoded(light):
    """sRGB of linear light 0..1 (IEC 61966-2-1), its power as a polynomial over the fourth root: within .04 codes of
    65535 (a test holds it), and without a table, so that loops go over many pixels at once.
    """
    u = np.sqrt(np.sqrt(light))
    power = F(-0.0719658426)
    power = power * u + F(0.376334839)
    power = power * u - F(0.865389785)
    power = power * u + F(1.17733616)
    power = power * u - F(1.13820809)
    power = power * u + F(1.45586885)
    power = power * u + F(0.124537033)
    power = power * u - F(0.0585134138)
    return power if light > F(0.0031308) else F(12.92) * light
