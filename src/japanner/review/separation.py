"""How a part stands out from what is around it: two bands along its silhouette, one inside, one outside."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.color.difference import ciede2000
from japanner.painting.model import Part
from japanner.review.values import silhouette_mask

__all__ = ["CLEAR_FROM", "CLOSE_FROM", "Separation", "separation", "separation_of"]

# Our choice: differences of the bands' mean L* from which a part counts as clear of, or close to, its ground.
CLEAR_FROM: Final = 10.0
CLOSE_FROM: Final = 4.0
# Below this local difference of L* an edge is lost.
LOST_BELOW: Final = 5.0
# Width of either band as a share of the picture's longer side: 8 px of 2000.
BAND: Final = 0.004
NARROWEST_PX: Final = 3


@dataclass(frozen=True)
class Separation:
    """Part against ground.

    values: mean L* inside minus mean L* outside. delta_e: CIEDE2000 of the bands' mean colours. lost: share of the
    silhouette where the two sides differ by less than 5 L*.
    """

    values: float
    delta_e: float
    lost: float

    @property
    def word(self) -> str:
        """clear, close or lost."""
        apart = abs(self.values)
        return "clear" if apart >= CLEAR_FROM else "close" if apart >= CLOSE_FROM else "lost"


def separation(pixels: NDArray[np.uint32], part: Part, level: int) -> Separation | None:
    """Of 0xffRRGGBB `pixels`, the picture halved `level` times; None where the part has no edge in it."""
    mask: NDArray[np.bool_] = silhouette_mask(part, pixels.shape, level) > 127
    if not mask.any() or mask.all():
        return None
    rows, columns = np.flatnonzero(mask.any(axis=1)), np.flatnonzero(mask.any(axis=0))
    width = max(round(BAND * max(pixels.shape)), NARROWEST_PX)
    top, left = max(rows[0] - 2 * width, 0), max(columns[0] - 2 * width, 0)
    piece = (slice(top, rows[-1] + 2 * width + 1), slice(left, columns[-1] + 2 * width + 1))
    codes = pixels[piece]
    channels = np.stack([codes >> shift & 255 for shift in (16, 8, 0)], axis=-1).astype(np.float32) / np.float32(255)
    return separation_of(lab.lab_from_srgb(channels), mask[piece], width)


def separation_of(colours: NDArray[np.floating], mask: NDArray[np.bool_], width_px: int) -> Separation | None:
    """Of Lab `colours` (h, w, 3) and a silhouette (h, w), with bands `width_px` wide; None without an edge."""
    inside = cv2.distanceTransform(mask.astype(np.uint8), cv2.DIST_L2, 5)
    outside = cv2.distanceTransform((~mask).astype(np.uint8), cv2.DIST_L2, 5)
    near = ((inside > 0) & (inside <= width_px), (outside > 0) & (outside <= width_px))
    if not (near[0].any() and near[1].any()):
        return None
    means = [colours[band].mean(axis=0, dtype=np.float64) for band in near]
    apart = _local(colours[..., 0], near[0], width_px) - _local(colours[..., 0], near[1], width_px)
    edge = near[0] & (inside < 1.5)
    lost = float((np.abs(apart[edge]) < LOST_BELOW).mean()) if edge.any() else 0.0
    return Separation(float(means[0][0] - means[1][0]), float(ciede2000(means[0], means[1])), lost)


def _local(values: NDArray[np.floating], band: NDArray[np.bool_], width_px: int) -> NDArray[np.float32]:
    """The mean of a band's values in a box about every pixel."""
    size = (2 * width_px + 1, 2 * width_px + 1)
    weight = band.astype(np.float32)
    total = cv2.boxFilter(np.ascontiguousarray(values * weight, np.float32), -1, size, normalize=False)
    result: NDArray[np.float32] = total / np.maximum(cv2.boxFilter(weight, -1, size, normalize=False), 1e-6)
    return result
