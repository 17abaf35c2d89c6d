"""The colour of a light by its temperature."""

from __future__ import annotations

from functools import lru_cache
from typing import Final

import numpy as np

from japanner import checks
from japanner.color import srgb

__all__ = ["COOLEST_K", "WARMEST_K", "light_colour", "planckian_uv"]

WARMEST_K: Final = 1500.0
COOLEST_K: Final = 15000.0


def planckian_uv(kelvin: float) -> tuple[float, float]:
    """CIE 1960 u, v of a black body at 1000 to 15000 K (Krystek 1985, within 8e-5 of Planck's law)."""
    t = checks.number("kelvin", kelvin, 1000, 15000)
    u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t)
    v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t)
    return u, v


@lru_cache(maxsize=64)
def light_colour(kelvin: float) -> tuple[float, float, float]:
    """Linear RGB of a light of `kelvin` (1500..15000), its strongest channel 1; seen by an eye used to D65."""
    checks.number("kelvin", kelvin, WARMEST_K, COOLEST_K)
    u, v = planckian_uv(kelvin)
    x, y = 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)
    linear = np.maximum(srgb.linear_from_xyz(np.array((x / y, 1.0, (1 - x - y) / y))), 0)
    r, g, b = (float(c) for c in linear / linear.max())
    return r, g, b
