"""What a clear thing does to the floor that it stands on: its coloured shadow, and the light that it gathers there."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.light.clear import Passage, caustic
from japanner.painting.makers.base import Plane, Scene, Sheet, encoded, filled, fractal, whitened
from japanner.raster.geometry import Rect

__all__ = ["on_the_floor"]

SLANT: Final = 0.30
"""How deep the floor looks for its depth: it is seen from a little above."""
LOWEST_DEG: Final = 18.0
"""A light over the canvas's own plane stands so high over the floor at least."""


def on_the_floor(
    scene: Scene, passage: Passage, rho: NDArray[np.floating], clear: Plane, strength: float
) -> list[Sheet]:
    """Shadow and caustic on a floor below the form, as a ball of its width throws them; nothing under a light from
    below.

    passage, rho: see `caustic`; clear: share of light (3,) that a way of one radius leaves.
    """
    x, y, z = (float(one) for one in scene.light)
    if y < 0.05:
        return []
    high = max(float(np.degrees(np.arctan2(y, np.hypot(x, z)))), LOWEST_DEG)
    form = scene.form
    radius = form.cover.shape[1] / 2
    middle = (form.area.x0 + form.area.x1) / 2, form.area.y1 - 0.16 * SLANT * radius
    way = np.array((-x, -z)) / max(np.hypot(x, z), 1e-6)  # on the floor: right, and away from the viewer
    reach = 3.2
    size = np.array((reach + 1.5, (reach + 1.5) * SLANT + 1.0)) * radius
    area = Rect(int(middle[0] - size[0]), int(middle[1] - size[1]), int(middle[0] + size[0]), int(middle[1] + size[1]))
    area = area.intersected(scene.painting.rect)
    if area.empty:
        return []
    # It is soft: every few px will do.
    apart = max(int(0.008 * radius), 1)
    size_px = -(-area.height // apart), -(-area.width // apart)
    # Where on the floor, in radii, each of them is: along the light's way, and aside.
    xs, ys = ((np.arange(count, dtype=np.float32) + 0.5) * apart for count in size_px[::-1])
    right, away = (area.x0 + xs[None] - middle[0]) / radius, (middle[1] - area.y0 - ys[:, None]) / (radius * SLANT)
    along, aside = right * way[0] + away * way[1], away * way[0] - right * way[1]
    few, step = (220, 0.05) if scene.sketch else (700, 0.02)
    found = caustic(passage, rho, high, clear=clear, reach=reach, rays=few, step=step)
    corner = found.top, found.left, found.step
    light = np.stack([_laid(one, *corner, along, aside, 1.2) for one in found.gathered])
    shade = _laid(found.shade, *corner, along, aside, 2.5)
    if not shade.any():
        return []
    # A floor is not quite even: light gathers in threads.
    noise = 1 + 0.10 * fractal(scene.chance("floor"), size_px, radius * 0.12 / apart, 3)
    fades = np.clip(1.25 - np.clip(along, 0, None) / reach, 0, 1)
    floor = np.clip(srgb.decode(np.asarray(scene.painting.ground, float)), 0.04, 1).astype(np.float32)[:, None, None]
    bright = encoded(whitened(light * noise * fades * floor * 2.2 * strength))

    def whole(plane: Plane) -> Plane:
        fine: Plane = cv2.resize(plane, None, fx=apart, fy=apart, interpolation=cv2.INTER_LINEAR)
        return fine[: area.height, : area.width]

    cover = whole(np.ascontiguousarray(0.6 * shade * fades, np.float32))
    shadow = Sheet("Cast shadow", "shadow", area, filled(cover.shape, (0, 0, 0)), cover, place="behind",
                   mode="Multiply", strength=0.85)  # fmt: skip
    paint = np.stack([whole(np.ascontiguousarray(one)) for one in bright])
    gathered = Sheet("Caustic", "glow", area, paint, np.ones_like(cover), place="behind", mode="Screen")
    return [shadow, gathered]


def _laid(grid: NDArray[np.floating], top: float, left: float, step: float, along: Plane, aside: Plane,
          soft: float) -> Plane:  # fmt: skip
    """A grid over the floor, looked up at places of it; 0 beyond."""
    even = cv2.GaussianBlur(grid.astype(np.float32), (0, 0), soft)
    at = ((aside - left) / step - 0.5).astype(np.float32), ((along - top) / step - 0.5).astype(np.float32)
    found: Plane = cv2.remap(even, *at, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=0)
    return found
