"""Between encoded colours and the spaces that paint mixes in; all colours premultiplied, the last plane coverage.

light: linear RGB. perceptual: OKLab. pigment: K in twelve bands, S, and what those cannot hold of linear RGB. Sums in
such a space are mixtures. Formulas and sources: `japanner.color.oklab`, `japanner.color.pigment`.
"""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import AREA, FLOATS, I64, ONE_F, PLANES, PLANES_IN, STORED, STORED_IN, TABLE, inlined, kernel, void

F = np.float32
ZERO, HALF, ONE, FULL = F(0), F(0.5), F(1), F(65535)
LIGHT, PERCEPTUAL = 1, 2
BANDS = 12
LOWEST, SCATTER = F(0.01), F(0.1)
THIRD = F(1 / 3)


@inlined
def _into(model, r, g, b, decode, paints, sums, out):
    """The place of a straight encoded colour in a space, into out (planes - 1)."""
    r = decode[uintp(np.int32(min(max(r, ZERO), ONE) * FULL + HALF))]
    g = decode[uintp(np.int32(min(max(g, ZERO), ONE) * FULL + HALF))]
    b = decode[uintp(np.int32(min(max(b, ZERO), ONE) * FULL + HALF))]
    if model == LIGHT:
        out[0], out[1], out[2] = r, g, b
    elif model == PERCEPTUAL:
        lo = (F(0.4122214708) * r + F(0.5363325363) * g + F(0.0514459929) * b) ** THIRD
        me = (F(0.2119034982) * r + F(0.6806995451) * g + F(0.1073969566) * b) ** THIRD
        sh = (F(0.0883024619) * r + F(0.2817188376) * g + F(0.6299787005) * b) ** THIRD
        out[0] = F(0.2104542553) * lo + F(0.7936177850) * me - F(0.0040720468) * sh
        out[1] = F(1.9779984951) * lo - F(2.4285922050) * me + F(0.4505937099) * sh
        out[2] = F(0.0259040371) * lo + F(0.7827717662) * me - F(0.8086757660) * sh
    else:
        s = SCATTER + F(0.2126) * r + F(0.7152) * g + F(0.0722) * b
        out[BANDS], out[BANDS + 1], out[BANDS + 2], out[BANDS + 3] = s, r, g, b
        for i in range(BANDS):
            reflected = max(r * paints[0, i] + g * paints[1, i] + b * paints[2, i], LOWEST)
            out[i] = s * (ONE - reflected) * (ONE - reflected) / (F(2) * reflected)
            for c in range(3):
                out[BANDS + 1 + c] -= sums[c, i] * reflected


@inlined
def _code(encode, light):
    """Encoded 0..1 of linear light; the table is over its square root."""
    scaled = np.sqrt(min(max(light, ZERO), ONE)) * F(encode.size - 1)
    index = uintp(np.int32(scaled))
    high = encode[min(index + uintp(1), uintp(encode.size - 1))]
    return encode[index] + (high - encode[index]) * (scaled - F(np.int32(scaled)))


@inlined
def _back(model, place, encode, sums):
    """The straight encoded colour at a place."""
    if model == LIGHT:
        r, g, b = place[0], place[1], place[2]
    elif model == PERCEPTUAL:
        lo = place[0] + F(0.3963377774) * place[1] + F(0.2158037573) * place[2]
        me = place[0] - F(0.1055613458) * place[1] - F(0.0638541728) * place[2]
        sh = place[0] - F(0.0894841775) * place[1] - F(1.2914855480) * place[2]
        lo, me, sh = lo * lo * lo, me * me * me, sh * sh * sh
        r = F(4.0767416621) * lo - F(3.3077115913) * me + F(0.2309699292) * sh
        g = F(-1.2684380046) * lo + F(2.6097574011) * me - F(0.3413193965) * sh
        b = F(-0.0041960863) * lo - F(0.7034186147) * me + F(1.7076147010) * sh
    else:
        s = max(place[BANDS], F(1e-6))
        r, g, b = place[BANDS + 1], place[BANDS + 2], place[BANDS + 3]
        for i in range(BANDS):
            q = max(place[i] / s, ZERO)
            reflected = ONE + q - np.sqrt(q * q + F(2) * q)
            r += sums[0, i] * reflected
            g += sums[1, i] * reflected
            b += sums[2, i] * reflected
    return _code(encode, r), _code(encode, g), _code(encode, b)


@kernel(void(I64, PLANES_IN, TABLE, FLOATS, FLOATS, PLANES))
def into_space(model, pixels, decode, paints, sums, out):
    """From premultiplied encoded pixels (4, h, w) to planes (p, h, w) of the space."""
    planes = out.shape[0]
    place = np.empty(planes, np.float32)
    for y in range(uintp(out.shape[1])):
        for x in range(uintp(out.shape[2])):
            a = pixels[3, y, x]
            out[planes - 1, y, x] = a
            if a <= ZERO:
                for c in range(planes - 1):
                    out[c, y, x] = ZERO
                continue
            _into(model, pixels[0, y, x] / a, pixels[1, y, x] / a, pixels[2, y, x] / a, decode, paints, sums, place)
            for c in range(planes - 1):
                out[c, y, x] = place[c] * a


@kernel(void(I64, PLANES_IN, TABLE, FLOATS, PLANES, *AREA))
def from_space(model, planes, encode, sums, out, top, bottom, left, right):
    """Back to premultiplied encoded pixels (4, h, w), in an area."""
    last = planes.shape[0] - 1
    place = np.empty(last, np.float32)
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            a = min(planes[last, y, x], ONE)
            out[3, y, x] = a
            if a <= F(1e-6):
                out[0, y, x] = out[1, y, x] = out[2, y, x] = ZERO
                continue
            for c in range(last):
                place[c] = planes[c, y, x] / a
            r, g, b = _back(model, place, encode, sums)
            out[0, y, x], out[1, y, x], out[2, y, x] = r * a, g * a, b * a


@kernel(void(I64, STORED_IN, FLOATS, PLANES_IN, ONE_F, ONE_F, ONE_F, TABLE, TABLE, FLOATS, FLOATS, STORED, *AREA))
def lay_mixed(model, base, coverage, colours, r, g, b, decode, encode, paints, sums, out, top, bottom, left, right):
    """Lay a colour, or the `colours` (3, h, w) that came in, over `base` where there is coverage, mixing in a space.

    model 0 mixes encoded values.
    """
    coloured = colours.shape[1] > 0
    size = 3 if model <= PERCEPTUAL else BANDS + 4
    mine, theirs = np.empty(size, np.float32), np.empty(size, np.float32)
    if model > 0:
        _into(model, r, g, b, decode, paints, sums, mine)
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            a = coverage[y, x]
            for c in range(uintp(4)):
                out[c, y, x] = base[c, y, x]
            if a <= ZERO:
                continue
            if coloured:
                r, g, b = colours[0, y, x], colours[1, y, x], colours[2, y, x]
                if model > 0:
                    _into(model, r, g, b, decode, paints, sums, mine)
            below = F(base[3, y, x]) / FULL
            whole = below * (ONE - a) + a
            share = a / whole
            unit = ONE / max(F(base[3, y, x]), ONE)
            u, v, w = F(base[0, y, x]) * unit, F(base[1, y, x]) * unit, F(base[2, y, x]) * unit
            if base[3, y, x] == 0 or share >= ONE:
                mr, mg, mb = r, g, b
            elif model == 0:
                mr, mg, mb = u + (r - u) * share, v + (g - v) * share, w + (b - w) * share
            else:
                _into(model, u, v, w, decode, paints, sums, theirs)
                for c in range(size):
                    theirs[c] += (mine[c] - theirs[c]) * share
                mr, mg, mb = _back(model, theirs, encode, sums)
            code = np.uint16(whole * FULL + HALF)
            out[3, y, x] = code
            out[0, y, x] = np.uint16(min(max(mr, ZERO), ONE) * F(code) + HALF)
            out[1, y, x] = np.uint16(min(max(mg, ZERO), ONE) * F(code) + HALF)
            out[2, y, x] = np.uint16(min(max(mb, ZERO), ONE) * F(code) + HALF)


@kernel(void(STORED, STORED_IN, *AREA))
def keep_untouched(codes, base, top, bottom, left, right):
    """Where codes (4, h, w) are no more than one off those of base in an area, they are base's: so much a colour may be
    off that goes into a space and back.
    """
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            same = True
            for c in range(uintp(4)):
                off = np.int32(codes[c, y, x]) - np.int32(base[c, y, x])
                same = same and -1 <= off <= 1
            if same:
                for c in range(uintp(4)):
                    codes[c, y, x] = base[c, y, x]
