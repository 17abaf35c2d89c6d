"""Aiming: the colour whose stroke comes to a value through a layer's mode and strength."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.color import lab
from japanner.color.value import srgb_from_value
from japanner.raster import accumulate
from japanner.raster.geometry import Rect
from japanner.raster.modes import blend_tile
from japanner.raster.tiles import EMPTY_TILE
from japanner.types import Colour

__all__ = ["NEAR_ENOUGH", "aimed", "outcomes"]

NEAR_ENOUGH: Final = 0.5
"""L* that an aim may miss by; what misses by more is out of the mode's reach."""
# Values that are tried, 1 L* apart, and how finely between two of them.
TRIED: Final = np.linspace(0, 100, 101)
BETWEEN: Final = 41

Colours = NDArray[np.float64]


def outcomes(colours: Sequence[Colour] | Colours, base: Colour, mode: str, strength: float) -> Colours:
    """What full strokes come to, encoded (n, 3), on a layer of some mode and strength over an opaque `base`.

    colours: up to 128 encoded ones, (n, 3). It is the blend table that answers (W3C Compositing and Blending).
    """
    tried = np.asarray(colours, float).reshape(-1, 3)
    area = Rect(0, 0, len(tried), 1)
    under = accumulate.filled(base)
    paint = EMPTY_TILE.copy()
    paint[:3, 0, : len(tried)] = np.rint(np.clip(tried, 0, 1).T * 65535)
    paint[3, 0, : len(tried)] = 65535
    blend_tile(mode, under, paint, strength, area=area)
    result: Colours = under[:3, 0, : len(tried)].T.astype(float)
    return result


def aimed(
    value: float, chroma: float, hue_deg: float, base: Colour, mode: str, strength: float
) -> tuple[Colour, float]:
    """The encoded colour of some OKLab chroma and hue whose full stroke over `base` comes nearest to L* `value`.

    Returns it with the L* that the stroke comes to, which differs by more than `NEAR_ENOUGH` where the mode does not
    reach so far. Among colours that come to the same, the one nearest to `value` itself.
    """
    checks.number("value", value, 0, 100)
    colours = _scale(round(chroma, 4), round(hue_deg, 2))
    best = _best(colours, TRIED, value, base, mode, strength)
    low, high = max(best - 1, 0), min(best + 1, len(TRIED) - 1)
    shares = np.linspace(low, high, 2 * BETWEEN - 1)
    fine = np.stack([np.interp(shares, np.arange(len(TRIED)), colours[:, i]) for i in range(3)], axis=1)
    at = _best(fine, lab.lightness_from_srgb(fine), value, base, mode, strength)
    r, g, b = (float(c) for c in fine[at])
    return (r, g, b), float(lab.lightness_from_srgb(outcomes(fine[at][None], base, mode, strength)[0]))


def _best(colours: Colours, own: Colours, value: float, base: Colour, mode: str, strength: float) -> int:
    reached = lab.lightness_from_srgb(outcomes(colours, base, mode, strength))
    # What comes equally near is decided by the colour's own value.
    return int(np.argmin(np.round(np.abs(reached - value), 3) * 1000 + np.abs(own - value) / 1000))


@lru_cache(maxsize=64)
def _scale(chroma: float, hue_deg: float) -> Colours:
    """Colours of one hue by value, (101, 3)."""
    result = np.array([srgb_from_value(float(value), min(chroma, 0.5), hue_deg) for value in TRIED])
    result.setflags(write=False)
    return result
