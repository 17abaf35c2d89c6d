"""Distance to joined forms: one interpreter for any list of pieces (Hart 1996), compiled into all that asks for it."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import inlined, woven

F = np.float32
ZERO, HALF, ONE, TWO, FAR = F(0), F(0.5), F(1), F(2), F(1e6)
# Columns of a piece's row.
KIND, JOIN, BLEND, MIRROR, GROUP, PART = 0, 1, 2, 3, 4, 5
PLACE, TURN, SIZE, EDGE, REACH, CENTRE = 6, 9, 18, 21, 22, 23
START, COUNT, ACROSS, LEFT, LOW, CELL, DOWN = 26, 27, 28, 29, 30, 31, 32
COLUMNS = 33
NODE = 6
"""Numbers to a node of a curve: its place, and its slope to the next."""
STEPS = 3
BALL, EGG, TUBE, BOX, RING, SLAB, CORD, PUFF, HEAD, SHEET, STROKE = range(11)
"""From STROKE on, kinds are no forms with a distance."""
ADD, CARVE, MEET = 0, 1, 2
RAISE, LOWER, CREASE, SMOOTH = 0, 1, 2, 3


@inlined
def _spline(data, start, across, down, u, v):
    """A cubic B-spline over a grid of coefficients at column u, row v, and its slopes; beyond the edge as at it."""
    u, v = min(max(u, ZERO), F(across - 1)), min(max(v, ZERO), F(down - 1))
    i, j = np.int32(u), np.int32(v)
    s, t = u - F(i), v - F(j)
    value, slope_u, slope_v = ZERO, ZERO, ZERO
    for row in range(4):
        wv, dv = _basis(row, t)
        y = min(max(j + row - 1, 0), down - 1)
        for column in range(4):
            wu, du = _basis(column, s)
            x = min(max(i + column - 1, 0), across - 1)
            c = data[start + y * across + x]
            value += c * wu * wv
            slope_u += c * du * wv
            slope_v += c * wu * dv
    return value, slope_u, slope_v


@woven
def _basis(index, t):
    """Weight and slope of the four cubic B-splines that reach a place t 0..1 between two grid points."""
    r = ONE - t
    if index == 0:
        return r * r * r / F(6), -r * r * HALF
    if index == 1:
        return (F(3) * t * t * t - F(6) * t * t + F(4)) / F(6), (F(3) * t - F(4)) * t * HALF
    if index == 2:
        return (F(3) * r * r * r - F(6) * r * r + F(4)) / F(6), (F(4) - F(3) * r) * r * HALF
    return t * t * t / F(6), t * t * HALF


@woven
def _ball(rows, i, x, y, z, egg):
    """A bound of the distance to a scaled ball."""
    a, b, c = rows[i, SIZE], rows[i, SIZE + 1], rows[i, SIZE + 2]
    edge = rows[i, EDGE] if egg else ZERO
    if egg:
        # Wider below and narrower above by the same share.
        taper = ONE - edge * min(max(y / b, -ONE), ONE) * HALF
        a, c = a * taper, c * taper
    u, v, w = x / a, y / b, z / c
    near = np.sqrt(u * u + v * v + w * w)
    u, v, w = u / a, v / b, w / c
    steep = np.sqrt(u * u + v * v + w * w)
    found = near * (near - ONE) / steep if steep > F(1e-9) else -min(a, min(b, c))
    return found * (ONE - HALF * edge)


@woven
def _tube(a, b, c, x, y, z):
    """A cone that touches both end balls: its flank leans by the difference of the radii over the length."""
    lean = (a - b) / c
    flat = np.sqrt(ONE - lean * lean)
    out = np.sqrt(x * x + z * z)
    along = y * flat - out * lean
    if along < ZERO:
        return np.sqrt(out * out + y * y) - a
    if along > flat * c:
        return np.sqrt(out * out + (y - c) * (y - c)) - b
    return out * flat + y * lean - a


@woven
def _on_curve(data, at, t, axis):
    """A cubic between two nodes of a curve at t 0..1, on one axis: place, slope, how the slope changes."""
    p, q = data[at + axis], data[at + NODE + axis]
    u, v = data[at + 3 + axis], data[at + NODE + 3 + axis]
    a, b = TWO * (p - q) + u + v, F(3) * (q - p) - TWO * u - v
    return ((a * t + b) * t + u) * t + p, (F(3) * a * t + TWO * b) * t + u, F(6) * a * t + TWO * b


@inlined
def _along(data, start, count, growth, x, y, z):
    """Where a ball that runs along a smooth curve comes nearest to a point: how far that is from the curve, and the
    share of the curve's length. growth: of the ball's radius over the whole curve.

    The nearest chord says where Newton's steps begin; they may pass from one cubic to the next.
    """
    best, k, t = FAR, 0, ZERO
    for one in range(count - 1):
        at = start + NODE * one
        ax, ay, az = data[at], data[at + 1], data[at + 2]
        bx, by, bz = data[at + NODE] - ax, data[at + NODE + 1] - ay, data[at + NODE + 2] - az
        px, py, pz = x - ax, y - ay, z - az
        s = (px * bx + py * by + pz * bz) / max(bx * bx + by * by + bz * bz, F(1e-12))
        s = min(max(s, ZERO), ONE)
        px, py, pz = px - s * bx, py - s * by, pz - s * bz
        found = px * px + py * py + pz * pz
        if found < best:
            best, k, t = found, one, s
    grows = growth / F(count - 1)
    far = ZERO
    for step in range(STEPS + 1):
        at = start + NODE * k
        cx, ux, wx = _on_curve(data, at, t, 0)
        cy, uy, wy = _on_curve(data, at, t, 1)
        cz, uz, wz = _on_curve(data, at, t, 2)
        cx, cy, cz = cx - x, cy - y, cz - z
        far = np.sqrt(cx * cx + cy * cy + cz * cz)
        if step == STEPS:
            break
        # far - radius is least where its slope is 0.
        fast = max(ux * ux + uy * uy + uz * uz, F(1e-12))
        closer = cx * ux + cy * uy + cz * uz
        slope = closer - grows * far
        # Past the centre of the bend the second slope turns round; the first alone still leads the right way.
        steep = max(fast + cx * wx + cy * wy + cz * wz - closer * closer / max(far * far, F(1e-9)), F(0.1) * fast)
        t -= min(max(slope / steep, -HALF), HALF)
        if t < ZERO:
            t, k = (t + ONE, k - 1) if k > 0 else (ZERO, k)
        elif t > ONE:
            t, k = (t - ONE, k + 1) if k < count - 2 else (ONE, k)
    return far, (F(k) + t) / F(count - 1)


@inlined
def _puff(rows, data, i, x, y, z):
    """A silhouette blown up: where the square of its half thickness is u(x, y), z^2 - u over its own slope."""
    a, b, c = rows[i, SIZE], rows[i, SIZE + 1], rows[i, SIZE + 2]
    cell = rows[i, CELL]
    u = (x / a - rows[i, LEFT]) / cell
    v = (rows[i, LOW] - y / b) / cell
    across = np.int32(rows[i, ACROSS])
    down = np.int32(rows[i, COUNT]) // across
    inside_u, inside_v = min(max(u, ZERO), F(across - 1)), min(max(v, ZERO), F(down - 1))
    beyond = np.sqrt((u - inside_u) * (u - inside_u) + (v - inside_v) * (v - inside_v)) * cell
    square, su, sv = _spline(data, np.int32(rows[i, START]), across, down, u, v)
    su, sv = su / cell, sv / cell
    w = z / c
    steep = np.sqrt(w * w + F(0.25) * (su * su + sv * sv))
    found = (w * w - square) / (TWO * max(steep, F(0.5) * np.sqrt(abs(square)) + F(1e-5)))
    return (found + F(0.7) * beyond) * min(a, min(b, c)) * F(0.9)


@inlined
def _head(rows, data, i, x, y, z):
    """A form that is a radius in every direction; the grid runs over azimuth from the front and over height."""
    a, b, c = rows[i, SIZE], rows[i, SIZE + 1], rows[i, SIZE + 2]
    x, y, z = x / a, y / b, z / c
    r = np.sqrt(x * x + y * y + z * z)
    # The two halves meet without a seam.
    side = np.sqrt(x * x + F(1e-4))
    across = np.int32(rows[i, ACROSS])
    down = np.int32(rows[i, COUNT]) // across
    u = np.arctan2(side, z) / F(np.pi) * F(across - 1)
    v = np.arccos(min(max(y / max(r, F(1e-6)), -ONE), ONE)) / F(np.pi) * F(down - 1)
    reach, _, _ = _spline(data, np.int32(rows[i, START]), across, down, u, v)
    return (r - reach) * min(a, min(b, c)) * F(0.75)


@inlined
def _sheet(rows, data, i, x, y, z):
    """Cloth: distances at the corners of cubes, through which a cubic B-spline goes near by; from outside, to their
    border. The corner of the first one and the width of all stand before them.
    """
    start, cell = np.int32(rows[i, START]), rows[i, CELL]
    across = np.int32(rows[i, ACROSS])
    down = np.int32(rows[i, DOWN])
    deep = np.int32(rows[i, COUNT]) // (across * down)
    u, v, w = (x - data[start]) / cell, (y - data[start + 1]) / cell, (z - data[start + 2]) / cell
    iu, iv = min(max(u, ONE), F(across - 3)), min(max(v, ONE), F(down - 3))
    iw = min(max(w, ONE), F(deep - 3))
    out = cell * np.sqrt((u - iu) * (u - iu) + (v - iv) * (v - iv) + (w - iw) * (w - iw))
    a, b, c = np.int32(iu), np.int32(iv), np.int32(iw)
    total = ZERO
    for row in range(4):
        wu, _ = _basis(row, iu - F(a))
        for column in range(4):
            wv, _ = _basis(column, iv - F(b))
            at = start + 3 + ((a + row - 1) * down + b + column - 1) * deep + c - 1
            for k in range(4):
                ww, _ = _basis(k, iw - F(c))
                total += wu * wv * ww * data[at + k]
    return (total + out) * F(0.9) - max(rows[i, SIZE + 2], cell)


@woven
def _form(rows, data, i, x, y, z):
    """Distance of a point to a piece in the piece's own axes; a bound of it for scaled forms."""
    kind = int(rows[i, KIND])
    a, b, c = rows[i, SIZE], rows[i, SIZE + 1], rows[i, SIZE + 2]
    if kind in (BALL, EGG):
        return _ball(rows, i, x, y, z, kind == EGG)
    if kind == TUBE:
        return _tube(a, b, c, x, y, z)
    if kind == BOX:
        edge = rows[i, EDGE]
        u, v, w = abs(x) - a + edge, abs(y) - b + edge, abs(z) - c + edge
        p, q, r = max(u, ZERO), max(v, ZERO), max(w, ZERO)
        return np.sqrt(p * p + q * q + r * r) + min(max(u, max(v, w)), ZERO) - edge
    if kind == RING:
        out = np.sqrt(x * x + z * z) - a
        up = y * c
        return (np.sqrt(out * out + up * up) - b) / max(c, ONE)
    if kind == CORD:
        far, share = _along(data, np.int32(rows[i, START]), np.int32(rows[i, COUNT]), b - a, x, y, z)
        return (far - (a + share * (b - a))) * F(0.95)
    if kind == PUFF:
        return _puff(rows, data, i, x, y, z)
    if kind == HEAD:
        return _head(rows, data, i, x, y, z)
    if kind == SHEET:
        return _sheet(rows, data, i, x, y, z)
    return y


@woven
def _to_piece(rows, data, i, x, y, z):
    """Distance to a piece from a point of the maquette."""
    if rows[i, MIRROR] > HALF:
        # A little rounded, so that what flows into its mirror image leaves no seam.
        x = np.sqrt(x * x + F(1e-4))
    x, y, z = x - rows[i, PLACE], y - rows[i, PLACE + 1], z - rows[i, PLACE + 2]
    u = rows[i, TURN] * x + rows[i, TURN + 3] * y + rows[i, TURN + 6] * z
    v = rows[i, TURN + 1] * x + rows[i, TURN + 4] * y + rows[i, TURN + 7] * z
    w = rows[i, TURN + 2] * x + rows[i, TURN + 5] * y + rows[i, TURN + 8] * z
    return _form(rows, data, i, u, v, w)


@woven
def _joined(one, other, how, blend):
    """Two distances as one, flowing into each other over `blend`: smooth minimum by a parabola."""
    if how == ADD:
        h = max(blend - abs(one - other), ZERO)
        return min(one, other) - (h * h / (F(4) * blend) if blend > ZERO else ZERO)
    if how == CARVE:
        other = -other
    h = max(blend - abs(one - other), ZERO)
    return max(one, other) + (h * h / (F(4) * blend) if blend > ZERO else ZERO)


@woven
def _owns(rows, i, how, own, other):
    """Whether the surface is that of piece i, which joins what there is: the nearer one's; what is cut into belongs to
    what cuts, if that is of a part.
    """
    if how == ADD:
        return own < other
    return how == CARVE and rows[i, PART] > HALF and -own > other


@inlined
def _forms(rows, data, order, count, x, y, z):
    """Distance to the forms that `order` names, and the row of the piece that is nearest."""
    total, group = FAR, FAR
    part, group_part = np.int64(-1), np.int64(-1)
    current, how, blend = F(-1), ADD, ZERO
    for k in range(count):
        i = uintp(order[k])
        if rows[i, KIND] >= STROKE:
            continue
        if rows[i, GROUP] != current:
            if group_part >= 0:
                if _owns(rows, uintp(group_part), how, group, total) or part < 0:
                    part = group_part
                total = group if total == FAR and how == ADD else _joined(total, group, how, blend)
            current, how, blend = rows[i, GROUP], int(rows[i, JOIN]), rows[i, BLEND]
            group, group_part = FAR, np.int64(-1)
        first = group_part < 0
        join = ADD if first else int(rows[i, JOIN])
        least = -FAR
        if join == ADD and rows[i, REACH] > ZERO:
            # What is farther than what there is already, and out of reach of its blend, changes nothing.
            cx = (abs(x) if rows[i, MIRROR] > HALF else x) - rows[i, CENTRE]
            cy, cz = y - rows[i, CENTRE + 1], z - rows[i, CENTRE + 2]
            nearest = min(group, total if how == ADD else FAR) + max(rows[i, BLEND], blend) + rows[i, REACH]
            square = cx * cx + cy * cy + cz * cz
            if nearest > ZERO and square > nearest * nearest:
                if first:
                    group, group_part = FAR, np.int64(i)
                continue
            least = np.sqrt(square) - rows[i, REACH]
        # A bound that falls short of the ball around the piece would end in a step where that ball rules it out.
        found = max(_to_piece(rows, data, i, x, y, z), least)
        if first or (group == FAR and join == ADD):
            group, group_part = found, np.int64(i)
        elif group < FAR:
            # From a form that is out of reach nothing is to be cut.
            if _owns(rows, i, join, found, group):
                group_part = np.int64(i)
            group = _joined(group, found, join, rows[i, BLEND])
    if group_part >= 0:
        if _owns(rows, uintp(group_part), how, group, total) or part < 0:
            part = group_part
        total = group if total == FAR and how == ADD else _joined(total, group, how, blend)
    return total, part


@inlined
def _stroked(rows, data, order, count, x, y, z, total):
    """How far strokes move the surface of the forms out near a point: by what they raise, lower, crease, smooth."""
    moved = ZERO
    for k in range(count):
        i = uintp(order[k])
        if rows[i, KIND] != STROKE:
            continue
        width, height = rows[i, SIZE], rows[i, SIZE + 1]
        u = abs(x) if rows[i, MIRROR] > HALF else x
        cx, cy, cz = u - rows[i, CENTRE], y - rows[i, CENTRE + 1], z - rows[i, CENTRE + 2]
        if cx * cx + cy * cy + cz * cz > rows[i, REACH] * rows[i, REACH]:
            continue
        far, _ = _along(data, np.int32(rows[i, START]), np.int32(rows[i, COUNT]), ZERO, u, y, z)
        away = far * far / (width * width)
        if away > F(9):
            continue
        join = int(rows[i, JOIN])
        if join == RAISE:
            moved += height * np.exp(-away)
        elif join == LOWER:
            moved -= height * np.exp(-away)
        elif join == CREASE:
            moved -= height * np.exp(F(-2) * np.sqrt(away + F(0.01)))
        else:
            # Towards the mean of what is round about: bumps sink, hollows fill.
            weight = min(height, ONE) * np.exp(-away)
            r = F(0.7) * width
            a, _ = _forms(rows, data, order, count, x + r, y, z)
            b, _ = _forms(rows, data, order, count, x - r, y, z)
            c, _ = _forms(rows, data, order, count, x, y + r, z)
            d, _ = _forms(rows, data, order, count, x, y - r, z)
            e, _ = _forms(rows, data, order, count, x, y, z + r)
            f, _ = _forms(rows, data, order, count, x, y, z - r)
            moved -= weight * (moved + (a + b + c + d + e + f) / F(6) - total)
    return moved


@inlined
def distance(rows, data, order, count, strokes, x, y, z):
    """Distance to the maquette, and the row of the piece that is nearest; `strokes` is the reach of the widest of
    them, 0 if there are none.
    """
    total, part = _forms(rows, data, order, count, x, y, z)
    if strokes > ZERO:
        if total < strokes:
            # What is raised is steeper, so steps are shorter.
            total = (total - _stroked(rows, data, order, count, x, y, z, total)) * F(0.7)
        else:
            total -= F(0.3) * strokes
    return total, part
