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
from japanner.raster.parallel import each
from japanner.raster.tiles import EMPTY_TILE, Raster
from japanner.strand.comb import CombField
from japanner.strand.strands import Strands
from japanner.stroke import _kernels_tone as tones
from japanner.stroke.brush import Brush
from japanner.stroke.kinds.laid import LaidHair
from japanner.stroke.kinds.wet_layer import VisibleTile
from japanner.types import Colour, Tile

__all__ = ["FULL", "PLANES", "CoverTile", "HairLayer", "HairPaint", "strands_area"]

Planes = NDArray[np.float32]
CoverTile = Callable[[Key], Tile]
PLANES: Final = 6
"""Of a region in the making: premultiplied colour, coverage, the highest rank of hairs and of their dabs."""
FULL: Final = np.float32(65535)
BAND_PX: Final = 64
"""Rows of a tile that are drawn at once."""
ALL: Final = np.s_[:]


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
        self._drawn: dict[Key, Rect] = {}

    def draw(self, strands: Strands, ranks: Planes | None = None, *, anew: bool = False) -> list[Rect]:
        """Lay strands over what the stroke has laid, or by rank under it, or in its place; the changed areas."""
        touched = touched_by(strands)
        wanted = {key: local for key, local in strands_area(strands, self._base).tiles() if key in touched}
        former, self._drawn = self._drawn if anew else {}, wanted
        pieces = []
        for key in sorted(wanted.keys() | former.keys()):
            if key not in self._laid:
                self._laid[key] = np.zeros((PLANES, TILE, TILE), np.float32)
                self.tiles[key] = self._base.tile(key).copy()
            none = Rect(0, 0, 0, 0)
            local = wanted.get(key, none).united(former.get(key, none))
            self._hair_before(key, ALL)
            pieces += [(key, local._replace(y0=max(local.y0, top), y1=min(local.y1, top + BAND_PX)))
                       for top in range(0, TILE, BAND_PX) if top < local.y1 and top + BAND_PX > local.y0]  # fmt: skip
        order = ranks if ranks is not None else np.zeros((len(strands.points), 2), np.float32)

        def work(piece: tuple[Key, Rect]) -> None:
            key, local = piece
            laid, tile = self._laid[key], Rect.of_tile(key)
            if anew:
                laid[:, local.y0 : local.y1, local.x0 : local.x1] = 0
            strands.draw_rows(laid[:4], laid[4:], tile.x0, tile.y0, local.y0, local.y1, order)
            self._renew(key, local)

        each(pieces, work, worth_it=2)
        return [local.moved(key[1] * TILE, key[0] * TILE) for key, local in pieces]

    def _renew(self, key: Key, local: Rect) -> None:
        """Make the layer's paint anew in a part of a tile."""
        if self._before is None and (self._wipe or not self._stops):
            tones.hair_tile(self._base.tile(key), self._laid[key], self._wipe, self.tiles[key], *local.rows_and_columns)
            return
        part = np.s_[:, local.y0 : local.y1, local.x0 : local.x1]
        base = self._base.tile(key)[part].astype(np.float32)
        self.tiles[key][part] = np.rint(self._outcome(base, self._laid[key][part], self._hair_before(key, part)))

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

        def work(key: Key) -> None:
            paint[key], ranks[key] = self._laid_tile(key, limit)

        each(sorted(self._laid), work, worth_it=2)
        rest = self._before.settled(self._base) or LaidHair.none(result)
        return LaidHair(result, rest.paint.with_tiles(paint), rest.ranks.with_tiles(ranks))

    def _laid_tile(self, key: Key, limit: Limit) -> tuple[Tile, Tile]:
        """Hair and ranks of a tile, held to the limit as its paint is."""
        piece = self._laid[key]
        piece[:, :, max(self._base.width - key[1] * TILE, 0) :] = 0
        piece[:, max(self._base.height - key[0] * TILE, 0) :] = 0
        before = self._hair_before(key, ALL) or (EMPTY_TILE, EMPTY_TILE)
        paint, ranks = np.empty_like(EMPTY_TILE), np.zeros_like(EMPTY_TILE)
        paint[:] = np.rint(_merged(piece, before[0].astype(np.float32), before[1]))
        np.minimum(paint[:3], paint[3], out=paint[:3])
        ranks[3] = np.maximum(piece[4], before[1][3])
        for fresh, former in ((paint, before[0]), (ranks, before[1])):
            Limit(limit.frisket).apply(key, former, fresh)
        if limit.hold_edges:
            # Hair that held edges have cut cannot be told from what is under it.
            cut = self._base.tile(key)[3] < 65535
            paint[:, cut] = ranks[:, cut] = 0
        return paint, ranks

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


def strands_area(strands: Strands, base: Raster) -> Rect:
    """The area of the canvas that strands may touch."""
    if not len(strands.points):
        return Rect(0, 0, 0, 0)
    points = strands.points.reshape(-1, 2)
    wide = float(strands.look[:, 0].max()) + 2
    (x0, y0), (x1, y1) = points.min(axis=0) - wide, points.max(axis=0) + wide
    return Rect(int(np.floor(x0)), int(np.floor(y0)), int(np.ceil(x1)), int(np.ceil(y1))).intersected(base.rect)


def touched_by(strands: Strands) -> set[Key]:
    """The tiles that strands pass through; of very long joints, all around them."""
    if not len(strands.points):
        return set()
    x, y = (np.ascontiguousarray(strands.points[..., k]) for k in (0, 1))
    reach = max(float(np.abs(np.diff(plane, axis=1)).max()) for plane in (x, y)) + float(strands.look[:, 0].max()) + 2
    if not reach < TILE / 2:
        whole = (x.min() - reach, y.min() - reach, x.max() + reach, y.max() + reach)
        return {key for key, _ in Rect(*(int(np.floor(one)) for one in whole)).grown(1).tiles()}
    columns, rows = (
        [np.floor((plane + side) * np.float32(1 / TILE)).astype(np.int32).ravel() for side in (-reach, reach)]
        for plane in (x, y)
    )
    left, top = int(columns[0].min()), int(rows[0].min())
    seen = np.zeros((int(rows[1].max()) - top + 1, int(columns[1].max()) - left + 1), bool)
    for row in rows:
        for column in columns:
            seen[row - top, column - left] = True
    return {(int(row) + top, int(column) + left) for row, column in np.argwhere(seen)}
