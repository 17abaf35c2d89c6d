"""OKLab (Ottosson 2020, matrices of 2021) and its polar form."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.color import srgb

__all__ = ["linear_from_oklab", "oklab_from_linear", "oklab_from_xyz", "oklch_from_srgb", "srgb_from_oklch"]

FloatArray = NDArray[Any]

LMS_FROM_LINEAR = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
LAB_FROM_ROOTS = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
LINEAR_FROM_LMS = np.linalg.inv(LMS_FROM_LINEAR)
ROOTS_FROM_LAB = np.linalg.inv(LAB_FROM_ROOTS)


def oklab_from_linear(linear: ArrayLike) -> FloatArray:
    """OKLab (L 0..1, a, b about -0.4..0.4) from linear RGB, shape (..., 3)."""
    rgb = checks.as_channels("linear", linear)
    return np.cbrt(rgb @ LMS_FROM_LINEAR.T.astype(rgb.dtype)) @ LAB_FROM_ROOTS.T.astype(rgb.dtype)


def linear_from_oklab(oklab: ArrayLike) -> FloatArray:
    """Linear RGB from OKLab, shape (..., 3); out-of-gamut colours leave 0..1."""
    lab = checks.as_channels("oklab", oklab)
    return (lab @ ROOTS_FROM_LAB.T.astype(lab.dtype)) ** 3 @ LINEAR_FROM_LMS.T.astype(lab.dtype)


def oklab_from_xyz(xyz: ArrayLike) -> FloatArray:
    """OKLab from CIE XYZ (white Y = 1, D65), shape (..., 3)."""
    return oklab_from_linear(srgb.linear_from_xyz(xyz))


def oklch_from_srgb(encoded: ArrayLike) -> FloatArray:
    """OKLab lightness 0..1, chroma, hue in degrees 0..360 from encoded sRGB 0..1, shape (..., 3)."""
    lab = oklab_from_linear(srgb.decode(checks.as_channels("encoded", encoded)))
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    return np.stack((lab[..., 0], chroma, np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360), axis=-1)


def srgb_from_oklch(oklch: ArrayLike) -> FloatArray:
    """Encoded sRGB from OKLab lightness, chroma and hue in degrees; out-of-gamut colours leave 0..1."""
    lch = checks.as_channels("oklch", oklch)
    hue = np.radians(lch[..., 2])
    lab = np.stack((lch[..., 0], lch[..., 1] * np.cos(hue), lch[..., 1] * np.sin(hue)), axis=-1)
    return srgb.encode(linear_from_oklab(lab))
