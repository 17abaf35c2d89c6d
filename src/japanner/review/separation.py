"""How a part stands out from what is around it: two bands along its silhouette, one inside, one outside."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.color.difference import ciede2000
from japanner.review.region import Region, encoded, region_of_mask

__all__ = ["CLEAR_FROM", "CLOSE_FROM", "Separation", "earth_mover", "separation", "separation_of"]

# Our choice: local differences of L* from which a place of the outline counts as clear of, or close to, its ground;
# below, it is lost.
CLEAR_FROM: Final = 10.0
CLOSE_FROM: Final = 4.0


@dataclass(frozen=True)
class Separation:
    """Part against ground.

    values: mean L* inside minus mean L* outside. delta_e: CIEDE2000 of the bands' mean colours. clear, close, lost:
    shares of the outline where the two sides differ by 10 L* and more, by 4 to 10, by less.
    """

    values: float
    delta_e: float
    clear: float
    close: float
    lost: float

    @property
    def word(self) -> str:
        """clear, close or lost: what most of the outline is."""
        shares = {"clear": self.clear, "close": self.close, "lost": self.lost}
        return max(shares, key=lambda word: shares[word])


def separation(pixels: NDArray[np.uint32], region: Region) -> Separation | None:
    """Of 0xffRRGGBB `pixels` (h, w); None where the part has no edge in the picture."""
    if not region.has_edge:
        return None
    piece = pixels[region.piece]
    inside, outside = (lab.lab_from_srgb(encoded(piece[band])) for band in (region.inside, region.outside))
    return _of_bands(inside, outside, region)


def separation_of(colours: NDArray[np.floating], mask: NDArray[np.bool_], width_px: int) -> Separation | None:
    """Of Lab `colours` (h, w, 3) and a silhouette (h, w), with bands `width_px` wide; None without an edge."""
    region = region_of_mask(np.where(mask, np.uint8(255), np.uint8(0)), width_px)
    if not region.has_edge:
        return None
    piece = colours[region.piece]
    return _of_bands(piece[region.inside], piece[region.outside], region)


def earth_mover(inside: NDArray[Any], outside: NDArray[Any]) -> float:
    """How far, L*, the values (n,) of one band have to be moved in the mean to become those of the other (m,): Rubner,
    Tomasi & Guibas 2000, IJCV 40(2), 99. It tells bands apart whose means agree.

    Along a line that is the area between the two cumulative distributions.
    """
    both = np.sort(np.concatenate((inside, outside)).astype(np.float64))
    shares = [np.searchsorted(np.sort(one), both[:-1], side="right") / len(one) for one in (inside, outside)]
    return float((np.abs(shares[0] - shares[1]) * np.diff(both)).sum())


def _of_bands(inside: NDArray[Any], outside: NDArray[Any], region: Region) -> Separation:
    """Of the Lab colours (n, 3) of either band."""
    means = [band.mean(axis=0, dtype=np.float64) for band in (inside, outside)]
    apart = _local(inside[:, 0], region.inside, region) - _local(outside[:, 0], region.outside, region)
    local = np.abs(apart[region.edge])
    clear, lost = (float(share.mean()) if len(local) else 0.0 for share in (local >= CLEAR_FROM, local < CLOSE_FROM))
    values, delta_e = float(means[0][0] - means[1][0]), float(ciede2000(means[0], means[1]))
    return Separation(values, delta_e, clear, max(1 - clear - lost, 0.0), lost)


def _local(values: NDArray[Any], band: NDArray[np.bool_], region: Region) -> NDArray[np.float32]:
    """The mean of a band's values in a box about every pixel of the piece."""
    size = (2 * region.width_px + 1,) * 2
    weight, laid = band.astype(np.float32), np.zeros(band.shape, np.float32)
    laid[band] = values
    total = cv2.boxFilter(laid, -1, size, normalize=False)
    result: NDArray[np.float32] = total / np.maximum(cv2.boxFilter(weight, -1, size, normalize=False), 1e-6)
    return result
