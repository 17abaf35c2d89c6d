"""Angles between directions, in degrees."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

__all__ = ["apart_deg", "azimuth_deg", "turn_deg"]


def azimuth_deg(direction: Sequence[float] | NDArray[np.floating]) -> float:
    """Of a direction (x right, y up, and whatever else): 0 to the right, 90 up."""
    return float(np.degrees(np.arctan2(direction[1], direction[0])))


def turn_deg(start: float, end: float) -> float:
    """How far `end` is turned against `start`, -180..180."""
    return (end - start + 180) % 360 - 180


def apart_deg(one: float, other: float) -> float:
    """How far two angles are apart, 0..180."""
    return abs(turn_deg(one, other))
