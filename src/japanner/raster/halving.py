"""Reduced pictures."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from japanner.raster import _kernels_tiles as kernels
from japanner.raster.geometry import Rect

__all__ = ["halve"]


def halve(fine: NDArray[np.uint32], coarse: NDArray[np.uint32], area: Rect) -> None:
    """Renew `area` of `coarse` with the means of 2 x 2 pixels of `fine`; both 0xAARRGGBB, sides rounded up."""
    inside = area.intersected(Rect(0, 0, coarse.shape[1], coarse.shape[0]))
    if not inside.empty:
        kernels.halve(fine, coarse, *inside.rows_and_columns)
