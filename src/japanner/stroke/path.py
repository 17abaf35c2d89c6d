"""Pen samples to evenly spaced dabs along a centripetal spline."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.stroke import _kernels_path as kernels
from japanner.stroke.samples import PenSample

__all__ = ["DabPath", "catmull_rom"]

FloatArray = NDArray[np.float64]

# Chords per segment: one every 2 px, within these limits; a chord of 2 px is far below what a tip shows.
FEWEST, MOST = 4, 256
# A resting pen lays another dab when its pressure has risen by this much.
PRESSURE_RISE: Final = 0.02
AT_REST_PX: Final = 0.01
SAME_PLACE: Final = 1e-9


def catmull_rom(points: Sequence[Sequence[float]], u: FloatArray, alpha: float = 0.5) -> FloatArray:
    """Points between the second and third of four on a Catmull-Rom spline, u 0..1 of shape (n,), as (n, 2).

    Knots grow by the distance to the power `alpha`; 0.5, *centripetal*, makes neither cusps nor loops.
    A point that coincides with its neighbour is replaced by the neighbour's mirror image.

    References
    ----------
    Barry & Goldman (1988), SIGGRAPH 22(4), 199; Yuksel, Schaefer & Keyser (2011), CAD 43(7), 747.
    """
    p = np.array(points, dtype=np.float64)
    if p.shape != (4, 2):
        raise InputError(f"points: expected four points of two numbers, got shape {p.shape}")
    if np.hypot(*(p[2] - p[1])) < SAME_PLACE:
        raise InputError(f"points: expected the second and third to differ, got {p[1].tolist()} twice")
    if np.hypot(*(p[1] - p[0])) < SAME_PLACE:
        p[0] = 2 * p[1] - p[2]
    if np.hypot(*(p[3] - p[2])) < SAME_PLACE:
        p[3] = 2 * p[2] - p[1]
    result = np.empty((len(u), 2))
    kernels.catmull_rom(p, np.ascontiguousarray(u, np.float64), alpha, result)
    return result


class DabPath:
    """Takes samples one by one and gives the dabs that have become certain.

    A piece of spline needs the sample after it, so the path lags one sample behind the pen until `end`.
    Dabs do not depend on how the samples were batched. Rows are x, y, pressure.
    """

    def __init__(self, step_px: Callable[[float], float]) -> None:
        """`step_px` gives the distance between dabs for a pressure."""
        self._step_px = step_px
        self._samples: list[PenSample] = []
        self._since_last_dab = np.zeros(1)

    def add(self, sample: PenSample) -> FloatArray:
        """Dabs (n, 3) that `sample` settles."""
        if not self._samples:
            self._samples.append(sample)
            return np.array([[sample.x, sample.y, sample.pressure]])
        last = self._samples[-1]
        if math.hypot(sample.x - last.x, sample.y - last.y) < AT_REST_PX:
            return self._pressed_harder(sample)
        self._samples.append(sample)
        if len(self._samples) < 3:
            return np.empty((0, 3))
        first = self._samples[-4] if len(self._samples) > 3 else self._samples[-3]
        dabs = self._along(first, self._samples[-3], self._samples[-2], sample)
        del self._samples[:-3]
        return dabs

    def end(self) -> FloatArray:
        """Dabs (n, 3) of the last piece."""
        if len(self._samples) < 2:
            return np.empty((0, 3))
        before = self._samples[-3] if len(self._samples) > 2 else self._samples[-2]
        return self._along(before, self._samples[-2], self._samples[-1], self._samples[-1])

    def _pressed_harder(self, sample: PenSample) -> FloatArray:
        last = self._samples[-1]
        if sample.pressure < last.pressure + PRESSURE_RISE:
            return np.empty((0, 3))
        # Where the pen rests, the curve may end: what was held back for it comes first.
        arrived = self.end()
        self._samples = [last._replace(pressure=sample.pressure)]
        self._since_last_dab[0] = 0.0
        return np.vstack((arrived, (last.x, last.y, sample.pressure)))

    def _along(self, p0: PenSample, p1: PenSample, p2: PenSample, p3: PenSample) -> FloatArray:
        count = int(min(max(math.hypot(p2.x - p1.x, p2.y - p1.y) / 2, FEWEST), MOST))
        chords = catmull_rom([p[:2] for p in (p0, p1, p2, p3)], np.linspace(0, 1, count + 1))
        steps = self._step_px(p1.pressure), self._step_px(p2.pressure)
        # The remainder of the last piece is carried over, so spacing runs through the samples.
        dabs: FloatArray = kernels.walk(chords, p1.pressure, p2.pressure, *steps, self._since_last_dab)
        return dabs
