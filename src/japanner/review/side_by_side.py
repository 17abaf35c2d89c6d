"""Two pictures laid on each other: a reference fitted to the canvas, and where values differ."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.painting.model import Painting
from japanner.review.measuring import laying
from japanner.review.region import encoded

__all__ = ["FULL_DIFFERENCE", "fitted_reference", "value_difference"]

Pixels = NDArray[np.uint32]
FULL_DIFFERENCE: Final = 40.0
"""Difference of L* that is shown as black or white."""


def fitted_reference(painting: Painting, name: str, codes: NDArray[np.uint8], step: int) -> Pixels:
    """A pinned picture, uint8 (h, w, 3), over the canvas reduced by `step`, 0xffRRGGBB: where `laying` puts it.
    Beyond it is the ground.
    """
    height, width = codes.shape[:2]
    size = -(-painting.width // step), -(-painting.height // step)
    fit = laying(painting, name, width, height)
    matrix = np.column_stack((fit.scale * fit.rotation, fit.shift))
    border = tuple(round(255 * c) for c in painting.ground)
    small = cv2.warpAffine(np.ascontiguousarray(codes), (matrix / step).astype(float), size, flags=cv2.INTER_AREA,
                           borderValue=border)  # fmt: skip
    r, g, b = (small[..., k].astype(np.uint32) for k in range(3))
    found: Pixels = np.uint32(0xFF000000) | r << 16 | g << 8 | b
    return found


def value_difference(one: Pixels, other: Pixels) -> Pixels:
    """How much lighter (above middle grey) or darker (below) one picture is than another of its size, 0xffRRGGBB."""
    values = [lab.lightness_from_srgb(encoded(pixels)) for pixels in (one, other)]
    share = np.clip((values[0] - values[1]) / FULL_DIFFERENCE, -1, 1)
    grey = np.rint(127.5 + 127.5 * share).astype(np.uint32)
    return (np.uint32(0xFF000000) | grey << 16 | grey << 8 | grey).astype(np.uint32)
