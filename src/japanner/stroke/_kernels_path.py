"""Centripetal splines, and the dabs along one piece of them."""

from __future__ import annotations

import numpy as np

from japanner._numba import NUMBER, POINTS, POINTS_IN, SERIES, SERIES_IN, kernel, void


@kernel(void(POINTS_IN, SERIES_IN, NUMBER, POINTS))
def catmull_rom(p, u, alpha, out):
    """Fill `out` (n, 2) with points between p[1] and p[2] of p (4, 2) at u 0..1; symbols as in Barry & Goldman."""
    t1 = ((p[1, 0] - p[0, 0]) ** 2 + (p[1, 1] - p[0, 1]) ** 2) ** (alpha / 2)
    t2 = t1 + ((p[2, 0] - p[1, 0]) ** 2 + (p[2, 1] - p[1, 1]) ** 2) ** (alpha / 2)
    t3 = t2 + ((p[3, 0] - p[2, 0]) ** 2 + (p[3, 1] - p[2, 1]) ** 2) ** (alpha / 2)
    for i in range(u.size):
        t = t1 + (t2 - t1) * u[i]
        for k in range(2):
            A1 = ((t1 - t) * p[0, k] + t * p[1, k]) / t1
            A2 = ((t2 - t) * p[1, k] + (t - t1) * p[2, k]) / (t2 - t1)
            A3 = ((t3 - t) * p[2, k] + (t - t2) * p[3, k]) / (t3 - t2)
            B1 = ((t2 - t) * A1 + t * A2) / t2
            B2 = ((t3 - t) * A2 + (t - t1) * A3) / (t3 - t1)
            out[i, k] = ((t2 - t) * B1 + (t - t1) * B2) / (t2 - t1)


@kernel(POINTS(POINTS_IN, SERIES_IN, SERIES_IN, NUMBER, NUMBER, SERIES))
def walk(chords, pen1, pen2, step1, step2, since):
    """Dabs along a polyline (m, 2): x, y, what the pen says (k), direction in radians, length drawn so far.

    What the pen says and the step go evenly from start to end. since: how far back the last dab lies, and the length
    drawn so far; both are brought up to date.
    """
    last = chords.shape[0] - 1
    run = np.zeros(last + 1)
    for i in range(last):
        run[i + 1] = run[i] + np.hypot(chords[i + 1, 0] - chords[i, 0], chords[i + 1, 1] - chords[i, 1])
    length = run[last]
    pens = pen1.size
    out = np.empty((int(length / min(step1, step2)) + 2, pens + 4))
    count, i = 0, 0
    at = max(step1 - since[0], 0.0)
    # A dab that rounding has put a hair past the end is still on it.
    while at <= length + 1e-9:
        while i < last - 1 and run[i + 1] < at:
            i += 1
        share = (at - run[i]) / (run[i + 1] - run[i])
        along = (i + share) / last
        out[count, 0] = chords[i, 0] + (chords[i + 1, 0] - chords[i, 0]) * share
        out[count, 1] = chords[i, 1] + (chords[i + 1, 1] - chords[i, 1]) * share
        for k in range(pens):
            out[count, 2 + k] = pen1[k] + (pen2[k] - pen1[k]) * along
        out[count, 2 + pens] = np.arctan2(chords[i + 1, 1] - chords[i, 1], chords[i + 1, 0] - chords[i, 0])
        out[count, 3 + pens] = since[1] + at
        count += 1
        since[0] = length - at
        at += step1 + (step2 - step1) * along
    if count == 0:
        since[0] += length
    since[1] += length
    return out[:count].copy()
