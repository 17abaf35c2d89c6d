"""The field of all hues and chromas at one value: what a painter chooses from once the value is decided."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.color import lab, oklab, srgb

__all__ = ["hue_chroma_field"]


def hue_chroma_field(
    value: float, hues: NDArray[np.floating], chromas: NDArray[np.floating]
) -> tuple[NDArray[Any], NDArray[np.bool_]]:
    """Encoded colours (h, w, 3) of L* `value` at `hues` (w,) in degrees and OKLab `chromas` (h,), and which of them
    are in the sRGB gamut (h, w). Colours out of gamut are cut to it.

    The OKLab lightness that gives a colour its L* is found by Newton's method on its luminance.
    """
    checks.number("value", value, 0, 100)
    wanted = float(lab.luminance_from_lightness(value))
    angle = np.radians(hues)[None, :]
    a, b = chromas[:, None] * np.cos(angle), chromas[:, None] * np.sin(angle)
    lightness = np.full(a.shape, np.cbrt(wanted))
    for _ in range(8):
        luminance = _luminance(lightness, a, b)
        slope = (_luminance(lightness + 1e-4, a, b) - luminance) / 1e-4
        lightness = np.clip(lightness - (luminance - wanted) / np.maximum(slope, 1e-6), 0, 1.4)
    linear = oklab.linear_from_oklab(np.stack((lightness, a, b), axis=-1))
    inside = ((linear > -1e-4) & (linear < 1 + 1e-4)).all(axis=-1)
    inside &= np.abs(_luminance(lightness, a, b) - wanted) < 1e-4
    return srgb.encode(np.clip(linear, 0, 1)), inside


def _luminance(lightness: NDArray[Any], a: NDArray[Any], b: NDArray[Any]) -> NDArray[Any]:
    return srgb.luminance(oklab.linear_from_oklab(np.stack((lightness, a, b), axis=-1)))
