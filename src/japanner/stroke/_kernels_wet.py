"""Wet paint: dragging and softening it, in regions of float planes whose last one is coverage."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import AREA, FLAG, FLOATS, I64, ONE_F, PLANE, PLANES, PLANES_IN, inlined, kernel, void
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


@inlined
def _smudge_row(target, source, apart, carried, c, y, v, x0, first, count, alpha, keep):
    """One plane's row of a dab: lay what is carried, and take up what was there."""
    for k in range(count):
        old, load = source[c, y, x0 + k], carried[c, v, first + k]
        if apart:
            source[c, y, x0 + k] = (ONE - alpha[k]) * old + alpha[k] * load
        mine = target[c, y, x0 + k]
        target[c, y, x0 + k] = (ONE - alpha[k]) * mine + alpha[k] * load
        carried[c, v, first + k] = keep[k] * load + (ONE - keep[k]) * old


@kernel(
    void(PLANES, PLANES, FLAG, PLANES, FLOATS, FLOATS, I64, ONE_F, PLANES_IN, ONE_F, FLOATS, ONE_F, ONE_F, ONE_F, *AREA)
)
def smudge(
    target,
    source,
    apart,
    carried,
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
    which is then dragged along. `carried` covers the largest tip; where its coverage is below 0 it has not touched the
    picture yet, and only takes up. loads: the paint of the brush for each dab (n, planes), of which `refill` comes to
    what is carried at every dab; (0, 0) for a brush without paint. Pixels outside top..bottom, left..right, the canvas,
    neither give nor take. grain: (h, w) heights of the region, or (0, 0).
    """
    planes, size = carried.shape[0], carried.shape[1]
    grained, loaded = grain.shape[0] > 0, loads.shape[0] > 0
    alpha, keep = np.empty(size, np.float32), np.empty(size, np.float32)
    loss = take / carry
    for i in range(dabs.shape[0]):
        cx, cy = dabs[i, 0], dabs[i, 1]
        radius, amount = max(dabs[i, 2], HALF), dabs[i, 3] * dabs[i, 4]
        cosine, sine, stretch, depth, press = dabs[i, 5], dabs[i, 6], dabs[i, 7], dabs[i, 8], dabs[i, 9]
        ramp = max(edge * radius, stretch)
        inner = inner_radius(radius, ramp, stretch)
        plain = tip <= ROUND and stretch == ONE and not grained
        soft_radius = max(radius, ONE)
        unit = ONE / (soft_radius * soft_radius)
        corner_y, corner_x = int(np.floor(cy)) - size // 2, int(np.floor(cx)) - size // 2
        y0, y1 = max(corner_y, top), min(corner_y + size, bottom)
        left_x, right_x = max(corner_x, left), min(corner_x + size, right)
        if y0 >= y1 or left_x >= right_x:
            continue
        reach, half_height = tip_reach(radius, tip > ROUND) + ONE, thick * radius + ONE
        for y in range(uintp(y0), uintp(y1)):
            v = uintp(int(y) - corner_y)
            dy = F(y) + HALF - cy
            # Beyond the tip nothing is laid or taken up.
            low, high = tip_span(dy, cosine, sine, stretch, half_height, reach)
            from_x = max(left_x, int(np.floor(cx + low)))
            to_x = min(right_x, int(np.ceil(cx + high)) + 1)
            if from_x >= to_x:
                continue
            x0, first, count = uintp(from_x), uintp(from_x - corner_x), uintp(to_x - from_x)
            if plain and tip == MOP:
                for k in range(count):
                    dx = F(x0 + k) + HALF - cx
                    alpha[k] = mop_profile((dx * dx + dy * dy) * unit)
            elif plain:
                for k in range(count):
                    dx = F(x0 + k) + HALF - cx
                    alpha[k] = round_profile(np.sqrt(dx * dx + dy * dy), inner, ramp)
            else:
                for k in range(count):
                    dx = F(x0 + k) + HALF - cx
                    along, across = cosine * dx + sine * dy, (cosine * dy - sine * dx) * stretch
                    profile = tip_alpha(tip, pictures, press, along, across, radius, inner, ramp)
                    if grained and profile > ZERO:
                        profile = caught(profile, grain, int(x0 + k), int(y), depth)
                    alpha[k] = profile
            for k in range(count):
                touched = ONE if carried[planes - 1, v, first + k] >= ZERO else ZERO
                alpha[k] = alpha[k] * amount * touched
                keep[k] = (ONE - alpha[k] * loss) * touched
            for c in range(uintp(planes)):
                _smudge_row(target, source, apart, carried, c, y, v, x0, first, count, alpha, keep)
                if loaded:
                    for k in range(count):
                        carried[c, v, first + k] += refill * (loads[i, c] - carried[c, v, first + k])


@kernel(void(PLANE, PLANE, PLANE, I64, ONE_F, I64))
def exchange(plane, out, ease, distance, rate, margin):
    """Let every pixel and the ones `distance` px to its sides, above and below even out, all at once.

    What one gives the other takes, so the sum stays. ease (h, w) 0..1: how far a pixel takes part; a pair does as far
    as the slower of the two. In the outer `margin`, at least `distance` wide, nothing takes part. rate: at most 1/4,
    for then no pixel goes past the mean of its neighbours and the variance never grows.
    """
    height, width = plane.shape
    for y in range(uintp(margin), uintp(height - margin)):
        above, below = y - uintp(distance), y + uintp(distance)
        for x in range(uintp(margin), uintp(width - margin)):
            mine, here = plane[y, x], ease[y, x]
            left, right = x - uintp(distance), x + uintp(distance)
            flow = min(here, ease[y, left]) * (plane[y, left] - mine)
            flow += min(here, ease[y, right]) * (plane[y, right] - mine)
            flow += min(here, ease[above, x]) * (plane[above, x] - mine)
            flow += min(here, ease[below, x]) * (plane[below, x] - mine)
            out[y, x] = mine + rate * flow


@kernel(void(PLANE, FLOATS, I64, ONE_F, PLANES_IN))
def tip_cover(out, dab, tip, edge, pictures):
    """Fill `out` (h, w) with the coverage of one dab (1, 13), in the region's own pixels, times strength and flow."""
    cx, cy = dab[0, 0], dab[0, 1]
    radius, amount = max(dab[0, 2], HALF), dab[0, 3] * dab[0, 4]
    cosine, sine, stretch, press = dab[0, 5], dab[0, 6], dab[0, 7], dab[0, 9]
    ramp = max(edge * radius, stretch)
    inner = inner_radius(radius, ramp, stretch)
    for y in range(uintp(out.shape[0])):
        dy = F(y) + HALF - cy
        for x in range(uintp(out.shape[1])):
            dx = F(x) + HALF - cx
            along, across = cosine * dx + sine * dy, (cosine * dy - sine * dx) * stretch
            out[y, x] = tip_alpha(tip, pictures, press, along, across, radius, inner, ramp) * amount
