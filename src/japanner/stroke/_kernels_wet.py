"""Wet paint: dragging and softening it, in regions of float planes whose last one is coverage."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import (
    AREA,
    FLAG,
    FLOATS,
    I64,
    LABELS_IN,
    ONE_F,
    PLANE,
    PLANES,
    PLANES_IN,
    SPANS,
    inlined,
    kernel,
    void,
)
from japanner.stroke._kernels_dab import (
    MOP,
    ROUND,
    caught,
    inner_radius,
    mop_profile,
    round_profile,
    tip_alpha,
    tip_reach,
    tip_span,
)

F = np.float32
ZERO, HALF, ONE = F(0), F(0.5), F(1)
# Far below anything that paint can be, in any space that it is mixed in.
UNTOUCHED, MARK = -1e9, F(-1e8)


@inlined
def _cover(cover, spans, dab, tip, edge, pictures, thick, grain, corner_y, corner_x, v0, v1, left, right):
    """Fill `cover` (h, w), whose corner lies at (corner_x, corner_y) of the region, with one dab's coverage, 0..1.

    Only its rows v0..v1 and what is inside left..right of the region count; spans (h, 2) gets the first and the end of
    what each of these rows has. Everything outside is left as it was.
    """
    cx, cy, radius = dab[0], dab[1], max(dab[2], HALF)
    cosine, sine, stretch, depth, press = dab[5], dab[6], dab[7], dab[8], dab[9]
    ramp = max(edge * radius, stretch)
    inner = inner_radius(radius, ramp, stretch)
    grained = grain.shape[0] > 0
    plain = tip <= ROUND and stretch == ONE and not grained
    soft_radius = max(radius, ONE)
    unit = ONE / (soft_radius * soft_radius)
    reach, half_height = tip_reach(radius, tip > ROUND) + ONE, thick * radius + ONE
    for v in range(v0, v1):
        y = int(v) + corner_y
        spans[v, 0] = spans[v, 1] = 0
        dy = F(y) + HALF - cy
        # Beyond the tip nothing is laid or taken up.
        low, high = tip_span(dy, cosine, sine, stretch, half_height, reach)
        from_x = max(max(left, corner_x), int(np.floor(cx + low)))
        to_x = min(min(right, corner_x + cover.shape[1]), int(np.ceil(cx + high)) + 1)
        if from_x >= to_x:
            continue
        first, end, offset = uintp(from_x - corner_x), uintp(to_x - corner_x), F(corner_x) + HALF - cx
        spans[v, 0], spans[v, 1] = first, end
        if plain and tip == MOP:
            for k in range(first, end):
                dx = F(k) + offset
                cover[v, k] = mop_profile((dx * dx + dy * dy) * unit)
        elif plain:
            for k in range(first, end):
                dx = F(k) + offset
                cover[v, k] = round_profile(np.sqrt(dx * dx + dy * dy), inner, ramp)
        else:
            for k in range(first, end):
                dx = F(k) + offset
                along, across = cosine * dx + sine * dy, (cosine * dy - sine * dx) * stretch
                profile = tip_alpha(tip, pictures, press, along, across, radius, inner, ramp)
                if grained and profile > ZERO:
                    profile = caught(profile, grain, int(k) + corner_x, y, depth)
                cover[v, k] = profile


@inlined
def _lay(picture, carried, cover, spans, corner_y, corner_x, v0, v1):
    """Lay what is carried, a whole dab of it."""
    for v in range(v0, v1):
        first, y = spans[v, 0], uintp(int(v) + corner_y)
        x0, count = uintp(int(first) + corner_x), uintp(spans[v, 1] - first)
        for c in range(uintp(carried.shape[0])):
            for k in range(count):
                old = picture[c, y, x0 + k]
                picture[c, y, x0 + k] = old + cover[v, first + k] * (carried[c, v, first + k] - old)


@inlined
def _drag(picture, carried, cover, keep, spans, corner_y, corner_x, v0, v1):
    """Lay what is carried and take up what was there, a whole dab of it."""
    for v in range(v0, v1):
        first, y = spans[v, 0], uintp(int(v) + corner_y)
        x0, count = uintp(int(first) + corner_x), uintp(spans[v, 1] - first)
        for c in range(uintp(carried.shape[0])):
            for k in range(count):
                old, load = picture[c, y, x0 + k], carried[c, v, first + k]
                picture[c, y, x0 + k] = old + cover[v, first + k] * (load - old)
                carried[c, v, first + k] = old + keep[v, first + k] * (load - old)


@inlined
def _refill(carried, cover, spans, load, refill, v0, v1):
    """Bring the brush's own paint to what is carried, where the tip is."""
    for c in range(uintp(carried.shape[0])):
        for v in range(v0, v1):
            for k in range(spans[v, 0], spans[v, 1]):
                share = refill if cover[v, k] > ZERO else ZERO
                carried[c, v, k] += share * (load[c] - carried[c, v, k])


@kernel(
    void(
        PLANES,
        PLANES,
        FLAG,
        PLANES,
        PLANE,
        PLANE,
        SPANS,
        FLOATS,
        FLOATS,
        I64,
        ONE_F,
        PLANES_IN,
        ONE_F,
        FLOATS,
        ONE_F,
        ONE_F,
        ONE_F,
        *AREA,
    )
)
def smudge(
    target,
    source,
    apart,
    carried,
    cover,
    keep,
    spans,
    dabs,
    loads,
    tip,
    edge,
    pictures,
    thick,
    grain,
    carry,
    take,
    refill,
    top,
    bottom,
    left,
    right,
):
    """Drag paint through a region, dab after dab (dabs as in `stamp`, in the region's own pixels; `top`.. as well).

    Each dab lays the carried paint on `target` with the tip's alpha and then takes up a share take * alpha / carry of
    what `source` held before. Laying and taking up in this proportion, paint travels at 1 / (1 + 1 / carry) of the
    tip's speed, so it falls behind after `carry` tip sizes. `source` is `target`, or (`apart`) the visible picture,
    which is then dragged along. `carried` covers the largest tip; where it is UNTOUCHED it has not met the picture yet,
    and only takes up. Planes are independent of each other. loads: the paint of the brush for each dab (n, planes), of
    which `refill` comes to what is carried at every dab; (0, 0) for a brush without paint. cover, keep, spans: room to
    work in, (s, s) and (s, 2) for `carried` of (p, s, s). Pixels outside top..bottom, left..right, the canvas, neither
    give nor take. grain: (h, w) heights of the region, or (0, 0).
    """
    size, loss = carried.shape[1], take / carry
    for i in range(dabs.shape[0]):
        dab = dabs[i]
        amount = dab[3] * dab[4]
        corner_y, corner_x = int(np.floor(dab[1])) - size // 2, int(np.floor(dab[0])) - size // 2
        v0, v1 = uintp(max(top - corner_y, 0)), uintp(max(min(bottom - corner_y, size), 0))
        _cover(cover, spans, dab, tip, edge, pictures, thick, grain, corner_y, corner_x, v0, v1, left, right)
        for v in range(v0, v1):
            for k in range(spans[v, 0], spans[v, 1]):
                touched = carried[0, v, k] > MARK
                alpha = cover[v, k] * amount
                # What meets the picture only takes up; beyond the tip nothing happens.
                keep[v, k] = ONE - alpha * loss if touched or alpha == ZERO else ZERO
                cover[v, k] = alpha if touched else ZERO
        if apart:
            _lay(target, carried, cover, spans, corner_y, corner_x, v0, v1)
        _drag(source, carried, cover, keep, spans, corner_y, corner_x, v0, v1)
        if loads.shape[0] > 0:
            _refill(carried, cover, spans, loads[i], refill, v0, v1)


@kernel(void(PLANE, SPANS, FLOATS, I64, ONE_F, PLANES_IN, ONE_F, FLOATS, I64, I64, *AREA))
def tip_cover(out, spans, dab, tip, edge, pictures, thick, grain, corner_y, corner_x, top, bottom, left, right):
    """Fill `out` (h, w), whose corner lies at (corner_x, corner_y) of a region, with the coverage of one dab (1, 13)
    times its strength and flow; 0 outside top..bottom, left..right of the region. spans: (h, 2) to work in.
    """
    amount = dab[0, 3] * dab[0, 4]
    v0, v1 = uintp(max(top - corner_y, 0)), uintp(max(min(bottom - corner_y, out.shape[0]), 0))
    out[:] = ZERO
    _cover(out, spans, dab[0], tip, edge, pictures, thick, grain, corner_y, corner_x, v0, v1, left, right)
    for v in range(v0, v1):
        for k in range(spans[v, 0], spans[v, 1]):
            out[v, k] *= amount


@inlined
def _exchange(plane, out, ease, distance, rate, margin, height, width):
    """Let every pixel and the ones `distance` px to its sides, above and below even out, all at once.

    What one gives the other takes, so the sum stays: a pair takes part as far as the slower of the two.
    """
    for y in range(margin, margin + height):
        above, below = y - distance, y + distance
        for x in range(margin, margin + width):
            mine, here = plane[y, x], ease[y, x]
            left, right = x - distance, x + distance
            flow = min(here, ease[y, left]) * (plane[y, left] - mine)
            flow += min(here, ease[y, right]) * (plane[y, right] - mine)
            flow += min(here, ease[above, x]) * (plane[above, x] - mine)
            flow += min(here, ease[below, x]) * (plane[below, x] - mine)
            out[y, x] = mine + rate * flow


@kernel(void(PLANE, PLANE, PLANE, PLANE, LABELS_IN, ONE_F, I64, *AREA))
def even_out(plane, ease, one, other, distances, rate, margin, top, bottom, left, right):
    """Let the pixels of a plane's area even out at `distances` (1, n; px, at most `margin`), one after the other.

    ease: how far each pixel takes part, 0..1, for the area and `margin` px around it, where it is 0. one, other: room
    of at least this size to work in; nothing in them may be infinite. rate: at most 1/4, for then no pixel goes past
    the mean of its neighbours and the variance never grows.
    """
    m, height, width = uintp(margin), uintp(bottom - top), uintp(right - left)
    y0, x0 = uintp(top), uintp(left)
    for y in range(height):
        for x in range(width):
            one[m + y, m + x] = plane[y0 + y, x0 + x]
    for n in range(distances.shape[1]):
        distance = uintp(distances[0, n])
        if n % 2 == 0:
            _exchange(one, other, ease, distance, rate, m, height, width)
        else:
            _exchange(other, one, ease, distance, rate, m, height, width)
    for y in range(height):
        for x in range(width):
            plane[y0 + y, x0 + x] = other[m + y, m + x] if distances.shape[1] % 2 else one[m + y, m + x]
