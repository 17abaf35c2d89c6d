"""Pen samples to evenly spaced dabs along a centripetal spline."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.stroke import _kernels_path as kernels
from japanner.stroke.pen.samples import PenSample

__all__ = ["DIRECTION", "PRESSURE", "RUN", "SPEED", "TILT_X", "TILT_Y", "TWIST", "DabPath", "catmull_rom"]

FloatArray = NDArray[np.float64]
Pen = FloatArray
"""What the pen says at a sample: pressure, tilt x, tilt y (degrees), cosine and sine of its twist, speed (px/ms)."""

# Columns of dab rows after x and y; TWIST is followed by its sine. Direction in radians, image axes; run in px.
PRESSURE, TILT_X, TILT_Y, TWIST, SPEED, DIRECTION, RUN = 2, 3, 4, 5, 7, 8, 9
NONE: Final = np.empty((0, RUN + 1))
# A change of speed is taken to 1 - 1/e after so long.
SPEED_MS: Final = 40.0

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
    Dabs do not depend on how the samples were batched. Rows are x, y and the columns named above.
    """

    def __init__(self, step_px: Callable[[Pen], float], *, turning: bool = False, px: float = 1.0) -> None:
        """`step_px` gives the distance between dabs for what the pen says; `turning`: the first dab waits until the
        stroke has a direction; `px`: what speed is multiplied by, for it is that of the hand on the canvas.
        """
        self._px = px
        self._step_px = step_px
        self._turning = turning
        self._first: FloatArray | None = None
        self._samples: list[PenSample] = []
        self._pens: list[Pen] = []  # of the samples
        self._run = np.zeros(2)  # since the last dab; drawn so far

    def add(self, sample: PenSample) -> FloatArray:
        """Dabs (n, 10) that `sample` settles."""
        if not self._samples:
            self._hold(sample, 0.0)
            dab = self._row(0.0)
            self._first = dab if self._turning else None
            return NONE if self._turning else dab
        last = self._samples[-1]
        distance = math.hypot(sample.x - last.x, sample.y - last.y)
        if distance < AT_REST_PX:
            return self._pressed_harder(sample)
        self._hold(sample, distance)
        if len(self._samples) < 3:
            return NONE
        first = self._samples[-4] if len(self._samples) > 3 else self._samples[-3]
        dabs = self._along(first, self._samples[-3], self._samples[-2], sample, self._pens[-3], self._pens[-2])
        del self._samples[:-3], self._pens[:-3]
        return dabs

    def end(self) -> FloatArray:
        """Dabs (n, 10) of the last piece."""
        if len(self._samples) < 2:
            dab, self._first = self._first, None
            return NONE if dab is None else dab
        before = self._samples[-3] if len(self._samples) > 2 else self._samples[-2]
        last = self._samples[-1]
        return self._along(before, self._samples[-2], last, last, self._pens[-2], self._pens[-1])

    def _hold(self, sample: PenSample, distance: float) -> None:
        """Keep a sample and what the pen says there: its speed is smoothed, for reports come unevenly."""
        speed = 0.0
        if self._samples:
            elapsed = max(sample.time_ms - self._samples[-1].time_ms, 1.0)
            before = float(self._pens[-1][SPEED - PRESSURE])
            speed = before + (1 - math.exp(-elapsed / SPEED_MS)) * (distance * self._px / elapsed - before)
        twist = math.radians(sample.twist)
        pen = (sample.pressure, sample.tilt_x, sample.tilt_y, math.cos(twist), math.sin(twist), speed)
        self._samples.append(sample)
        self._pens.append(np.array(pen))

    def _row(self, direction: float) -> FloatArray:
        """The dab at the last sample."""
        last = self._samples[-1]
        return np.array([[last.x, last.y, *self._pens[-1], direction, self._run[1]]])

    def _pressed_harder(self, sample: PenSample) -> FloatArray:
        last = self._samples[-1]
        if sample.pressure < last.pressure + PRESSURE_RISE:
            return NONE
        # Where the pen rests, the curve may end: what was held back for it comes first.
        arrived = self.end()
        direction = float(arrived[-1, DIRECTION]) if len(arrived) else 0.0
        pen = self._pens[-1].copy()
        pen[0] = sample.pressure
        self._samples, self._pens = [last._replace(pressure=sample.pressure)], [pen]
        self._run[0] = 0.0
        return np.vstack((arrived, self._row(direction)))

    def _along(self, p0: PenSample, p1: PenSample, p2: PenSample, p3: PenSample, pen1: Pen, pen2: Pen) -> FloatArray:
        count = int(min(max(math.hypot(p2.x - p1.x, p2.y - p1.y) / 2, FEWEST), MOST))
        chords = catmull_rom([p[:2] for p in (p0, p1, p2, p3)], np.linspace(0, 1, count + 1))
        # The remainder of the last piece is carried over, so spacing runs through the samples.
        dabs: FloatArray = kernels.walk(chords, pen1, pen2, self._step_px(pen1), self._step_px(pen2), self._run)
        if self._first is not None:
            dx, dy = chords[1] - chords[0]
            self._first[0, DIRECTION] = math.atan2(dy, dx)
            dabs, self._first = np.vstack((self._first, dabs)), None
        return dabs
