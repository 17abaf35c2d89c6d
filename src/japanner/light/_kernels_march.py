"""Marching rays to the surface of joined forms, and from there to the light."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import FLAG, FLOATS, I64, LABELS, ONE_F, PLANE, PLANES, TABLE, inlined, kernel, void
from japanner.light._kernels_forms import (
    BLEND,
    CENTRE,
    GROUP,
    JOIN,
    KIND,
    MEET,
    MIRROR,
    REACH,
    STROKE,
    distance,
)  # fmt: skip

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)
STEPS = 160
BLOCK, SMALL_BLOCK = 8, 4


@inlined
def _nearby(rows, ox, oy, oz, dx, dy, dz, radius, widening, order):
    """Fill `order` with the groups of pieces that matter within `radius` of a ray, which widens as it goes; how many.

    A group goes in whole. Pieces that have no end, and what others are cut to, always matter.
    """
    count, kept = 0, 0
    current, needed = F(-1), False
    # A form is drawn into what blends with it, whichever of the two has the blend.
    blend = ZERO
    for i in range(rows.shape[0]):
        blend = max(blend, rows[i, BLEND])
    for i in range(rows.shape[0]):
        if rows[i, GROUP] != current:
            count = kept if needed else count
            kept = count
            current, needed = rows[i, GROUP], False
        order[kept] = i
        kept += 1
        if rows[i, REACH] <= ZERO or (int(rows[i, JOIN]) == MEET and rows[i, KIND] != STROKE):
            needed = True
        for side in range(2 if rows[i, MIRROR] > HALF else 1):
            cx = (rows[i, CENTRE] if side == 0 else -rows[i, CENTRE]) - ox
            cy, cz = rows[i, CENTRE + 1] - oy, rows[i, CENTRE + 2] - oz
            along = max(cx * dx + cy * dy + cz * dz, ZERO)
            px, py, pz = cx - along * dx, cy - along * dy, cz - along * dz
            most = rows[i, REACH] + blend + radius + widening * along
            if px * px + py * py + pz * pz <= most * most:
                needed = True
    return kept if needed else count


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


@inlined
def _rough_slope(rows, data, order, count, strokes, x, y, z, here, h):
    """The normal at a point whose distance is known, from three more."""
    a, _ = distance(rows, data, order, count, strokes, x + h, y, z)
    b, _ = distance(rows, data, order, count, strokes, x, y + h, z)
    c, _ = distance(rows, data, order, count, strokes, x, y, z + h)
    nx, ny, nz = a - here, b - here, c - here
    length = max(np.sqrt(nx * nx + ny * ny + nz * nz), F(1e-12))
    return nx / length, ny / length, nz / length


@inlined
def _openness(rows, data, order, count, x, y, z, nx, ny, nz, scale):
    """How much of the surroundings is free, 0..1, from five distances along the normal."""
    closed, weight = ZERO, ONE
    for k in range(5):
        step = scale * F(0.04 + 0.04 * k * k)
        found, _ = distance(rows, data, order, count, ZERO, x + nx * step, y + ny * step, z + nz * step)
        closed += max(step - found, ZERO) / scale * weight
        weight *= F(0.75)
    # Even where two forms touch, some light finds its way in.
    return np.exp(F(-2) * closed)


@inlined
def _lit(rows, data, order, count, strokes, x, y, z, light, width, far):
    """Share of a round light that reaches a point: the narrowest gap passed on the way, by the light's half width."""
    share, travelled = ONE, F(0.01)
    for _ in range(64):
        gap, _ = distance(
            rows, data, order, count, strokes,
            x + light[0] * travelled, y + light[1] * travelled, z + light[2] * travelled,
        )  # fmt: skip
        at = gap / max(width * travelled, F(1e-6))
        if at < ONE:
            at = max(at, -ONE)
            # A straight edge cuts the disc of the light.
            share = min(share, ONE - F((np.arccos(at) - at * np.sqrt(max(ONE - at * at, ZERO))) / np.pi))
        if share <= F(0.002) or travelled > far:
            break
        travelled += max(abs(gap), F(0.01))
    return share


@inlined
def _ray(eye, rays, i, j):
    """Direction of the ray through a pixel, of unit length."""
    dx = rays[0, 0] + F(i) * rays[1, 0] + F(j) * rays[2, 0] - eye[0]
    dy = rays[0, 1] + F(i) * rays[1, 1] + F(j) * rays[2, 1] - eye[1]
    dz = rays[0, 2] + F(i) * rays[1, 2] + F(j) * rays[2, 2] - eye[2]
    length = np.sqrt(dx * dx + dy * dy + dz * dz)
    return dx / length, dy / length, dz / length


@inlined
def _start(rows, data, order, count, strokes, eye, dx, dy, dz, widening, beyond):
    """How far all rays of a cone may go at once; past `beyond` if none of them meets anything."""
    t = ZERO
    for _ in range(STEPS):
        gap, _ = distance(rows, data, order, count, strokes, eye[0] + t * dx, eye[1] + t * dy, eye[2] + t * dz)
        free = gap - widening * t
        if free < F(1e-3):
            break
        t += free / (ONE + widening)
        if t > beyond:
            break
    return t


@inlined
def _met(rows, data, order, count, strokes, eye, dx, dy, dz, start, close, longer, beyond):
    """Where a ray comes `close` to a piece, and which; steps are `longer` than is safe as long as what was free on
    both ends of a step overlaps (Keinert et al. 2014), which asks for distances that are never too large.
    """
    t, former, step = start, ZERO, ZERO
    for _ in range(STEPS):
        found, part = distance(rows, data, order, count, strokes, eye[0] + t * dx, eye[1] + t * dy, eye[2] + t * dz)
        if longer > ONE and former + found < step:
            t += former - step
            step, longer = former, ONE
            continue
        if found < close:
            return t, part, found
        former, step = found, found * longer
        t += step
        if t > beyond:
            break
    return t, -1, ZERO


@inlined
def _middle(eye, rays, depth, y0, y1, x0, x1):
    """A ball around what is seen in a block: its middle and radius, or -1 for nothing."""
    lo = np.full(3, F(1e9), np.float32)
    hi = np.full(3, F(-1e9), np.float32)
    for j in range(y0, y1):
        for i in range(x0, x1):
            if depth[j, i] >= ZERO:
                d = _ray(eye, rays, i, j)
                for k in range(3):
                    p = eye[k] + depth[j, i] * d[k]
                    lo[k], hi[k] = min(lo[k], p), max(hi[k], p)
    if lo[0] > hi[0]:
        return ZERO, ZERO, ZERO, -ONE
    a, b, c = hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]
    return (lo[0] + hi[0]) * HALF, (lo[1] + hi[1]) * HALF, (lo[2] + hi[2]) * HALF, np.sqrt(a * a + b * b + c * c) * HALF


@inlined
def _opened(rows, data, turn, eye, rays, scale, depth, normal, openness, y0, y1, x0, x1, order):
    mx, my, mz, radius = _middle(eye, rays, depth, y0, y1, x0, x1)
    if radius < ZERO:
        return
    count = _nearby(rows, mx, my, mz, ZERO, ZERO, ZERO, radius + F(1.4) * scale, ZERO, order)
    for j in range(uintp(y0), uintp(y1)):
        for i in range(uintp(x0), uintp(x1)):
            t = depth[j, i]
            if t >= ZERO:
                dx, dy, dz = _ray(eye, rays, i, j)
                a, b, c = normal[0, j, i], normal[1, j, i], normal[2, j, i]
                openness[j, i] = _openness(
                    rows, data, order, count, eye[0] + t * dx, eye[1] + t * dy, eye[2] + t * dz,
                    turn[0, 0] * a + turn[1, 0] * b + turn[2, 0] * c,
                    turn[0, 1] * a + turn[1, 1] * b + turn[2, 1] * c,
                    turn[0, 2] * a + turn[1, 2] * b + turn[2, 2] * c, scale,
                )  # fmt: skip


@kernel(void(FLOATS, TABLE, FLOATS, TABLE, FLOATS, ONE_F, ONE_F, ONE_F, PLANE, PLANES, LABELS, PLANE, FLAG, I64, I64))
def march(rows, data, turn, eye, rays, scale, strokes, close, depth, normal, piece, openness, opens, top, bottom):
    """Rows top..bottom (whole blocks) of what is seen of a maquette.

    rows (n, COLUMNS) and data: see `_kernels_forms`. turn (3, 3): from the maquette's axes to the viewer's. eye (3,)
    and rays (3, 3): where rays start, where the one of the upper left pixel passes, and how that changes a pixel to
    the right and down. scale: of the whole maquette. strokes: reach of the widest stroke. close: how near to
    the surface rays have to come. depth (h, w) along the ray, or -1; normal (3, h, w) as the viewer has it; piece
    (h, w), -1 for nothing; openness (h, w) 0..1, all 1 unless it `opens`; without that all is coarser and quicker.
    """
    far = F(8) * scale
    beyond = np.sqrt(eye[0] * eye[0] + eye[1] * eye[1] + eye[2] * eye[2]) + far
    width = depth.shape[1]
    longer, block = (ONE, BLOCK) if opens else (F(1.4), SMALL_BLOCK)
    order = np.empty(rows.shape[0], np.int32)
    for y0 in range(top, bottom, block):
        y1 = min(y0 + block, bottom)
        for x0 in range(0, width, block):
            x1 = min(x0 + block, width)
            cx, cy, cz = _ray(eye, rays, F(x0 + x1 - 1) * HALF, F(y0 + y1 - 1) * HALF)
            ex, ey, ez = _ray(eye, rays, F(x0) - HALF, F(y0) - HALF)
            widening = F(1.05) * np.sqrt((cx - ex) * (cx - ex) + (cy - ey) * (cy - ey) + (cz - ez) * (cz - ez))
            count = _nearby(rows, eye[0], eye[1], eye[2], cx, cy, cz, F(1e-3) * scale, widening, order)
            start = beyond + ONE
            if count:
                start = _start(rows, data, order, count, strokes, eye, cx, cy, cz, widening, beyond)
            for j in range(uintp(y0), uintp(y1)):
                for i in range(uintp(x0), uintp(x1)):
                    dx, dy, dz = _ray(eye, rays, i, j)
                    t, hit, gap = start, -1, ZERO
                    if start <= beyond:
                        t, hit, gap = _met(
                            rows, data, order, count, strokes, eye, dx, dy, dz, start, close, longer, beyond
                        )
                    piece[j, i] = hit
                    depth[j, i], openness[j, i] = t if hit >= 0 else -ONE, ONE
                    normal[0, j, i] = normal[1, j, i] = normal[2, j, i] = ZERO
                    if hit >= 0:
                        x, y, z = eye[0] + t * dx, eye[1] + t * dy, eye[2] + t * dz
                        if opens:
                            nx, ny, nz = _slope(rows, data, order, count, strokes, x, y, z, F(1e-3) * scale)
                        else:
                            nx, ny, nz = _rough_slope(rows, data, order, count, strokes, x, y, z, gap, F(2e-3) * scale)
                        for k in range(3):
                            normal[k, j, i] = turn[k, 0] * nx + turn[k, 1] * ny + turn[k, 2] * nz
            if opens:
                _opened(rows, data, turn, eye, rays, scale * HALF, depth, normal, openness, y0, y1, x0, x1, order)


@kernel(void(FLOATS, TABLE, FLOATS, TABLE, FLOATS, TABLE, ONE_F, ONE_F, ONE_F, PLANE, PLANES, PLANE, I64, I64, I64))
def light(rows, data, turn, eye, rays, towards, half_width, scale, strokes, depth, normal, lit, skip, top, bottom):
    """Rows top..bottom of how much of the key light gets to what `march` saw; every `skip` px, lit (h/skip, w/skip).

    towards (3,): to the light, in the maquette's axes; half_width: tangent of half its angular size.
    """
    far, off = F(8) * scale, F(4e-3) * scale
    order = np.empty(rows.shape[0], np.int32)
    height, width = depth.shape
    for y0 in range(top, bottom, BLOCK):
        y1 = min(y0 + BLOCK, bottom)
        for x0 in range(0, lit.shape[1], BLOCK):
            x1 = min(x0 + BLOCK, lit.shape[1])
            ends = min(y1 * skip, height), min(x1 * skip, width)
            mx, my, mz, radius = _middle(eye, rays, depth, y0 * skip, ends[0], x0 * skip, ends[1])
            count = 0
            if radius >= ZERO:
                count = _nearby(rows, mx, my, mz, towards[0], towards[1], towards[2], radius + off, half_width, order)
            for v in range(y0, y1):
                for u in range(x0, x1):
                    j, i = min(v * skip + skip // 2, height - 1), min(u * skip + skip // 2, width - 1)
                    lit[v, u] = ZERO
                    t = depth[j, i]
                    if t < ZERO:
                        continue
                    a, b, c = normal[0, j, i], normal[1, j, i], normal[2, j, i]
                    nx = turn[0, 0] * a + turn[1, 0] * b + turn[2, 0] * c
                    ny = turn[0, 1] * a + turn[1, 1] * b + turn[2, 1] * c
                    nz = turn[0, 2] * a + turn[1, 2] * b + turn[2, 2] * c
                    if nx * towards[0] + ny * towards[1] + nz * towards[2] > ZERO:
                        dx, dy, dz = _ray(eye, rays, i, j)
                        lit[v, u] = _lit(
                            rows, data, order, count, strokes, eye[0] + t * dx + nx * off, eye[1] + t * dy + ny * off,
                            eye[2] + t * dz + nz * off, towards, half_width, far,
                        )  # fmt: skip


@kernel(void(FLOATS, TABLE, ONE_F, FLOATS, PLANE))
def distances(rows, data, strokes, points, found):
    """Distance (n, 1) and slope (n, 3) of points (n, 3) of the maquette, as found (n, 4)."""
    order = np.arange(rows.shape[0]).astype(np.int32)
    for k in range(points.shape[0]):
        x, y, z = points[k, 0], points[k, 1], points[k, 2]
        found[k, 0], _ = distance(rows, data, order, rows.shape[0], strokes, x, y, z)
        found[k, 1], found[k, 2], found[k, 3] = _slope(rows, data, order, rows.shape[0], strokes, x, y, z, F(1e-3))
