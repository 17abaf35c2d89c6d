"""Resampling through a displacement field."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import FLOATS, I64, PLANES_IN, STORED, kernel, void

F = np.float32
ZERO, HALF, FULL = F(0), F(0.5), F(65535)


@kernel(void(PLANES_IN, PLANES_IN, FLOATS, STORED, I64, I64, I64, I64))
def warp(image, shifts, weights, out, down, right, top, bottom):
    """Rows top..bottom of `out` (4, h, w): at each pixel, what `image` (h', w', 4) holds where `shifts` (2, h, w; px)
    point. The corner of `out` lies at (right, down) of the image, which may be outside it.

    weights (n + 1, taps): of the pixels around a place that lies 0..1 between the middle two, in n steps. What has not
    moved is copied.
    """
    steps, taps = F(weights.shape[0] - 1), uintp(weights.shape[1])
    before = uintp(weights.shape[1] // 2 - 1)
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(out.shape[2])):
            sx, sy = shifts[0, y, x], shifts[1, y, x]
            if sx == ZERO and sy == ZERO:
                for c in range(uintp(4)):
                    out[c, y, x] = np.uint16(image[uintp(int(y) + down), uintp(int(x) + right), c])
                continue
            # Where the image begins has no part in the fraction, so that what comes out does not depend on it.
            floor_x, floor_y = np.floor(sx), np.floor(sy)
            k, j = uintp(int(x) + right + int(floor_x)) - before, uintp(int(y) + down + int(floor_y)) - before
            u, v = uintp(np.int32((sx - floor_x) * steps + HALF)), uintp(np.int32((sy - floor_y) * steps + HALF))
            # The four channels lie side by side, so that they are summed at once.
            r = g = b = a = ZERO
            for p in range(taps):
                row = weights[v, p]
                for q in range(taps):
                    weight = row * weights[u, q]
                    r += weight * image[j + p, k + q, 0]
                    g += weight * image[j + p, k + q, 1]
                    b += weight * image[j + p, k + q, 2]
                    a += weight * image[j + p, k + q, 3]
            cover = min(max(a, ZERO), FULL)
            out[0, y, x] = np.uint16(min(max(r, ZERO), cover) + HALF)
            out[1, y, x] = np.uint16(min(max(g, ZERO), cover) + HALF)
            out[2, y, x] = np.uint16(min(max(b, ZERO), cover) + HALF)
            out[3, y, x] = np.uint16(cover + HALF)
