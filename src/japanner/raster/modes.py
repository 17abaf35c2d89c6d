"""The blend table: every mode has one row here, and every path blends through it.

Names and formulas are those of W3C Compositing and Blending Level 1, the attribute values those of
OpenRaster; Exclusion has none there and carries a prefix of our own.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.raster import _kernels_blend
from japanner.raster.geometry import TILE, Rect

__all__ = ["BY_OPENRASTER", "MODES", "Mode", "blend_tile"]


@dataclass(frozen=True)
class Mode:
    """One blend mode: its place in the kernel's table, and what OpenRaster calls it."""

    index: int
    name: str
    openraster: str


_NAMES = (
    ("Normal", "svg:src-over"),
    ("Multiply", "svg:multiply"),
    ("Screen", "svg:screen"),
    ("Overlay", "svg:overlay"),
    ("Darken", "svg:darken"),
    ("Lighten", "svg:lighten"),
    ("Color Dodge", "svg:color-dodge"),
    ("Color Burn", "svg:color-burn"),
    ("Hard Light", "svg:hard-light"),
    ("Soft Light", "svg:soft-light"),
    ("Difference", "svg:difference"),
    ("Exclusion", "japanner:exclusion"),
    ("Hue", "svg:hue"),
    ("Saturation", "svg:saturation"),
    ("Color", "svg:color"),
    ("Luminosity", "svg:luminosity"),
    ("Plus", "svg:plus"),
)

MODES: Final = {name: Mode(index, name, op) for index, (name, op) in enumerate(_NAMES)}
BY_OPENRASTER: Final = {mode.openraster: mode for mode in MODES.values()}

WHOLE: Final = Rect(0, 0, TILE, TILE)


def blend_tile(
    mode: str,
    acc: NDArray[np.float32],
    src: NDArray[np.uint16],
    strength: float = 1.0,
    *,
    atop: bool = False,
    opaque: bool = False,
    area: Rect = WHOLE,
) -> None:
    """Blend one tile into an accumulator, in place.

    Parameters
    ----------
    mode : name from `MODES`
    acc : float32 (4, T, T), premultiplied R, G, B and coverage, 0..1; C-contiguous
    src : uint16 (4, T, T), the same in 0..65535
    strength : 0..1, multiplies the source's coverage
    atop : keep the backdrop's coverage and blend as if the backdrop were opaque; this is how the layers
        of a part stay inside its silhouette without a fringe (for Normal: Porter & Duff's source-atop)
    opaque : promise that the backdrop has coverage 1 everywhere, which spares its divisions
    area : the part of the tile to touch
    """
    checks.one_of("mode", mode, MODES)
    checks.number("strength", strength, 0, 1)
    _kernels_blend.blend_tile(MODES[mode].index, acc, src, np.float32(strength), atop, opaque, *area.rows_and_columns)


def blend(
    mode: str, backdrop: Any, source: Any, strength: float = 1.0, *, atop: bool = False, opaque: bool = False
) -> NDArray[np.float32]:
    """Blend straight RGBA colours, shape (n, 4) each, 0..1; the result is premultiplied (n, 4).

    Meant for single colours and tests; it runs the same kernel as everything else.
    """
    below, above = np.atleast_2d(np.asarray(backdrop, float)), np.atleast_2d(np.asarray(source, float))
    count = below.shape[0]
    acc = np.ascontiguousarray(np.vstack((below[:, :3].T * below[:, 3], below[:, 3]))[:, None, :], np.float32)
    src = np.vstack((above[:, :3].T * above[:, 3], above[:, 3]))[:, None, :]
    codes = np.ascontiguousarray(np.rint(src * 65535), np.uint16)
    blend_tile(mode, acc, codes, strength, atop=atop, opaque=opaque, area=Rect(0, 0, count, 1))
    return acc[:, 0, :].T.copy()
