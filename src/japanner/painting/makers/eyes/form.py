"""An eye in millimetres: the opening between the lids, the ball, the cornea, and the iris as it is seen through it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.light import optics

__all__ = ["EyeForm", "eye_form", "opening"]

Plane = NDArray[np.float32]
MM = optics.CORNEA
STEEPEST, WIDER = 0.75, 1.08
"""Of the ball's radius, a cornea's at least; of the iris's, at any rate."""


@dataclass(frozen=True, eq=False)
class EyeForm:
    """Planes (h, w) over an area, y up, millimetres.

    x, y: from the middle of the eye. normal (3, h, w): of the ball, and of the cornea where it is. cornea: 1 where it
    is, soft at its border. u, v: where on the iris the eye is looked into, in iris radii, seen through the cornea.
    glow: light on the iris there, relative to what falls on it straight. above, below: distance to the upper and lower
    lid.
    """

    x: Plane
    y: Plane
    normal: Plane
    corneal: Plane
    cornea: Plane
    u: Plane
    v: Plane
    glow: Plane
    above: Plane
    below: Plane


def opening(x: Plane, wide: float, high: float, tilt: float, inner: float) -> tuple[Plane, Plane]:
    """Height of the upper and of the lower lid over x, for an opening of this width and height in mm.

    inner: -1 if the inner corner is on the left, 1 if on the right. The upper lid is fullest towards the inner corner,
    the lower one towards the outer; tilt in degrees raises the outer corner.
    """
    t = np.clip(x / (wide / 2), -1, 1) * -inner  # -1 at the inner corner
    rise = np.tan(np.radians(tilt)) * t * wide / 2
    ease = np.sqrt(np.clip(1 - np.abs(t) ** 2.1, 0, 1))
    upper = high * 0.60 * ease * (1 - 0.16 * t) * (1 - 0.10 * t**3)
    lower = -high * 0.40 * np.clip(1 - np.abs(t) ** 2.6, 0, 1) ** 0.72 * (1 + 0.22 * t)
    # The corner by the nose hangs lower.
    dip = -0.06 * high * np.clip(-t - 0.72, 0, 1) / 0.28
    return (upper + rise + dip).astype(np.float32), (lower + rise + dip).astype(np.float32)


@lru_cache(maxsize=16)
def _glow_map(angle_deg: int) -> NDArray[Any]:
    return scipy.ndimage.gaussian_filter(optics.iris_irradiance(float(angle_deg), 41, rays=320), 1.1)


def eye_form(x: Plane, y: Plane, gaze: tuple[float, float], iris_mm: float, light: NDArray[np.floating],
             upper: Plane, lower: Plane, globe: float = MM["globe"], roll_deg: float = 0.0) -> EyeForm:  # fmt: skip
    """The eye's planes; gaze: degrees to the right and up; light: unit vector to it; globe: radius of the ball, mm;
    roll_deg: how far its upright is turned to the left.
    """
    right, up = np.radians(gaze[0]), np.radians(gaze[1])
    x, y = x.astype(np.float32), y.astype(np.float32)
    axis = np.array((np.sin(right) * np.cos(up), np.sin(up), np.cos(right) * np.cos(up)))
    across = np.array((np.cos(right), 0.0, -np.sin(right)))
    over = np.cross(axis, across)
    turn = np.radians(roll_deg)
    across, over = np.cos(turn) * across + np.sin(turn) * over, np.cos(turn) * over - np.sin(turn) * across
    r2 = np.minimum(x * x + y * y, globe**2 * 0.98)
    ball = np.stack((x, y, np.sqrt(globe**2 - r2))) / globe
    ball /= np.linalg.norm(ball, axis=0)
    scale = iris_mm / MM["iris"]
    # A large iris has a cornea that is no flatter than the ball allows.
    radius = min(MM["radius"] * scale, max(STEEPEST * globe, WIDER * iris_mm))
    # The cornea stands out of the ball by as much as it does at its true size.
    middle = axis * (globe + (MM["pivot"] - MM["globe"]) * scale - radius)
    dx, dy = x - middle[0], y - middle[1]
    inside = radius**2 - dx * dx - dy * dy
    point = np.stack((x, y, middle[2] + np.sqrt(np.maximum(inside, 0))))
    corneal = np.stack((dx, dy, np.sqrt(np.maximum(inside, 1e-6)))) / radius
    corneal /= np.linalg.norm(corneal, axis=0)
    inner = optics.refracted(np.array((0.0, 0.0, -1.0)), np.moveaxis(corneal, 0, -1), 1 / MM["index"])
    plane = middle + axis * (radius - MM["depth"] * scale)
    gap = np.moveaxis(point, 0, -1) - plane
    way = -(gap @ axis) / np.minimum(inner @ axis, -1e-3)
    seen = gap + way[..., None] * inner
    u, v = (seen @ across / iris_mm).astype(np.float32), (seen @ over / iris_mm).astype(np.float32)
    rho = np.hypot(u, v)
    cornea = np.clip((1.02 - rho) / 0.05, 0, 1) * (inside > 0)
    return EyeForm(
        x, y, ball.astype(np.float32), corneal.astype(np.float32), cornea.astype(np.float32), u, v,
        _glow(u, v, axis, across, over, light), upper - y, y - lower,
    )  # fmt: skip


def _glow(u: Plane, v: Plane, axis: Plane, across: Plane, over: Plane, light: Plane) -> Plane:
    """Light on the iris by refraction: brightest on the side away from the light."""
    toward, angle = np.array((light @ across, light @ over)), np.degrees(np.arccos(np.clip(light @ axis, -1, 1)))
    toward = toward / max(float(np.linalg.norm(toward)), 1e-6)
    grid = _glow_map(int(np.clip(round(angle / 3) * 3, 0, 78)))
    along, aside = u * toward[0] + v * toward[1], v * toward[0] - u * toward[1]
    cells = grid.shape[0]
    # The very rim lies in the shadow of the sclera; the map is drawn out to it from a little inside.
    reach = 0.9
    at = np.stack(((aside * reach + 1) / 2 * cells - 0.5, (along * reach + 1) / 2 * cells - 0.5))
    result: Plane = scipy.ndimage.map_coordinates(grid, at, order=1, mode="nearest").astype(np.float32)
    return result
