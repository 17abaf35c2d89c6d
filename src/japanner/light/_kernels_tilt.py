"""Normals tilted by a fine relief. Rows of planes that are of one shape."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import I64, ONE_F, PLANE, PLANE_IN, PLANES_IN, kernel, void

F = np.float32
HALF, ONE = F(0.5), F(1)


@kernel(void(PLANES_IN, PLANE_IN, ONE_F, ONE_F, ONE_F, ONE_F, PLANE, I64, I64))
def tilted_cosine(normal, height, scale, x, y, z, out, top, bottom):
    """Cosine between a direction (x right, y up, z out) and normals with those of `height` times `scale` on them, for
    rows `top` to `bottom`: central differences, to one side at the borders.
    """
    last_row, last = uintp(height.shape[0] - 1), uintp(height.shape[1] - 1)
    for row in range(uintp(top), uintp(bottom)):
        above, below = row - uintp(1 if row > 0 else 0), row + uintp(1 if row < last_row else 0)
        per_row = scale * (HALF if below - above == uintp(2) else ONE)
        for column in range(uintp(0), last + uintp(1)):
            left, right = column - uintp(1 if column > 0 else 0), column + uintp(1 if column < last else 0)
            per_column = scale * (HALF if right - left == uintp(2) else ONE)
            across = (height[row, right] - height[row, left]) * per_column
            down = (height[below, column] - height[above, column]) * per_row
            short = ONE / np.sqrt(across * across + down * down + ONE)
            nx = normal[0, row, column] - across * short
            ny = normal[1, row, column] + down * short
            nz = normal[2, row, column]
            length = np.sqrt(nx * nx + ny * ny + nz * nz)
            out[row, column] = (nx * x + ny * y + nz * z) / max(length, F(1e-6))
