"""Dabs into coverage, and coverage into pixels. Areas are rows, then columns, in the tile's own pixels."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import AREA, FLAG, FLOATS, ONE_F, PLANE, PLANES, STORED, STORED_IN, TABLE, inlined, kernel, void

F = np.float32
ZERO, HALF, ONE, TWO, FULL = F(0), F(0.5), F(1), F(2), F(65535)

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
def inner_radius(radius, ramp):
    """Where the edge of a round tip begins. An edge of one pixel is set so that the tip keeps its area:
    a smooth step one wide has a variance of 1/20, which adds to the square of the radius.
    """
    return np.sqrt(radius * radius - F(0.05)) - HALF if ramp == ONE else radius - ramp


@inlined
def _add(old, alpha, ceiling, even):
    """Even: the greatest dab counts. Build-up: each dab takes its share of what is left below the ceiling."""
    return max(old, ceiling * alpha) if even else old + max(ceiling - old, ZERO) * alpha


@kernel(void(PLANE, FLOATS, ONE_F, ONE_F, FLAG, ONE_F, FLAG, *AREA))
def stamp(coverage, dabs, left_px, top_px, mop, edge, even, top, bottom, left, right):
    """Stamp dabs (n, 5: x, y, radius, strength, flow) into a tile's coverage whose corner is (left_px, top_px)."""
    for i in range(dabs.shape[0]):
        cx, cy = dabs[i, 0] - left_px, dabs[i, 1] - top_px
        radius, ceiling, flow = dabs[i, 2], dabs[i, 3], dabs[i, 4]
        # A tip smaller than a pixel keeps its area: thinner, not gone.
        thin = min(radius / F(0.5), ONE)
        radius = max(radius, F(0.5))
        flow *= thin * thin
        ramp = max(edge * radius, ONE)
        inner = inner_radius(radius, ramp)
        reach = radius + ONE
        y0, y1 = max(top, int(np.floor(cy - reach))), min(bottom, int(np.ceil(cy + reach)) + 1)
        x0, x1 = max(left, int(np.floor(cx - reach))), min(right, int(np.ceil(cx + reach)) + 1)
        if y0 >= y1 or x0 >= x1:
            continue
        soft_radius = max(radius, ONE)
        unit = ONE / (soft_radius * soft_radius)
        for y in range(uintp(y0), uintp(y1)):
            dy = F(y) + HALF - cy
            dy2 = dy * dy
            if mop:
                for x in range(uintp(x0), uintp(x1)):
                    dx = F(x) + HALF - cx
                    alpha = mop_profile((dx * dx + dy2) * unit) * flow
                    coverage[y, x] = _add(coverage[y, x], alpha, ceiling, even)
            else:
                for x in range(uintp(x0), uintp(x1)):
                    dx = F(x) + HALF - cx
                    alpha = round_profile(np.sqrt(dx * dx + dy2), inner, ramp) * flow
                    coverage[y, x] = _add(coverage[y, x], alpha, ceiling, even)


@kernel(void(PLANE, FLOATS, ONE_F, ONE_F, FLOATS, FLAG, *AREA))
def stamp_image(coverage, dabs, left_px, top_px, image, even, top, bottom, left, right):
    """As `stamp`, with a square of coverage, interpolated, as the tip; its sides are as long as the tip's diameter."""
    side = image.shape[0]
    for i in range(dabs.shape[0]):
        cx, cy = dabs[i, 0] - left_px, dabs[i, 1] - top_px
        radius, ceiling, flow = max(dabs[i, 2], HALF), dabs[i, 3], dabs[i, 4]
        y0, y1 = max(top, int(np.floor(cy - radius))), min(bottom, int(np.ceil(cy + radius)) + 1)
        x0, x1 = max(left, int(np.floor(cx - radius))), min(right, int(np.ceil(cx + radius)) + 1)
        if y0 >= y1 or x0 >= x1:
            continue
        step = F(side) / (radius + radius)
        middle = F(side - 1) * HALF
        for y in range(uintp(y0), uintp(y1)):
            v = (F(y) + HALF - cy) * step + middle
            for x in range(uintp(x0), uintp(x1)):
                u = (F(x) + HALF - cx) * step + middle
                if u < ZERO or v < ZERO or u >= F(side - 1) or v >= F(side - 1):
                    continue
                j, k = int(v), int(u)
                a, b = v - F(j), u - F(k)
                low = (ONE - b) * image[j, k] + b * image[j, k + 1]
                high = (ONE - b) * image[j + 1, k] + b * image[j + 1, k + 1]
                alpha = ((ONE - a) * low + a * high) * flow
                coverage[y, x] = _add(coverage[y, x], alpha, ceiling, even)


@kernel(void(STORED_IN, FLOATS, ONE_F, ONE_F, ONE_F, STORED, *AREA))
def lay_tile(base, coverage, r, g, b, out, top, bottom, left, right):
    """Lay an opaque colour (0..1) over `base` where there is coverage."""
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            a = coverage[y, x]
            out[3, y, x] = np.uint16(F(base[3, y, x]) * (ONE - a) + FULL * a + HALF)
        for c in range(uintp(3)):
            paint = (r if c == 0 else (g if c == 1 else b)) * FULL
            for x in range(uintp(left), uintp(right)):
                a = coverage[y, x]
                # Rounding may lift a channel one code over its coverage.
                out[c, y, x] = min(np.uint16(F(base[c, y, x]) * (ONE - a) + paint * a + HALF), out[3, y, x])


@kernel(void(STORED_IN, FLOATS, STORED, *AREA))
def wipe_tile(base, coverage, out, top, bottom, left, right):
    """Take paint off where there is coverage (Porter & Duff's destination-out)."""
    for y in range(uintp(top), uintp(bottom)):
        for c in range(uintp(4)):
            for x in range(uintp(left), uintp(right)):
                out[c, y, x] = np.uint16(F(base[c, y, x]) * (ONE - coverage[y, x]) + HALF)


@inlined
def _between(table, position):
    """Linear interpolation in a table at `position` 0..1."""
    scaled = position * F(table.size - 1)
    # By way of int32: the machine has no quick conversion from float to a 64-bit unsigned number.
    index = uintp(np.int32(scaled))
    low, high = table[index], table[min(index + uintp(1), uintp(table.size - 1))]
    return low + (high - low) * (scaled - F(np.int32(scaled)))


@inlined
def _light(decode, code, unit):
    """Linear light of a premultiplied code; `unit` is full scale over the coverage's code."""
    return decode[uintp(np.int32(min(F(code) * unit + HALF, FULL)))]


@inlined
def _pixel(decode, red, green, blue, a):
    """Linear light and luminance of a premultiplied pixel with coverage code `a` above 0."""
    unit = FULL / F(a)
    r, g, b = _light(decode, red, unit), _light(decode, green, unit), _light(decode, blue, unit)
    return r, g, b, min(F(0.2126) * r + F(0.7152) * g + F(0.0722) * b, ONE)


@inlined
def _code(encode, light, a):
    """The premultiplied code of linear light, cut to 0..1, at coverage code `a`."""
    return np.uint16(_between(encode, np.sqrt(min(max(light, ZERO), ONE))) * F(a) + HALF)


@kernel(void(STORED_IN, FLOATS, TABLE, TABLE, TABLE, TABLE, STORED, *AREA))
def expose_tile(base, coverage, gain, decode, encode, weight, out, top, bottom, left, right):
    """Multiply linear light by the gain at coverage times weight of the tone, in the layer's own paint.

    Tables: `gain` over 0..1 is 2 ** (stops * t); `decode` over 65536 codes; `encode` and `weight` over the
    square root of linear light and of luminance. All are smooth enough for linear interpolation.
    """
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            a, amount = base[3, y, x], coverage[y, x]
            out[3, y, x] = a
            if a == 0 or amount == ZERO:
                for c in range(uintp(3)):
                    out[c, y, x] = base[c, y, x]
                continue
            r, g, b, luminance = _pixel(decode, base[0, y, x], base[1, y, x], base[2, y, x], a)
            k = _between(gain, amount * _between(weight, np.sqrt(luminance)))
            out[0, y, x] = _code(encode, r * k, a)
            out[1, y, x] = _code(encode, g * k, a)
            out[2, y, x] = _code(encode, b * k, a)


@inlined
def _scaled_to(L, A, B, luminance):
    """The linear colour of some OKLab hue and chroma scaled to a luminance; scaling light leaves the hue as it is."""
    lo = L + F(0.3963377774) * A + F(0.2158037573) * B
    me = L - F(0.1055613458) * A - F(0.0638541728) * B
    sh = L - F(0.0894841775) * A - F(1.2914855480) * B
    lo, me, sh = lo * lo * lo, me * me * me, sh * sh * sh
    r = F(4.0767416621) * lo - F(3.3077115913) * me + F(0.2309699292) * sh
    g = F(-1.2684380046) * lo + F(2.6097574011) * me - F(0.3413193965) * sh
    b = F(-0.0041960863) * lo - F(0.7034186147) * me + F(1.7076147010) * sh
    k = luminance / max(F(0.2126) * r + F(0.7152) * g + F(0.0722) * b, F(1e-9))
    return r * k, g * k, b * k


@inlined
def _limited(r, g, b, luminance):
    """A linear colour with its chroma reduced at constant OKLab hue and luminance until no channel exceeds 1.

    OKLab and its inverse: Ottosson 2020, matrices of 2021.
    """
    if max(r, max(g, b)) <= ONE:
        return r, g, b
    wanted, third = min(luminance, ONE), F(1 / 3)
    lo = (F(0.4122214708) * r + F(0.5363325363) * g + F(0.0514459929) * b) ** third
    me = (F(0.2119034982) * r + F(0.6806995451) * g + F(0.1073969566) * b) ** third
    sh = (F(0.0883024619) * r + F(0.2817188376) * g + F(0.6299787005) * b) ** third
    L = F(0.2104542553) * lo + F(0.7936177850) * me - F(0.0040720468) * sh
    A = F(1.9779984951) * lo - F(2.4285922050) * me + F(0.4505937099) * sh
    B = F(0.0259040371) * lo + F(0.7827717662) * me - F(0.8086757660) * sh
    low, high = ZERO, ONE
    for _ in range(14):
        t = HALF * (low + high)
        r, g, b = _scaled_to(L, t * A, t * B, wanted)
        if max(r, max(g, b)) <= ONE and min(r, min(g, b)) >= ZERO:
            low = t
        else:
            high = t
    return _scaled_to(L, low * A, low * B, wanted)


@kernel(void(STORED_IN, FLOATS, ONE_F, TABLE, TABLE, TABLE, STORED, *AREA))
def expose_in_hue(base, coverage, stops, decode, encode, weight, out, top, bottom, left, right):
    """As `expose_tile`, but what would pass the gamut loses chroma at its own luminance instead of clipping."""
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            a, amount = base[3, y, x], coverage[y, x]
            out[3, y, x] = a
            if a == 0 or amount == ZERO:
                for c in range(uintp(3)):
                    out[c, y, x] = base[c, y, x]
                continue
            r, g, b, luminance = _pixel(decode, base[0, y, x], base[1, y, x], base[2, y, x], a)
            k = F(2.0) ** (stops * amount * _between(weight, np.sqrt(luminance)))
            r, g, b = _limited(r * k, g * k, b * k, luminance * k)
            out[0, y, x] = _code(encode, r, a)
            out[1, y, x] = _code(encode, g, a)
            out[2, y, x] = _code(encode, b, a)


@kernel(void(STORED_IN, FLOATS, TABLE, TABLE, TABLE, TABLE, FLAG, STORED, *AREA))
def step_tile(base, coverage, decode, encode, value, steps, up, out, top, bottom, left, right):
    """Move L* towards the next of `steps` (rising) above or below, by the coverage, at constant hue and never past it.

    `value` is L* over the square root of luminance. What lies within half an L* of a step goes on to the one after, so
    that a second stroke moves on. Above the last step and below the first, nothing changes.
    """
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            a, amount = base[3, y, x], coverage[y, x]
            for c in range(uintp(4)):
                out[c, y, x] = base[c, y, x]
            if a == 0 or amount == ZERO:
                continue
            r, g, b, luminance = _pixel(decode, base[0, y, x], base[1, y, x], base[2, y, x], a)
            here = _between(value, np.sqrt(luminance))
            target = here
            if up:
                for i in range(steps.size - 1, -1, -1):
                    if steps[i] > here + HALF:
                        target = steps[i]
            else:
                for i in range(steps.size):
                    if steps[i] < here - HALF:
                        target = steps[i]
            if target == here:
                continue
            wanted = here + amount * (target - here)
            f = (wanted + F(16)) / F(116)
            y_wanted = f * f * f if wanted > F(8) else wanted * F(27 / 24389)
            if luminance < F(1e-4):
                r = g = b = y_wanted
            else:
                k = y_wanted / luminance
                r, g, b = _limited(r * k, g * k, b * k, y_wanted)
            out[0, y, x] = _code(encode, r, a)
            out[1, y, x] = _code(encode, g, a)
            out[2, y, x] = _code(encode, b, a)


@kernel(void(STORED_IN, FLOATS, TABLE, TABLE, ONE_F, STORED, *AREA))
def chroma_tile(base, coverage, decode, encode, change, out, top, bottom, left, right):
    """Move colours from (`change` 1) or towards (-1) the grey of their luminance, by the coverage; value stays."""
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            a, amount = base[3, y, x], coverage[y, x]
            for c in range(uintp(4)):
                out[c, y, x] = base[c, y, x]
            if a == 0 or amount == ZERO:
                continue
            r, g, b, grey = _pixel(decode, base[0, y, x], base[1, y, x], base[2, y, x], a)
            f = ONE + change * amount
            # No further than to where a channel reaches 0 or 1.
            high, low = max(r, max(g, b)) - grey, grey - min(r, min(g, b))
            if high > F(1e-6):
                f = min(f, (ONE - grey) / high)
            if low > F(1e-6):
                f = min(f, grey / low)
            out[0, y, x] = np.uint16(
                _between(encode, np.sqrt(min(max(grey + f * (r - grey), ZERO), ONE))) * F(a) + HALF
            )
            out[1, y, x] = np.uint16(
                _between(encode, np.sqrt(min(max(grey + f * (g - grey), ZERO), ONE))) * F(a) + HALF
            )
            out[2, y, x] = np.uint16(
                _between(encode, np.sqrt(min(max(grey + f * (b - grey), ZERO), ONE))) * F(a) + HALF
            )


@inlined
def _smudge_row(target, source, apart, carried, c, y, v, x0, first, count, alpha, keep):
    """One channel row of a dab: lay what is carried, and take up what was there."""
    for k in range(count):
        old, load = source[c, y, x0 + k], carried[c, v, first + k]
        if apart:
            source[c, y, x0 + k] = (ONE - alpha[k]) * old + alpha[k] * load
        mine = target[c, y, x0 + k]
        target[c, y, x0 + k] = (ONE - alpha[k]) * mine + alpha[k] * load
        carried[c, v, first + k] = keep[k] * load + (ONE - keep[k]) * old


@kernel(void(PLANES, PLANES, FLAG, PLANES, FLOATS, FLAG, ONE_F, ONE_F, *AREA))
def smudge(target, source, apart, carried, dabs, mop, edge, carry, top, bottom, left, right):
    """Drag paint through a region, dab after dab (dabs as in `stamp`, in the region's own pixels).

    Each dab lays the carried paint on `target` with the tip's alpha and then takes up a share alpha / carry of
    what `source` held before. Laying and taking up in this proportion, paint travels at 1 / (1 + 1 / carry) of
    the tip's speed, so it falls behind after `carry` tip sizes. `source` is `target`, or (`apart`) the visible
    picture, which is then dragged along. `carried` covers the largest tip; where its coverage is below 0 it has
    not touched the picture yet, and only takes up. Pixels outside top..bottom, left..right, the canvas, neither
    give nor take.
    """
    size = carried.shape[1]
    alpha, keep = np.empty(size, np.float32), np.empty(size, np.float32)
    for i in range(dabs.shape[0]):
        cx, cy = dabs[i, 0], dabs[i, 1]
        radius, amount = max(dabs[i, 2], HALF), dabs[i, 3] * dabs[i, 4]
        ramp = max(edge * radius, ONE)
        inner = inner_radius(radius, ramp)
        soft_radius = max(radius, ONE)
        unit = ONE / (soft_radius * soft_radius)
        corner_y, corner_x = int(np.floor(cy)) - size // 2, int(np.floor(cx)) - size // 2
        y0, y1 = max(corner_y, top), min(corner_y + size, bottom)
        left_x, right_x = max(corner_x, left), min(corner_x + size, right)
        if y0 >= y1 or left_x >= right_x:
            continue
        x0, first, count = uintp(left_x), uintp(left_x - corner_x), uintp(right_x - left_x)
        for y in range(uintp(y0), uintp(y1)):
            v = uintp(int(y) - corner_y)
            dy = F(y) + HALF - cy
            for k in range(count):
                dx = F(x0 + k) + HALF - cx
                q = dx * dx + dy * dy
                touched = ONE if carried[3, v, first + k] >= ZERO else ZERO
                profile = mop_profile(q * unit) if mop else round_profile(np.sqrt(q), inner, ramp)
                alpha[k] = profile * amount * touched
                keep[k] = (ONE - alpha[k] / carry) * touched
            for c in range(uintp(4)):
                _smudge_row(target, source, apart, carried, c, y, v, x0, first, count, alpha, keep)
