"""Hanging cloth, row by row: every row is a line in x and z that may run back under itself. All lengths in px."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import I64, ONE_F, PLANE_IN, PLANES, kernel, void

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)
DENSITY, FRONT, BACK, HEIGHT, ALONG, NX, NY, NZ = range(8)


@kernel(void(PLANE_IN, PLANE_IN, ONE_F, ONE_F, ONE_F, PLANES, I64, I64))
def drape(x, z, light_x, light_y, light_z, out, top, bottom):
    """Fill out (8, h, w) for rows `top` to `bottom` of lines x, z (h, m) that go from left to right.

    DENSITY: cloth to a px of width. FRONT, BACK: of that, the sum of cosines with which the light meets the side that
    is seen, and the other one. Of the cloth that lies in front: HEIGHT, its z; ALONG, place on the line, 0..1; its
    normal. HEIGHT is to be far behind before, the rest 0. Light: x right, y up, z out.
    """
    wide, count = out.shape[2], uintp(x.shape[1])
    last = uintp(x.shape[0] - 1)
    step = ONE / F(count - uintp(1))
    for row in range(uintp(top), uintp(bottom)):
        above, below = row - uintp(1 if row > 0 else 0), row + uintp(1 if row < last else 0)
        per_row = HALF if below - above == uintp(2) else ONE
        for i in range(count - uintp(1)):
            x0, x1, z0, z1 = x[row, i], x[row, i + uintp(1)], z[row, i], z[row, i + uintp(1)]
            dx, dz = x1 - x0, z1 - z0
            length = np.sqrt(dx * dx + dz * dz)
            low, high = (x0, x1) if x0 < x1 else (x1, x0)
            if length <= ZERO or high < ZERO or low >= F(wide):
                continue
            slope = (z[below, i] - z[above, i]) * per_row
            side = ONE if dx >= ZERO else -ONE  # of the cloth that the viewer sees
            nx, ny, nz = -dz * side, slope * dx * side, dx * side
            short = ONE / max(np.sqrt(nx * nx + ny * ny + nz * nz), F(1e-9))
            nx, ny, nz = nx * short, ny * short, nz * short
            facing = nx * light_x + ny * light_y + nz * light_z
            first, end = max(np.int64(np.floor(low)), 0), min(np.int64(np.floor(high)), wide - 1)
            for c in range(first, end + 1):
                share = ONE
                if high - low > F(1e-6):
                    share = (min(high, F(c + 1)) - max(low, F(c))) / (high - low)
                weight = length * max(share, ZERO)
                out[DENSITY, row, c] += weight
                out[FRONT, row, c] += weight * max(facing, ZERO)
                out[BACK, row, c] += weight * max(-facing, ZERO)
                middle = F(c) + HALF
                if low <= middle < high:
                    t = (middle - x0) / dx
                    height = z0 + t * dz
                    if height > out[HEIGHT, row, c]:
                        out[HEIGHT, row, c], out[ALONG, row, c] = height, (F(i) + t) * step
                        out[NX, row, c], out[NY, row, c], out[NZ, row, c] = nx, ny, nz
