"""Exact coverage of polygons."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import PLANE, POINTS_IN, inlined, kernel, void

F = np.float32


@inlined
def _row(out, y, x0, x1, height):
    """Add an edge that runs from x0 to x1 inside row y over a signed height to the row's area differences.

    A pixel gets the area between the edge and its right side; what is further right gets the whole height, by way
    of the next pixel's difference.
    """
    low, high = min(x0, x1), max(x0, x1)
    width = out.shape[1] - 1
    if low >= width:
        return
    first, last = max(int(np.floor(low)), 0), min(int(np.floor(high)), width - 1)
    slope = height / (high - low) if high > low else 0.0
    # What lies left of the first column counts in full.
    passed = slope * max(min(high, float(first)) - low, 0.0) if high > low else (height if high <= 0 else 0.0)
    before = 0.0
    for x in range(first, last + 1):
        a, b = max(low, float(x)), min(high, float(x + 1))
        inside = slope * max(b - a, 0.0) if high > low else height - passed
        covered = passed + inside * (x + 1 - (a + b) / 2)
        out[y, x] += F(covered - before)
        passed += inside
        before = covered
    if last < first:
        last, before = -1, 0.0
    out[y, last + 1] += F((height if high <= width else passed) - before)


@kernel(void(POINTS_IN, PLANE))
def add_edges(edges, out):
    """Add edges (n, 4: x0, y0, x1, y1) to `out` (h, w + 1), whose sums along rows are then signed coverage.

    Edges have been cut to 0..w in x; what lies above or below the rows is left out here.
    """
    rows = out.shape[0]
    for i in range(uintp(edges.shape[0])):
        x0, y0, x1, y1 = edges[i, 0], edges[i, 1], edges[i, 2], edges[i, 3]
        if y0 == y1:
            continue
        sign = 1.0
        if y0 > y1:
            x0, y0, x1, y1 = x1, y1, x0, y0
            sign = -1.0
        slope = (x1 - x0) / (y1 - y0)
        for y in range(max(int(np.floor(y0)), 0), min(int(np.ceil(y1)), rows)):
            top, bottom = max(y0, float(y)), min(y1, float(y + 1))
            _row(out, y, x0 + (top - y0) * slope, x0 + (bottom - y0) * slope, sign * (bottom - top))
