"""A tree of boxes over triangles (surface area heuristic in bins, Wald 2007), and rays through it."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import (
    FLOATS,
    I64,
    INDICES,
    INDICES_IN,
    LABELS,
    LABELS_IN,
    LINE,
    ONE_F,
    PLANE,
    inlined,
    kernel,
    void,
    woven,
)  # fmt: skip

F = np.float32
ZERO, ONE, HUGE = F(0), F(1), F(1e30)
BINS = 16
LEAF = 4
SPARE = F(1e-6)
"""Rays do not slip through between two triangles."""
DEEPEST = 96


@inlined
def _span(lo, hi, centre, order, a, b, box, middles):
    """The box around triangles order[a:b], and around their middles."""
    for k in range(3):
        box[k], box[3 + k], middles[k], middles[3 + k] = HUGE, -HUGE, HUGE, -HUGE
    for i in range(a, b):
        t = uintp(order[i])
        for k in range(3):
            box[k], box[3 + k] = min(box[k], lo[t, k]), max(box[3 + k], hi[t, k])
            middles[k], middles[3 + k] = min(middles[k], centre[t, k]), max(middles[3 + k], centre[t, k])


@inlined
def _widened(box, other):
    """Widen a box by another; its half surface."""
    for k in range(3):
        box[k], box[3 + k] = min(box[k], other[k]), max(box[3 + k], other[3 + k])
    x, y, z = box[3] - box[0], box[4] - box[1], box[5] - box[2]
    return x * y + y * z + z * x


@inlined
def _split(lo, hi, centre, order, a, b, middles, bins, counts, behind, whole):
    """Where order[a:b] is best cut: the axis, -1 for none, and the first bin beyond the cut."""
    best, axis, cut = HUGE, -1, 0
    for k in range(3):
        wide = middles[3 + k] - middles[k]
        if wide <= F(1e-9):
            continue
        counts[:] = 0
        for j in range(BINS):
            for q in range(3):
                bins[j, q], bins[j, 3 + q] = HUGE, -HUGE
        scale = F(BINS) * F(0.9999) / wide
        for i in range(a, b):
            t = uintp(order[i])
            j = int((centre[t, k] - middles[k]) * scale)
            counts[j] += 1
            for q in range(3):
                bins[j, q], bins[j, 3 + q] = min(bins[j, q], lo[t, q]), max(bins[j, 3 + q], hi[t, q])
        whole[:3], whole[3:] = HUGE, -HUGE
        found, area = 0, ZERO
        for j in range(BINS - 1, 0, -1):
            if counts[j]:
                area = _widened(whole, bins[j])
            found += counts[j]
            behind[j] = area * F(found)
        whole[:3], whole[3:] = HUGE, -HUGE
        found, area = 0, ZERO
        for j in range(BINS - 1):
            if counts[j]:
                area = _widened(whole, bins[j])
            found += counts[j]
            if 0 < found < b - a and area * F(found) + behind[j + 1] < best:
                best, axis, cut = area * F(found) + behind[j + 1], k, j + 1
    return axis, cut


@kernel(I64(FLOATS, FLOATS, FLOATS, INDICES, PLANE, LABELS))
def build(lo, hi, centre, order, boxes, kids):
    """Fill boxes (2n, 6) and kids (2n, 2) of a tree over n triangles with boxes lo, hi (n, 3) and middles (n, 3).

    kids: first child and 0, or first place in `order` (n,) and how many. Returns the number of nodes.
    """
    stack = np.empty((DEEPEST, 3), np.int64)
    stack[0, 0], stack[0, 1], stack[0, 2] = 0, 0, order.size
    top, used = 1, 1
    middles, whole = np.empty(6, np.float32), np.empty(6, np.float32)
    bins, counts, behind = np.empty((BINS, 6), np.float32), np.empty(BINS, np.int64), np.empty(BINS, np.float32)
    while top > 0:
        top -= 1
        node, a, b = stack[top, 0], stack[top, 1], stack[top, 2]
        _span(lo, hi, centre, order, a, b, boxes[node], middles)
        if b - a <= LEAF:
            kids[node, 0], kids[node, 1] = a, b - a
            continue
        axis, cut = _split(lo, hi, centre, order, a, b, middles, bins, counts, behind, whole)
        middle = (a + b) // 2
        # The stack holds one half of every cut on the way down, so deep that only halves fit.
        if axis >= 0 and top < DEEPEST - 40:
            scale = F(BINS) * F(0.9999) / (middles[3 + axis] - middles[axis])
            i, j = a, b - 1
            while i <= j:
                if int((centre[order[i], axis] - middles[axis]) * scale) < cut:
                    i += 1
                else:
                    order[i], order[j] = order[j], order[i]
                    j -= 1
            middle = i
        kids[node, 0], kids[node, 1] = used, 0
        stack[top, 0], stack[top, 1], stack[top, 2] = used, a, middle
        stack[top + 1, 0], stack[top + 1, 1], stack[top + 1, 2] = used + 1, middle, b
        top, used = top + 2, used + 2
    return used


@woven
def _reached(boxes, n, ox, oy, oz, ix, iy, iz, far):
    """How far along a ray a box begins; HUGE if the ray passes it by."""
    a, b = (boxes[n, 0] - ox) * ix, (boxes[n, 3] - ox) * ix
    near, end = min(a, b), max(a, b)
    a, b = (boxes[n, 1] - oy) * iy, (boxes[n, 4] - oy) * iy
    near, end = max(near, min(a, b)), min(end, max(a, b))
    a, b = (boxes[n, 2] - oz) * iz, (boxes[n, 5] - oz) * iz
    near, end = max(near, min(a, b)), min(end, max(a, b))
    # A little longer, for what rounding takes away (Ize 2013).
    return near if near <= end * F(1.0000004) and end >= ZERO and near < far else HUGE


@woven
def crossed(corners, t, ox, oy, oz, dx, dy, dz, spare):
    """Where a ray crosses a triangle: how far, and the shares of its second and third corner; HUGE if it passes
    by more than `spare` of its width (Moeller & Trumbore 1997).
    """
    ux, uy, uz = corners[t, 3], corners[t, 4], corners[t, 5]
    vx, vy, vz = corners[t, 6], corners[t, 7], corners[t, 8]
    px, py, pz = dy * vz - dz * vy, dz * vx - dx * vz, dx * vy - dy * vx
    inverse = ONE / (ux * px + uy * py + uz * pz)
    sx, sy, sz = ox - corners[t, 0], oy - corners[t, 1], oz - corners[t, 2]
    u = (sx * px + sy * py + sz * pz) * inverse
    qx, qy, qz = sy * uz - sz * uy, sz * ux - sx * uz, sx * uy - sy * ux
    v = (dx * qx + dy * qy + dz * qz) * inverse
    far = (vx * qx + vy * qy + vz * qz) * inverse
    inside = u >= -spare and v >= -spare and u + v <= ONE + spare
    return far if inside and far > ZERO else HUGE, u, v


@woven
def _turned(d):
    """One over a direction's component; a huge number of the same sign for none."""
    return ONE / d if abs(d) > F(1e-12) else (HUGE if d >= ZERO else -HUGE)


@inlined
def _blocked(boxes, kids, corners, stack, ox, oy, oz, dx, dy, dz, far):
    """Whether a ray meets anything within `far`."""
    ix, iy, iz = _turned(dx), _turned(dy), _turned(dz)
    stack[0], top = 0, 1
    while top > 0:
        top -= 1
        n = uintp(stack[top])
        first, count = kids[n, 0], kids[n, 1]
        if count > 0:
            for t in range(uintp(first), uintp(first + count)):
                found, _, _ = crossed(corners, t, ox, oy, oz, dx, dy, dz, SPARE)
                if found < far:
                    return True
            continue
        a = _reached(boxes, uintp(first), ox, oy, oz, ix, iy, iz, far)
        b = _reached(boxes, uintp(first + 1), ox, oy, oz, ix, iy, iz, far)
        # The nearer one last, so that it is looked into first.
        if a < HUGE and b < HUGE:
            stack[top], stack[top + 1] = (first + 1, first) if a < b else (first, first + 1)
            top += 2
        elif a < HUGE:
            stack[top] = first
            top += 1
        elif b < HUGE:
            stack[top] = first + 1
            top += 1
    return False


@inlined
def nearest(boxes, kids, corners, stack, ox, oy, oz, dx, dy, dz, far):
    """The first triangle that a ray meets within `far`, -1 for none; how far, and the shares of two corners."""
    ix, iy, iz = _turned(dx), _turned(dy), _turned(dz)
    best, hit, share_u, share_v = far, np.int32(-1), ZERO, ZERO
    stack[0], top = 0, 1
    while top > 0:
        top -= 1
        n = uintp(stack[top])
        first, count = kids[n, 0], kids[n, 1]
        if count > 0:
            for t in range(uintp(first), uintp(first + count)):
                found, u, v = crossed(corners, t, ox, oy, oz, dx, dy, dz, SPARE)
                if found < best:
                    best, hit, share_u, share_v = found, np.int32(t), u, v
            continue
        a = _reached(boxes, uintp(first), ox, oy, oz, ix, iy, iz, best)
        b = _reached(boxes, uintp(first + 1), ox, oy, oz, ix, iy, iz, best)
        if a < HUGE and b < HUGE:
            stack[top], stack[top + 1] = (first + 1, first) if a < b else (first, first + 1)
            top += 2
        elif a < HUGE:
            stack[top] = first
            top += 1
        elif b < HUGE:
            stack[top] = first + 1
            top += 1
    return best, hit, share_u, share_v


@kernel(void(FLOATS, LABELS_IN, FLOATS, FLOATS, FLOATS, ONE_F, PLANE, LABELS, I64, I64))
def first_met(boxes, kids, corners, starts, ways, far, found, triangle, begin, end):
    """Rays begin..end of starts, ways (n, 3): found (n, 3) how far and the shares of two corners, triangle (n, 1) its
    place in the tree's order, -1 for none within `far`.
    """
    stack = np.empty(DEEPEST, np.int32)
    for r in range(begin, end):
        t, hit, u, v = nearest(
            boxes, kids, corners, stack, starts[r, 0], starts[r, 1], starts[r, 2], ways[r, 0], ways[r, 1], ways[r, 2],
            far,
        )  # fmt: skip
        found[r, 0], found[r, 1], found[r, 2], triangle[r, 0] = t, u, v, hit


@kernel(void(FLOATS, LABELS_IN, FLOATS, FLOATS, FLOATS, FLOATS, INDICES_IN, I64, ONE_F, LINE, I64, I64))
def towards_light(boxes, kids, corners, starts, normals, ways, subset, count, far, share, begin, end):
    """Share (n,) of the ways (m * count, 3) to a light that are free; of those above the surface alone, 0 if none is.

    subset (n,): which of the m sets of ways a start takes.
    """
    stack = np.empty(DEEPEST, np.int32)
    for r in range(begin, end):
        free, asked = 0, 0
        for k in range(count):
            w = uintp(subset[r] * count + k)
            dx, dy, dz = ways[w, 0], ways[w, 1], ways[w, 2]
            if normals[r, 0] * dx + normals[r, 1] * dy + normals[r, 2] * dz <= ZERO:
                continue
            asked += 1
            if not _blocked(boxes, kids, corners, stack, starts[r, 0], starts[r, 1], starts[r, 2], dx, dy, dz, far):
                free += 1
        share[r] = F(free) / F(asked) if asked else ZERO


@kernel(void(FLOATS, LABELS_IN, FLOATS, FLOATS, FLOATS, FLOATS, INDICES_IN, I64, ONE_F, LINE, I64, I64))
def gathered(boxes, kids, corners, starts, normals, ways, subset, count, far, share, begin, end):
    """The mean cosine to the ways (m * count, 3) to a light, those that are not free or below the surface at 0."""
    stack = np.empty(DEEPEST, np.int32)
    for r in range(begin, end):
        total = ZERO
        for k in range(count):
            w = uintp(subset[r] * count + k)
            dx, dy, dz = ways[w, 0], ways[w, 1], ways[w, 2]
            facing = normals[r, 0] * dx + normals[r, 1] * dy + normals[r, 2] * dz
            if facing > ZERO and not _blocked(
                boxes, kids, corners, stack, starts[r, 0], starts[r, 1], starts[r, 2], dx, dy, dz, far
            ):
                total += facing
        share[r] = total / F(count)


@woven
def _frame(nx, ny, nz):
    """Two directions across a normal (Duff et al. 2017)."""
    sign = ONE if nz >= ZERO else -ONE
    a = -ONE / (sign + nz)
    b = nx * ny * a
    return ONE + sign * nx * nx * a, sign * b, -sign * nx, b, sign + ny * ny * a, -ny


@kernel(void(FLOATS, LABELS_IN, FLOATS, FLOATS, FLOATS, FLOATS, INDICES_IN, I64, ONE_F, LINE, I64, I64))
def round_about(boxes, kids, corners, starts, normals, ways, subset, count, far, share, begin, end):
    """Share (n,) of the ways (m * count, 3), given about z and taken about each normal, that are free."""
    stack = np.empty(DEEPEST, np.int32)
    for r in range(begin, end):
        nx, ny, nz = normals[r, 0], normals[r, 1], normals[r, 2]
        ux, uy, uz, vx, vy, vz = _frame(nx, ny, nz)
        free = 0
        for k in range(count):
            w = uintp(subset[r] * count + k)
            a, b, c = ways[w, 0], ways[w, 1], ways[w, 2]
            if not _blocked(
                boxes, kids, corners, stack, starts[r, 0], starts[r, 1], starts[r, 2],
                a * ux + b * vx + c * nx, a * uy + b * vy + c * ny, a * uz + b * vz + c * nz, far,
            ):  # fmt: skip
                free += 1
        share[r] = F(free) / F(count)


@kernel(
    void(FLOATS, LABELS_IN, FLOATS, FLOATS, FLOATS, FLOATS, INDICES_IN, I64, ONE_F, FLOATS, PLANE, I64, I64)
)  # fmt: skip
def reflected(boxes, kids, corners, starts, normals, ways, subset, count, far, sent, light, begin, end):
    """The mean (n, 3) of what the triangles send (m, 3, in the tree's order) that the ways about each normal meet."""
    stack = np.empty(DEEPEST, np.int32)
    for r in range(begin, end):
        nx, ny, nz = normals[r, 0], normals[r, 1], normals[r, 2]
        ux, uy, uz, vx, vy, vz = _frame(nx, ny, nz)
        red, green, blue = ZERO, ZERO, ZERO
        for k in range(count):
            w = uintp(subset[r] * count + k)
            a, b, c = ways[w, 0], ways[w, 1], ways[w, 2]
            _, hit, _, _ = nearest(
                boxes, kids, corners, stack, starts[r, 0], starts[r, 1], starts[r, 2],
                a * ux + b * vx + c * nx, a * uy + b * vy + c * ny, a * uz + b * vz + c * nz, far,
            )  # fmt: skip
            if hit >= 0:
                red, green, blue = red + sent[hit, 0], green + sent[hit, 1], blue + sent[hit, 2]
        share = ONE / F(count)
        light[r, 0], light[r, 1], light[r, 2] = red * share, green * share, blue * share
