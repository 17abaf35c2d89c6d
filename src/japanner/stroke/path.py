"""Pen samples to evenly spaced dabs along a centripetal spline."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.stroke.samples import PenSample

__all__ = ["DabPath", "catmull_rom"]

FloatArray = NDArray[np.float64]

# Chords per segment: one every 2 px, within these limits; a chord of 2 px is far below what a tip shows.
FEWEST, MOST = 4, 256
# A resting pen lays another dab when its pressure has risen by this much.
PRESSURE_RISE: Final = 0.02
AT_REST_PX: Final = 0.01


def catmull_rom(points: Sequence[Sequence[float]], u: FloatArray, alpha: float = 0.5) -> FloatArray:
    """Points between the second and third of four on a Catmull-Rom spline, u 0..1 of shape (n,), as (n, 2).

    Knots grow by the distance to the power `alpha`; 0.5, *centripetal*, makes neither cusps nor loops.
    A point that coincides with its neighbour is replaced by the neighbour's mirror image.

    References
    ----------
    Barry & Goldman (1988), SIGGRAPH 22(4), 199; Yuksel, Schaefer & Keyser (2011), CAD 43(7), 747.
    """
    p0, p1, p2, p3 = (np.asarray(p, dtype=np.float64) for p in points)
    if np.hypot(*(p1 - p0)) < 1e-9:
        p0 = 2 * p1 - p2
    if np.hypot(*(p3 - p2)) < 1e-9:
        p3 = 2 * p2 - p1
    steps = [float(np.hypot(*(b - a)) ** alpha) for a, b in ((p0, p1), (p1, p2), (p2, p3))]
    t0, t1, t2, t3 = 0.0, steps[0], steps[0] + steps[1], sum(steps)
    t = (t1 + (t2 - t1) * u)[:, None]
    a1 = ((t1 - t) * p0 + (t - t0) * p1) / (t1 - t0)
    a2 = ((t2 - t) * p1 + (t - t1) * p2) / (t2 - t1)
    a3 = ((t3 - t) * p2 + (t - t2) * p3) / (t3 - t2)
    b1 = ((t2 - t) * a1 + (t - t0) * a2) / (t2 - t0)
    b2 = ((t3 - t) * a2 + (t - t1) * a3) / (t3 - t1)
    result: FloatArray = ((t2 - t) * b1 + (t - t1) * b2) / (t2 - t1)
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
        self._since_last_dab = 0.0

    def add(self, sample: PenSample) -> FloatArray:
        """Dabs (n, 3) that `sample` settles."""
        if not self._samples:
            self._samples.append(sample)
            return np.array([[sample.x, sample.y, sample.pressure]])
        last = self._samples[-1]
        if np.hypot(sample.x - last.x, sample.y - last.y) < AT_REST_PX:
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
        self._samples[-1] = last._replace(pressure=sample.pressure)
        return np.array([[last.x, last.y, sample.pressure]])

    def _along(self, p0: PenSample, p1: PenSample, p2: PenSample, p3: PenSample) -> FloatArray:
        chords = int(min(max(np.hypot(p2.x - p1.x, p2.y - p1.y) / 2, FEWEST), MOST))
        u = np.linspace(0, 1, chords + 1)
        points = catmull_rom([(p.x, p.y) for p in (p0, p1, p2, p3)], u)
        run = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))))
        step = self._step_px(p1.pressure)
        # The remainder of the last piece is carried over, so spacing runs through the samples.
        marks = np.arange(max(step - self._since_last_dab, 0.0), run[-1], step)
        self._since_last_dab = float(run[-1] - marks[-1]) if marks.size else self._since_last_dab + float(run[-1])
        where = np.interp(marks, run, u)
        return np.column_stack(
            (
                np.interp(marks, run, points[:, 0]),
                np.interp(marks, run, points[:, 1]),
                p1.pressure + (p2.pressure - p1.pressure) * where,
            )
        )
