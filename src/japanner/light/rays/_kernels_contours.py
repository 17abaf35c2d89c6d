"""How far it is from a place over what is seen, without a step over a contour."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import FLAGS_IN, I64, ONE_F, PLANE, inlined, kernel

F = np.float32
ONE, HALF, TWO = F(1), F(0.5), F(2)
FAR = F(1e9)


@inlined
def _from(across, down, away, j, i):
    """The least of what neighbours in the row and in the column give pixel (j, i): a step of the eikonal equation."""
    height, width = away.shape
    a = b = FAR
    if i > 0 and across[j, i - uintp(1)]:
        a = away[j, i - uintp(1)]
    if i + uintp(1) < uintp(width) and across[j, i]:
        a = min(a, away[j, i + uintp(1)])
    if j > 0 and down[j - uintp(1), i]:
        b = away[j - uintp(1), i]
    if j + uintp(1) < uintp(height) and down[j, i]:
        b = min(b, away[j + uintp(1), i])
    if abs(a - b) >= ONE:  # also where only one has any
        return min(a, b) + ONE
    return HALF * (a + b + np.sqrt(TWO - (a - b) * (a - b)))


@kernel(I64(FLAGS_IN, FLAGS_IN, PLANE, ONE_F))
def creep(across, down, away, reach):
    """away (h, w): the pixels' widths from those that are 0 before, over neighbours that are joined; others far.

    across, down (h, w): whether a pixel is joined to the one on its right, and to the one below. Only as far as
    `reach`. By sweeps from the four corners until nothing changes; their number.
    """
    height, width = away.shape
    changed, sweeps = True, 0
    while changed:
        changed = False
        for corner in range(4):
            for one in range(height):
                j = uintp(one if corner < 2 else height - 1 - one)
                for two in range(width):
                    i = uintp(two if corner % 2 == 0 else width - 1 - two)
                    found = _from(across, down, away, j, i)
                    if found < away[j, i] - F(0.02) and found <= reach:
                        away[j, i] = found
                        changed = True
        sweeps += 1
    return sweeps
