"""From coverage to pixels: laying, wiping, changing tones. Areas are rows, then columns, in the tile's own pixels."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import AREA, FLAG, FLOATS, ONE_F, PLANES_IN, STORED, STORED_IN, TABLE, inlined, kernel, void, woven
from japanner.raster._kernels_table import between, encoded

F = np.float32
ZERO, HALF, ONE, FULL = F(0), F(0.5), F(1), F(65535)


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
def _light(decode, code, unit):
    """Linear light of a premultiplied code; `unit` is full scale over the coverage's code."""
    return decode[uintp(np.int32(min(F(code) * unit + HALF, FULL)))]


@inlined
def _pixel(decode, red, green, blue, a):
    """Linear light and luminance of a premultiplied pixel with coverage code `a` above 0."""
    unit = FULL / F(a)
    r, g, b = _light(decode, red, unit), _light(decode, green, unit), _light(decode, blue, unit)
    return r, g, b, min(F(0.2126) * r + F(0.7152) * g + F(0.0722) * b, ONE)


@woven
def _code(light, a):
    """The premultiplied code of linear light, cut to 0..1, at coverage code `a`."""
    # By way of int32: the machine has no quick conversion to a 16-bit number.
    return np.uint16(np.int32(encoded(min(max(light, ZERO), ONE)) * F(a) + HALF))


@woven
def _light_of_row(base, y, decode, left, right, light):
    """Linear light of the straight colours of a row, three lines of `light`."""
    for x in range(left, right):
        light[3, x] = FULL / max(F(base[3, y, x]), ONE)
    for c in range(uintp(3)):
        for x in range(left, right):
            light[c, x] = decode[uintp(np.int32(min(F(base[c, y, x]) * light[3, x] + HALF, FULL)))]


@kernel(void(STORED_IN, FLOATS, TABLE, TABLE, TABLE, STORED, *AREA))
def expose_tile(base, coverage, gain, decode, weight, out, top, bottom, left, right):
    """Multiply linear light by the gain at coverage times weight of the tone, in the layer's own paint.

    Tables: `gain` over 0..1 is 2 ** (stops * t); `decode` over 65536 codes; `weight` over the square root of luminance.
    All are smooth enough for linear interpolation.
    """
    x0, x1 = uintp(left), uintp(right)
    light, factor = np.empty((4, x1), np.float32), np.empty(x1, np.float32)
    for y in range(uintp(top), uintp(bottom)):
        _light_of_row(base, y, decode, x0, x1, light)
        for x in range(x0, x1):
            luminance = min(F(0.2126) * light[0, x] + F(0.7152) * light[1, x] + F(0.0722) * light[2, x], ONE)
            factor[x] = between(gain, coverage[y, x] * between(weight, np.sqrt(luminance)))
        for c in range(uintp(3)):
            for x in range(x0, x1):
                code = _code(light[c, x] * factor[x], base[3, y, x])
                out[c, y, x] = code if coverage[y, x] > ZERO else base[c, y, x]
        for x in range(x0, x1):
            out[3, y, x] = base[3, y, x]


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


@kernel(void(STORED_IN, FLOATS, ONE_F, TABLE, TABLE, STORED, *AREA))
def expose_in_hue(base, coverage, stops, decode, weight, out, top, bottom, left, right):
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
            k = F(2.0) ** (stops * amount * between(weight, np.sqrt(luminance)))
            r, g, b = _limited(r * k, g * k, b * k, luminance * k)
            out[0, y, x] = _code(r, a)
            out[1, y, x] = _code(g, a)
            out[2, y, x] = _code(b, a)


@kernel(void(STORED_IN, FLOATS, TABLE, TABLE, TABLE, FLAG, STORED, *AREA))
def step_tile(base, coverage, decode, value, steps, up, out, top, bottom, left, right):
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
            here = between(value, np.sqrt(luminance))
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
            out[0, y, x] = _code(r, a)
            out[1, y, x] = _code(g, a)
            out[2, y, x] = _code(b, a)


@kernel(void(STORED_IN, FLOATS, TABLE, ONE_F, STORED, *AREA))
def chroma_tile(base, coverage, decode, change, out, top, bottom, left, right):
    """Move colours from (`change` 1) or towards (-1) the grey of their luminance, by the coverage; value stays."""
    x0, x1 = uintp(left), uintp(right)
    light = np.empty((4, x1), np.float32)
    grey, factor = np.empty(x1, np.float32), np.empty(x1, np.float32)
    for y in range(uintp(top), uintp(bottom)):
        _light_of_row(base, y, decode, x0, x1, light)
        for x in range(x0, x1):
            r, g, b = light[0, x], light[1, x], light[2, x]
            middle = min(F(0.2126) * r + F(0.7152) * g + F(0.0722) * b, ONE)
            # No further than to where a channel reaches 0 or 1.
            high, low = max(r, max(g, b)) - middle, middle - min(r, min(g, b))
            to_one, to_zero = (ONE - middle) / max(high, F(1e-6)), middle / max(low, F(1e-6))
            most = min(to_one if high > F(1e-6) else F(2), to_zero if low > F(1e-6) else F(2))
            grey[x], factor[x] = middle, min(ONE + change * coverage[y, x], most)
        for c in range(uintp(3)):
            for x in range(x0, x1):
                code = _code(grey[x] + factor[x] * (light[c, x] - grey[x]), base[3, y, x])
                out[c, y, x] = code if coverage[y, x] > ZERO else base[c, y, x]
        for x in range(x0, x1):
            out[3, y, x] = base[3, y, x]


@kernel(void(STORED_IN, FLOATS, ONE_F, ONE_F, ONE_F, STORED, *AREA))
def glaze_tile(base, coverage, r, g, b, out, top, bottom, left, right):
    """Multiply the paint that is there by a colour, as far as there is coverage; bare places stay bare."""
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            out[3, y, x] = base[3, y, x]
        for c in range(uintp(3)):
            through = ONE - (r if c == 0 else (g if c == 1 else b))
            for x in range(uintp(left), uintp(right)):
                out[c, y, x] = np.uint16(F(base[c, y, x]) * (ONE - coverage[y, x] * through) + HALF)


@kernel(void(STORED_IN, FLOATS, ONE_F, ONE_F, ONE_F, STORED, *AREA))
def scumble_tile(base, coverage, r, g, b, out, top, bottom, left, right):
    """Lay a colour where it is lighter than what is there; over a darkness of a tenth of the scale it comes in."""
    mine = F(0.2126) * r + F(0.7152) * g + F(0.0722) * b
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            a, below = coverage[y, x], F(base[3, y, x])
            if below > ZERO:
                theirs = F(0.2126) * F(base[0, y, x]) + F(0.7152) * F(base[1, y, x]) + F(0.0722) * F(base[2, y, x])
                t = min(max((mine - theirs / below) * F(10), ZERO), ONE)
                a *= t * t * (F(3) - F(2) * t)
            out[3, y, x] = np.uint16(below * (ONE - a) + FULL * a + HALF)
            out[0, y, x] = min(np.uint16(F(base[0, y, x]) * (ONE - a) + r * FULL * a + HALF), out[3, y, x])
            out[1, y, x] = min(np.uint16(F(base[1, y, x]) * (ONE - a) + g * FULL * a + HALF), out[3, y, x])
            out[2, y, x] = min(np.uint16(F(base[2, y, x]) * (ONE - a) + b * FULL * a + HALF), out[3, y, x])


@kernel(void(STORED_IN, FLOATS, PLANES_IN, STORED, *AREA))
def change_tile(base, coverage, other, out, top, bottom, left, right):
    """From `base` to `other`, premultiplied 0..1, as far as there is coverage."""
    for y in range(uintp(top), uintp(bottom)):
        for c in range(uintp(4)):
            channel = uintp(3) - c  # coverage first: no channel may exceed it
            for x in range(uintp(left), uintp(right)):
                old = F(base[channel, y, x])
                fresh = old + (other[channel, y, x] * FULL - old) * coverage[y, x] + HALF
                code = np.uint16(min(max(fresh, ZERO), FULL))
                out[channel, y, x] = code if channel == uintp(3) else min(code, out[3, y, x])


@kernel(void(STORED_IN, PLANES_IN, FLAG, STORED, *AREA))
def hair_tile(base, laid, wipe, out, top, bottom, left, right):
    """Hair over the paint, or wiped out of it: `out` from `base`, both premultiplied codes (4, h, w), and `laid`.

    laid: hair (4 or more, h, w), premultiplied 0..1; its fourth plane is coverage.
    """
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            rest = ONE - laid[3, y, x]
            cover = F(base[3, y, x]) * rest
            if not wipe:
                cover += laid[3, y, x] * FULL
            cover = min(max(cover, ZERO), FULL)
            for c in range(uintp(3)):
                level = F(base[c, y, x]) * rest
                if not wipe:
                    level += laid[c, y, x] * FULL
                out[c, y, x] = np.uint16(min(max(level, ZERO), cover) + HALF)
            out[3, y, x] = np.uint16(cover + HALF)
