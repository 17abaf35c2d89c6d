"""Marching rays to the surface of joined forms (Hart 1996), one interpreter for any list of pieces."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import FLOATS, I64, LABELS, ONE_F, PLANE, PLANES, TABLE, inlined, kernel, void

F = np.float32
ZERO, HALF, ONE, FAR = F(0), F(0.5), F(1), F(1e6)
# Columns of a piece's row.
KIND, JOIN, BLEND, MIRROR, GROUP, PART = 0, 1, 2, 3, 4, 5
PLACE, TURN, SIZE, EDGE, REACH, CENTRE = 6, 9, 18, 21, 22, 23
BALL, EGG, TUBE, BOX, RING, SLAB = 0, 1, 2, 3, 4, 5
ADD, CARVE, MEET = 0, 1, 2
STEPS = 160


@inlined
def _form(rows, i, x, y, z):
    """Distance of a point to a piece in the piece's own axes; a bound of it for scaled balls."""
    kind = int(rows[i, KIND])
    a, b, c = rows[i, SIZE], rows[i, SIZE + 1], rows[i, SIZE + 2]
    edge = rows[i, EDGE]
    if kind in (BALL, EGG):
        if kind == EGG:
            # Wider below and narrower above by the same share.
            taper = ONE - edge * min(max(y / b, -ONE), ONE) * HALF
            a, c = a * taper, c * taper
        u, v, w = x / a, y / b, z / c
        near = np.sqrt(u * u + v * v + w * w)
        u, v, w = u / a, v / b, w / c
        steep = np.sqrt(u * u + v * v + w * w)
        least = min(a, min(b, c))
        found = near * (near - ONE) / steep if steep > F(1e-9) else -least
        return found * (ONE - HALF * edge) if kind == EGG else found
    if kind == TUBE:
        # A cone that touches both end balls: its flank leans by the difference of the radii over the length.
        lean = (a - b) / c
        flat = np.sqrt(ONE - lean * lean)
        out = np.sqrt(x * x + z * z)
        along = y * flat - out * lean
        if along < ZERO:
            return np.sqrt(out * out + y * y) - a
        if along > flat * c:
            return np.sqrt(out * out + (y - c) * (y - c)) - b
        return out * flat + y * lean - a
    if kind == BOX:
        u, v, w = abs(x) - a + edge, abs(y) - b + edge, abs(z) - c + edge
        p, q, r = max(u, ZERO), max(v, ZERO), max(w, ZERO)
        return np.sqrt(p * p + q * q + r * r) + min(max(u, max(v, w)), ZERO) - edge
    if kind == RING:
        out = np.sqrt(x * x + z * z) - a
        up = y * c
        return (np.sqrt(out * out + up * up) - b) / max(c, ONE)
    return y


@inlined
def _to_piece(rows, i, x, y, z):
    """Distance to a piece from a point of the maquette."""
    if rows[i, MIRROR] > HALF:
        x = abs(x)
    x, y, z = x - rows[i, PLACE], y - rows[i, PLACE + 1], z - rows[i, PLACE + 2]
    u = rows[i, TURN] * x + rows[i, TURN + 3] * y + rows[i, TURN + 6] * z
    v = rows[i, TURN + 1] * x + rows[i, TURN + 4] * y + rows[i, TURN + 7] * z
    w = rows[i, TURN + 2] * x + rows[i, TURN + 5] * y + rows[i, TURN + 8] * z
    return _form(rows, i, u, v, w)


@inlined
def _joined(one, other, how, blend):
    """Two distances as one, flowing into each other over `blend`: smooth minimum by a parabola."""
    if how == ADD:
        h = max(blend - abs(one - other), ZERO)
        return min(one, other) - (h * h / (F(4) * blend) if blend > ZERO else ZERO)
    if how == CARVE:
        other = -other
    h = max(blend - abs(one - other), ZERO)
    return max(one, other) + (h * h / (F(4) * blend) if blend > ZERO else ZERO)


@inlined
def _distance(rows, x, y, z):
    """Distance to the maquette, and the row of the piece that is nearest."""
    total, group = FAR, FAR
    part, group_part = -1, -1
    current, how, blend = F(-1), ADD, ZERO
    for i in range(uintp(rows.shape[0])):
        if rows[i, GROUP] != current:
            if group_part >= 0:
                if (how == ADD and group < total) or part < 0:
                    part = group_part
                total = group if total == FAR and how == ADD else _joined(total, group, how, blend)
            current, how, blend = rows[i, GROUP], int(rows[i, JOIN]), rows[i, BLEND]
            group, group_part = FAR, -1
        first = group_part < 0
        join = ADD if first else int(rows[i, JOIN])
        if join == ADD and rows[i, REACH] > ZERO:
            # What is farther than what there is already, and out of reach of its blend, changes nothing.
            cx = (abs(x) if rows[i, MIRROR] > HALF else x) - rows[i, CENTRE]
            cy, cz = y - rows[i, CENTRE + 1], z - rows[i, CENTRE + 2]
            least = np.sqrt(cx * cx + cy * cy + cz * cz) - rows[i, REACH]
            nearest = min(group, total if how == ADD else FAR)
            if least > nearest + max(rows[i, BLEND], blend):
                if first:
                    group, group_part = FAR, int(i)
                continue
        found = _to_piece(rows, i, x, y, z)
        if first or group == FAR:
            group, group_part = found, int(i)
        else:
            if join == ADD and found < group:
                group_part = int(i)
            group = _joined(group, found, join, rows[i, BLEND])
    if group_part >= 0:
        if (how == ADD and group < total) or part < 0:
            part = group_part
        total = group if total == FAR and how == ADD else _joined(total, group, how, blend)
    return total, part


@inlined
def _slope(rows, x, y, z, h):
    """The normal at a point, from four distances at the corners of a tetrahedron."""
    a, _ = _distance(rows, x + h, y - h, z - h)
    b, _ = _distance(rows, x - h, y - h, z + h)
    c, _ = _distance(rows, x - h, y + h, z - h)
    d, _ = _distance(rows, x + h, y + h, z + h)
    nx, ny, nz = a - b - c + d, -a - b + c + d, -a + b - c + d
    length = max(np.sqrt(nx * nx + ny * ny + nz * nz), F(1e-12))
    return nx / length, ny / length, nz / length


@inlined
def _openness(rows, x, y, z, nx, ny, nz, scale):
    """How much of the surroundings is free, 0..1, from five distances along the normal."""
    closed, weight = ZERO, ONE
    for k in range(5):
        step = scale * F(0.04 + 0.04 * k * k)
        found, _ = _distance(rows, x + nx * step, y + ny * step, z + nz * step)
        closed += max(step - found, ZERO) / scale * weight
        weight *= F(0.75)
    return min(max(ONE - F(1.5) * closed, ZERO), ONE)


@inlined
def _lit(rows, x, y, z, light, width, far):
    """Share of a round light that reaches a point: the narrowest gap passed on the way, by the light's half width."""
    share, travelled = ONE, F(0.01)
    for _ in range(64):
        gap, _ = _distance(rows, x + light[0] * travelled, y + light[1] * travelled, z + light[2] * travelled)
        at = gap / max(width * travelled, F(1e-6))
        if at < ONE:
            at = max(at, -ONE)
            # A straight edge cuts the disc of the light.
            share = min(share, ONE - F((np.arccos(at) - at * np.sqrt(max(ONE - at * at, ZERO))) / np.pi))
        if share <= F(0.002) or travelled > far:
            break
        travelled += max(abs(gap), F(0.01))
    return share


@kernel(void(FLOATS, TABLE, FLOATS, TABLE, ONE_F, ONE_F, PLANE, PLANES, LABELS, PLANE, PLANE, I64, I64))
def march(rows, eye, rays, light, light_width, scale, depth, normal, piece, openness, lit, top, bottom):
    """Rows top..bottom of what is seen of a maquette.

    rows (n, 26): see the columns above. eye (3,) and rays (3, 3): where rays start, where the one of the upper left
    pixel passes, and how that changes a pixel to the right and down. light (3,): direction to it; light_width: tangent
    of its half angle. scale: of the whole maquette. depth (h, w) along the ray, or -1; normal (3, h, w); piece (h, w),
    -1 for nothing; openness, lit (h, w) 0..1.
    """
    # Where rays and shadows have left the maquette behind.
    far = F(8) * scale
    beyond = np.sqrt(eye[0] * eye[0] + eye[1] * eye[1] + eye[2] * eye[2]) + far
    for j in range(uintp(top), uintp(bottom)):
        for i in range(uintp(depth.shape[1])):
            dx = rays[0, 0] + F(i) * rays[1, 0] + F(j) * rays[2, 0] - eye[0]
            dy = rays[0, 1] + F(i) * rays[1, 1] + F(j) * rays[2, 1] - eye[1]
            dz = rays[0, 2] + F(i) * rays[1, 2] + F(j) * rays[2, 2] - eye[2]
            length = np.sqrt(dx * dx + dy * dy + dz * dz)
            dx, dy, dz = dx / length, dy / length, dz / length
            t, hit = ZERO, -1
            for _ in range(STEPS):
                found, part = _distance(rows, eye[0] + t * dx, eye[1] + t * dy, eye[2] + t * dz)
                if found < F(2e-4) * scale:
                    hit = part
                    break
                t += found
                if t > beyond:
                    break
            piece[j, i] = hit
            depth[j, i], openness[j, i], lit[j, i] = t if hit >= 0 else -ONE, ONE, ZERO
            if hit < 0:
                normal[0, j, i] = normal[1, j, i] = normal[2, j, i] = ZERO
                continue
            x, y, z = eye[0] + t * dx, eye[1] + t * dy, eye[2] + t * dz
            nx, ny, nz = _slope(rows, x, y, z, F(1e-3) * scale)
            normal[0, j, i], normal[1, j, i], normal[2, j, i] = nx, ny, nz
            openness[j, i] = _openness(rows, x, y, z, nx, ny, nz, scale * HALF)
            if nx * light[0] + ny * light[1] + nz * light[2] > ZERO:
                off = F(4e-3) * scale
                lit[j, i] = _lit(rows, x + nx * off, y + ny * off, z + nz * off, light, light_width, far)
