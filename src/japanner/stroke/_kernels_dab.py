"""Dabs into coverage. Areas are rows, then columns, in the tile's own pixels."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import AREA, FLAG, FLOATS, I64, ONE_F, PLANE, PLANES, PLANES_IN, inlined, kernel, void

F = np.float32
ZERO, HALF, ONE, TWO = F(0), F(0.5), F(1), F(2)
MOP, ROUND = 0, 1

# cos(pi r) as a polynomial in q = r^2 (a minimax fit would gain nothing at float32): no root, no cosine.
C1, C2, C3, C4 = F(-4.934802200544679), F(4.058712126416768), F(-1.3352627688545893), F(0.2353306303588935)
C5, C6, C7 = F(-0.025806891390014062), F(0.0019295743094039232), F(-0.0001046381049248457)


@inlined
def mop_profile(q):
    """Half of 1 + cos(pi r), r = sqrt(q) 0..1 of the radius."""
    cosine = ONE + q * (C1 + q * (C2 + q * (C3 + q * (C4 + q * (C5 + q * (C6 + q * C7))))))
    return max(HALF + HALF * cosine, ZERO) if q < ONE else ZERO


@inlined
def round_profile(distance, inner, ramp):
    """1 up to `inner` px, then a smooth step down over `ramp` px (never under one: the edge is anti-aliased)."""
    t = min(max((distance - inner) / ramp, ZERO), ONE)
    return ONE - t * t * (F(3) - TWO * t)


@inlined
def inner_radius(radius, ramp, least):
    """Where the edge of a round tip begins. The least edge, one pixel across the short axis, is set so that the tip
    keeps its area: a smooth step one wide has a variance of 1/20, which adds to the square of the radius.
    """
    if ramp > least:
        return radius - ramp
    return np.sqrt(max(radius * radius - F(0.05) * least * least, ZERO)) - HALF * least


@inlined
def _add(old, alpha, ceiling, even):
    """Even: the greatest dab counts. Build-up: each dab takes its share of what is left below the ceiling."""
    return max(old, ceiling * alpha) if even else old + max(ceiling - old, ZERO) * alpha


@inlined
def picture_at(pictures, press, u, v, radius):
    """Coverage of a tip's pictures (levels, side, side) at a place of the tip in px, pressed by 0..1."""
    side = pictures.shape[1]
    scale = F(side) / (radius + radius)
    a, b = v * scale + F(side - 1) * HALF, u * scale + F(side - 1) * HALF
    if a < ZERO or b < ZERO or a >= F(side - 1) or b >= F(side - 1):
        return ZERO
    j, k = uintp(np.int32(a)), uintp(np.int32(b))
    a, b = a - F(j), b - F(k)
    level = press * F(pictures.shape[0] - 1)
    low = min(uintp(np.int32(level)), uintp(pictures.shape[0] - 1))
    high = min(low + uintp(1), uintp(pictures.shape[0] - 1))
    t = level - F(low)
    total = ZERO
    for n in range(1 if t == ZERO else 2):
        p, weight = (low, ONE - t) if n == 0 else (high, t)
        upper = (ONE - b) * pictures[p, j, k] + b * pictures[p, j, k + uintp(1)]
        lower = (ONE - b) * pictures[p, j + uintp(1), k] + b * pictures[p, j + uintp(1), k + uintp(1)]
        total += weight * ((ONE - a) * upper + a * lower)
    return total


@inlined
def tip_alpha(tip, pictures, press, u, v, radius, inner, ramp):
    """Coverage 0..1 of a tip at a place in its own axes, in px; v is already stretched by the roundness."""
    if tip == MOP:
        soft = max(radius, ONE)
        return mop_profile((u * u + v * v) / (soft * soft))
    if tip == ROUND:
        return round_profile(np.sqrt(u * u + v * v), inner, ramp)
    return picture_at(pictures, press, u, v, radius)


@inlined
def caught(alpha, grain, x, y, depth):
    """What of a coverage the grain lets through: paint lies on its heights, and reaches lower where there is more."""
    side = grain.shape[0]
    height = grain[y % side, x % side]
    low = F(0.5) - F(0.28) * alpha
    t = min(max((height - low) / F(0.4), ZERO), ONE)
    return alpha * (ONE - depth + depth * t * t * (F(3) - TWO * t))


@inlined
def tip_reach(radius, square):
    """How far from its centre a dab may touch, in px."""
    return radius * F(1.4142136) if square else radius + ONE


@inlined
def tip_span(dy, cosine, sine, stretch, half_height, reach):
    """From where to where, in px from its centre, a row `dy` of a tip can be touched.

    half_height: how thick half of the tip is across its long axis, in px; what lies further out is bare.
    """
    width = np.sqrt(max(reach * reach - dy * dy, ZERO))
    low, high = -width, width
    slope = sine * stretch
    if abs(slope) > F(1e-3):
        one = (cosine * dy * stretch - half_height) / slope
        other = (cosine * dy * stretch + half_height) / slope
        low, high = max(low, min(one, other)), min(high, max(one, other))
    elif abs(cosine * dy * stretch) > half_height + ONE:
        high = low - ONE
    return low - ONE, high + ONE


@kernel(void(PLANE, PLANES, FLOATS, ONE_F, ONE_F, I64, ONE_F, FLAG, PLANES_IN, ONE_F, FLOATS, FLAG, *AREA))
def stamp(
    coverage,
    colours,
    dabs,
    left_px,
    top_px,
    tip,
    edge,
    even,
    pictures,
    thick,
    grain,
    grain_on_tip,
    top,
    bottom,
    left,
    right,
):
    """Stamp dabs (n, 13: see `japanner.stroke.kinds.dabs`) into a tile's coverage whose corner is (left_px, top_px).

    tip: 0 mop, 1 round, 2 the `pictures`. thick: how far from the long axis a tip is not bare, as a share of its
    radius. colours: (3, h, w), mixed as coverage comes in; (3, 0, 0) for one colour only. grain: heights 0..1, (0, 0)
    for none.
    """
    coloured, grained, square = colours.shape[1] > 0, grain.shape[0] > 0, tip > ROUND
    for i in range(dabs.shape[0]):
        cx, cy = dabs[i, 0] - left_px, dabs[i, 1] - top_px
        radius, ceiling, flow = dabs[i, 2], dabs[i, 3], dabs[i, 4]
        # A tip smaller than a pixel keeps its area: thinner, not gone.
        thin = min(radius / F(0.5), ONE)
        radius = max(radius, F(0.5))
        flow *= thin * thin
        cosine, sine, stretch, depth, press = dabs[i, 5], dabs[i, 6], dabs[i, 7], dabs[i, 8], dabs[i, 9]
        ramp = max(edge * radius, stretch)
        inner = inner_radius(radius, ramp, stretch)
        reach = tip_reach(radius, square)
        half_height = thick * radius + ONE
        y0, y1 = max(top, int(np.floor(cy - reach))), min(bottom, int(np.ceil(cy + reach)) + 1)
        x0, x1 = max(left, int(np.floor(cx - reach))), min(right, int(np.ceil(cx + reach)) + 1)
        if y0 >= y1 or x0 >= x1:
            continue
        soft_radius = max(radius, ONE)
        unit = ONE / (soft_radius * soft_radius)
        plain = not coloured and not grained and not square and stretch == ONE
        for y in range(uintp(y0), uintp(y1)):
            dy = F(y) + HALF - cy
            dy2 = dy * dy
            if plain and tip == MOP:
                for x in range(uintp(x0), uintp(x1)):
                    dx = F(x) + HALF - cx
                    alpha = mop_profile((dx * dx + dy2) * unit) * flow
                    coverage[y, x] = _add(coverage[y, x], alpha, ceiling, even)
            elif plain:
                for x in range(uintp(x0), uintp(x1)):
                    dx = F(x) + HALF - cx
                    alpha = round_profile(np.sqrt(dx * dx + dy2), inner, ramp) * flow
                    coverage[y, x] = _add(coverage[y, x], alpha, ceiling, even)
            else:
                low, high = tip_span(dy, cosine, sine, stretch, half_height, reach)
                from_x, to_x = max(x0, int(np.floor(cx + low))), min(x1, int(np.ceil(cx + high)) + 1)
                for x in range(uintp(from_x), uintp(max(to_x, from_x))):
                    dx = F(x) + HALF - cx
                    u, v = cosine * dx + sine * dy, (cosine * dy - sine * dx) * stretch
                    alpha = tip_alpha(tip, pictures, press, u, v, radius, inner, ramp)
                    if alpha <= ZERO:
                        continue
                    if grained and depth > ZERO:
                        if grain_on_tip:
                            alpha = caught(alpha, grain, int(u + F(4096)), int(v + F(4096)), depth)
                        else:
                            alpha = caught(alpha, grain, int(left_px) + int(x), int(top_px) + int(y), depth)
                    old = coverage[y, x]
                    fresh = _add(old, alpha * flow, ceiling, even)
                    coverage[y, x] = fresh
                    if coloured and fresh > old:
                        share = (fresh - old) / fresh
                        for c in range(uintp(3)):
                            colours[c, y, x] += (dabs[i, 10 + c] - colours[c, y, x]) * share
