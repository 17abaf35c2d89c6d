"""How far the pixels of a picture are from one colour."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import (
    AREA,
    FLAGS,
    FLAGS_IN,
    FLOATS,
    I64,
    LABELS_IN,
    ONE_F,
    PLANE,
    PLANES_IN,
    TABLE,
    kernel,
    void,
)

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)


@kernel(void(PLANES_IN, TABLE, TABLE, FLOATS, FLOATS, ONE_F, ONE_F, ONE_F, ONE_F, PLANE, I64, I64, *AREA))
def difference(acc, decode, root, lms, lab, L, a, b, alpha, out, row, column, top, bottom, left, right):
    """Fill `out`, with the tile's corner at (row, column), with OKLab distances from (L, a, b) in hundredths.

    `decode` and `root` are tables of linear light and of cube roots over 0..1; `lms` and `lab` OKLab's two matrices.
    Where coverage differs from `alpha` the distance is at least that difference; where one of them is bare, only
    coverage counts.
    """
    last = F(decode.size - 1)
    for y in range(uintp(top), uintp(bottom)):
        found, before_r, before_g, before_b, before_a = ZERO, F(-1), F(-1), F(-1), F(-1)
        for x in range(uintp(left), uintp(right)):
            cover = acc[3, y, x]
            # Flat colour comes in long runs: most pixels are like the one before.
            same = acc[0, y, x] == before_r and acc[1, y, x] == before_g
            if same and acc[2, y, x] == before_b and cover == before_a:
                out[uintp(row) + y, uintp(column) + x] = found
                continue
            before_r, before_g, before_b, before_a = acc[0, y, x], acc[1, y, x], acc[2, y, x], cover
            k = last / cover if cover > ZERO else ZERO
            r = decode[uintp(np.int32(min(acc[0, y, x] * k + HALF, last)))]
            g = decode[uintp(np.int32(min(acc[1, y, x] * k + HALF, last)))]
            u = decode[uintp(np.int32(min(acc[2, y, x] * k + HALF, last)))]
            lo = root[uintp(np.int32(min(lms[0, 0] * r + lms[0, 1] * g + lms[0, 2] * u, ONE) * last + HALF))]
            me = root[uintp(np.int32(min(lms[1, 0] * r + lms[1, 1] * g + lms[1, 2] * u, ONE) * last + HALF))]
            sh = root[uintp(np.int32(min(lms[2, 0] * r + lms[2, 1] * g + lms[2, 2] * u, ONE) * last + HALF))]
            dL = lab[0, 0] * lo + lab[0, 1] * me + lab[0, 2] * sh - L
            da = lab[1, 0] * lo + lab[1, 1] * me + lab[1, 2] * sh - a
            db = lab[2, 0] * lo + lab[2, 1] * me + lab[2, 2] * sh - b
            both = min(cover, alpha)
            apart = np.sqrt(dL * dL + da * da + db * db) * both
            found = F(100) * max(apart, abs(cover - alpha))
            out[uintp(row) + y, uintp(column) + x] = found


@kernel(void(LABELS_IN, FLAGS_IN, FLAGS, I64))
def mark_pieces(pieces, flags, marks, row):
    """Set `marks[row, label]` for every label of `pieces` (h, w) that lies under a flag (h, w)."""
    for y in range(uintp(pieces.shape[0])):
        for x in range(uintp(pieces.shape[1])):
            if flags[y, x]:
                marks[row, pieces[y, x]] = 1


@kernel(void(LABELS_IN, FLAGS_IN, FLAGS))
def add_pieces(pieces, marks, out):
    """Set `out` (h, w) where `marks[0, label]` of the pixel's piece is set."""
    for y in range(uintp(pieces.shape[0])):
        for x in range(uintp(pieces.shape[1])):
            if marks[0, pieces[y, x]]:
                out[y, x] = 1
