"""Feathering: softening a passage by letting neighbours even out, so that nothing is dragged, added or lost."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import Key, Rect
from japanner.raster.tiles import Raster
from japanner.stroke import _kernels_wet as kernels
from japanner.stroke.brush import Brush
from japanner.stroke.coverage import TipKit
from japanner.stroke.dabs import DabRows, around, extents
from japanner.stroke.smudge import REFERENCE_SPACING
from japanner.stroke.wet_layer import WetLayer

__all__ = ["FeatherStroke"]

# How far apart the farthest pixels are that even out, as a share of the tip; nearer ones follow in golden steps.
FARTHEST: Final = 0.09
NEARER: Final = 0.618
MOST_RATE: Final = 0.25


class FeatherStroke:
    """Every dab lets pairs of pixels give and take: a diffusion, whose sums stay and whose variance never grows."""

    BATCH: Final = 16

    def __init__(self, base: Raster, brush: Brush) -> None:
        self.tiles: dict[Key, NDArray[np.uint16]] = {}
        self._base, self._brush = base, brush
        self._layer, self._kit = WetLayer(base, brush), TipKit(brush)

    def put(self, rows: DabRows) -> list[Rect]:
        """Soften along dabs; the changed canvas areas."""
        square = self._kit.square
        area = around(extents(rows, square=square)).intersected(self._base.rect)
        if area.empty:
            return []
        region = self._layer.gathered(area)
        per_dab = 1 - (1 - rows[:, 3]) ** np.float32(self._brush.spacing / REFERENCE_SPACING)
        for row, strength in zip(rows, per_dab, strict=True):
            dab = row[None].copy()
            dab[0, 3] = strength
            within = around(extents(dab, square=square)).intersected(area)
            if not within.empty:
                self._dab(region, dab, within.moved(-area.x0, -area.y0), area)
        self._layer.scatter(area, region)
        self._layer.store(self.tiles, area)
        return [area]

    def _dab(self, region: NDArray[np.float32], dab: DabRows, place: Rect, area: Rect) -> None:
        rows, columns = slice(place.y0, place.y1), slice(place.x0, place.x1)
        piece = np.ascontiguousarray(region[:, rows, columns])
        dab[0, 0] -= area.x0 + place.x0
        dab[0, 1] -= area.y0 + place.y0
        ease = np.empty(piece.shape[1:], np.float32)
        kernels.tip_cover(ease, dab, self._kit.tip, np.float32(self._brush.edge), self._kit.pictures)
        distance = max(FARTHEST * 2 * float(dab[0, 2]), 1.0)
        while True:
            kernels.exchange(piece, ease, round(distance), np.float32(MOST_RATE))
            if distance <= 1:
                break
            distance = max(distance * NEARER, 1.0)
        region[:, rows, columns] = piece
