"""Giving colours another luminance, and bringing them into the gamut, at their own dominant wavelength."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.color import srgb

__all__ = ["into_gamut", "with_luminance"]

# Below this luminance a colour has no hue left to keep: what it is lifted to is grey.
BLACK = 1e-4


def into_gamut(linear: ArrayLike) -> NDArray[Any]:
    """Linear RGB, shape (..., 3), moved towards the grey of its luminance until every channel is within 0..1."""
    rgb = checks.as_channels("linear", linear)
    grey = np.clip(srgb.luminance(rgb), 0, 1)[..., None]
    apart = rgb - grey
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        room = np.where(apart > 0, (1 - grey) / apart, np.where(apart < 0, -grey / apart, np.inf))
    return np.clip(grey + np.minimum(room.min(axis=-1, keepdims=True), 1) * apart, 0, 1)


def with_luminance(linear: ArrayLike, luminance: ArrayLike) -> NDArray[Any]:
    """Linear RGB (..., 3) scaled to another luminance 0..1 (...); what leaves the gamut loses chroma, not hue."""
    rgb = checks.as_channels("linear", linear)
    wanted, present = np.asarray(luminance, rgb.dtype), srgb.luminance(rgb)
    dark = present < BLACK
    scaled = rgb * np.where(dark, 0, wanted / np.maximum(present, BLACK))[..., None]
    return into_gamut(np.where(dark[..., None], wanted[..., None], scaled))
