"""What strokes of hair paint with, and the layer that they gather on before it becomes paint."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.limit import Limit
from japanner.raster.tiles import EMPTY_TILE, Raster
from japanner.strand.comb import CombField
from japanner.strand.strands import Strands
from japanner.stroke.brush import Brush
from japanner.stroke.coverage import Colour, Tile
from japanner.stroke.laid import LaidHair
from japanner.stroke.wet_layer import VisibleTile

__all__ = ["FULL", "PLANES", "CoverTile", "HairLayer", "HairPaint", "strands_area"]

Planes = NDArray[np.float32]
CoverTile = Callable[[Key], Tile]
PLANES: Final = 6
"""Of a region in the making: premultiplied colour, coverage, the highest rank of hairs and of their dabs."""
FULL: Final = np.float32(65535)


@dataclass(frozen=True, eq=False)
class HairPaint:
    """What hair strokes paint with: colour, the comb field if there is one, the light, the seed of all chance, and
    the visible picture, for what picks up from it; the hair that earlier strokes have laid;
    coverage by tile that says how long and how dense fur is."""

    colour: Colour
    comb: CombField | None = None
    light: tuple[float, float, float] = (0.0, 0.7, 0.7)
    seed: int = 0
    wipe: bool = False
    visible: VisibleTile | None = None
    laid: LaidHair | None = None
    length: CoverTile | None = None
    density: CoverTile | None = None


class HairLayer:
    """What a stroke has laid so far, over the tiles of the canvas, and its outcome on the layer's paint.

    laid: the hair that is in it already; where that comes from rows farther up than those of the stroke, it stays over
    the stroke's own.
    """

    def __init__(self, base: Raster, brush: Brush, *, wipe: bool, laid: LaidHair | None = None) -> None:
        self.tiles: dict[Key, Tile] = {}
        self._base, self._wipe, self._before = base, wipe, laid
        self._hair: dict[Key, tuple[Tile, Tile] | None] = {}
        self._stops = {"lay": 0.0, "lighten": brush.stops, "darken": -brush.stops}[brush.hair_does]
        self._laid: dict[Key, Planes] = {}

    def gathered(self, area: Rect) -> Planes:
        """Premultiplied colour, coverage and the highest ranks (PLANES, h, w)."""
        region = np.zeros((PLANES, area.height, area.width), np.float32)
        for key, local in area.tiles():
            if key in self._laid:
                region[_place(key, local, area)] = self._laid[key][:, local.y0 : local.y1, local.x0 : local.x1]
        return region

    def store(self, area: Rect, region: Planes) -> None:
        """Keep a region, and make the layer's paint anew in it."""
        for key, local in area.tiles():
            if key not in self._laid:
                self._laid[key] = np.zeros((PLANES, TILE, TILE), np.float32)
                self.tiles[key] = self._base.tile(key).copy()
            piece = region[_place(key, local, area)]
            part = np.s_[:, local.y0 : local.y1, local.x0 : local.x1]
            self._laid[key][part] = piece
            base = self._base.tile(key)[part].astype(np.float32)
            self.tiles[key][part] = np.rint(self._outcome(base, piece, self._hair_before(key, part)))

    def _hair_before(self, key: Key, part: Any) -> tuple[Tile, Tile] | None:
        if self._before is None:
            return None
        if key not in self._hair:
            self._hair[key] = self._before.tile(key, self._base)
        found = self._hair[key]
        return found and (found[0][part], found[1][part])

    def laid(self, result: Raster, limit: Limit) -> LaidHair | None:
        """All hair that is in the layer, once `result` is its paint."""
        if self._before is None:
            return None
        paint, ranks = dict[Key, Tile](), dict[Key, Tile]()
        for key, piece in self._laid.items():
            before = self._hair_before(key, np.s_[:]) or (EMPTY_TILE, EMPTY_TILE)
            paint[key], ranks[key] = np.empty_like(EMPTY_TILE), np.zeros_like(EMPTY_TILE)
            paint[key][:] = np.rint(_merged(piece, before[0].astype(np.float32), before[1]))
            np.minimum(paint[key][:3], paint[key][3], out=paint[key][:3])
            ranks[key][3] = np.maximum(piece[4], before[1][3])
            for fresh, former in ((paint, before[0]), (ranks, before[1])):
                Limit(limit.frisket).apply(key, former, fresh[key])
            if limit.hold_edges:
                # Hair that held edges have cut cannot be told from what is under it.
                cut = self._base.tile(key)[3] < 65535
                paint[key][:, cut] = ranks[key][:, cut] = 0
        rest = self._before.settled(self._base) or LaidHair.none(result)
        return LaidHair(result, rest.paint.with_tiles(paint), rest.ranks.with_tiles(ranks))

    def _outcome(self, base: Planes, piece: Planes, before: tuple[Tile, Tile] | None) -> Planes:
        """Premultiplied codes of the layer with what has been laid; before: hair and ranks that were in it."""
        if self._stops and not self._wipe:
            straight = base[:3] / np.maximum(base[3], 1)
            exposed = srgb.decode(np.clip(straight, 0, 1)) * 2 ** (self._stops * piece[3])
            changed: Planes = np.concatenate((srgb.encode(np.clip(exposed, 0, 1)) * base[3], base[3:]))
            return np.where(piece[3] > 0, changed, base)
        left = base * (1 - piece[3])
        if before is not None:
            hair = before[0].astype(np.float32)
            left += _merged(piece, hair, before[1]) - hair * (1 - piece[3])
            np.clip(left, 0, FULL, out=left)
        elif not self._wipe:
            left += piece[:4] * FULL
        np.minimum(left[:3], left[3], out=left[:3])
        return left


def _merged(piece: Planes, hair: Planes, ranks: Tile) -> Planes:
    """Premultiplied codes (4, h, w) of a stroke's hair, over the hair that was there before or, by rank, under it."""
    mine = piece[:4] * FULL
    over, under = mine + hair * (1 - piece[3]), hair + mine * (1 - hair[3] / FULL)
    return np.where(piece[5] >= ranks[3], over, under)


def _place(key: Key, local: Rect, area: Rect) -> tuple[slice, slice, slice]:
    there = local.moved(key[1] * TILE - area.x0, key[0] * TILE - area.y0)
    return slice(None), slice(there.y0, there.y1), slice(there.x0, there.x1)


def strands_area(strands: Strands, base: Raster) -> Rect:
    """The area of the canvas that strands may touch."""
    if not len(strands.points):
        return Rect(0, 0, 0, 0)
    points = strands.points.reshape(-1, 2)
    wide = float(strands.look[:, 0].max()) + 2
    (x0, y0), (x1, y1) = points.min(axis=0) - wide, points.max(axis=0) + wide
    return Rect(int(np.floor(x0)), int(np.floor(y0)), int(np.ceil(x1)), int(np.ceil(y1))).intersected(base.rect)
