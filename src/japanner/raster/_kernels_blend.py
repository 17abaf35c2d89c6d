"""Blend functions of W3C Compositing and Blending Level 1 and the one kernel that applies them.

Symbols as in the recommendation: Cb, Cs straight backdrop and source colour, ab, sa their coverage.
Accumulators are premultiplied float32 (4, T, T), sources premultiplied uint16 (4, T, T). The loops
run over one channel row at a time, which is what lets them vectorise.
"""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import AREA, FLAG, I64, ONE_F, PLANES, STORED_IN, inlined, kernel, void, woven

F = np.float32
ZERO, HALF, ONE, TWO = F(0), F(0.5), F(1), F(2)
FROM_U16 = F(1 / 65535)


@inlined
def multiply(Cb, Cs):
    return Cb * Cs


@inlined
def screen(Cb, Cs):
    return Cb + Cs - Cb * Cs


@inlined
def hard_light(Cb, Cs):
    low = Cb * (TWO * Cs)
    high = screen(Cb, TWO * Cs - ONE)
    return low if Cs <= HALF else high


@inlined
def overlay(Cb, Cs):
    return hard_light(Cs, Cb)


@inlined
def darken(Cb, Cs):
    return min(Cb, Cs)


@inlined
def lighten(Cb, Cs):
    return max(Cb, Cs)


@inlined
def color_dodge(Cb, Cs):
    # The case Cb = 0 is tested first, as the recommendation has it.
    inside = min(ONE, Cb / max(ONE - Cs, F(1e-12)))
    return ZERO if Cb <= ZERO else (ONE if Cs >= ONE else inside)


@inlined
def color_burn(Cb, Cs):
    inside = ONE - min(ONE, (ONE - Cb) / max(Cs, F(1e-12)))
    return ONE if Cb >= ONE else (ZERO if Cs <= ZERO else inside)


@inlined
def soft_light(Cb, Cs):
    low = Cb - (ONE - TWO * Cs) * Cb * (ONE - Cb)
    curve = ((F(16) * Cb - F(12)) * Cb + F(4)) * Cb
    D = curve if Cb <= F(0.25) else np.sqrt(max(Cb, ZERO))
    return low if Cs <= HALF else Cb + (TWO * Cs - ONE) * (D - Cb)


@inlined
def difference(Cb, Cs):
    return abs(Cb - Cs)


@inlined
def exclusion(Cb, Cs):
    return Cb + Cs - TWO * Cb * Cs


@woven
def _lum(r, g, b):
    return F(0.3) * r + F(0.59) * g + F(0.11) * b


@woven
def _sat(r, g, b):
    return max(r, max(g, b)) - min(r, min(g, b))


@woven
def _set_lum(r, g, b, wanted):
    d = wanted - _lum(r, g, b)
    r, g, b = r + d, g + d, b + d
    n, x = min(r, min(g, b)), max(r, max(g, b))
    if n < ZERO:
        k = wanted / (wanted - n)
        r, g, b = wanted + (r - wanted) * k, wanted + (g - wanted) * k, wanted + (b - wanted) * k
    if x > ONE:
        k = (ONE - wanted) / (x - wanted)
        r, g, b = wanted + (r - wanted) * k, wanted + (g - wanted) * k, wanted + (b - wanted) * k
    return r, g, b


@woven
def _set_sat(r, g, b, wanted):
    low = min(r, min(g, b))
    spread = max(r, max(g, b)) - low
    k = wanted / max(spread, F(1e-12))  # where there is no spread, it has nothing to act on
    return (r - low) * k, (g - low) * k, (b - low) * k


@woven
def hue(br, bg, bb, sr, sg, sb):
    r, g, b = _set_sat(sr, sg, sb, _sat(br, bg, bb))
    return _set_lum(r, g, b, _lum(br, bg, bb))


@woven
def saturation(br, bg, bb, sr, sg, sb):
    r, g, b = _set_sat(br, bg, bb, _sat(sr, sg, sb))
    return _set_lum(r, g, b, _lum(br, bg, bb))


@woven
def color(br, bg, bb, sr, sg, sb):
    return _set_lum(sr, sg, sb, _lum(br, bg, bb))


@woven
def luminosity(br, bg, bb, sr, sg, sb):
    return _set_lum(br, bg, bb, _lum(sr, sg, sb))


# What follows makes one function per mode that goes through a whole area: calls between numba functions hand
# arrays over piece by piece, which is dear per row and nothing per area. Indices are unsigned, for numba then
# drops its test for negative ones, which would keep the loops scalar.


@inlined
def normal_area(acc, src, unit, own, opaque, y0, y1, x0, x1):
    """Normal: no straight colours, hence no divisions, for the mode that is used most."""
    for y in range(y0, y1):
        if opaque:
            for c in range(uintp(3)):
                for x in range(x0, x1):
                    acc[c, y, x] = F(src[c, y, x]) * unit + (ONE - F(src[3, y, x]) * unit) * acc[c, y, x]
        elif own == ZERO:
            for c in range(uintp(3)):
                for x in range(x0, x1):
                    s, b = F(src[c, y, x]) * unit * acc[3, y, x], acc[c, y, x]
                    acc[c, y, x] = s + (ONE - F(src[3, y, x]) * unit) * b
        else:
            for c in range(uintp(4)):
                for x in range(x0, x1):
                    acc[c, y, x] = F(src[c, y, x]) * unit + (ONE - F(src[3, y, x]) * unit) * acc[c, y, x]


@inlined
def plus_area(acc, src, unit, own, opaque, y0, y1, x0, x1):
    for y in range(y0, y1):
        if own == ZERO:
            for c in range(uintp(3)):
                for x in range(x0, x1):
                    ab = acc[3, y, x]
                    acc[c, y, x] = min(ab, acc[c, y, x] + F(src[c, y, x]) * unit * ab)
        else:
            for c in range(uintp(4)):
                for x in range(x0, x1):
                    acc[c, y, x] = min(ONE, acc[c, y, x] + F(src[c, y, x]) * unit)


def _separable(blend):
    """A separable mode: co = sa(1-ab)Cs + sa ab B(Cb, Cs) + (1-sa) ab Cb.

    *Atop* (`own` is 0) takes the backdrop as opaque and keeps its coverage: the first term falls away. Where
    the backdrop is opaque, co = Cb + sa (B(Cb, Cs) - Cb).
    """

    @inlined
    def on_opaque(acc, src, unit, y0, y1, x0, x1):
        sa, over_s = np.empty(x1, np.float32), np.empty(x1, np.float32)
        for y in range(y0, y1):
            for x in range(x0, x1):
                raw = F(src[3, y, x])
                sa[x], over_s[x] = raw * unit, ONE / max(raw, ONE)
            for c in range(uintp(3)):
                for x in range(x0, x1):
                    b = acc[c, y, x]
                    acc[c, y, x] = b + sa[x] * (blend(min(ONE, b), F(src[c, y, x]) * over_s[x]) - b)

    @inlined
    def on_group(acc, src, unit, own, y0, y1, x0, x1):
        sa, ab = np.empty(x1, np.float32), np.empty(x1, np.float32)
        over_s, over_b = np.empty(x1, np.float32), np.empty(x1, np.float32)
        for y in range(y0, y1):
            for x in range(x0, x1):
                raw, backdrop = F(src[3, y, x]), acc[3, y, x]
                sa[x], ab[x] = raw * unit, backdrop
                over_s[x] = ONE / max(raw, ONE)
                over_b[x] = ONE / backdrop if backdrop > ZERO else ZERO
            for c in range(uintp(3)):
                for x in range(x0, x1):
                    b = acc[c, y, x]
                    Cs, Cb = F(src[c, y, x]) * over_s[x], min(ONE, b * over_b[x])
                    source = own * (sa[x] * (ONE - ab[x])) * Cs
                    acc[c, y, x] = source + (sa[x] * ab[x]) * blend(Cb, Cs) + (ONE - sa[x]) * b
            for x in range(x0, x1):
                acc[3, y, x] = ab[x] + own * sa[x] * (ONE - ab[x])

    @inlined
    def area(acc, src, unit, own, opaque, y0, y1, x0, x1):
        if opaque:
            on_opaque(acc, src, unit, y0, y1, x0, x1)
        else:
            on_group(acc, src, unit, own, y0, y1, x0, x1)

    return area


def _non_separable(blend):
    """A non-separable mode, by the same formula, all three channels at once."""

    @inlined
    def area(acc, src, unit, own, opaque, y0, y1, x0, x1):
        for y in range(y0, y1):
            for x in range(x0, x1):
                raw, ab = F(src[3, y, x]), acc[3, y, x]
                sa, k = raw * unit, ONE / max(raw, ONE)
                j = ONE / ab if ab > ZERO else ZERO
                r, g, b = acc[0, y, x], acc[1, y, x], acc[2, y, x]
                Sr, Sg, Sb = F(src[0, y, x]) * k, F(src[1, y, x]) * k, F(src[2, y, x]) * k
                R, G, B = blend(min(ONE, r * j), min(ONE, g * j), min(ONE, b * j), Sr, Sg, Sb)
                ws, wm, wb = own * sa * (ONE - ab), sa * ab, ONE - sa
                acc[0, y, x] = ws * Sr + wm * R + wb * r
                acc[1, y, x] = ws * Sg + wm * G + wb * g
                acc[2, y, x] = ws * Sb + wm * B + wb * b
                acc[3, y, x] = ab + own * sa * (ONE - ab)

    return area


multiply_area = _separable(multiply)
screen_area = _separable(screen)
overlay_area = _separable(overlay)
darken_area = _separable(darken)
lighten_area = _separable(lighten)
color_dodge_area = _separable(color_dodge)
color_burn_area = _separable(color_burn)
hard_light_area = _separable(hard_light)
soft_light_area = _separable(soft_light)
difference_area = _separable(difference)
exclusion_area = _separable(exclusion)
hue_area = _non_separable(hue)
saturation_area = _non_separable(saturation)
color_area = _non_separable(color)
luminosity_area = _non_separable(luminosity)


@kernel(void(I64, PLANES, STORED_IN, ONE_F, FLAG, FLAG, *AREA))
def blend_tile(mode, acc, src, strength, atop, opaque, top, bottom, left, right):
    """Blend rows top..bottom, columns left..right of `src` into `acc`; `mode` is the index in the blend table.

    `opaque`: all of `acc` has coverage 1, and keeps it.
    """
    unit, own = strength * FROM_U16, ZERO if atop else ONE
    y0, y1, x0, x1 = uintp(top), uintp(bottom), uintp(left), uintp(right)
    # Written out: a table of functions is compiled over and over, once per function that calls it.
    if mode == 0:
        normal_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 1:
        multiply_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 2:
        screen_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 3:
        overlay_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 4:
        darken_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 5:
        lighten_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 6:
        color_dodge_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 7:
        color_burn_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 8:
        hard_light_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 9:
        soft_light_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 10:
        difference_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 11:
        exclusion_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 12:
        hue_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 13:
        saturation_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 14:
        color_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 15:
        luminosity_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
    elif mode == 16:
        plus_area(acc, src, unit, own, opaque, y0, y1, x0, x1)
