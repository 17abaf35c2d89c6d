"""A brush's dabs: from path positions with pressure to rows that the kernels stamp."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import Rect
from japanner.stroke.brush import Brush, Response

__all__ = ["DabRows", "Extents", "around", "extents", "rows_for", "step_px"]

DabRows = NDArray[np.float32]
"""Shape (n, 5): x, y, radius in px; ceiling 0..1; flow 0..1."""

Extents = NDArray[np.int64]


def step_px(brush: Brush, pressure: float) -> float:
    """Distance between dabs: a share of the present size, never under half a pixel."""
    return max(brush.spacing * brush.size_px * brush.pressure_size.factor(pressure), 0.5)


def rows_for(brush: Brush, path: NDArray[np.float64]) -> DabRows:
    """Dab rows for path rows (n, 3: x, y, pressure)."""
    pressure = path[:, 2]
    rows = np.empty((len(path), 5), np.float32)
    rows[:, :2] = path[:, :2]
    rows[:, 2] = brush.size_px / 2 * _factors(brush.pressure_size, pressure)
    rows[:, 3] = brush.strength * _factors(brush.pressure_strength, pressure)
    rows[:, 4] = brush.flow * _factors(brush.pressure_flow, pressure)
    return rows


def extents(rows: DabRows) -> Extents:
    """The pixels that each dab may touch: whole numbers (n, 4), columns as in `Rect`."""
    result = np.empty((len(rows), 4), np.int64)
    reach = rows[:, 2:3] + 2
    result[:, :2] = np.floor(rows[:, :2] - reach)
    result[:, 2:] = np.ceil(rows[:, :2] + reach) + 1
    return result


def around(found: Extents) -> Rect:
    """The smallest rectangle around some dabs' pixels."""
    low, high = found[:, :2].min(axis=0).tolist(), found[:, 2:].max(axis=0).tolist()
    return Rect(*low, *high)


def _factors(response: Response, pressure: NDArray[np.float64]) -> NDArray[np.float64]:
    reached = np.clip((pressure - response.low) / (response.high - response.low), 0, 1)
    factors: NDArray[np.float64] = 1 - response.amount + response.amount * reached**response.gamma
    return factors
