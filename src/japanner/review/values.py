"""Value statistics: how the part and the ground next to it are spread over L*."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.painting.model import Part
from japanner.raster.geometry import TILE

__all__ = ["BINS", "ValueHistograms", "silhouette_mask", "value_histograms"]

BINS: Final = 101
# The ground next to a part: a band around the silhouette of this share of the picture's longer side.
BAND: Final = 0.03


@dataclass(frozen=True, eq=False)
class ValueHistograms:
    """Shares of pixels per whole L* 0..100, for the part and for the ground around it; all 0 if there is none."""

    part: NDArray[np.float64]
    ground: NDArray[np.float64]


def value_histograms(pixels: NDArray[np.uint32], part: Part, level: int) -> ValueHistograms:
    """Histograms over 0xffRRGGBB `pixels`, the picture halved `level` times, around the part's silhouette."""
    mask = silhouette_mask(part, pixels.shape, level)
    reach = max(round(BAND * max(pixels.shape)), 2)
    element = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1))
    ring = (cv2.dilate(mask, element) > 0) & (mask == 0)
    return ValueHistograms(_histogram(pixels[mask > 127]), _histogram(pixels[ring]))


def silhouette_mask(part: Part, shape: tuple[int, ...], level: int) -> NDArray[np.uint8]:
    """Coverage 0..255 of the part's flats at a halved size, sampled at pixel corners."""
    step = 1 << level
    mask = np.zeros(shape[:2], np.uint8)
    side = TILE // step
    for layer in part.flats:
        for (row, column), tile in layer.pixels.tiles.items():
            y, x = row * side, column * side
            target = mask[y : y + side, x : x + side]
            sample = (tile[3, ::step, ::step] >> 8).astype(np.uint8)[: target.shape[0], : target.shape[1]]
            np.maximum(target, sample, out=target)
    return mask


def _histogram(pixels: NDArray[np.uint32]) -> NDArray[np.float64]:
    if pixels.size == 0:
        return np.zeros(BINS)
    channels = np.stack([pixels >> shift & 255 for shift in (16, 8, 0)], axis=-1).astype(np.float32) / np.float32(255)
    values = np.rint(lab.lightness_from_srgb(channels)).astype(np.int64)
    shares: NDArray[np.float64] = np.bincount(values.ravel(), minlength=BINS)[:BINS] / values.size
    return shares
