"""sRGB encoding and its primaries (IEC 61966-2-1:1999).

Arrays are float32 or float64 and keep their type; channels lie in the last axis, 0..1.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks

__all__ = [
    "LUMINANCE_WEIGHTS",
    "XYZ_FROM_LINEAR",
    "decode",
    "encode",
    "hex_from_srgb",
    "linear_from_xyz",
    "luminance",
    "srgb_from_hex",
    "xyz_from_linear",
]

FloatArray = NDArray[Any]

XYZ_FROM_LINEAR = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
LINEAR_FROM_XYZ = np.linalg.inv(XYZ_FROM_LINEAR)
LUMINANCE_WEIGHTS = XYZ_FROM_LINEAR[1]


def decode(encoded: ArrayLike) -> FloatArray:
    """Linear light 0..1 from sRGB-encoded values 0..1, any shape; values beyond are mirrored in sign."""
    v = np.asarray(encoded)
    v = v if v.dtype == np.float32 else v.astype(np.float64)
    a = np.abs(v)
    curve = ((a + v.dtype.type(0.055)) / v.dtype.type(1.055)) ** v.dtype.type(2.4)
    return np.copysign(np.where(a <= 0.04045, a / v.dtype.type(12.92), curve), v)


def encode(linear: ArrayLike) -> FloatArray:
    """sRGB-encoded values 0..1 from linear light 0..1, any shape; values beyond are mirrored in sign."""
    x = np.asarray(linear)
    x = x if x.dtype == np.float32 else x.astype(np.float64)
    a = np.abs(x)
    curve = x.dtype.type(1.055) * a ** x.dtype.type(1 / 2.4) - x.dtype.type(0.055)
    return np.copysign(np.where(a <= 0.0031308, a * x.dtype.type(12.92), curve), x)


def xyz_from_linear(linear: ArrayLike) -> FloatArray:
    """CIE XYZ (white Y = 1, D65) from linear RGB, shape (..., 3)."""
    rgb = checks.as_channels("linear", linear)
    return rgb @ XYZ_FROM_LINEAR.T.astype(rgb.dtype)


def linear_from_xyz(xyz: ArrayLike) -> FloatArray:
    """Linear RGB from CIE XYZ (white Y = 1, D65), shape (..., 3); out-of-gamut colours leave 0..1."""
    values = checks.as_channels("xyz", xyz)
    return values @ LINEAR_FROM_XYZ.T.astype(values.dtype)


def luminance(linear: ArrayLike) -> FloatArray:
    """Relative luminance Y 0..1 from linear RGB, shape (..., 3) -> (...)."""
    rgb = checks.as_channels("linear", linear)
    return rgb @ LUMINANCE_WEIGHTS.astype(rgb.dtype)


def hex_from_srgb(srgb: ArrayLike) -> str:
    """`#rrggbb` of one encoded colour 0..1, rounded and clipped."""
    codes = np.clip(np.rint(np.asarray(srgb, dtype=np.float64) * 255), 0, 255).astype(int)
    return "#" + "".join(f"{code:02x}" for code in codes)


def srgb_from_hex(text: str) -> tuple[float, float, float]:
    """Encoded colour 0..1 from `#rrggbb`."""
    digits = text.removeprefix("#")
    try:
        if len(digits) != 6:
            raise ValueError
        r, g, b = bytes.fromhex(digits)
    except ValueError:
        checks.one_of("colour", text, ("#rrggbb",))
        raise AssertionError from None  # not reached: one_of has raised
    return r / 255, g / 255, b / 255
