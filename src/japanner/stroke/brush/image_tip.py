"""Image tips: any picture as the shape of a brush."""

from __future__ import annotations

from functools import lru_cache
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.errors import InputError
from japanner.raster import png_data
from japanner.raster.codec import data_of, to_text_of

__all__ = ["LARGEST_TIP_PX", "tip_coverage", "tip_from_pixels"]

LARGEST_TIP_PX: Final = 4096
OPAQUE: Final = 0.99


def tip_from_pixels(pixels: NDArray[np.uint16]) -> str:
    """An image tip, as text, from straight pixels (4, h, w).

    What has coverage of its own lays by it; an opaque picture lays where it is dark, as ink on paper would.
    """
    alpha = pixels[3].astype(np.float32) / 65535
    dark = 1 - srgb.luminance(pixels[:3].transpose(1, 2, 0).astype(np.float32) / 65535)
    coverage = alpha * dark if alpha.min() > OPAQUE else alpha
    if coverage.max() < 0.01:
        raise InputError("The picture is empty, or all white: a tip needs something to lay")
    height, width = coverage.shape
    scale = min(LARGEST_TIP_PX / max(height, width), 1.0)
    size = (max(round(width * scale), 1), max(round(height * scale), 1))
    small = cv2.resize(coverage, size, interpolation=cv2.INTER_AREA)
    return to_text_of(png_data.encode(np.rint(small * 255).astype(np.uint8)[None]))


@lru_cache(maxsize=8)
def tip_coverage(text: str) -> NDArray[np.float32]:
    """The tip as a square, coverage 0..1, with a bare pixel all around; InputError if the text holds none."""
    grey = cv2.imdecode(np.frombuffer(data_of(text), np.uint8), cv2.IMREAD_GRAYSCALE)
    if grey is None or max(grey.shape) > LARGEST_TIP_PX:
        raise InputError(f"image: expected a grey picture of at most {LARGEST_TIP_PX} px")
    side = max(grey.shape) + 2
    square = np.zeros((side, side), np.float32)
    top, left = (side - grey.shape[0]) // 2, (side - grey.shape[1]) // 2
    square[top : top + grey.shape[0], left : left + grey.shape[1]] = grey.astype(np.float32) / 255
    square.setflags(write=False)
    return square
