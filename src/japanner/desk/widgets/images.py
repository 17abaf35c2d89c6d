"""Images for the screen from arrays of codes: the one place where Qt is handed memory of ours."""

from __future__ import annotations

from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from PySide6.QtGui import QImage

__all__ = ["image_of", "shared_image"]

FORMATS: Final = {
    1: QImage.Format.Format_Grayscale8,
    3: QImage.Format.Format_RGB888,
    4: QImage.Format.Format_RGBA8888,
}


def image_of(codes: NDArray[Any], *, premultiplied: bool = False) -> QImage:
    """An image with memory of its own: of uint8 codes (h, w) grey, (h, w, 3) or (h, w, 4), or of uint32 0xffRRGGBB
    pixels (h, w); however the array lies in memory.
    """
    whole = np.ascontiguousarray(codes)
    if whole.dtype == np.uint32:
        return shared_image(whole).copy()
    height, width = whole.shape[:2]
    channels = whole.shape[2] if whole.ndim == 3 else 1
    kind = QImage.Format.Format_RGBA8888_Premultiplied if premultiplied else FORMATS[channels]
    return QImage(whole.data, width, height, width * channels, kind).copy()


def shared_image(pixels: NDArray[np.uint32]) -> QImage:
    """An image of 0xffRRGGBB pixels (h, w) that shares their memory, whose rows must lie one after the other."""
    if not pixels.flags.c_contiguous:
        return image_of(pixels)
    return QImage(pixels.data, pixels.shape[1], pixels.shape[0], pixels.strides[0], QImage.Format.Format_RGB32)
