"""Joined forms as a mesh: distances at the corners of cubes, and a net of points through the cubes that the surface
crosses (surface nets, Gibson 1998), which are then put on the surface.

A block is 8 x 8 x 8 cells; its values are those of the corners low in each, so a cell at its far side asks the next
block. Corners of blocks that are not kept are far inside or far outside.
"""

from __future__ import annotations

import numpy as np

from japanner._numba import (
    BLOCKS_IN,
    FLOATS,
    I64,
    INDICES_IN,
    LABELS,
    LABELS_IN,
    ONE_F,
    PLANE,
    TABLE,
    inlined,
    kernel,
    void,
    woven,
)
from japanner.light._kernels_forms import distance
from japanner.light._kernels_near import nearby

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)
SIDE = 8
UNKNOWN, INSIDE, OUTSIDE = -3, -2, -1
"""In the table of blocks: not kept."""
NOBODY_KNOWS = F(2e3)
SHARP = F(0.9)
"""Where normals at the crossings of a cell differ by more than this cosine, its point goes to their edge."""


@inlined
def _low(low, cell, blocks, b):
    s = cell * F(SIDE)
    return low[0] + F(blocks[b, 0]) * s, low[1] + F(blocks[b, 1]) * s, low[2] + F(blocks[b, 2]) * s


@kernel(void(FLOATS, TABLE, ONE_F, TABLE, ONE_F, LABELS_IN, LABELS, I64, I64))
def sort_out(rows, data, strokes, low, cell, blocks, kept, begin, end):
    """Which of blocks begin..end (n, 3) the surface may pass, as kept (n, 1): 1 if it may, else OUTSIDE or INSIDE."""
    order = np.empty(rows.shape[0], np.int32)
    radius = cell * F(SIDE) * F(0.8661)
    for b in range(begin, end):
        x, y, z = _low(low, cell, blocks, b)
        h = cell * F(SIDE // 2)
        count = nearby(rows, x + h, y + h, z + h, ZERO, ZERO, ZERO, radius, ZERO, order)
        kept[b, 0] = OUTSIDE
        if not count:
            continue
        middle, _ = distance(rows, data, order, count, strokes, x + h, y + h, z + h)
        if middle > radius:
            continue
        # Inside, distances may be too large far from the surface, so the whole block is looked at.
        most, least = middle, middle
        for i in range(3):
            for j in range(3):
                for k in range(3):
                    d, _ = distance(rows, data, order, count, strokes, x + h * F(i), y + h * F(j), z + h * F(k))
                    most, least = max(most, d), min(least, d)
        margin = F(0.6) * radius
        kept[b, 0] = INSIDE if most < -margin else (OUTSIDE if least > margin else 1)


@kernel(void(FLOATS, TABLE, ONE_F, TABLE, ONE_F, LABELS_IN, PLANE, I64, I64))
def measure(rows, data, strokes, low, cell, blocks, values, begin, end):
    """Distances at the corners of blocks begin..end: values (n, 512); far from the surface, only about."""
    order = np.empty(rows.shape[0], np.int32)
    radius = cell * F(SIDE) * F(0.8661)
    outside, inside = F(2.2) * cell, F(-3) * cell
    for b in range(begin, end):
        x, y, z = _low(low, cell, blocks, b)
        h = cell * F(SIDE // 2)
        count = nearby(rows, x + h, y + h, z + h, ZERO, ZERO, ZERO, radius, ZERO, order)
        # One corner in eight first: where that is far from the surface, so are those next to it.
        for odd in range(8):
            du, dv, dw = odd >> 2, (odd >> 1) & 1, odd & 1
            for i in range(0, SIDE, 2):
                for j in range(0, SIDE, 2):
                    for k in range(0, SIDE, 2):
                        even = (i * SIDE + j) * SIDE + k
                        d = values[b, even]
                        if odd == 0 or inside < d < outside:
                            d, _ = distance(
                                rows, data, order, count, strokes,
                                x + cell * F(i + du), y + cell * F(j + dv), z + cell * F(k + dw),
                            )  # fmt: skip
                        values[b, even + (du * SIDE + dv) * SIDE + dw] = d


@woven
def _block(table, i, j, k):
    """Where in the list of blocks the one at i, j, k is; OUTSIDE or INSIDE if it is not kept."""
    if i < 0 or j < 0 or k < 0 or i >= table.shape[0] or j >= table.shape[1] or k >= table.shape[2]:
        return OUTSIDE
    return int(table[i, j, k])


@inlined
def _corner(table, values, i, j, k):
    """The value at a corner of the whole grid."""
    b = _block(table, i >> 3, j >> 3, k >> 3)
    if b < 0:
        return F(1e3) if b == OUTSIDE else (F(-1e3) if b == INSIDE else NOBODY_KNOWS)
    return values[b, ((i & 7) * SIDE + (j & 7)) * SIDE + (k & 7)]


@inlined
def _corners(table, values, i, j, k, d):
    """The eight values of a cell, and how many of them are inside; 0 where that is not known."""
    inside = 0
    for c in range(8):
        d[c] = _corner(table, values, i + (c >> 2), j + ((c >> 1) & 1), k + (c & 1))
        if d[c] == NOBODY_KNOWS:
            return 0
        inside += 1 if d[c] < ZERO else 0
    return inside


@inlined
def _crossing(d, e, p):
    """Where the surface crosses edge e (0..11) of a cell with corner values d, into p (3,) in cells; if it does."""
    axis, rest = e >> 2, e & 3
    # The two other axes are set by the two bits of `rest`.
    step = 4 >> axis
    u, v = (2, 1) if axis == 0 else ((4, 1) if axis == 1 else (4, 2))
    a = (u if rest & 2 else 0) + (v if rest & 1 else 0)
    b = a + step
    if (d[a] < ZERO) == (d[b] < ZERO):
        return False
    t = d[a] / (d[a] - d[b])
    p[0], p[1], p[2] = F(a >> 2), F((a >> 1) & 1), F(a & 1)
    p[axis] = t
    return True


@kernel(I64(BLOCKS_IN, FLOATS, LABELS_IN, LABELS, I64, I64))
def count_points(table, values, blocks, counts, begin, end):
    """How many cells of blocks begin..end the surface crosses: counts (n, 1), and in all."""
    d, total = np.empty(8, np.float32), 0
    for b in range(begin, end):
        found = 0
        for cell in range(SIDE * SIDE * SIDE):
            i, j, k = cell >> 6, (cell >> 3) & 7, cell & 7
            inside = _corners(
                table, values, blocks[b, 0] * SIDE + i, blocks[b, 1] * SIDE + j, blocks[b, 2] * SIDE + k, d
            )
            found += 1 if 0 < inside < 8 else 0
        counts[b, 0] = found
        total += found
    return total


@inlined
def slope(rows, data, order, count, strokes, x, y, z, h):
    """Slope (not of unit length) at a point from the corners of a tetrahedron, and from their mean the distance."""
    a, _ = distance(rows, data, order, count, strokes, x + h, y - h, z - h)
    b, _ = distance(rows, data, order, count, strokes, x - h, y - h, z + h)
    c, _ = distance(rows, data, order, count, strokes, x - h, y + h, z - h)
    d, _ = distance(rows, data, order, count, strokes, x + h, y + h, z + h)
    q = F(0.25) / h
    return (a - b - c + d) * q, (-a - b + c + d) * q, (-a + b - c + d) * q, (a + b + c + d) * F(0.25)


@inlined
def _settled(rows, data, order, count, strokes, d, p, cell, fine, steps):
    """Put a cell's point p (3,) on the surface by Newton's steps, no farther than a cell; its normal, and the row of
    the piece that is nearest. The first step goes by the slope of the corners' values d.
    """
    x, y, z = p[0], p[1], p[2]
    q = F(0.25) / cell
    gx = (d[4] + d[5] + d[6] + d[7] - d[0] - d[1] - d[2] - d[3]) * q
    gy = (d[2] + d[3] + d[6] + d[7] - d[0] - d[1] - d[4] - d[5]) * q
    gz = (d[1] + d[3] + d[5] + d[7] - d[0] - d[2] - d[4] - d[6]) * q
    here, piece = distance(rows, data, order, count, strokes, x, y, z)
    for _ in range(steps):
        step = here / max(gx * gx + gy * gy + gz * gz, F(0.04))
        step = min(max(step, -HALF * cell), HALF * cell)
        p[0], p[1], p[2] = p[0] - step * gx, p[1] - step * gy, p[2] - step * gz
        gx, gy, gz, here = slope(rows, data, order, count, strokes, p[0], p[1], p[2], fine)
        if abs(here) < F(2e-3) * cell:
            break
    p[0], p[1], p[2] = p[0] - here * gx, p[1] - here * gy, p[2] - here * gz
    away = (p[0] - x) * (p[0] - x) + (p[1] - y) * (p[1] - y) + (p[2] - z) * (p[2] - z)
    if away > F(1.5) * cell * cell:
        p[0], p[1], p[2] = x, y, z
    length = max(np.sqrt(gx * gx + gy * gy + gz * gz), F(1e-12))
    return gx / length, gy / length, gz / length, piece


@inlined
def _to_edge(rows, data, order, count, strokes, d, corner, cell, fine, p, q):
    """Move a cell's point p (3,) to where the planes through its crossings meet, if they are turned against each other
    (Ju et al. 2002, held to the middle of the crossings where the planes leave it free); whether it was moved.
    """
    m = np.zeros((3, 4), np.float32)
    first = np.zeros(3, np.float32)
    turned, crossed = ONE, 0
    for e in range(12):
        if not _crossing(d, e, q):
            continue
        x, y, z = corner[0] + q[0] * cell, corner[1] + q[1] * cell, corner[2] + q[2] * cell
        gx, gy, gz, here = slope(rows, data, order, count, strokes, x, y, z, fine)
        length = max(np.sqrt(gx * gx + gy * gy + gz * gz), F(1e-9))
        gx, gy, gz, here = gx / length, gy / length, gz / length, here / length
        if crossed == 0:
            first[0], first[1], first[2] = gx, gy, gz
        turned = min(turned, first[0] * gx + first[1] * gy + first[2] * gz)
        crossed += 1
        # The plane's equation about the point: n . (v - p) = n . (crossing - p) - distance there.
        r = gx * (x - p[0]) + gy * (y - p[1]) + gz * (z - p[2]) - here
        m[0, 0], m[0, 1], m[0, 2], m[0, 3] = m[0, 0] + gx * gx, m[0, 1] + gx * gy, m[0, 2] + gx * gz, m[0, 3] + gx * r
        m[1, 1], m[1, 2], m[1, 3] = m[1, 1] + gy * gy, m[1, 2] + gy * gz, m[1, 3] + gy * r
        m[2, 2], m[2, 3] = m[2, 2] + gz * gz, m[2, 3] + gz * r
    if turned > SHARP:
        return False
    held = F(2e-3) * F(crossed)
    m00, m01, m02 = m[0, 0] + held, m[0, 1], m[0, 2]
    m11, m12, m22 = m[1, 1] + held, m[1, 2], m[2, 2] + held
    # Cramer's rule, for a matrix that is the same both ways.
    c00, c01, c02 = m11 * m22 - m12 * m12, m02 * m12 - m01 * m22, m01 * m12 - m02 * m11
    c11, c12, c22 = m00 * m22 - m02 * m02, m01 * m02 - m00 * m12, m00 * m11 - m01 * m01
    whole = m00 * c00 + m01 * c01 + m02 * c02
    if abs(whole) < F(1e-12):
        return False
    x = (c00 * m[0, 3] + c01 * m[1, 3] + c02 * m[2, 3]) / whole
    y = (c01 * m[0, 3] + c11 * m[1, 3] + c12 * m[2, 3]) / whole
    z = (c02 * m[0, 3] + c12 * m[1, 3] + c22 * m[2, 3]) / whole
    far = np.sqrt(x * x + y * y + z * z)
    if far > F(1.2) * cell:
        return False
    p[0], p[1], p[2] = p[0] + x, p[1] + y, p[2] + z
    return True


@kernel(
    void(FLOATS, TABLE, ONE_F, TABLE, ONE_F, ONE_F, BLOCKS_IN, FLOATS, LABELS_IN, INDICES_IN, PLANE, PLANE, LABELS,
         LABELS, I64, I64, I64)
)  # fmt: skip
def put_points(
    rows, data, strokes, low, cell, fine, table, values, blocks, first, points, normals, piece, numbers, steps, begin,
    end,
):  # fmt: skip
    """The points of blocks begin..end, from first (n + 1,) on: points, normals (m, 3), piece (m, 1) the row that is
    nearest, numbers (n, 512): of each cell's point, -1 for none. fine: step for slopes; steps: of Newton's, one for a
    quick look.
    """
    order = np.empty(rows.shape[0], np.int32)
    d, p, q = np.empty(8, np.float32), np.empty(3, np.float32), np.empty(3, np.float32)
    corner, edge = np.empty(3, np.float32), np.empty(3, np.float32)
    radius = cell * F(SIDE) * F(0.8661) + F(2) * cell
    for b in range(begin, end):
        x, y, z = _low(low, cell, blocks, b)
        h = cell * F(SIDE // 2)
        count = nearby(rows, x + h, y + h, z + h, ZERO, ZERO, ZERO, radius, ZERO, order)
        at = first[b]
        for number in range(SIDE * SIDE * SIDE):
            numbers[b, number] = -1
            i, j, k = number >> 6, (number >> 3) & 7, number & 7
            inside = _corners(
                table, values, blocks[b, 0] * SIDE + i, blocks[b, 1] * SIDE + j, blocks[b, 2] * SIDE + k, d
            )
            if inside in (0, 8):
                continue
            sx, sy, sz, crossed = ZERO, ZERO, ZERO, 0
            for e in range(12):
                if _crossing(d, e, q):
                    sx, sy, sz, crossed = sx + q[0], sy + q[1], sz + q[2], crossed + 1
            corner[0], corner[1], corner[2] = x + cell * F(i), y + cell * F(j), z + cell * F(k)
            p[0] = corner[0] + cell * sx / F(crossed)
            p[1] = corner[1] + cell * sy / F(crossed)
            p[2] = corner[2] + cell * sz / F(crossed)
            u, v, w = p[0], p[1], p[2]
            nx, ny, nz, nearest = _settled(rows, data, order, count, strokes, d, p, cell, fine, steps)
            # A surface that bends little within a cell has its point near the middle of the crossings.
            away = (p[0] - u) * nx + (p[1] - v) * ny + (p[2] - w) * nz
            if steps > 1 and abs(away) > F(0.04) * cell:
                edge[0], edge[1], edge[2] = u, v, w
                if _to_edge(rows, data, order, count, strokes, d, corner, cell, fine, edge, q):
                    p[0], p[1], p[2] = edge[0], edge[1], edge[2]
            for c in range(3):
                points[at, c] = p[c]
            normals[at, 0], normals[at, 1], normals[at, 2] = nx, ny, nz
            piece[at, 0], numbers[b, number] = nearest, at
            at += 1


@inlined
def _number(table, numbers, i, j, k):
    """The point of a cell of the whole grid, -1 for none."""
    b = _block(table, i >> 3, j >> 3, k >> 3)
    return int(numbers[b, ((i & 7) * SIDE + (j & 7)) * SIDE + (k & 7)]) if b >= 0 else -1


@kernel(I64(BLOCKS_IN, FLOATS, LABELS_IN, LABELS_IN, LABELS))
def join_points(table, values, blocks, numbers, quads):
    """Four points around every edge of the grid that the surface crosses, turned outwards: quads (m, 4); how many."""
    count = 0
    for b in range(blocks.shape[0]):
        for cell in range(SIDE * SIDE * SIDE):
            i = blocks[b, 0] * SIDE + (cell >> 6)
            j = blocks[b, 1] * SIDE + ((cell >> 3) & 7)
            k = blocks[b, 2] * SIDE + (cell & 7)
            here = values[b, cell] < ZERO
            for axis in range(3):
                u, v, w = (1, 0, 0) if axis == 0 else ((0, 1, 0) if axis == 1 else (0, 0, 1))
                if (_corner(table, values, i + u, j + v, k + w) < ZERO) == here:
                    continue
                # The cells around the edge, in the order of the other two axes.
                if axis == 0:
                    one, two = _number(table, numbers, i, j - 1, k - 1), _number(table, numbers, i, j, k - 1)
                    four = _number(table, numbers, i, j - 1, k)
                elif axis == 1:
                    one, two = _number(table, numbers, i - 1, j, k - 1), _number(table, numbers, i - 1, j, k)
                    four = _number(table, numbers, i, j, k - 1)
                else:
                    one, two = _number(table, numbers, i - 1, j - 1, k), _number(table, numbers, i, j - 1, k)
                    four = _number(table, numbers, i - 1, j, k)
                three = _number(table, numbers, i, j, k)
                if one < 0 or two < 0 or three < 0 or four < 0:
                    continue
                quads[count, 0], quads[count, 2] = one, three
                # Outwards is from the corner inside to the one outside.
                quads[count, 1], quads[count, 3] = (two, four) if here else (four, two)
                count += 1
    return count
