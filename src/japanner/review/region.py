"""Where a part is in a picture, and where the ground next to it: worked out once, measured as often as need be."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.painting.model import Part
from japanner.raster.geometry import TILE

__all__ = ["Region", "encoded", "region_of", "region_of_mask", "silhouette_mask"]

# The ground next to a part: a band around the silhouette of this share of the picture's longer side.
GROUND_BAND: Final = 0.03
# Either side of the edge that is compared: 8 px of 2000.
EDGE_BAND: Final = 0.004
NARROWEST_PX: Final = 3

Indices = NDArray[np.intp]


@dataclass(frozen=True, eq=False)
class Region:
    """Flat indices into a picture (h, w), and the mask in the piece of it around the silhouette.

    part: all that the silhouette covers by half or more. ground: the wide band around it. piece: rows and columns that
    hold the edge. inside, outside: (h', w') masks in the piece, of the narrow bands on either side of the edge,
    `width_px` wide. edge: the outermost pixels of the inside.
    """

    part: Indices
    ground: Indices
    piece: tuple[slice, slice]
    inside: NDArray[np.bool_]
    outside: NDArray[np.bool_]
    edge: NDArray[np.bool_]
    width_px: int

    @property
    def has_edge(self) -> bool:
        return bool(self.inside.any() and self.outside.any())


def region_of(part: Part, shape: tuple[int, ...], level: int) -> Region:
    """Of a part in the picture halved `level` times, whose shape is (h, w)."""
    return region_of_mask(silhouette_mask(part, shape, level))


def region_of_mask(mask: NDArray[np.uint8], width_px: int | None = None) -> Region:
    """Of a silhouette's coverage 0..255, (h, w); `width_px` of the narrow bands is 0.4 % of the longer side."""
    half, any_of = mask > 127, mask > 0
    longer = max(mask.shape)
    width = max(round(EDGE_BAND * longer), NARROWEST_PX) if width_px is None else width_px
    reach = max(round(GROUND_BAND * longer), 2)
    rows, columns = _piece(any_of, reach)
    away = cv2.distanceTransform((~any_of[rows, columns]).astype(np.uint8), cv2.DIST_L2, 5)
    ring = np.zeros(mask.shape, bool)
    ring[rows, columns] = any_of.any() & (away > 0) & (away <= reach)
    piece = _piece(half, 2 * width)
    inward = cv2.distanceTransform(half[piece].astype(np.uint8), cv2.DIST_L2, 5)
    outward = cv2.distanceTransform((~half[piece]).astype(np.uint8), cv2.DIST_L2, 5)
    inside = (inward > 0) & (inward <= width)
    # OpenCV calls every pixel far from an edge where there is no edge at all.
    outside = (outward > 0) & (outward <= width)
    edge = inside & (inward < 1.5)
    return Region(np.flatnonzero(half), np.flatnonzero(ring), piece, inside, outside, edge, width)


def _piece(covered: NDArray[np.bool_], margin: int) -> tuple[slice, slice]:
    """Rows and columns from the first to the last that are covered, with a margin."""
    x, y, width, height = cv2.boundingRect(covered.astype(np.uint8))
    rows, columns = (slice(max(a - margin, 0), a + length + margin) for a, length in ((y, height), (x, width)))
    return rows, columns


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


def encoded(pixels: NDArray[np.uint32]) -> NDArray[Any]:
    """Encoded channels 0..1, float32 (..., 3), of 0xffRRGGBB pixels."""
    return np.stack([pixels >> shift & 255 for shift in (16, 8, 0)], axis=-1).astype(np.float32) / np.float32(255)
