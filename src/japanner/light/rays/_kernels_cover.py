"""How much of a pixel a part covers, by several rays through it."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import (
    FLAGS_IN,
    FLOATS,
    I64,
    LABELS_IN,
    ONE_F,
    PLANE,
    TABLE,
    kernel,
    void,
)  # fmt: skip
from japanner.light._kernels_near import nearby
from japanner.light.rays._kernels_seen import exact, ray_of
from japanner.light.rays._kernels_tree import DEEPEST, HUGE, nearest

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)
SIDE = 4
"""Rays across a pixel."""


@kernel(void(LABELS_IN, FLOATS, LABELS_IN, TABLE, PLANE, I64, I64))
def blend(hit, shares, triangles, values, out, top, bottom):
    """Rows top..bottom of values (n,) of points as they are seen: out (h, w), 0 where nothing is.

    hit (h, w): triangle; shares (2 h, w): of its second corner, then of its third.
    """
    height, width = hit.shape
    for j in range(uintp(top), uintp(bottom)):
        for i in range(uintp(width)):
            t = hit[j, i]
            if t < 0:
                out[j, i] = ZERO
                continue
            u, v = shares[j, i], shares[j + uintp(height), i]
            a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
            out[j, i] = (ONE - u - v) * values[a] + u * values[b] + v * values[c]


@kernel(
    void(FLOATS, TABLE, ONE_F, ONE_F, FLOATS, LABELS_IN, FLOATS, LABELS_IN, LABELS_IN, FLAGS_IN, TABLE, TABLE, FLOATS,
         LABELS_IN, FLOATS, FLOATS, PLANE, I64, I64)
)  # fmt: skip
def cover(
    rows, data, strokes, fine, boxes, kids, corners, order, triangles, rough, cells, eye, rays, pixels, fields,
    by_piece, out, begin, end,
):  # fmt: skip
    """Shares of pixels begin..end (n, 2), row and column, that two sets of points cover: out (n, 2).

    order (m, 1): triangles in the tree's order. fields (k, 2): of each point whether it belongs to either set, 0..1,
    from half on; by_piece (rows, 2): the same of forms, where a triangle is rough.
    """
    stack, list_of = np.empty(DEEPEST, np.int32), np.empty(rows.shape[0], np.int32)
    share = ONE / F(SIDE * SIDE)
    for p in range(begin, end):
        out[p, 0] = out[p, 1] = ZERO
        for s in range(SIDE * SIDE):
            x = F(pixels[p, 1]) + (F(s % SIDE) + HALF) / F(SIDE) - HALF
            y = F(pixels[p, 0]) + (F(s // SIDE) + HALF) / F(SIDE) - HALF
            dx, dy, dz = ray_of(eye, rays, x, y)
            far, met, u, v = nearest(boxes, kids, corners, stack, eye[0], eye[1], eye[2], dx, dy, dz, HUGE)
            if met < 0:
                continue
            t = order[met, 0]
            piece = np.int32(-1)
            if rough[t, 0]:
                px, py, pz = eye[0] + far * dx, eye[1] + far * dy, eye[2] + far * dz
                count = nearby(rows, px, py, pz, ZERO, ZERO, ZERO, F(2) * cells[t], ZERO, list_of)
                _, _, _, _, nearest_form = exact(
                    rows, data, list_of, count, strokes, fine, cells[t], eye, dx, dy, dz, far
                )
                piece = np.int32(nearest_form)
            for k in range(2):
                if piece >= 0:
                    owned = by_piece[piece, k]
                else:
                    a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
                    owned = (ONE - u - v) * fields[a, k] + u * fields[b, k] + v * fields[c, k]
                out[p, k] += share if owned >= HALF else ZERO
