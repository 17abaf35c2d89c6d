"""CIE 1976 lightness and Lab (CIE 15), D65 as in sRGB, and their polar form."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.color import srgb

__all__ = [
    "lab_from_srgb",
    "lab_from_xyz",
    "lch_from_srgb",
    "lightness",
    "lightness_from_srgb",
    "luminance_from_lightness",
    "srgb_from_lab",
    "xyz_from_lab",
]

FloatArray = NDArray[Any]

WHITE = srgb.XYZ_FROM_LINEAR.sum(axis=1)
EPSILON = (6 / 29) ** 3
KAPPA = (29 / 3) ** 3


def lightness(luminance: ArrayLike) -> FloatArray:
    """L* 0..100 from relative luminance Y 0..1, any shape (negative Y counts as 0)."""
    y = np.asarray(luminance)
    y = np.maximum(y if y.dtype == np.float32 else y.astype(np.float64), 0)
    return np.where(y > EPSILON, y.dtype.type(116) * np.cbrt(y) - y.dtype.type(16), y * y.dtype.type(KAPPA))


def luminance_from_lightness(value: ArrayLike) -> FloatArray:
    """Relative luminance Y 0..1 from L* 0..100, any shape."""
    v = np.asarray(value)
    v = v if v.dtype == np.float32 else v.astype(np.float64)
    return np.where(v > 8, ((v + v.dtype.type(16)) / v.dtype.type(116)) ** 3, v / v.dtype.type(KAPPA))


def lab_from_xyz(xyz: ArrayLike) -> FloatArray:
    """L* 0..100, a*, b* from CIE XYZ (white Y = 1), shape (..., 3)."""
    values = checks.as_channels("xyz", xyz)
    t = values / WHITE.astype(values.dtype)
    f = np.where(t > EPSILON, np.cbrt(t), t * values.dtype.type((29 / 6) ** 2 / 3) + values.dtype.type(4 / 29))
    return np.stack((116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])), axis=-1)


def xyz_from_lab(lab: ArrayLike) -> FloatArray:
    """CIE XYZ (white Y = 1) from L*, a*, b*, shape (..., 3)."""
    values = checks.as_channels("lab", lab)
    fy = (values[..., 0] + 16) / 116
    f = np.stack((fy + values[..., 1] / 500, fy, fy - values[..., 2] / 200), axis=-1)
    t = np.where(f > 6 / 29, f**3, (f - values.dtype.type(4 / 29)) * values.dtype.type(3 * (6 / 29) ** 2))
    return t * WHITE.astype(values.dtype)


def lab_from_srgb(encoded: ArrayLike) -> FloatArray:
    """L*, a*, b* from encoded sRGB 0..1, shape (..., 3)."""
    return lab_from_xyz(srgb.xyz_from_linear(srgb.decode(checks.as_channels("encoded", encoded))))


def srgb_from_lab(lab: ArrayLike) -> FloatArray:
    """Encoded sRGB from L*, a*, b*, shape (..., 3); out-of-gamut colours leave 0..1."""
    return srgb.encode(srgb.linear_from_xyz(xyz_from_lab(lab)))


def lightness_from_srgb(encoded: ArrayLike) -> FloatArray:
    """L* 0..100 from encoded sRGB 0..1, shape (..., 3) -> (...)."""
    return lightness(srgb.luminance(srgb.decode(checks.as_channels("encoded", encoded))))


def lch_from_srgb(encoded: ArrayLike) -> FloatArray:
    """L*, C*, hue in degrees 0..360 from encoded sRGB 0..1, shape (..., 3)."""
    lab = lab_from_srgb(encoded)
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    return np.stack((lab[..., 0], chroma, hue), axis=-1)
