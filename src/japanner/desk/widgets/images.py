"""Images for the screen from arrays of codes: the one place where Qt is handed memory of ours."""

from __future__ import annotations

from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QRect
from PySide6.QtGui import QImage

__all__ = ["image_of", "pixels_in", "shared_image"]

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


def pixels_in(image: QImage, part: QRect) -> NDArray[np.uint32]:
    """The 0xffRRGGBB pixels (h, w) of a part of an image of that format; a view of its memory."""
    rows = np.frombuffer(image.constBits(), np.uint32).reshape(image.height(), image.bytesPerLine() // 4)
    found: NDArray[np.uint32] = rows[part.y() : part.y() + part.height(), part.x() : part.x() + part.width()]
    return found
