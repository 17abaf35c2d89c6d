"""Where light comes from: a key, the sky, the ground, and a rim, as shading takes them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.light import shading

__all__ = ["SURFACES", "Sources", "SurfaceKind", "shaded"]

Planes = NDArray[np.floating]
Colour = tuple[float, float, float]

FRONT: Final = np.array((0.0, 0.0, 1.0))
METAL_MIRRORS: Final = 2.2
"""How much brighter a metal shows its surroundings than their mean, for want of windows in them (our choice)."""


@dataclass(frozen=True)
class Sources:
    """Light as the viewer has it: x right, y up, z towards the viewer.

    key: unit vector to it. key_colour, sky_colour, bounce_colour: linear, of luminance about 1, times their strength.
    key_width: tangent of half of its angular size. rim: linear strength of a white light from behind.
    """

    key: Colour
    key_colour: Colour = (1.0, 1.0, 1.0)
    sky_colour: Colour = (0.1, 0.1, 0.1)
    bounce_colour: Colour = (0.1, 0.1, 0.1)
    key_width: float = 0.0
    rim: float = 0.0


@dataclass(frozen=True)
class SurfaceKind:
    """How a material sends light back: rough: deviation of its facets in radians, for what is diffuse. wrap: how far
    light goes on past the shadow edge, by channel. gloss: GGX alpha of what it mirrors; index: refractive index, 0 for
    a metal, which mirrors in its own colour. clear: share of its diffuse colour that is missing.
    """

    rough: float = 0.35
    wrap: Colour = (0.0, 0.0, 0.0)
    gloss: float = 0.4
    index: float = 1.4
    clear: float = 0.0


SURFACES: Final[dict[str, SurfaceKind]] = {
    "drawing": SurfaceKind(0.5, index=1.0),
    "plain": SurfaceKind(0.4, gloss=0.45),
    "skin": SurfaceKind(0.3, (0.30, 0.12, 0.08), gloss=0.35),
    "hair": SurfaceKind(0.5, gloss=0.28, index=1.55),
    "fur": SurfaceKind(0.7, (0.15, 0.13, 0.12), gloss=0.6, index=1.55),
    "eye": SurfaceKind(0.1, gloss=0.06, index=1.376),
    "metal": SurfaceKind(gloss=0.22, index=0.0),
    "glass": SurfaceKind(gloss=0.05, index=1.5, clear=0.8),
    "cloth": SurfaceKind(0.9, (0.12, 0.12, 0.12), gloss=0.8, index=1.3),
}
"""Materials of parts (our choice of numbers; hair's and the cornea's indices as published)."""


def shaded(
    normal: Planes, albedo: Planes, sources: Sources, kind: SurfaceKind,
    *, lit: Planes | float = 1.0, openness: Planes | float = 1.0,
) -> Planes:  # fmt: skip
    """Linear light (..., 3) from a surface with unit normals (..., 3) and linear albedo (..., 3).

    lit: share of the key that gets there; openness: share of the surroundings that is free, both of the shape of one
    channel.
    """
    key, free = np.asarray(sources.key), np.asarray(openness, float)
    reach = np.asarray(lit, float)
    plain = shading.oren_nayar(normal, key, FRONT, kind.rough)
    diffuse = plain[..., None] * np.ones(3)
    if any(kind.wrap):
        past = shading.wrapped(normal, key, np.array(kind.wrap)) - shading.lambert(normal, key)[..., None]
        diffuse = np.maximum(diffuse + past, 0)
    sky = (shading.sky_share(normal) * free)[..., None] * np.array(sources.sky_colour)
    ground = (shading.ground_share(normal) * np.sqrt(free))[..., None] * np.array(sources.bounce_colour)
    key_colour = np.array(sources.key_colour)
    body = diffuse * reach[..., None] * key_colour + sky + ground
    # A wide light is mirrored as wide (our choice: half of its width adds to the roughness, as deviations do).
    alpha = min(float(np.hypot(kind.gloss, sources.key_width / 2)), 1.0)
    facing = np.maximum((np.asarray(normal) * FRONT).sum(axis=-1), 0)
    if kind.index:
        straight = shading.normal_reflectance(kind.index)
        mirrored = shading.ggx_specular(normal, key, FRONT, alpha, straight)[..., None]
        # Facets of a rough surface hide each other where it turns away.
        edge = shading.fresnel(facing, kind.index)[..., None] * (1 - kind.gloss) ** 2 if kind.index > 1 else np.zeros(1)
        out = albedo * body * (1 - kind.clear) * (1 - edge)
        out = out + edge * _around(normal, sources, kind.gloss) * free[..., None]
    else:
        mirrored = shading.ggx_specular(normal, key, FRONT, alpha, 1.0)[..., None] * albedo
        out = albedo * _around(normal, sources, kind.gloss) * free[..., None] * METAL_MIRRORS
    out = out + mirrored * reach[..., None] * key_colour
    rim = sources.rim * (1 - facing) ** 4 * np.sqrt(free)
    result: Planes = out + rim[..., None]
    return result


def _around(normal: Planes, sources: Sources, gloss: float) -> Planes:
    """What a mirror shows of the sky above, brightest at the horizon, and the ground below; the rougher, the softer."""
    n = np.asarray(normal, float)
    up = 2 * n[..., 2] * n[..., 1]  # of the direction that the viewer's ray is thrown to
    t = np.clip(up / (0.08 + 3 * gloss) + 0.5, 0, 1)
    above = (t * t * (3 - 2 * t))[..., None]
    sky = np.array(sources.sky_colour) * (1.6 - 0.8 * np.clip(up, 0, 1))[..., None]
    ground = np.array(sources.bounce_colour) * (1.0 + 0.4 * np.clip(up, -1, 0))[..., None]
    result: Planes = above * sky + (1 - above) * ground
    return result
