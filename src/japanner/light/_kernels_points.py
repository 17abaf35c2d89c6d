"""Distances of single points to joined forms."""

from __future__ import annotations

import numpy as np

from japanner._numba import FLOATS, ONE_F, PLANE, TABLE, inlined, kernel, void
from japanner.light._kernels_forms import distance

F = np.float32


@inlined
def _slope(rows, data, order, count, strokes, x, y, z, h):
    """The normal at a point, from four distances at the corners of a tetrahedron."""
    a, _ = distance(rows, data, order, count, strokes, x + h, y - h, z - h)
    b, _ = distance(rows, data, order, count, strokes, x - h, y - h, z + h)
    c, _ = distance(rows, data, order, count, strokes, x - h, y + h, z - h)
    d, _ = distance(rows, data, order, count, strokes, x + h, y + h, z + h)
    nx, ny, nz = a - b - c + d, -a - b + c + d, -a + b - c + d
    length = max(np.sqrt(nx * nx + ny * ny + nz * nz), F(1e-12))
    return nx / length, ny / length, nz / length


@kernel(void(FLOATS, TABLE, ONE_F, FLOATS, PLANE))
def distances(rows, data, strokes, points, found):
    """Distance (n, 1) and slope (n, 3) of points (n, 3) of the maquette, as found (n, 4)."""
    order = np.arange(rows.shape[0]).astype(np.int32)
    for k in range(points.shape[0]):
        x, y, z = points[k, 0], points[k, 1], points[k, 2]
        found[k, 0], _ = distance(rows, data, order, rows.shape[0], strokes, x, y, z)
        found[k, 1], found[k, 2], found[k, 3] = _slope(rows, data, order, rows.shape[0], strokes, x, y, z, F(1e-3))
