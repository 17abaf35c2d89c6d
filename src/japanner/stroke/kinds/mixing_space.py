"""The spaces that wet paint mixes in, as planes to drag and soften."""

from __future__ import annotations

from functools import cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import pigment
from japanner.color.mixing import MIXINGS
from japanner.color.tables import decode_table, encode_table
from japanner.raster.geometry import Rect
from japanner.stroke import _kernels_mixing as kernels

__all__ = ["Planes", "from_space", "into_space", "model_of", "paint_in", "planes_of", "tables"]

Planes = NDArray[np.float32]

PLANES: Final = {"encoded": 4, "light": 4, "perceptual": 4, "pigment": pigment.BANDS + 5}


def model_of(mixing: str) -> int:
    """What kernels call a mixing model."""
    return MIXINGS.index(mixing)


def planes_of(mixing: str) -> int:
    """How many planes a space has, coverage among them."""
    return PLANES[mixing]


@cache
def _pigment() -> tuple[Planes, Planes]:
    return (
        np.ascontiguousarray(pigment.REFLECTANCES, np.float32),
        np.ascontiguousarray(pigment.FROM_REFLECTANCE, np.float32),
    )


def tables() -> tuple[Planes, Planes, Planes, Planes]:
    """Decoding, encoding, reflectances and their sums, as kernels take them."""
    return decode_table(), encode_table(), *_pigment()


def into_space(mixing: str, pixels: Planes) -> Planes:
    """Premultiplied encoded pixels (4, h, w) as planes (p, h, w)."""
    if mixing == "encoded":
        return pixels
    out = np.empty((planes_of(mixing), *pixels.shape[1:]), np.float32)
    kernels.into_space(model_of(mixing), pixels, decode_table(), *_pigment(), out)
    return out


def from_space(mixing: str, planes: Planes, area: Rect) -> Planes:
    """The planes as premultiplied encoded pixels (4, h, w); only those in `area` mean something."""
    if mixing == "encoded":
        return planes
    out = np.empty((4, *planes.shape[1:]), np.float32)
    kernels.from_space(model_of(mixing), planes, encode_table(), _pigment()[1], out, *area.rows_and_columns)
    return out


def paint_in(mixing: str, colours: NDArray[np.float32]) -> Planes:
    """Opaque encoded colours (n, 3) in a space, (n, planes)."""
    pixels = np.ones((4, 1, len(colours)), np.float32)
    pixels[:3, 0] = colours.T
    return np.ascontiguousarray(into_space(mixing, pixels)[:, 0].T)
