"""Shading what is seen: the models of `japanner.light.shading` in one pass over the pixels."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import FLOATS, I64, LABELS_IN, PLANE_IN, PLANES, PLANES_IN, TABLE, inlined, kernel, void

F = np.float32
ZERO, HALF, ONE, TWO, PI = F(0), F(0.5), F(1), F(2), F(np.pi)
# Columns of a surface's row: what it is made of.
ALBEDO, ROUGH, ROUGH_TURNED, WRAP, GLOSS, INDEX, CLEAR = 0, 3, 4, 5, 8, 9, 10
SURFACE_COLUMNS = 11
# Of the light's table.
KEY, KEY_COLOUR, SKY, BOUNCE, KEY_WIDTH = 0, 3, 6, 9, 12
LIGHT_COLUMNS = 13
METAL_MIRRORS = F(2.2)
SHEEN = F(0.6)


@inlined
def _fresnel(c, index):
    inside = np.sqrt(max(ONE - (ONE - c * c) / (index * index), ZERO))
    across = (c - index * inside) / (c + index * inside)
    along = (inside - index * c) / (inside + index * c)
    return (across * across + along * along) * HALF


@inlined
def _oren_nayar(nx, ny, nz, light, a, b):
    """What takes the place of the cosine on a rough surface, seen from the front (Oren & Nayar 1994)."""
    to_light, to_view = nx * light[0] + ny * light[1] + nz * light[2], nz
    if to_light <= ZERO:
        return ZERO
    lx, ly, lz = light[0] - to_light * nx, light[1] - to_light * ny, light[2] - to_light * nz
    vx, vy, vz = -to_view * nx, -to_view * ny, ONE - to_view * nz
    sin_l, sin_v = np.sqrt(lx * lx + ly * ly + lz * lz), np.sqrt(vx * vx + vy * vy + vz * vz)
    turned = max((lx * vx + ly * vy + lz * vz) / max(sin_l * sin_v, F(1e-9)), ZERO)
    # The greater angle's sine, and the smaller one's tangent.
    if to_light < to_view:
        steep, flat = sin_l, sin_v / max(to_view, F(0.02))
    else:
        steep, flat = sin_v, sin_l / max(to_light, F(0.02))
    return to_light * (a + b * turned * steep * flat)


@inlined
def _highlight(nx, ny, nz, light, alpha):
    """GGX facets and how they hide each other (Walter et al. 2007), without the share that they mirror; and the cosine
    that this share goes by.
    """
    hx, hy, hz = light[0], light[1], light[2] + ONE
    length = max(np.sqrt(hx * hx + hy * hy + hz * hz), F(1e-6))
    c = max((nx * hx + ny * hy + nz * hz) / length, ZERO)
    to_light = nx * light[0] + ny * light[1] + nz * light[2]
    if to_light <= ZERO:
        return ZERO, ONE
    to_view, a2 = max(nz, F(1e-4)), alpha * alpha
    d = c * c * (a2 - ONE) + ONE
    facets = a2 / (PI * d * d)
    gl, gv = min(to_light, ONE), min(to_view, ONE)
    hidden = TWO / (ONE + np.sqrt(ONE + a2 * (ONE - gl * gl) / (gl * gl)))
    hidden *= TWO / (ONE + np.sqrt(ONE + a2 * (ONE - gv * gv) / (gv * gv)))
    return facets * hidden / (F(4) * to_view), hz / length


@kernel(void(FLOATS, TABLE, LABELS_IN, PLANES_IN, PLANE_IN, PLANE_IN, PLANES_IN, PLANES, I64, I64))
def shade(surfaces, lights, kind, normal, lit, openness, extra, out, top, bottom):
    """Rows top..bottom of the linear light (3, h, w) that what is seen sends to the viewer.

    surfaces (n, SURFACE_COLUMNS), lights (LIGHT_COLUMNS,): see the columns above. kind (h, w): a surface's row, -1 for
    nothing; normal (3, h, w); lit, openness (h, w) 0..1; extra (3, h, w)
    or empty: light from elsewhere.
    """
    key = lights[KEY : KEY + 3]
    for j in range(uintp(top), uintp(bottom)):
        for i in range(uintp(kind.shape[1])):
            s = kind[j, i]
            if s < 0:
                out[0, j, i] = out[1, j, i] = out[2, j, i] = ZERO
                continue
            nx, ny, nz = normal[0, j, i], normal[1, j, i], normal[2, j, i]
            reach, free = lit[j, i], openness[j, i]
            cosine = nx * key[0] + ny * key[1] + nz * key[2]
            plain = _oren_nayar(nx, ny, nz, key, surfaces[s, ROUGH], surfaces[s, ROUGH_TURNED])
            gloss, index, clear = surfaces[s, GLOSS], surfaces[s, INDEX], surfaces[s, CLEAR]
            # A wide light is mirrored as wide (our choice: half of its width adds to the roughness, as deviations do).
            half_width = lights[KEY_WIDTH] * HALF
            alpha = min(np.sqrt(gloss * gloss + half_width * half_width), ONE)
            spread, by = _highlight(nx, ny, nz, key, alpha)
            facing, open_root = max(nz, ZERO), np.sqrt(free)
            grazing = (ONE - facing) ** 4
            # What a mirror shows of the sky above, brightest at the horizon, and the ground below; the rougher, the
            # softer the line between them.
            up = TWO * nz * ny
            t = min(max(up / (F(0.08) + F(3) * gloss) + HALF, ZERO), ONE)
            above = t * t * (F(3) - TWO * t)
            bright, dim = F(1.6) - F(0.8) * min(max(up, ZERO), ONE), ONE + F(0.4) * min(max(up, -ONE), ZERO)
            edge = _fresnel(facing, index) * (ONE - gloss) ** 3 if index > ONE else ZERO
            grows = (ONE - by) ** 5
            straight = ((index - ONE) / (index + ONE)) ** 2
            for k in range(3):
                albedo, wrap = surfaces[s, ALBEDO + k], surfaces[s, WRAP + k]
                body = plain * reach
                if wrap > ZERO:
                    # Light that has entered goes on past the edge, as far as the form turns there.
                    past = max(cosine + wrap, ZERO) / ((ONE + wrap) * (ONE + wrap)) - max(cosine, ZERO)
                    body += past * (reach if past < ZERO else max(reach, open_root * (ONE - max(cosine, ZERO))))
                body = max(body, ZERO) * lights[KEY_COLOUR + k]
                body += (ONE + ny) * HALF * free * lights[SKY + k] + (ONE - ny) * HALF * open_root * lights[BOUNCE + k]
                around = above * bright * lights[SKY + k] + (ONE - above) * dim * lights[BOUNCE + k]
                if index > ZERO:
                    mirrored = spread * (straight + (ONE - straight) * grows)
                    seen = albedo * body * (ONE - clear) * (ONE - edge) + edge * around * free
                else:
                    mirrored = spread * albedo
                    seen = albedo * around * free * METAL_MIRRORS
                out[k, j, i] = seen + mirrored * reach * lights[KEY_COLOUR + k]
                if extra.shape[1] > 0:
                    # It is sent back as other light is, and mirrored where the surface turns away.
                    share = albedo * (ONE - clear) if index > ZERO else albedo
                    out[k, j, i] += extra[k, j, i] * (share + (ONE - share) * SHEEN * grazing)
