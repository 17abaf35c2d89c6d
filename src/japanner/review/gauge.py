"""The figures of the value rail, measured again and again while a part is painted."""

from __future__ import annotations

import threading
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.painting.model import Part
from japanner.review.region import Region, region_of
from japanner.review.separation import Separation, separation
from japanner.review.values import BINS, ValueHistograms, value_histograms

__all__ = ["NOTHING", "Figures", "Gauge"]

Figures = tuple[ValueHistograms, Separation | None]

NOTHING: Final[Figures] = (ValueHistograms(np.zeros(BINS), np.zeros(BINS)), None)
MOST_KEPT: Final = 2


class Gauge:
    """Measures parts; where a part lies is worked out anew only when its flats have changed. Any thread may ask."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._regions: dict[tuple[object, ...], Region] = {}

    def figures(self, part: Part, level: int, pixels: NDArray[np.uint32]) -> Figures:
        """Of 0xffRRGGBB `pixels` (h, w), the picture halved `level` times."""
        region = self._region(part, level, pixels.shape)
        return value_histograms(pixels, region), separation(pixels, region)

    def _region(self, part: Part, level: int, shape: tuple[int, ...]) -> Region:
        key = (level, shape, *(layer.pixels for layer in part.flats))
        with self._lock:
            found = self._regions.get(key)
            if found is None:
                found = region_of(part, shape, level)
                while len(self._regions) >= MOST_KEPT:
                    del self._regions[next(iter(self._regions))]  # the oldest
                self._regions[key] = found
        return found
