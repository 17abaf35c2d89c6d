"""Feathering: softening a passage by letting neighbours even out, so that nothing is dragged, added or lost."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import Key, Rect
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster
from japanner.stroke import _kernels_wet as kernels
from japanner.stroke.brush import Brush
from japanner.stroke.brush.grain import NO_GRAIN
from japanner.stroke.kinds.coverage import TipKit
from japanner.stroke.kinds.dabs import DabRows, around, extents
from japanner.stroke.kinds.smudge import LARGE_PX, REFERENCE_SPACING
from japanner.stroke.kinds.wet_layer import WetLayer
from japanner.stroke.kinds.working import WorkingStroke

__all__ = ["FeatherStroke"]

# How far apart the farthest pixels are that even out, as a share of the tip; nearer ones follow in golden steps.
FARTHEST: Final = 0.09
NEARER: Final = 0.618
MOST_RATE: Final = 0.25


class FeatherStroke(WorkingStroke):
    """Every dab lets pairs of pixels give and take: a diffusion, whose sums stay and whose variance never grows."""

    BATCH = 16

    def __init__(self, base: Raster, brush: Brush) -> None:
        self.tiles: dict[Key, NDArray[np.uint16]] = {}
        self._base, self._brush = base, brush
        self._layer, self._kit = WetLayer(base, brush), TipKit(brush)
        farthest = max(round(FARTHEST * brush.size_px), 1)
        side = math.ceil(brush.size_px * (math.sqrt(2) if self._kit.square else 1)) + 2 * farthest + 8
        self._ease, self._spans = np.zeros((side, side), np.float32), np.empty((side, 2), np.uintp)
        self._rooms = [np.zeros((2, side, side), np.float32) for _ in range(self._layer.planes)]

    def put(self, rows: DabRows) -> list[Rect]:
        """Soften along dabs; the changed canvas areas."""
        area = around(extents(rows, self._kit.reach)).intersected(self._base.rect)
        if area.empty:
            return []
        region = self._layer.gathered(area)
        per_dab = 1 - (1 - rows[:, 3]) ** np.float32(self._brush.spacing / REFERENCE_SPACING)
        for row, strength in zip(rows, per_dab, strict=True):
            dab = row[None].copy()
            dab[0, 3] = strength
            within = around(extents(dab, self._kit.reach)).intersected(area)
            if not within.empty:
                self._dab(region, dab, within.moved(-area.x0, -area.y0), area)
        self._layer.scatter(area, region)
        self._layer.store(self.tiles, area)
        return [area]

    def _dab(self, region: NDArray[np.float32], dab: DabRows, place: Rect, area: Rect) -> None:
        dab[0, 0] -= area.x0
        dab[0, 1] -= area.y0
        distances = _distances(2 * float(dab[0, 2]))
        margin, kit = int(distances[0, 0]), self._kit
        kernels.tip_cover(
            self._ease, self._spans, dab, kit.tip, np.float32(self._brush.edge), kit.pictures, kit.thick, NO_GRAIN,
            place.y0 - margin, place.x0 - margin, *place.rows_and_columns,
        )  # fmt: skip

        def soften(number: int) -> None:
            kernels.even_out(
                region[number], self._ease, *self._rooms[number], distances, np.float32(MOST_RATE), margin,
                *place.rows_and_columns,
            )  # fmt: skip

        each(range(len(region)), soften, worth_it=2 if place.width > LARGE_PX else len(region) + 1)


@lru_cache(maxsize=256)
def _distances(size_px: float) -> NDArray[np.int32]:
    """The distances at which pixels under a tip even out (1, n), from the farthest to 1 px."""
    found = [max(FARTHEST * size_px, 1.0)]
    while round(found[-1]) > 1:
        found.append(found[-1] * NEARER)
    return np.array([[round(one) for one in found]], np.int32)
