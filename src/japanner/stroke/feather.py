"""Feathering: softening a passage by letting neighbours even out, so that nothing is dragged, added or lost."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import Key, Rect
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster
from japanner.stroke import _kernels_wet as kernels
from japanner.stroke.brush import Brush
from japanner.stroke.coverage import TipKit
from japanner.stroke.dabs import DabRows, around, extents
from japanner.stroke.smudge import LARGE_PX, REFERENCE_SPACING
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
        farthest = max(round(FARTHEST * 2 * float(dab[0, 2])), 1)
        dab[0, 0] -= area.x0 + place.x0 - farthest
        dab[0, 1] -= area.y0 + place.y0 - farthest
        ease = np.empty((place.height + 2 * farthest, place.width + 2 * farthest), np.float32)
        kernels.tip_cover(ease, dab, self._kit.tip, np.float32(self._brush.edge), self._kit.pictures)
        # Nothing takes part beyond the canvas, or beyond the piece.
        for side in (np.s_[:farthest], np.s_[-farthest:], np.s_[:, :farthest], np.s_[:, -farthest:]):
            ease[side] = 0

        def soften(plane: NDArray[np.float32]) -> None:
            one = np.pad(plane[rows, columns], farthest)
            other, distance = one.copy(), float(farthest)
            while True:
                kernels.exchange(one, other, ease, round(distance), np.float32(MOST_RATE), farthest)
                one, other = other, one
                if distance <= 1:
                    break
                distance = max(distance * NEARER, 1.0)
            plane[rows, columns] = one[farthest:-farthest, farthest:-farthest]

        each(region, soften, worth_it=2 if place.width > LARGE_PX else len(region) + 1)
