"""Mixing as pigments do: Kubelka and Munk's theory on reflectances in twelve bands.

A colour's reflectance is that of red, green and blue paint in the proportions of its linear channels; those three are
smooth and add up to white (after Burns 2015; `tools/pigment_basis.py` works them out). Light paints scatter more than
dark ones, so that white and yellow are not lost under a little black or blue; how much more is our choice.
"""

from __future__ import annotations

import json
from importlib import resources
from typing import Any, Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner.color import srgb

__all__ = ["BANDS", "FROM_REFLECTANCE", "LOWEST", "REFLECTANCES", "SCATTER", "absorption", "mixed_linear"]
__all__ += ["reflectance_of", "reflectances", "scattering"]

_DATA = json.loads(resources.files(__package__).joinpath("pigment_basis.json").read_text(encoding="utf-8"))
REFLECTANCES: Final[NDArray[np.float64]] = np.array(_DATA["reflectances"])
"""(3, 12), of red, green and blue paint."""
FROM_REFLECTANCE: Final[NDArray[np.float64]] = np.array(_DATA["linear_from_reflectance"])
"""(3, 12): linear RGB from a reflectance."""
BANDS: Final = REFLECTANCES.shape[1]
# No paint is blacker than this in any band, and the blackest still scatters this much (our choice).
LOWEST: Final = 0.01
SCATTER: Final = 0.1

Floats = NDArray[Any]


def reflectances(linear: ArrayLike) -> Floats:
    """Reflectance (..., 12) of linear RGB (..., 3), at least LOWEST."""
    result: Floats = np.maximum(np.asarray(linear) @ REFLECTANCES, LOWEST)
    return result


def absorption(reflectance: ArrayLike) -> Floats:
    """K/S of an opaque layer of a reflectance 0..1 (Kubelka & Munk 1931)."""
    r = np.asarray(reflectance, float)
    return (1 - r) ** 2 / (2 * r)


def reflectance_of(k_over_s: ArrayLike) -> Floats:
    """The reflectance of an opaque layer of K/S."""
    q = np.asarray(k_over_s, float)
    return 1 + q - np.sqrt(q * q + 2 * q)


def scattering(linear: ArrayLike) -> Floats:
    """S of a paint of linear RGB (..., 3): our choice."""
    return SCATTER + srgb.luminance(linear)


def mixed_linear(one: ArrayLike, other: ArrayLike, share: ArrayLike) -> Floats:
    """Linear RGB (..., 3) of a mixture with `share` 0..1 (...) of the other paint (Duncan 1940 for the sums).

    What twelve bands and LOWEST cannot hold of the two colours is carried along in proportion, so a share of 0 or 1
    gives them back exactly.
    """
    a, b = np.asarray(one, float), np.asarray(other, float)
    t = np.asarray(share, float)[..., None]
    s, u = scattering(a)[..., None], scattering(b)[..., None]
    ra, rb = reflectances(a), reflectances(b)
    q = ((1 - t) * s * absorption(ra) + t * u * absorption(rb)) / ((1 - t) * s + t * u)
    rest = (1 - t) * (a - ra @ FROM_REFLECTANCE.T) + t * (b - rb @ FROM_REFLECTANCE.T)
    return reflectance_of(q) @ FROM_REFLECTANCE.T + rest
