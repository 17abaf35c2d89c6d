"""Light studies for demos: simple forms on a table under the painting's light, as values to paint from.

Forms are distance functions, marched on a coarse grid. Lambert's law for the key light, hemispheres for
sky and table bounce, soft shadows and occlusion by marching.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from japanner.color import lab, srgb
from japanner.painting.model import Light

__all__ = ["Form", "LightStudy", "ball", "egg", "render", "tube"]

Points = NDArray[np.float32]
Distance = Callable[[Points], NDArray[np.float32]]

# The viewer looks down on the table by this angle.
CAMERA_DOWN: Final = np.radians(17)
KEY: Final = np.array((1.0, 0.95, 0.86), np.float32) * np.float32(2.5)
SKY: Final = np.array((0.20, 0.235, 0.29), np.float32)
BOUNCE: Final = np.array((0.27, 0.215, 0.165), np.float32)
SHEEN, GLOSS = np.float32(0.10), 18
STEPS, SHADOW_STEPS = 64, 30
FAR: Final = 6.0


@dataclass(frozen=True)
class Form:
    """A named distance function (world units, y up, table at 0) and its surface colour in linear light."""

    name: str
    distance: Distance
    albedo: tuple[float, float, float]


@dataclass(frozen=True, eq=False)
class LightStudy:
    """Grids of shape (h, w): encoded colour, L*, which form (-1 is the table), n.l with its shadow, and (h, w, 3)
    normals as the viewer has them: x right, y up, z out of the picture.
    """

    scale: int
    colour: NDArray[np.float32]
    value: NDArray[np.float32]
    form: NDArray[np.int8]
    lit: NDArray[np.float32]
    normal: NDArray[np.float32]

    def mask(self, index: int) -> NDArray[np.bool_]:
        found: NDArray[np.bool_] = self.form == index
        return found


def ball(x: float, z: float, radius: float) -> Distance:
    """A ball that lies on the table."""
    centre = np.array((x, radius, z), np.float32)
    return lambda p: np.linalg.norm(p - centre, axis=-1) - np.float32(radius)


def egg(x: float, z: float, width: float, height: float, lean: float) -> Distance:
    """An egg, fuller below, leaning by `lean` radians; a scaled ball, so distances are kept short."""
    centre = np.array((x, height * 0.985, z), np.float32)
    c, s = np.float32(np.cos(lean)), np.float32(np.sin(lean))

    def distance(p: Points) -> NDArray[np.float32]:
        q = p - centre
        along = c * q[..., 1] + s * q[..., 0]
        across = c * q[..., 0] - s * q[..., 1]
        taper = np.float32(1) - np.float32(0.20) * along / np.float32(height)
        length = np.sqrt((across / taper / width) ** 2 + (q[..., 2] / taper / width) ** 2 + (along / height) ** 2)
        result: NDArray[np.float32] = (length - 1) * np.float32(width * 0.72)
        return result

    return distance


def tube(x: float, z: float, radius: float, height: float, wall: float) -> Distance:
    """An upright open tube with a rounded rim."""
    lip = np.float32(wall / 2)

    def distance(p: Points) -> NDArray[np.float32]:
        across = np.hypot(p[..., 0] - np.float32(x), p[..., 2] - np.float32(z)) - np.float32(radius) + lip
        up = np.abs(p[..., 1] - np.float32(height / 2)) - np.float32(height / 2) + lip
        side = np.abs(across)
        outside = np.hypot(side, np.maximum(up, 0))
        result: NDArray[np.float32] = outside - lip
        return result

    return distance


def render(
    forms: tuple[Form, ...], table: tuple[float, float, float], light: Light, size: tuple[int, int], scale: int,
    unit_px: float, middle: tuple[float, float],
) -> LightStudy:  # fmt: skip
    """Shade `forms` for a canvas of `size` px at 1 / `scale` of it; `unit_px` px are one world unit.

    `middle` is the canvas point where the world's origin lies.
    """
    scene = _Scene(forms, np.array(light.direction, np.float32))
    width, height = size[0] // scale, size[1] // scale
    ys, xs = np.mgrid[0:height, 0:width].astype(np.float32)
    right = ((xs + 0.5) * scale - middle[0]) / unit_px
    up = (middle[1] - (ys + 0.5) * scale) / unit_px
    down, flat = np.float32(np.sin(CAMERA_DOWN)), np.float32(np.cos(CAMERA_DOWN))
    towards = np.array((0, down, flat), np.float32)
    start = np.stack((right, up * flat, -up * down), axis=-1).astype(np.float32) + 4 * towards
    points, form = scene.march(start.reshape(-1, 3), -towards)
    normal = scene.normal(points)
    colour, lit = scene.shade(points, form, normal, np.array(table, np.float32), towards)
    # Rays that graze an outline meet it anywhere: pixels there take what their neighbours further in have.
    form = form.reshape(height, width)
    colour, lit, normal = (_from_further_in(form, grid.reshape(height, width, -1)) for grid in (colour, lit, normal))
    seen = normal @ np.array(((1, 0, 0), (0, flat, down), (0, -down, flat)), np.float32)
    encoded = srgb.encode(np.clip(_shoulder(colour), 0, 1)).astype(np.float32)
    value = lab.lightness_from_srgb(encoded).astype(np.float32)
    return LightStudy(scale, encoded, value, form, lit[..., 0], seen)


def _from_further_in(form: NDArray[np.int8], grid: NDArray[np.float32]) -> NDArray[np.float32]:
    result = grid.copy()
    for index in np.unique(form):
        mask = form == index
        inner = ndimage.binary_erosion(mask, iterations=2, border_value=1)
        nearest = ndimage.distance_transform_edt(~inner, return_distances=False, return_indices=True)
        edge = mask & ~inner
        result[edge] = grid[tuple(nearest[:, edge])]
    return result


def _shoulder(linear: NDArray[np.float32]) -> NDArray[np.float32]:
    """Compress what is brighter than .6, as film does, so that lights keep their colour."""
    over = np.maximum(linear - np.float32(0.6), 0)
    result: NDArray[np.float32] = np.minimum(linear, np.float32(0.6)) + over / (1 + over * np.float32(1.6))
    return result


class _Scene:
    def __init__(self, forms: tuple[Form, ...], light: NDArray[np.float32]) -> None:
        self.forms, self.light = forms, light

    def distance(self, p: Points) -> NDArray[np.float32]:
        result = p[..., 1]
        for form in self.forms:
            result = np.minimum(result, form.distance(p))
        return result

    def march(self, start: Points, ray: NDArray[np.float32]) -> tuple[Points, NDArray[np.int8]]:
        """Where rays meet the scene, and which form that is (-1: the table)."""
        points = start.copy()
        for _ in range(STEPS):
            points += self.distance(points)[:, None] * ray
        gaps = np.stack([points[:, 1], *(form.distance(points) for form in self.forms)])
        return points, (np.argmin(gaps, axis=0) - 1).astype(np.int8)

    def normal(self, p: Points) -> Points:
        h = np.float32(2e-3)
        steps = np.eye(3, dtype=np.float32) * h
        slope = np.stack([self.distance(p + e) - self.distance(p - e) for e in steps], axis=-1)
        normal: Points = slope / np.maximum(np.linalg.norm(slope, axis=-1, keepdims=True), 1e-9)
        return normal

    def shade(
        self, p: Points, form: NDArray[np.int8], normal: Points, table: NDArray[np.float32], towards: Points
    ) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        """Linear colour, and how much of the key light arrives; `towards` points at the viewer."""
        facing = normal @ self.light
        lit = np.maximum(facing, 0) * self._shadow(p + normal * np.float32(0.012))
        open_ = self._openness(p, normal)
        albedo = np.array([table, *(f.albedo for f in self.forms)], np.float32)[form + 1]
        sky = SKY * ((1 + normal[:, 1]) / 2 * open_)[:, None]
        bounce = BOUNCE * ((1 - normal[:, 1]) / 2 * open_**0.5)[:, None]
        half = (self.light + towards) / np.linalg.norm(self.light + towards)
        # A dull sheen, as of unglazed clay (Blinn 1977); the table has none.
        sheen = np.where(form < 0, 0, SHEEN * np.maximum(normal @ half, 0) ** GLOSS * (lit > 0))
        return albedo * (KEY * lit[:, None] + sky + bounce) + sheen[:, None], lit

    def _shadow(self, p: Points) -> NDArray[np.float32]:
        """Share of a broad light that reaches p: the narrowest cone angle passed on the way to it."""
        share = np.ones(len(p), np.float32)
        travelled = np.full(len(p), 0.02, np.float32)
        for _ in range(SHADOW_STEPS):
            gap = self.distance(p + travelled[:, None] * self.light)
            share = np.minimum(share, np.clip(0.5 + 0.5 * gap / (0.13 * travelled), 0, 1))
            travelled += np.clip(np.abs(gap), 0.025, 0.35)
        smooth: NDArray[np.float32] = share * share * (3 - 2 * share)
        return smooth

    def _openness(self, p: Points, normal: Points) -> NDArray[np.float32]:
        """How much of the sky is free, from five distances along the normal."""
        closed = np.zeros(len(p), np.float32)
        for k, step in enumerate((0.04, 0.10, 0.20, 0.36, 0.6)):
            closed += (step - self.distance(p + normal * np.float32(step))) * np.float32(0.75**k)
        result: NDArray[np.float32] = np.clip(1 - np.float32(1.15) * closed, 0.05, 1)
        return result
