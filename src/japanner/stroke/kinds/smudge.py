"""Smudge, knife and wet paint: the tip drags paint along."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import Key, Rect
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster
from japanner.stroke import _kernels_wet as kernels
from japanner.stroke.brush import Brush
from japanner.stroke.brush.tips import BLADE_THICKNESS
from japanner.stroke.kinds.coverage import TipKit
from japanner.stroke.kinds.dabs import COLOUR, DabRows, around, extents
from japanner.stroke.kinds.mixing_space import Planes, paint_in
from japanner.stroke.kinds.wet_layer import VisibleTile, WetLayer, gathered, scatter
from japanner.stroke.kinds.working import WorkingStroke

__all__ = ["SmudgeStroke", "VisibleTile"]

# From this size on, both cores work on dabs; a small one is not worth a hand-over.
LARGE_PX: Final = 160
# Strength is meant for dabs a quarter of the size apart; other spacings are converted to it.
REFERENCE_SPACING: Final = 0.25
# A dab that took up more than this share of what it carries would be full of what it has just laid.
MOST_TAKEN: Final = 0.9
NO_PAINT: Final = np.zeros((0, 0), np.float32)

Room = tuple[Planes, Planes, NDArray[np.uintp]]
"""What the kernel needs to work in."""


class SmudgeStroke(WorkingStroke):
    """Drags paint; a wet brush brings its own along.

    `carry` of the brush is how far paint travels, in tip sizes; strength is how much of the picture goes with it.
    Neither depends on spacing. Of a wet brush, `wetness` is the share that it takes up of what it goes over.
    """

    # The tiles under a bundle of dabs are gathered into one region; a long bundle would make a large one.
    BATCH = 24

    def __init__(self, base: Raster, brush: Brush, visible: VisibleTile | None) -> None:
        """`visible` is needed when the brush picks up from all that is visible."""
        self.tiles: dict[Key, NDArray[np.uint16]] = {}
        self._base, self._brush = base, brush
        self._layer, self._kit = WetLayer(base, brush), TipKit(brush)
        self._visible = None
        if visible is not None and brush.pick_from == "visible":
            self._visible = self._layer.seen(visible)
        self._seen: dict[Key, Planes] = {}
        half = math.ceil(brush.size_px / 2 * (math.sqrt(2) if self._kit.square else 1)) + 2
        side = 2 * half + 1
        self._carried = np.full((self._layer.planes, side, side), kernels.UNTOUCHED, np.float32)
        # Planes have nothing to do with each other: each core takes half of them of a large tip.
        shares = 2 if brush.size_px >= LARGE_PX else 1
        edges = np.linspace(0, self._layer.planes, shares + 1).astype(int)
        self._shares = [(slice(a, b), _room(side)) for a, b in pairwise(edges)]
        self._wet = brush.does.plain
        self._loaded = False

    def put(self, rows: DabRows) -> list[Rect]:
        """Drag along dabs; the changed canvas areas."""
        area = around(extents(rows, self._kit.reach)).intersected(self._base.rect)
        if area.empty:
            return []
        self._drag(rows, area)
        self._layer.store(self.tiles, area)
        return [area]

    def _drag(self, rows: DabRows, area: Rect) -> None:
        brush, kit = self._brush, self._kit
        target = self._layer.gathered(area)
        source = target
        if self._visible is not None:
            source = gathered(self._seen, area, self._layer.planes, self._visible)
        local = rows.copy()
        local[:, 0] -= area.x0
        local[:, 1] -= area.y0
        turns = np.float32(brush.spacing / REFERENCE_SPACING)
        # A knife scrapes: what it covers goes along at once.
        per_dab = local[:, 3] if brush.does.blade else 1 - (1 - local[:, 3]) ** turns
        local[:, 3] = np.minimum(per_dab, MOST_TAKEN * min(brush.carry, 1.0))
        loads, take, refill = NO_PAINT, 1.0, 0.0
        if self._wet:
            loads = paint_in(brush.mixing, rows[:, COLOUR])
            take, refill = brush.wetness, 1 - brush.wetness ** float(turns)
            if not self._loaded:
                self._carried[:], self._loaded = loads[0][:, None, None], True
        # Paint falls behind a blade after its thickness, behind a round tip after its size.
        carry = brush.carry / BLADE_THICKNESS if brush.does.blade else brush.carry
        grain = kit.grain_over(area)
        settings = (
            kit.tip, np.float32(brush.edge), kit.pictures, kit.thick, grain,
            np.float32(carry), np.float32(take), np.float32(refill),
        )  # fmt: skip

        def drag(share: tuple[slice, Room]) -> None:
            planes, room = share
            kernels.smudge(
                target[planes], source[planes], self._visible is not None, self._carried[planes], *room,
                local, np.ascontiguousarray(loads[:, planes]), *settings, 0, area.height, 0, area.width,
            )  # fmt: skip

        each(self._shares, drag, worth_it=2)
        self._layer.scatter(area, target)
        if self._visible is not None:
            scatter(self._seen, area, source)


def _room(side: int) -> Room:
    return np.empty((side, side), np.float32), np.empty((side, side), np.float32), np.empty((side, 2), np.uintp)
