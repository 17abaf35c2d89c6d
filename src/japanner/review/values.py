"""Value statistics: how the part and the ground next to it are spread over L*."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import lab, srgb
from japanner.review.region import Region, encoded

__all__ = ["BINS", "ValueHistograms", "surroundings", "value_histograms"]

BINS: Final = 101


@dataclass(frozen=True, eq=False)
class ValueHistograms:
    """Shares of pixels per whole L* 0..100, for the part and for the ground around it; all 0 if there is none."""

    part: NDArray[np.float64]
    ground: NDArray[np.float64]


def value_histograms(pixels: NDArray[np.uint32], region: Region) -> ValueHistograms:
    """Histograms over 0xffRRGGBB `pixels` (h, w)."""
    flat = pixels.reshape(-1)
    return ValueHistograms(_histogram(flat[region.part]), _histogram(flat[region.ground]))


def surroundings(pixels: NDArray[np.uint32], region: Region) -> tuple[float, float, float] | None:
    """The encoded mean colour, in linear light, of the ground next to a part; None where there is none."""
    around = pixels.reshape(-1)[region.ground]
    if around.size == 0:
        return None
    light = srgb.decode(encoded(around)).mean(axis=0, dtype=np.float64)
    r, g, b = (float(c) for c in srgb.encode(light))
    return r, g, b


def _histogram(pixels: NDArray[np.uint32]) -> NDArray[np.float64]:
    if pixels.size == 0:
        return np.zeros(BINS)
    values = np.rint(lab.lightness_from_srgb(encoded(pixels))).astype(np.int64)
    shares: NDArray[np.float64] = np.bincount(values.ravel(), minlength=BINS)[:BINS] / values.size
    return shares
