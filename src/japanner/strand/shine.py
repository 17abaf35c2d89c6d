"""Light on hair: Kajiya & Kay 1989, and the shifts of its two highlights by Marschner et al. 2003."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["diffuse", "lobe", "longitudinal", "shifted", "specular"]

Floats = NDArray[np.floating]


def _cosines(tangent: Floats, towards: Floats) -> tuple[Floats, Floats]:
    cosine = np.clip(np.asarray(tangent) @ np.asarray(towards), -1, 1)
    return cosine, np.sqrt(1 - cosine**2)


def diffuse(tangent: Floats, light: Floats) -> Floats:
    """Sine of the angle between strands and the light.

    tangent (..., 3): unit vectors from root to tip. light (3,): unit vector towards it.
    """
    return _cosines(tangent, light)[1]


def specular(tangent: Floats, light: Floats, viewer: Floats, power: float) -> Floats:
    """The highlight, 0..1: (sin sin - cos cos)^p, with light and viewer both pointing away from the strand."""
    return lobe(_cosines(tangent, light)[0], _cosines(tangent, viewer)[0], power)


def lobe(cos_light: Floats, cos_viewer: Floats, power: float) -> Floats:
    """The same from the cosines between strands and light, and strands and viewer."""
    across = np.sqrt(np.maximum((1 - cos_light**2) * (1 - cos_viewer**2), 0))
    result: Floats = np.clip(across - cos_light * cos_viewer, 0, 1) ** power
    return result


def shifted(tangent: Floats, normal: Floats, shift: float | Floats) -> Floats:
    """Tangents leaned to the normal by so much, as scales on the strand lean: it moves the highlight along the strand,
    for a positive shift towards the root.
    """
    leaned = np.asarray(tangent) + np.asarray(shift)[..., None] * np.asarray(normal)
    result: Floats = leaned / np.maximum(np.linalg.norm(leaned, axis=-1, keepdims=True), 1e-9)
    return result


def longitudinal(half_deg: Floats, shift_deg: float, width_deg: float) -> Floats:
    """A lobe of Marschner's model over (incidence + exitance) / 2 in degrees: a normal density per radian."""
    at, width = np.radians(np.asarray(half_deg) - shift_deg), np.radians(width_deg)
    result: Floats = np.exp(-(at**2) / (2 * width**2)) / (width * np.sqrt(2 * np.pi))
    return result
