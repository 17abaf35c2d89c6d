"""Means over what belongs to one surface: of shares that every pixel found by a few rays of its own."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import FLAG, I64, LABELS_IN, ONE_F, PLANE, PLANE_IN, PLANES_IN, inlined, kernel, void

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)


@inlined
def _alike(place, normal, seen, j, i, y, x, near):
    """How much pixel (y, x) counts for (j, i): by how far it is off the plane there, in `near`, and by its normal."""
    if seen[y, x] < 0:
        return ZERO
    nx, ny, nz = normal[0, j, i], normal[1, j, i], normal[2, j, i]
    off = (
        (place[0, y, x] - place[0, j, i]) * nx
        + (place[1, y, x] - place[1, j, i]) * ny
        + (place[2, y, x] - place[2, j, i]) * nz
    ) / near
    facing = nx * normal[0, y, x] + ny * normal[1, y, x] + nz * normal[2, y, x]
    if facing <= F(0.5):
        return ZERO
    facing *= facing
    return facing * facing / (ONE + off * off * off * off)


@kernel(void(PLANE_IN, PLANES_IN, PLANES_IN, LABELS_IN, ONE_F, FLAG, PLANE, I64, I64))
def even_out(raw, place, normal, seen, near, sharp, out, top, bottom):
    """Rows top..bottom of the mean of raw (h, w) over 5 x 5 pixels, in which each of 4 x 4 kinds of pixel counts alike.

    place, normal (3, h, w); seen (h, w): below 0 for nothing; near: distance off a plane that begins to count.
    sharp: leave a pixel as it is where all around are 0 or 1, as at a hard edge.
    """
    height, width = raw.shape
    for j in range(uintp(top), uintp(bottom)):
        for i in range(uintp(width)):
            out[j, i] = raw[j, i]
            if seen[j, i] < 0:
                continue
            total, weight, partly = ZERO, ZERO, not sharp
            for v in range(-2, 3):
                y = int(j) + v
                if y < 0 or y >= height:
                    continue
                for u in range(-2, 3):
                    x = int(i) + u
                    if x < 0 or x >= width:
                        continue
                    w = _alike(place, normal, seen, j, i, uintp(y), uintp(x), near)
                    if w <= ZERO:
                        continue
                    w *= (HALF if abs(u) == 2 else ONE) * (HALF if abs(v) == 2 else ONE)
                    found = raw[y, x]
                    partly = partly or (found > F(0.01) and found < F(0.99))
                    total += w * found
                    weight += w
            if partly and weight > ZERO:
                out[j, i] = total / weight


@kernel(void(PLANE_IN, PLANES_IN, PLANES_IN, LABELS_IN, LABELS_IN, I64, ONE_F, PLANE, PLANE, I64, I64))
def spread(coarse, place, normal, seen, coarse_seen, skip, near, out, apart, top, bottom):
    """Rows top..bottom of out (h, w), drawn out from coarse (h / skip, w / skip), whose pixel k stands at k * skip.

    apart (h, w): how much the coarse values differ that a pixel comes from.
    """
    height, width = out.shape
    for j in range(uintp(top), uintp(bottom)):
        for i in range(uintp(width)):
            out[j, i], apart[j, i] = ZERO, ZERO
            if seen[j, i] < 0:
                continue
            y0, x0 = int(j) // skip, int(i) // skip
            s, t = F(int(i) - x0 * skip) / F(skip), F(int(j) - y0 * skip) / F(skip)
            total, weight, low, high = ZERO, ZERO, F(2), F(-1)
            for v in range(2):
                y = min(y0 + v, coarse.shape[0] - 1)
                for u in range(2):
                    x = min(x0 + u, coarse.shape[1] - 1)
                    if coarse_seen[y, x] < 0:
                        continue
                    p, q = uintp(min(y * skip, height - 1)), uintp(min(x * skip, width - 1))
                    w = (s if u else ONE - s) * (t if v else ONE - t) + F(1e-3)
                    w *= _alike(place, normal, seen, j, i, p, q, near) + F(1e-5)
                    found = coarse[y, x]
                    total, weight = total + w * found, weight + w
                    low, high = min(low, found), max(high, found)
            if weight > ZERO:
                out[j, i], apart[j, i] = total / weight, high - low
            else:
                out[j, i], apart[j, i] = ONE, ONE
