"""Light on the thickness of paint. Areas are rows, then columns, in the tile's own pixels."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import AREA, FLAG, ONE_F, PLANE, PLANES, TABLE, inlined, kernel, void
from japanner.raster._kernels_table import between

F = np.float32
ZERO, HALF, ONE, EIGHTH, FULL = F(0), F(0.5), F(1), F(0.125), F(65535)


@inlined
def _slopes(heights, y, x):
    """The slopes to the right and down at a pixel of the tile; `heights` is a pixel wider all around (Sobel's weights,
    exact on planes).
    """
    left = heights[y, x] + F(2) * heights[y + 1, x] + heights[y + 2, x]
    right = heights[y, x + 2] + F(2) * heights[y + 1, x + 2] + heights[y + 2, x + 2]
    above = heights[y, x] + F(2) * heights[y, x + 1] + heights[y, x + 2]
    below = heights[y + 2, x] + F(2) * heights[y + 2, x + 1] + heights[y + 2, x + 2]
    return (right - left) * EIGHTH, (below - above) * EIGHTH


@inlined
def _lit(encode, decode, value, cover, gain, sheen):
    """A premultiplied encoded value in other light: `gain` times its linear light, and `sheen` on top."""
    code = min(value / cover, ONE) * FULL + HALF
    light = min(max(decode[uintp(np.int32(code))] * gain + sheen, ZERO), ONE)
    return between(encode, np.sqrt(light)) * cover


@kernel(void(PLANES, PLANE, ONE_F, ONE_F, ONE_F, ONE_F, ONE_F, ONE_F, TABLE, TABLE, FLAG, *AREA))
def light_relief(
    acc, heights, light_x, light_y, light_z, ambient, gloss, strength, decode, encode, opaque, top, bottom, left, right
):
    """Light what an accumulator (4, h, w) shows by the slopes of `heights` (h + 2, w + 2), in px.

    Light: a unit vector towards it, x right, y down, z to the viewer. Flat paint stays as it is; else linear light goes
    by Lambert's law (1760) over a share `ambient` of even light, and a gloss is added by Blinn's half-way vector (1977)
    with exponent 32, above what a flat sheet would show of it.
    """
    flat = ambient + (ONE - ambient) * light_z
    half_x, half_y, half_z = light_x, light_y, light_z + ONE
    length = np.sqrt(half_x * half_x + half_y * half_y + half_z * half_z)
    half_x, half_y, half_z = half_x / length, half_y / length, half_z / length
    for y in range(uintp(top), uintp(bottom)):
        for x in range(uintp(left), uintp(right)):
            across, down = _slopes(heights, y, x)
            cover = ONE if opaque else acc[3, y, x]
            if (across == ZERO and down == ZERO) or cover <= ZERO:
                continue
            unit = ONE / np.sqrt(ONE + across * across + down * down)
            towards = max((light_z - across * light_x - down * light_y) * unit, ZERO)
            gain = (ambient + (ONE - ambient) * towards) / flat
            sheen = ZERO
            if gloss > ZERO:
                shine, rest = max((half_z - across * half_x - down * half_y) * unit, ZERO), half_z
                for _ in range(5):
                    shine, rest = shine * shine, rest * rest
                sheen = max(shine - rest, ZERO) * gloss * strength
            gain = ONE + (gain - ONE) * strength
            for c in range(uintp(3)):
                acc[c, y, x] = _lit(encode, decode, acc[c, y, x], cover, gain, sheen)
