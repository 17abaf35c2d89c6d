"""Where light comes from: a key, the sky, the ground, and a rim, as shading takes them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner.light import _kernels_shade as kernels
from japanner.raster.parallel import each
from japanner.types import Colour

__all__ = ["SURFACES", "Sources", "SurfaceKind", "shaded", "shaded_planes"]

Planes = NDArray[np.floating]


@dataclass(frozen=True)
class Sources:
    """Light as the viewer has it: x right, y up, z towards the viewer.

    key: unit vector to it. key_colour, sky_colour, bounce_colour: linear, of luminance about 1, times their strength.
    key_width: tangent of half of its angular size. rim: unit vector to a light from behind, rim_colour as the key's,
    rim_deg: its angular size.
    """

    key: Colour
    key_colour: Colour = (1.0, 1.0, 1.0)
    sky_colour: Colour = (0.1, 0.1, 0.1)
    bounce_colour: Colour = (0.1, 0.1, 0.1)
    key_width: float = 0.0
    rim: Colour = (0.0, 0.0, -1.0)
    rim_colour: Colour = (0.0, 0.0, 0.0)
    rim_deg: float = 60.0

    def table(self) -> NDArray[np.float32]:
        """As the kernel takes it."""
        colours = (*self.key_colour, *self.sky_colour, *self.bounce_colour)
        return np.array((*self.key, *colours, self.key_width), np.float32)

    def on_rims(self, normal: Planes) -> Planes:
        """What comes of the rim light to normals (3, h, w) of a form that bulges everywhere: linear light (3, h, w)."""
        half = np.sin(np.radians(self.rim_deg) / 2)
        facing = np.einsum("i,ihw->hw", np.asarray(self.rim, np.float32), normal)
        share = np.clip((facing + half) / (1 + half), 0, 1) ** 2
        result: Planes = np.asarray(self.rim_colour, np.float32)[:, None, None] * share
        return result


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

    def row(self, albedo: ArrayLike) -> tuple[float, ...]:
        """With a linear albedo, as the kernel takes it."""
        s2 = self.rough * self.rough
        oren_nayar = 1 - 0.5 * s2 / (s2 + 0.33), 0.45 * s2 / (s2 + 0.09)
        colour = (float(v) for v in np.asarray(albedo, float))
        return (*colour, *oren_nayar, *self.wrap, self.gloss, self.index, self.clear)


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
    """Linear light (..., 3) from a surface with unit normals (..., 3) and one linear albedo (3,).

    lit: share of the key that gets there; openness: share of the surroundings that is free, both of the shape of one
    channel.
    """
    shape = np.shape(normal)[:-1]
    planes = np.ascontiguousarray(np.moveaxis(np.reshape(normal, (1, -1, 3)), -1, 0), np.float32)
    size = planes.shape[1:]
    reach, free = (
        np.ascontiguousarray(np.broadcast_to(np.ravel(one), size[1:])[None], np.float32) for one in (lit, openness)
    )
    extra = sources.on_rims(planes) if any(sources.rim_colour) else None
    linear = shaded_planes(planes, np.zeros(size, np.int32), (kind.row(albedo),), sources, reach, free, extra)
    result: Planes = np.moveaxis(linear, 0, -1).reshape(*shape, 3)
    return result


def shaded_planes(
    normal: Planes, kind: NDArray[np.int32], surfaces: tuple[tuple[float, ...], ...], sources: Sources,
    lit: Planes, openness: Planes, extra: Planes | None = None,
) -> NDArray[np.float32]:  # fmt: skip
    """Linear light (3, h, w) from many surfaces at once.

    normal: (3, h, w) float32. kind: (h, w), index of the surface that is seen, -1 for nothing; surfaces: their rows
    (`SurfaceKind.row`). lit, openness: (h, w) float32. extra: linear light (3, h, w) from elsewhere, as from a rim
    light or from neighbours.
    """
    out = np.empty_like(normal, np.float32)
    rows, lights = np.array(surfaces, np.float32).reshape(-1, kernels.SURFACE_COLUMNS), sources.table()
    more = np.empty((3, 0, 0), np.float32) if extra is None else np.ascontiguousarray(extra, np.float32)
    height = kind.shape[0]
    step = max(height // 16, 1)

    def band(top: int) -> None:
        kernels.shade(rows, lights, kind, normal, lit, openness, more, out, top, min(top + step, height))

    each(range(0, height, step), band, worth_it=2)
    return out
