"""The five values that a part is likely to need: proposed from its own value, its material and the key light."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner import checks
from japanner.painting.model import MATERIALS, Light

__all__ = ["proposed_scale"]

Scale = tuple[float, float, float, float, float]

# How far accent, shadow, light and highlight lie from the flat's own value, in L*, under a light from the side (our
# choice): matter keeps together, metal and glass run from end to end, hair and fur stay darker than they seem.
SPREADS: Final[dict[str, tuple[float, ...]]] = {
    "drawing": (-30, -15, 12, 24),
    "plain": (-34, -18, 15, 32),
    "hair": (-30, -16, 18, 38),
    "fur": (-32, -17, 16, 34),
    "eye": (-34, -18, 18, 46),
    "metal": (-42, -24, 24, 50),
    "glass": (-38, -20, 24, 52),
    "cloth": (-28, -15, 12, 24),
}
# Skin's, as shares of what lies below its own value and above it: fair skin has deep shadows, dark skin deep lights.
SKIN: Final = (-0.66, -0.37, 0.28, 0.58)
LOWEST, HIGHEST, APART = 3.0, 97.0, 4.0
# From the front, a form is lit nearly all over: shadows lie this share as far down.
FRONTAL: Final = 0.7


def proposed_scale(value: float, material: str, light: Light) -> Scale:
    """Accent, shadow, halftone, light and highlight for a part whose flat has L* `value`.

    The halftone is the flat's own value. Whatever would leave 3..97 is pressed together at that end, in order and at
    least 4 L* apart.
    """
    checks.number("value", value, 0, 100)
    checks.one_of("material", material, MATERIALS)
    frontal = max(light.direction[2], 0.0)
    deep = 1 - (1 - FRONTAL) * frontal
    middle = float(np.clip(value, LOWEST + 2 * APART, HIGHEST - 2 * APART))
    low = _of_skin(middle) if material == "skin" else SPREADS[material]
    down = _within([middle + low[0] * deep, middle + low[1] * deep], middle, LOWEST, -1)
    up = _within([middle + low[3], middle + low[2]], middle, HIGHEST, +1)
    accent, shadow, half, lit, high = (round(v, 1) for v in (*down, middle, up[1], up[0]))
    return accent, shadow, half, lit, high


def _of_skin(value: float) -> tuple[float, ...]:
    shares = [value * share if share < 0 else (100 - value) * share for share in SKIN]
    shares[0], shares[3] = min(shares[0], -2 * APART / FRONTAL), max(shares[3], 2 * APART)
    return tuple(shares)


def _within(outer_inner: list[float], middle: float, end: float, sign: int) -> list[float]:
    """Outer and inner value on one side of the middle, scaled so that the outer one reaches no further than the end."""
    room, wanted = abs(end - middle), abs(outer_inner[0] - middle)
    share = min(room / wanted, 1.0)
    outer = middle + (outer_inner[0] - middle) * share
    inner = middle + (outer_inner[1] - middle) * share
    if abs(inner - middle) < APART:
        inner = middle + sign * APART
    if abs(outer - inner) < APART:
        inner = outer - sign * APART
    return [outer, inner]
