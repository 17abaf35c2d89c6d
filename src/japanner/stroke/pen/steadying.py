"""Steadying the hand: a brush that lags behind the pen, and strokes made straight or elliptic when they end."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.stroke.pen.samples import PenSample

__all__ = ["ASSISTS", "MOST_LAG_MS", "Steady", "assisted"]

ASSISTS: Final = ("free", "straight", "ellipse")
MOST_LAG_MS: Final = 600.0
# The way left at the end is caught up in steps of so many px.
CATCH_UP_PX: Final = 4.0
MOST_STEPS: Final = 400
# Fewer samples say nothing of an ellipse, and one flatter than this is a line.
FEWEST: Final = 6
FLATTEST: Final = 0.02


class Steady:
    """Follows the pen with a lag: a step is taken to 1 - 1/e after `lag_ms` (0: the pen itself)."""

    def __init__(self, lag_ms: float) -> None:
        self._lag = checks.number("lag_ms", lag_ms, 0, MOST_LAG_MS)
        self._at: PenSample | None = None
        self._pen: PenSample | None = None

    def follow(self, samples: Sequence[Sequence[float]]) -> list[PenSample]:
        """What the brush does while the pen does `samples`."""
        return [self._step(PenSample(*sample)) for sample in samples]

    def end(self) -> list[PenSample]:
        """The way that the brush has still to go, to where the pen was lifted."""
        if self._lag == 0 or self._at is None or self._pen is None:
            return []
        here, there = np.array(self._at), np.array(self._pen)
        count = min(int(math.hypot(*(there - here)[:2]) / CATCH_UP_PX), MOST_STEPS)
        if count == 0:
            return []
        way = here + (there - here) * np.linspace(0, 1, count + 1)[1:, None]
        return [PenSample(*(float(v) for v in row)) for row in way]

    def _step(self, pen: PenSample) -> PenSample:
        before, self._pen = self._at, pen
        if before is None or self._lag == 0:
            self._at = pen
            return pen
        share = 1 - math.exp(-max(pen.time_ms - before.time_ms, 0.0) / self._lag)
        x, y = (a + share * (b - a) for a, b in zip(before[:2], pen[:2], strict=True))
        pressure = before.pressure + share * (pen.pressure - before.pressure)
        self._at = pen._replace(x=x, y=y, pressure=pressure)
        return self._at


def assisted(samples: Sequence[PenSample], how: str) -> list[PenSample]:
    """The samples moved on to a straight line, or round an ellipse, that fits them best; pressure and time stay.

    straight: from the first sample to the last. ellipse: least squares (Fitzgibbon, Pilu & Fisher 1999), from where the
    stroke begins the way it goes, once round if it nearly closes. What fits no ellipse is left as it is.
    """
    checks.one_of("assist", how, ASSISTS)
    points = np.array([sample[:2] for sample in samples])
    if how == "free" or len(points) < 2:
        return list(samples)
    moved = _on_line(points) if how == "straight" else _on_ellipse(points)
    if moved is None:
        return list(samples)
    return [one._replace(x=float(x), y=float(y)) for one, (x, y) in zip(samples, moved, strict=True)]


def _on_line(points: NDArray[np.float64]) -> NDArray[np.float64]:
    start, way = points[0], points[-1] - points[0]
    length = float(way @ way)
    if length == 0:
        return np.broadcast_to(start, points.shape)
    # Nobody means to go back on a straight line.
    share = np.maximum.accumulate(np.clip((points - start) @ way / length, 0, 1))
    return start + share[:, None] * way


def _on_ellipse(points: NDArray[np.float64]) -> NDArray[np.float64] | None:
    if len(points) < FEWEST:
        return None
    middle = points.mean(axis=0)  # the fit is in single precision: about its middle it loses nothing
    (cx, cy), (width, height), degrees = cv2.fitEllipseDirect((points - middle).astype(np.float32))
    if not (np.isfinite((cx, cy, width, height)).all() and min(width, height) > FLATTEST * max(width, height) > 0):
        return None
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    turn = np.array(((c, s), (-s, c)))
    axes = np.array((width, height)) / 2
    inside = ((points - middle - (cx, cy)) @ turn.T) / axes
    angles = np.unwrap(np.arctan2(inside[:, 1], inside[:, 0]))
    if abs(abs(angles[-1] - angles[0]) - 2 * math.pi) < math.radians(40):
        angles = angles[0] + (angles - angles[0]) * (2 * math.pi / abs(angles[-1] - angles[0]))
    ring = np.stack((np.cos(angles), np.sin(angles)), axis=1) * axes
    result: NDArray[np.float64] = ring @ turn + (cx, cy) + middle
    return result
