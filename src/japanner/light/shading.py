"""Published models of how light leaves a surface, as pure functions on arrays.

Vectors are of unit length and float, shape (..., 3); cosines and angles broadcast. Nothing here knows of pixels.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

__all__ = [
    "fresnel",
    "fresnel_schlick",
    "ggx",
    "ggx_specular",
    "ground_share",
    "half_way",
    "lambert",
    "normal_reflectance",
    "oren_nayar",
    "shadow_fraction",
    "sky_share",
    "smith",
    "wrapped",
]

Floats = NDArray[np.floating[Any]]

UP = np.array((0.0, 1.0, 0.0))


def lambert(n: ArrayLike, light: ArrayLike) -> Floats:
    """Cosine of the angle to the light, 0 where it is turned away (Lambert 1760)."""
    result: Floats = np.maximum(_dot(n, light), 0)
    return result


def wrapped(n: ArrayLike, light: ArrayLike, wrap: ArrayLike) -> Floats:
    """Lambert's cosine carried on past the shadow edge by `wrap` 0..1, as in skin that light has entered; (..., 3) for
    a wrap of three channels, of which red goes furthest.

    (cos + w) / (1 + w), and divided by 1 + w once more so that no more light is sent out than before: our choice of a
    common form.
    """
    w = np.asarray(wrap, float)
    cosine = _dot(n, light)
    result: Floats = np.maximum((cosine[..., None] if w.ndim else cosine) + w, 0) / (1 + w) ** 2
    return result


def oren_nayar(n: ArrayLike, light: ArrayLike, view: ArrayLike, sigma: float) -> Floats:
    """Rough diffuse reflection as a factor that takes the place of the cosine; sigma: deviation of the facets' slope
    angles, radians 0..pi/2 (Oren & Nayar 1994, the qualitative model). sigma 0 is Lambert's law.
    """
    s2 = sigma * sigma
    a, b = 1 - 0.5 * s2 / (s2 + 0.33), 0.45 * s2 / (s2 + 0.09)
    to_light, to_view = _dot(n, light), _dot(n, view)
    n = np.asarray(n, float)
    across_light = np.asarray(light, float) - to_light[..., None] * n
    across_view = np.asarray(view, float) - to_view[..., None] * n
    lengths = np.linalg.norm(across_light, axis=-1) * np.linalg.norm(across_view, axis=-1)
    turned = np.maximum(_dot(across_light, across_view) / np.maximum(lengths, 1e-9), 0)
    angles = np.arccos(np.clip(to_light, -1, 1)), np.arccos(np.clip(to_view, -1, 1))
    alpha, beta = np.maximum(*angles), np.minimum(*angles)
    result: Floats = np.maximum(to_light, 0) * (a + b * turned * np.sin(alpha) * np.tan(np.minimum(beta, 1.55)))
    return result


def half_way(light: ArrayLike, view: ArrayLike) -> Floats:
    """The direction half-way between light and viewer (Blinn 1977)."""
    total = np.asarray(light, float) + np.asarray(view, float)
    result: Floats = total / np.maximum(np.linalg.norm(total, axis=-1, keepdims=True), 1e-12)
    return result


def ggx(cosine: ArrayLike, alpha: float) -> Floats:
    """Share of facets (per steradian) whose normal is off by an angle of this cosine; alpha: roughness above 0
    (Trowbridge & Reitz 1975; Walter et al. 2007).
    """
    given = np.asarray(cosine)
    c2 = (given if given.dtype == np.float32 else given.astype(float)) ** 2
    result: Floats = alpha**2 / (np.pi * (c2 * (alpha**2 - 1) + 1) ** 2)
    return result


def smith(cosine: ArrayLike, alpha: float) -> Floats:
    """Share of facets seen from an angle of this cosine that others do not hide (Smith's G1, Walter et al. 2007)."""
    c = np.maximum(np.asarray(cosine, float), 1e-6)
    result: Floats = 2 / (1 + np.sqrt(1 + alpha**2 * (1 - np.minimum(c, 1) ** 2) / c**2))
    return result


def fresnel(cosine: ArrayLike, index: float) -> Floats:
    """Share of unpolarised light that a clear surface of refractive `index` throws back (Fresnel, in Born & Wolf)."""
    c = np.clip(np.asarray(cosine, float), 0, 1)
    inside = np.sqrt(np.maximum(1 - (1 - c * c) / index**2, 0))
    across = ((c - index * inside) / (c + index * inside)) ** 2
    along = ((inside - index * c) / (inside + index * c)) ** 2
    result: Floats = (across + along) / 2
    return result


def normal_reflectance(index: float) -> float:
    """What a clear surface throws back straight on."""
    return ((index - 1) / (index + 1)) ** 2


def fresnel_schlick(cosine: ArrayLike, straight: ArrayLike) -> Floats:
    """Schlick's approximation (1994) from the reflectance straight on; (..., 3) for that of a metal."""
    c, f0 = np.clip(np.asarray(cosine, float), 0, 1), np.asarray(straight, float)
    result: Floats = f0 + (1 - f0) * ((1 - c) ** 5)[..., None] if f0.ndim else f0 + (1 - f0) * (1 - c) ** 5
    return result


def ggx_specular(n: ArrayLike, light: ArrayLike, view: ArrayLike, alpha: float, straight: ArrayLike) -> Floats:
    """What a rough surface mirrors of a light of unit irradiance, times the cosine (Walter et al. 2007)."""
    half = half_way(light, view)
    to_light, to_view = np.maximum(_dot(n, light), 0), np.maximum(_dot(n, view), 1e-4)
    facets = ggx(np.maximum(_dot(n, half), 0), alpha) * smith(to_light, alpha) * smith(to_view, alpha)
    share = fresnel_schlick(np.maximum(_dot(view, half), 0), straight)
    spread = np.where(to_light > 0, facets / (4 * to_view), 0)
    result: Floats = spread[..., None] * share if share.ndim > spread.ndim else spread * share
    return result


def sky_share(n: ArrayLike) -> Floats:
    """How much of an even sky a surface sees, 0..1 (Liu & Jordan 1963)."""
    result: Floats = (1 + _dot(n, UP)) / 2
    return result


def ground_share(n: ArrayLike) -> Floats:
    """How much of an even ground a surface sees, 0..1 (Liu & Jordan 1963)."""
    result: Floats = (1 - _dot(n, UP)) / 2
    return result


def shadow_fraction(gap: ArrayLike, distance: ArrayLike, angle_deg: float) -> Floats:
    """Share of a round light of this angular size that is not hidden by an edge that a ray to its middle misses by
    `gap` at `distance` (negative: is inside by so much).

    The disc is cut by a straight edge; the area of what is left is a segment's.
    """
    radius = np.asarray(distance, float) * np.tan(np.radians(angle_deg) / 2)
    x = np.clip(np.asarray(gap, float) / np.maximum(radius, 1e-9), -1, 1)
    result: Floats = 1 - (np.arccos(x) - x * np.sqrt(1 - x * x)) / np.pi
    return result


def _dot(a: ArrayLike, b: ArrayLike) -> Floats:
    result: Floats = (np.asarray(a, float) * np.asarray(b, float)).sum(axis=-1)
    return result
