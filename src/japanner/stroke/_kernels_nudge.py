"""Nudges: dabs that shift a displacement field, in a region of it."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import AREA, FLAG, FLOATS, I64, PLANES, kernel, void

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)


@kernel(void(PLANES, PLANES, FLOATS, FLOATS, FLOATS, FLAG, I64, I64, *AREA))
def nudge(field, fresh, dab, turn, frisket, back, origin_x, origin_y, top, bottom, left, right):
    """One dab on a field (2, h, w), in which the pixel at p shows what was at p + field(p); what comes of it in
    top..bottom, left..right goes to `fresh`, of the same size.

    dab (1, 6): x, y in canvas px, radius in px, weight 0..1, step x, y in px; the region's corner lies at (origin_x,
    origin_y) of the canvas. Nothing is reckoned from that corner but which pixels are read, so that it has no part in
    what comes out. The dab shifts what is under its
    middle by its step and by turn (2, 2) times the offset to the middle; towards the rim, less. back: it takes back
    what has been shifted instead, in proportion to its step. frisket: (h, w) coverage 0..1, or (0, 0). Beyond its
    border the field goes on.
    """
    cx, cy, radius, weight, step_x, step_y = dab[0, 0], dab[0, 1], dab[0, 2], dab[0, 3], dab[0, 4], dab[0, 5]
    last_x, last_y = int(field.shape[2]) - 2, int(field.shape[1]) - 2
    travel = min(np.sqrt(step_x * step_x + step_y * step_y) / radius, ONE)
    unit = ONE / (radius * radius)
    for y in range(uintp(top), uintp(bottom)):
        dy = F(int(y) + origin_y) + HALF - cy
        for x in range(uintp(left), uintp(right)):
            dx = F(int(x) + origin_x) + HALF - cx
            # Flat in the middle and smooth at the rim, so that a feature keeps its shape while it is moved.
            rest = max(ONE - (dx * dx + dy * dy) * unit, ZERO)
            amount = rest * rest * weight
            if frisket.shape[0] > 0:
                amount *= frisket[y, x]
            old_x, old_y = field[0, y, x], field[1, y, x]
            if amount == ZERO or back:
                fresh[0, y, x], fresh[1, y, x] = old_x * (ONE - amount * travel), old_y * (ONE - amount * travel)
                continue
            sx = amount * (turn[0, 0] * dx + turn[0, 1] * dy - step_x)
            sy = amount * (turn[1, 0] * dx + turn[1, 1] * dy - step_y)
            whole_x, whole_y = np.floor(sx), np.floor(sy)
            a, b = sx - whole_x, sy - whole_y
            k = uintp(min(max(int(x) + int(whole_x), 0), last_x))
            j = uintp(min(max(int(y) + int(whole_y), 0), last_y))
            upper_left, upper_right = (ONE - a) * (ONE - b), a * (ONE - b)
            lower_left, lower_right = (ONE - a) * b, a * b
            for c in range(uintp(2)):
                seen = upper_left * field[c, j, k] + upper_right * field[c, j, k + uintp(1)]
                seen += lower_left * field[c, j + uintp(1), k] + lower_right * field[c, j + uintp(1), k + uintp(1)]
                fresh[c, y, x] = seen + (sx if c == 0 else sy)
