"""Light through clear things: refraction, films, shells, balls, and the eye's cornea.

Angles in radians unless a name ends in _deg; lengths in any one unit; arrays broadcast.
"""

from __future__ import annotations

from typing import Any, Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner.light.shading import fresnel

__all__ = [
    "CORNEA",
    "ball_deviation",
    "ball_transmission",
    "brewster_deg",
    "catch_light",
    "film_opacity",
    "focal_length",
    "iris_irradiance",
    "refracted",
    "seen_depth",
    "shell_cosine",
    "shell_opacity",
    "snell",
    "window_width",
]

Floats = NDArray[np.floating[Any]]

CORNEA: Final = {"radius": 7.8, "index": 1.336, "depth": 3.6, "iris": 5.9, "globe": 12.0, "pivot": 13.5}
"""The eye in mm (Gullstrand 1909, from memory): radius of the cornea's front; index as of one refracting surface; depth
of the iris behind its apex; radius of the visible iris; radius of the globe; from the apex to where the eye turns."""


def snell(theta: ArrayLike, index: float) -> Floats:
    """Angle inside a medium of `index` of light that comes in at `theta` (Snell's law)."""
    result: Floats = np.arcsin(np.clip(np.sin(np.asarray(theta, float)) / index, -1, 1))
    return result


def brewster_deg(index: float) -> float:
    """Angle at which what is mirrored is wholly polarised."""
    return float(np.degrees(np.arctan(index)))


def refracted(incoming: ArrayLike, normal: ArrayLike, ratio: float) -> Floats:
    """Direction (..., 3) of unit light `incoming` past a surface with unit `normal` that looks against it; ratio: index
    outside over index inside. Where it would be mirrored wholly it goes along the surface (Snell's law in vectors).
    """
    i, n = np.asarray(incoming, float), np.asarray(normal, float)
    cosine = -(i * n).sum(axis=-1, keepdims=True)
    k = 1 - ratio**2 * (1 - cosine**2)
    found: Floats = ratio * i + (ratio * cosine - np.sqrt(np.maximum(k, 0))) * n
    return found / np.maximum(np.linalg.norm(found, axis=-1, keepdims=True), 1e-12)


def focal_length(diameter: float, index: float) -> float:
    """Of a ball of glass, from its middle (paraxial)."""
    return index * diameter / (4 * (index - 1))


def film_opacity(straight: ArrayLike, cosine: ArrayLike, index: float = 1.0) -> Floats:
    """Opacity of a film seen at an angle of this cosine, if it has `straight` 0..1 seen straight on: the way through it
    is longer (Beer-Lambert); index: above 1, light bends towards the normal inside.
    """
    c2 = np.clip(np.asarray(cosine, float), 1e-3, 1) ** 2
    inside = np.sqrt(1 - (1 - c2) / index**2)
    result: Floats = 1 - (1 - np.asarray(straight, float)) ** (1 / np.maximum(inside, 1e-3))
    return result


def shell_cosine(rho: ArrayLike) -> Floats:
    """Cosine between the ray and the wall of a ball at `rho` 0..1 of its radius."""
    result: Floats = np.sqrt(np.maximum(1 - np.asarray(rho, float) ** 2, 0))
    return result


def shell_opacity(straight: float, rho: ArrayLike, wall: float = 0.0) -> Floats:
    """Opacity of both walls of a hollow ball of radius 1 at `rho`; wall: how thick it is, which bounds the way through
    it at the rim.
    """
    cosine = shell_cosine(rho)
    if wall > 0:
        longest = np.sqrt(2 / wall - 1)
        cosine = np.maximum(cosine, 1 / longest)
    one = film_opacity(straight, cosine)
    result: Floats = 1 - (1 - one) ** 2
    return result


def ball_deviation(rho: ArrayLike, index: float) -> Floats:
    """How far a solid ball turns a ray that meets it at `rho` 0..1 of its radius."""
    theta = np.arcsin(np.clip(np.asarray(rho, float), 0, 1))
    result: Floats = 2 * (theta - snell(theta, index))
    return result


def ball_transmission(rho: ArrayLike, index: float, clear: float = 1.0) -> Floats:
    """Share of light that goes through a solid ball at `rho`; clear: of what goes through its middle, 0..1."""
    r = np.asarray(rho, float)
    inside = np.sqrt(np.maximum(1 - (r / index) ** 2, 0))
    result: Floats = (1 - fresnel(shell_cosine(r), index)) ** 2 * np.power(clear, inside)
    return result


def catch_light(light: ArrayLike, view: ArrayLike = (0.0, 0.0, 1.0), radius: float = CORNEA["radius"]) -> Floats:
    """Where a far light is mirrored on a ball, from its middle (3,); unit vectors to light and viewer (mirror law)."""
    half = np.asarray(light, float) + np.asarray(view, float)
    result: Floats = radius * half / max(float(np.linalg.norm(half)), 1e-9)
    return result


def window_width(angle_deg: float, radius: float = CORNEA["radius"]) -> float:
    """How wide a window of this angular width is mirrored on a ball of `radius` (convex mirror)."""
    return radius * 2 * float(np.sin(np.radians(angle_deg) / 4))


def seen_depth(depth: float, index: float = CORNEA["index"], radius: float = CORNEA["radius"]) -> tuple[float, float]:
    """How deep something behind a refracting surface of `radius` seems to lie, and how much larger it seems."""
    seems = 1 / (index / depth - (index - 1) / radius)
    return seems, index * seems / depth


def iris_irradiance(angle_deg: float, across: int = 61, depth: float = CORNEA["depth"], rays: int = 420) -> Floats:
    """Light on a flat iris through the cornea, relative to what falls on it straight: a grid (across, across) over the
    iris's square, x towards the light.

    Parallel light at `angle_deg` from the axis is refracted at the cornea, with what is mirrored there lost, and
    gathered where it lands.
    """
    radius, index, iris = CORNEA["radius"], CORNEA["index"], CORNEA["iris"]
    phi = np.radians(angle_deg)
    to_light = np.array((np.sin(phi), 0.0, np.cos(phi)))
    # Even rays over the beam's own section, on which the cap of the cornea stands out.
    side = np.linspace(-radius, radius, rays)
    u, v = np.meshgrid(side, side, indexing="ij")
    aside, up = np.array((np.cos(phi), 0.0, -np.sin(phi))), np.array((0.0, 1.0, 0.0))
    r2 = u * u + v * v
    ok = r2 < radius**2
    point = u[..., None] * aside + v[..., None] * up + np.sqrt(np.maximum(radius**2 - r2, 0))[..., None] * to_light
    normal = point / radius
    # The cap that is cornea ends where the iris begins.
    ok &= (np.hypot(point[..., 0], point[..., 1]) < iris) & (point[..., 2] > 0)
    inside = refracted(-to_light, normal, 1 / index)
    share = 1 - fresnel((normal * to_light).sum(axis=-1), index)
    fall = point[..., 2] - (radius - depth)
    way = fall / np.maximum(-inside[..., 2], 1e-6)
    x, y = point[..., 0] + way * inside[..., 0], point[..., 1] + way * inside[..., 1]
    ok &= (np.hypot(x, y) < iris) & (fall > 0)
    edges = np.linspace(-iris, iris, across + 1)
    beam, cell = (side[1] - side[0]) ** 2, (edges[1] - edges[0]) ** 2
    found, _, _ = np.histogram2d(y[ok], x[ok], bins=(edges, edges), weights=share[ok] * beam / cell)
    result: Floats = found
    return result
