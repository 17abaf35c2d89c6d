"""Colours through a table of colours."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import PLANES_IN, STORED, STORED_IN, kernel, void

F = np.float32
HALF, ONE, FULL = F(0.5), F(1), F(65535)


@kernel(void(STORED_IN, PLANES_IN, STORED))
def look_up(src, table, out):
    """Straight colours of a tile through `table` (n * n, n, 3), interpolated linearly along each channel."""
    nodes = table.shape[1]
    last = F(nodes - 1)
    for y in range(uintp(src.shape[1])):
        for x in range(uintp(src.shape[2])):
            coverage = src[3, y, x]
            out[3, y, x] = coverage
            if coverage == 0:
                out[0, y, x] = out[1, y, x] = out[2, y, x] = 0
                continue
            k = last / F(coverage)
            r, g, b = F(src[0, y, x]) * k, F(src[1, y, x]) * k, F(src[2, y, x]) * k
            i, j, m = min(int(r), nodes - 2), min(int(g), nodes - 2), min(int(b), nodes - 2)
            u, v, w = r - F(i), g - F(j), b - F(m)
            for c in range(3):
                low = ((ONE - w) * table[i * nodes + j, m, c] + w * table[i * nodes + j, m + 1, c]) * (ONE - v)
                low += ((ONE - w) * table[i * nodes + j + 1, m, c] + w * table[i * nodes + j + 1, m + 1, c]) * v
                i1 = i + 1
                high = ((ONE - w) * table[i1 * nodes + j, m, c] + w * table[i1 * nodes + j, m + 1, c]) * (ONE - v)
                high += ((ONE - w) * table[i1 * nodes + j + 1, m, c] + w * table[i1 * nodes + j + 1, m + 1, c]) * v
                level = ((ONE - u) * low + u * high) * F(coverage)
                out[c, y, x] = min(np.uint16(min(level, FULL) + HALF), coverage)
