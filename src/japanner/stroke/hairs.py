"""Strokes of hair: fur that sprouts under the brush, and locks and single strands that follow the whole stroke."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.limit import Limit
from japanner.raster.tiles import EMPTY_TILE, Raster
from japanner.strand.comb import CombField
from japanner.strand.fringe import FringeKind, fringe
from japanner.strand.growing import grown
from japanner.strand.lock import LockKind, lock
from japanner.strand.strands import Strands
from japanner.stroke.brush import Brush
from japanner.stroke.chance import Chance
from japanner.stroke.coverage import Colour, Tile
from japanner.stroke.dabs import DabRows
from japanner.stroke.laid import LaidHair, rank_codes
from japanner.stroke.wet_layer import VisibleTile

__all__ = ["FurStroke", "HairPaint", "LockStroke"]

Planes = NDArray[np.float32]
JOINTS: Final = 7
PLANES: Final = 6
"""Of a region in the making: premultiplied colour, coverage, the highest rank of hairs and of their dabs."""
FULL: Final = np.float32(65535)
MOST_LAYERS: Final = 3.5
"""So many hairs over each other fill a lock."""
ANGLE, REACH, LONG, TURN, VALUE, WIDE, CURL, PHASE = range(8)
"""What the chances of a hair are for."""


@dataclass(frozen=True, eq=False)
class HairPaint:
    """What hair strokes paint with: colour, the comb field if there is one, the light, the seed of all chance, and
    the visible picture, for what picks up from it; the hair that earlier strokes have laid."""

    colour: Colour
    comb: CombField | None = None
    light: tuple[float, float, float] = (0.0, 0.7, 0.7)
    seed: int = 0
    wipe: bool = False
    visible: VisibleTile | None = None
    laid: LaidHair | None = None


class _HairLayer:
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


def _around(strands: Strands, base: Raster) -> Rect:
    points = strands.points.reshape(-1, 2)
    wide = float(strands.look[:, 0].max()) + 2
    (x0, y0), (x1, y1) = points.min(axis=0) - wide, points.max(axis=0) + wide
    return Rect(int(np.floor(x0)), int(np.floor(y0)), int(np.ceil(x1)), int(np.ceil(y1))).intersected(base.rect)


class FurStroke:
    """Every dab lets hairs sprout within the tip. They lie along the comb field, or as the tip is turned; by the
    field's ranks upper rows of one stroke lie over lower ones, in whatever order they came.
    """

    BATCH: Final = 64

    def __init__(self, base: Raster, brush: Brush, paint: HairPaint) -> None:
        self._base, self._brush, self._paint = base, brush, paint
        ranked = brush.kind == "fur" and brush.hair_does == "lay" and not paint.wipe and self._field is not None
        self._layer = _HairLayer(
            base, brush, wipe=paint.wipe, laid=(paint.laid or LaidHair.none(base)) if ranked else None
        )
        self._dabs = 0
        self._seen: dict[Key, Planes] = {}

    @property
    def tiles(self) -> dict[Key, Tile]:
        return self._layer.tiles

    @property
    def _field(self) -> CombField | None:
        return self._paint.comb if self._brush.turn == "comb" else None

    def laid(self, result: Raster, limit: Limit) -> LaidHair | None:
        """The hair in the layer, once `result` is its paint; None if that has not been told apart."""
        return self._layer.laid(result, limit)

    def put(self, rows: DabRows) -> list[Rect]:
        """Let hairs sprout along dabs; the changed canvas areas."""
        strands, ranks = self._sprouted(rows)
        self._dabs += len(rows)
        area = _around(strands, self._base)
        if area.empty:
            return []
        region = self._layer.gathered(area)
        strands.draw_on(region[:4], region[4:], area, ranks)
        self._layer.store(area, region)
        return [area]

    def _sprouted(self, rows: DabRows) -> tuple[Strands, Planes]:
        brush, paint, each = self._brush, self._paint, self._brush.hairs
        chance = Chance(paint.seed, self._dabs * each, len(rows) * each)
        rows = np.repeat(rows, each, axis=0)
        radius, angle = rows[:, 2] * np.sqrt(chance.of(REACH)), 2 * np.pi * chance.of(ANGLE)
        x, y = (
            (rows[:, 0] + radius * np.cos(angle)).astype(np.float32),
            (rows[:, 1] + radius * np.sin(angle)).astype(np.float32),
        )
        pressed = np.clip(2 * rows[:, 2] / brush.size_px, 0.05, 4)
        long = brush.hair_px * pressed * np.exp(0.5 * brush.hair_variety * _bell(chance.of(LONG)))
        turn = np.radians(brush.mess_deg * _bell(chance.of(TURN))).astype(np.float32)
        field, ranks = self._field, np.zeros((len(x), 2), np.float32)
        if field is not None:
            long = long * field.at(field.length, x, y)
            points = grown(field, x, y, long.astype(np.float32), turn, JOINTS)
            # Of its own stroke a hair lies over lower rows, of earlier strokes over all that its dab reaches up to.
            lowest = float(field.rank.min()) - 1
            ranks[:, 0] = rank_codes(field.at(field.rank, x, y) - lowest)
            top = field.at(field.rank, rows[:, 0], rows[:, 1]) + rows[:, 2] / field.cell
            ranks[:, 1] = rank_codes(top - lowest)
        else:
            points = _straight(rows, x, y, long, turn)
        points = _curled(points, brush, chance, field)
        width = brush.hair_wide * np.exp(0.4 * brush.hair_variety * _bell(chance.of(WIDE)))
        colour, alpha = np.asarray(paint.colour), rows[:, 3]
        value = np.exp(1.1 * brush.hair_variety * _bell(chance.of(VALUE)))
        if brush.kind == "comb":
            # What lies at the root goes along the hair, hardly changed.
            found = self._picked(x, y)
            colour, alpha, value = found[:, :3], alpha * found[:, 3], value**0.3
        return Strands.of(points, width, self._colours(colour, value), alpha, tip=0.85), ranks

    def _picked(self, x: Planes, y: Planes) -> Planes:
        """Straight colour and coverage (n, 4) of the paint as it was at places of the canvas."""
        picked = np.zeros((len(x), 4), np.float32)
        columns, rows = np.floor(x).astype(int), np.floor(y).astype(int)
        inside = (columns >= 0) & (rows >= 0) & (columns < self._base.width) & (rows < self._base.height)
        keys = np.stack((rows // TILE, columns // TILE), axis=1)
        for key in np.unique(keys[inside], axis=0):
            here = inside & (keys == key).all(axis=1)
            tile = self._tile((int(key[0]), int(key[1])))
            picked[here] = tile[:, rows[here] % TILE, columns[here] % TILE].T
        picked[:, :3] /= np.maximum(picked[:, 3:], 1e-6)
        return picked

    def _tile(self, key: Key) -> Planes:
        if key not in self._seen:
            visible = self._paint.visible
            if self._brush.pick_from == "visible" and visible is not None:
                self._seen[key] = np.array(visible(key)[:4])
            else:
                self._seen[key] = self._base.tile(key).astype(np.float32) / FULL
        return self._seen[key]

    def _colours(self, colour: NDArray[np.floating], value: NDArray[np.floating]) -> NDArray[np.floating]:
        """Dark roots and light tips of encoded colours (3,) or (n, 3), as (n, 3, 3)."""
        depth = self._brush.hair_depth * (0.15 if self._brush.kind == "comb" else 1)
        stops = np.array((0.45, 1.0, 1.45)) ** depth
        linear = srgb.decode(colour).reshape(-1, 1, 3) * (value[:, None] * stops)[..., None]
        return srgb.encode(np.clip(linear, 0, 1))


def _bell(share: NDArray[np.floating]) -> NDArray[np.floating]:
    """Chance 0..1 as chance about 0 of deviation 0.4, never beyond 1."""
    result: NDArray[np.floating] = np.sin(np.pi * (share - 0.5)) * np.abs(2 * share - 1) ** 0.5
    return result


def _straight(rows: DabRows, x: Planes, y: Planes, long: NDArray[np.floating], turn: Planes) -> Planes:
    """Hairs as the tip is turned (n, JOINTS, 2)."""
    cos, sin = np.cos(turn), np.sin(turn)
    dx, dy = rows[:, 5] * cos - rows[:, 6] * sin, rows[:, 5] * sin + rows[:, 6] * cos
    share = np.linspace(0, 1, JOINTS, dtype=np.float32)
    way = np.stack((dx, dy), axis=-1) * long[:, None]
    result: Planes = (np.stack((x, y), axis=-1)[:, None] + way[:, None] * share[:, None]).astype(np.float32)
    return result


def _curled(points: Planes, brush: Brush, chance: Chance, field: CombField | None) -> Planes:
    """Hairs that bend to one side, as far as brush and comb say."""
    curl = np.full(len(points), brush.curl)
    if field is not None:
        curl = np.maximum(curl, field.at(field.curl, points[:, 0, 0], points[:, 0, 1]))
    if not curl.any():
        return points
    way = points[:, -1] - points[:, 0]
    aside = np.stack((-way[:, 1], way[:, 0]), axis=-1) * (curl * (1.2 * chance.of(CURL) - 0.6))[:, None]
    share = np.linspace(0, 1, points.shape[1], dtype=np.float32) ** 2
    result: Planes = (points + aside[:, None] * share[:, None]).astype(np.float32)
    return result


class LockStroke:
    """One stroke is one lock, one strand or one row of hairs: it is drawn anew whenever the stroke goes on."""

    BATCH: Final = 1 << 30

    def __init__(self, base: Raster, brush: Brush, paint: HairPaint) -> None:
        self._base, self._brush, self._paint = base, brush, paint
        self._layer = _HairLayer(base, brush, wipe=paint.wipe)
        self._rows: list[DabRows] = []
        self._area = Rect(0, 0, 0, 0)

    @property
    def tiles(self) -> dict[Key, Tile]:
        return self._layer.tiles

    def put(self, rows: DabRows) -> list[Rect]:
        """Go on with the lock; the changed canvas areas."""
        self._rows.append(rows)
        whole = relaxed(np.concatenate(self._rows))
        if len(whole) < 2:
            return []
        strands = self._strands(whole)
        area = _around(strands, self._base)
        former, self._area = self._area, area
        both = area if former.empty else former.united(area)
        if both.empty:
            return []
        region = np.zeros((PLANES, both.height, both.width), np.float32)
        strands.draw_on(region[:4], region[4:], both)
        self._layer.store(both, region)
        return [both]

    def _strands(self, rows: NDArray[np.floating]) -> Strands:
        brush, paint = self._brush, self._paint
        if brush.kind == "fringe":
            row = FringeKind(brush.hairs, brush.hair_px, brush.hair_wide, brush.from_deg, brush.to_deg, brush.curl,
                             brush.hair_variety)  # fmt: skip
            return fringe(rows[:, :2].astype(float), row, paint.colour, float(rows[:, 3].max()), paint.seed)
        half = rows[:, 2] if brush.kind == "lock" else np.zeros(len(rows))
        kind = LockKind(
            _count(brush, 2 * float(half.max())), brush.hair_wide, brush.pattern, brush.mm_px, brush.clump,
            brush.hair_variety, brush.hair_depth, brush.hair_gloss, brush.stray, brush.stretch,
        )  # fmt: skip
        alpha, thick = float(rows[:, 3].max()), None
        if brush.kind == "strand":
            # A single strand is as thick as the tip, along with its pressure.
            kind = replace(kind, wide_px=2 * float(rows[:, 2].max()))
            thick = rows[:, 2].astype(float) / float(rows[:, 2].max())
        line = rows[:, :2].astype(float)
        return lock(line, half.astype(float), kind, paint.colour, alpha, paint.light, paint.seed, thick)


def _count(brush: Brush, wide_px: float) -> int:
    """Hairs of a lock: a narrow one needs fewer to be full, and so far locks become simple shapes."""
    if brush.kind == "strand":
        return 1
    return max(min(brush.hairs, round(MOST_LAYERS * wide_px / brush.hair_wide)), 3)


def relaxed(rows: NDArray[np.floating], sharpest_deg: float = 100.0) -> NDArray[np.floating]:
    """A path without what doubles back: where a line turns round within a few px, it ends."""
    if len(rows) < 5:
        return rows
    x, y = rows[:, 0], rows[:, 1]
    run = np.r_[0, np.cumsum(np.hypot(np.diff(x), np.diff(y)))]
    reach = max(12.0, 0.02 * float(run[-1]))
    ahead = np.minimum(np.searchsorted(run, run + reach), len(run) - 1)
    behind = np.maximum(np.searchsorted(run, run - reach), 0)
    before = np.stack((x - x[behind], y - y[behind]), axis=1)
    after = np.stack((x[ahead] - x, y[ahead] - y), axis=1)
    size = np.maximum(np.linalg.norm(before, axis=1) * np.linalg.norm(after, axis=1), 1e-9)
    turned = np.einsum("ni,ni->n", before, after) / size < np.cos(np.radians(sharpest_deg))
    turned &= (run > reach) & (run[-1] - run > reach / 2)
    if not turned.any():
        return rows
    return rows[: int(np.argmax(turned)) + 1]
