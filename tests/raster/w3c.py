"""The formulas of W3C Compositing and Blending Level 1, written out in plain Python for comparison."""

from __future__ import annotations

import math


def screen(cb, cs):
    return cb + cs - cb * cs


def hard_light(cb, cs):
    return cb * 2 * cs if cs <= 0.5 else screen(cb, 2 * cs - 1)


def color_dodge(cb, cs):
    if cb == 0:
        return 0.0
    return 1.0 if cs == 1 else min(1.0, cb / (1 - cs))


def color_burn(cb, cs):
    if cb == 1:
        return 1.0
    return 0.0 if cs == 0 else 1 - min(1.0, (1 - cb) / cs)


def soft_light(cb, cs):
    if cs <= 0.5:
        return cb - (1 - 2 * cs) * cb * (1 - cb)
    d = ((16 * cb - 12) * cb + 4) * cb if cb <= 0.25 else math.sqrt(cb)
    return cb + (2 * cs - 1) * (d - cb)


SEPARABLE = {
    "Normal": lambda cb, cs: cs,
    "Multiply": lambda cb, cs: cb * cs,
    "Screen": screen,
    "Overlay": lambda cb, cs: hard_light(cs, cb),
    "Darken": min,
    "Lighten": max,
    "Color Dodge": color_dodge,
    "Color Burn": color_burn,
    "Hard Light": hard_light,
    "Soft Light": soft_light,
    "Difference": lambda cb, cs: abs(cb - cs),
    "Exclusion": lambda cb, cs: cb + cs - 2 * cb * cs,
}


def lum(c):
    return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2]


def sat(c):
    return max(c) - min(c)


def clip_color(c):
    level, low, high = lum(c), min(c), max(c)
    if low < 0:
        c = tuple(level + (x - level) * level / (level - low) for x in c)
    if high > 1:
        c = tuple(level + (x - level) * (1 - level) / (high - level) for x in c)
    return c


def set_lum(c, level):
    return clip_color(tuple(x + level - lum(c) for x in c))


def set_sat(c, wanted):
    low, high = min(c), max(c)
    return tuple((x - low) * wanted / (high - low) if high > low else 0.0 for x in c)


NON_SEPARABLE = {
    "Hue": lambda cb, cs: set_lum(set_sat(cs, sat(cb)), lum(cb)),
    "Saturation": lambda cb, cs: set_lum(set_sat(cb, sat(cs)), lum(cb)),
    "Color": lambda cb, cs: set_lum(cs, lum(cb)),
    "Luminosity": lambda cb, cs: set_lum(cb, lum(cs)),
}


def composed(mode, backdrop, source):
    """Premultiplied RGBA of a straight source over a straight backdrop."""
    cb, ab, cs, alpha = backdrop[:3], backdrop[3], source[:3], source[3]
    if mode == "Plus":
        return (*(min(1.0, alpha * s + ab * b) for b, s in zip(cb, cs, strict=True)), min(1.0, alpha + ab))
    if mode in NON_SEPARABLE:
        mixed = NON_SEPARABLE[mode](cb, cs)
    else:
        mixed = [SEPARABLE[mode](b, s) for b, s in zip(cb, cs, strict=True)]
    co = [alpha * (1 - ab) * s + alpha * ab * m + (1 - alpha) * ab * b for b, s, m in zip(cb, cs, mixed, strict=True)]
    return (*co, alpha + ab * (1 - alpha))
