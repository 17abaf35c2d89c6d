"""The key light as it is mirrored: a window with its bars, a softbox, a sun."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.painting.makers.base import Plane, smoothstep

__all__ = ["SHAPES", "mirrored_light"]

SHAPES: Final = ("window", "softbox", "sun")


def mirrored_light(direction: Plane, towards: NDArray[np.floating], wide_deg: float, shape: str, soft: float) -> Plane:
    """How much of the light (h, w) 0..1 lies in each of the directions (3, h, w) that a surface mirrors.

    towards: unit vector to its middle; wide_deg: how high it is seen; soft: of its edge, in shares of it.
    """
    across = np.cross((0.0, 1.0, 0.0), towards)
    across /= max(float(np.linalg.norm(across)), 1e-6)
    over = np.cross(towards, across)
    ahead = np.einsum("i,ihw->hw", towards, direction)
    a, b = (
        np.degrees(np.arctan2(np.einsum("i,ihw->hw", axis, direction), np.maximum(ahead, 1e-3)))
        for axis in (across, over)
    )
    half = wide_deg / 2
    edge = half * soft
    if shape == "sun":
        spot = smoothstep(half + edge, half - edge, np.hypot(a, b))
    else:
        wide = half * 0.86
        spot = smoothstep(wide + edge, wide - edge, np.abs(a)) * smoothstep(half + edge, half - edge, np.abs(b))
        if shape == "window":
            bar = half * 0.07
            spot = spot * smoothstep(bar, bar * 2.4, np.abs(a)) * smoothstep(bar, bar * 2.4, np.abs(b - 0.1 * half))
    result: Plane = (spot * (ahead > 0)).astype(np.float32)
    return result
