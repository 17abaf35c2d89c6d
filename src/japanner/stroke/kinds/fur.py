"""Fur that sprouts under the brush, and paint that is combed into hairs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.limit import Limit
from japanner.raster.tiles import Raster
from japanner.strand.comb import CombField
from japanner.strand.growing import clumped, grown, waved
from japanner.strand.strands import Strands
from japanner.stroke.brush import Brush
from japanner.stroke.kinds.chance import Chance
from japanner.stroke.kinds.dabs import DabRows
from japanner.stroke.kinds.hair_layer import FULL, CoverTile, HairLayer, HairPaint
from japanner.stroke.kinds.laid import LaidHair, rank_codes
from japanner.stroke.kinds.working import WorkingStroke

__all__ = ["FurStroke"]

Planes = NDArray[np.float32]
Floats = NDArray[np.floating]
JOINTS: Final = 7
WAVED: Final = 15
"""Joints of hairs that swing."""
HIGHEST: Final = 0.16
"""How high they swing at the most, as a share of their length."""
ANGLE, REACH, LONG, TURN, VALUE, WIDE, CURL, PHASE, ROLE, DENSE, WAVE = range(11)
"""What the chances of a hair are for."""
SHORTEST: Final = 0.12
"""What is left of the length where a map of it is bare."""
TUFT: Final = 0.45
"""Distance of tufts as a share of the length."""
OFFSET: Final = 1 << 24
RAGGED: Final = 0.3
"""How unevenly combed hairs reach over the end of their paint, as a share of their length."""


class FurStroke(WorkingStroke):
    """Every dab lets hairs sprout within the tip. They lie along the comb field, or as the tip is turned; by the
    field's ranks upper rows of one stroke lie over lower ones, in whatever order they came.
    """

    BATCH = 64

    def __init__(self, base: Raster, brush: Brush, paint: HairPaint) -> None:
        self._base, self._brush, self._paint = base, brush, paint
        ranked = brush.does.grows and brush.hair_does == "lay" and not paint.wipe and self._field is not None
        self._layer = HairLayer(
            base, brush, wipe=paint.wipe, laid=(paint.laid or LaidHair.none(base)) if ranked else None
        )
        self.tiles = self._layer.tiles
        self._dabs = 0
        self._seen: dict[Key, Planes] = {}

    @property
    def _field(self) -> CombField | None:
        return self._paint.comb if self._brush.turn == "comb" else None

    def laid(self, result: Raster, limit: Limit) -> LaidHair | None:
        return self._layer.laid(result, limit)

    def put(self, rows: DabRows) -> list[Rect]:
        """Let hairs sprout along dabs; the changed canvas areas."""
        strands, ranks = self._sprouted(rows)
        self._dabs += len(rows)
        return self._layer.draw(strands, ranks)

    def _sprouted(self, rows: DabRows) -> tuple[Strands, Planes]:
        """Hairs of dabs, and their ranks (n, 2)."""
        roots = self._rooted(rows)
        role = _Role.of(self._brush, roots.chance)
        long = self._lengths(roots, role)
        points = self._grown(roots, role, long)
        if self._brush.does.from_paint:
            points = self._within(points, roots.chance)
        return self._painted(roots, role, points), self._ranks(roots, role, long)

    def _rooted(self, rows: DabRows) -> _Roots:
        """Where hairs stand in their dabs, as dense as a map says."""
        each, density = self._brush.hairs, self._paint.density
        chance = Chance(self._paint.seed, self._dabs * each, len(rows) * each)
        roots = _Roots.of(np.repeat(rows, each, axis=0), chance)
        if density is None:
            return roots
        return roots.where(chance.of(DENSE) < _cover(density, self._base.rect, roots.x, roots.y))

    def _lengths(self, roots: _Roots, role: _Role) -> Floats:
        brush, field, length = self._brush, self._field, self._paint.length
        pressed = np.clip(2 * roots.rows[:, 2] / brush.size_px, 0.05, 4)
        long = brush.hair_px * pressed * role.long * np.exp(0.5 * brush.hair_variety * _bell(roots.chance.of(LONG)))
        if length is not None:
            long = long * np.maximum(_cover(length, self._base.rect, roots.x, roots.y), SHORTEST)
        return long if field is None else long * field.at(field.length, roots.x, roots.y)

    def _grown(self, roots: _Roots, role: _Role, long: Floats) -> Planes:
        """The hairs (n, m, 2): along the field or as the tip is turned, bent, waved, and drawn into tufts."""
        brush, field, chance, x, y = self._brush, self._field, roots.chance, roots.x, roots.y
        turn = np.radians(brush.mess_deg * _bell(chance.of(TURN)))
        if brush.fan_deg:
            ways = roots.rows[:, 5:7].T if field is None else field.directions(x, y)
            turn = turn + np.radians(brush.fan_deg) * (ways[0] * roots.off[1] - ways[1] * roots.off[0])
        turn, joints = turn.astype(np.float32), WAVED if brush.wave else JOINTS
        if field is not None:
            points = grown(field, x, y, long.astype(np.float32), turn, joints)
        else:
            points = _straight(roots.rows, x, y, long, turn, joints)
        points = _curled(points, brush, chance, field)
        if brush.wave:
            points = waved(points, HIGHEST * brush.wave * long, 1 + chance.of(WAVE), 2 * np.pi * chance.of(PHASE))
        if brush.tuft:
            middles = _tufts(x, y, max(TUFT * brush.hair_px, 3.0))
            points = clumped(points, middles, brush.tuft * role.free, 0.5 * long).astype(np.float32)
        return points

    def _within(self, points: Planes, chance: Chance) -> Planes:
        """Combed hairs no longer than their paint reaches: a narrow bar becomes short hairs, and ends ragged."""
        n, joints = points.shape[:2]
        flat = points.reshape(-1, 2)
        cover = _on_tiles(self._tile, 4, self._base.rect, flat[:, 0], flat[:, 1])[:, 3].reshape(n, joints)
        bare = cover < 0.4 * np.maximum(cover[:, :1], 1e-6)
        first = np.where(bare.any(axis=1), bare.argmax(axis=1), joints) / (joints - 1)
        share = np.clip(first + RAGGED * (chance.of(WAVE) - 0.5), SHORTEST, 1)
        result: Planes = (points[:, :1] + (points - points[:, :1]) * share[:, None, None]).astype(np.float32)
        return result

    def _ranks(self, roots: _Roots, role: _Role, long: Floats) -> Planes:
        """Of its own stroke a hair lies over lower rows, of earlier strokes over all that its dab reaches up to."""
        field, ranks = self._field, np.zeros((len(roots.x), 2), np.float32)
        if field is None:
            ranks[:, 0] = 1 - role.deep
            return ranks
        lowest = float(field.rank.min()) - 1
        ranks[:, 0] = rank_codes(field.at(field.rank, roots.x, roots.y) - lowest - role.deep * long / field.cell)
        x, y, radius = roots.rows[:, :3].T
        ranks[:, 1] = rank_codes(field.at(field.rank, x, y) + radius / field.cell - lowest)
        return ranks

    def _painted(self, roots: _Roots, role: _Role, points: Planes) -> Strands:
        brush, chance = self._brush, roots.chance
        width = brush.hair_wide * role.wide * np.exp(0.4 * brush.hair_variety * _bell(chance.of(WIDE)))
        colour, alpha = np.asarray(self._paint.colour), roots.rows[:, 3]
        value = role.value * np.exp(1.1 * brush.hair_variety * _bell(chance.of(VALUE)))
        if brush.does.from_paint:
            # What lies at the root goes along the hair, hardly changed.
            found = _on_tiles(self._tile, 4, self._base.rect, roots.x, roots.y)
            found[:, :3] /= np.maximum(found[:, 3:], 1e-6)
            colour, alpha, value = found[:, :3], alpha * found[:, 3], value**0.3
        return Strands.of(points, width, self._colours(colour, value), alpha, tip=0.85)

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
        depth = self._brush.hair_depth * (0.15 if self._brush.does.from_paint else 1)
        stops = np.array((0.45, 1.0, 1.45)) ** depth
        linear = srgb.decode(colour).reshape(-1, 1, 3) * (value[:, None] * stops)[..., None]
        return srgb.encode(np.clip(linear, 0, 1))


def _bell(share: NDArray[np.floating]) -> NDArray[np.floating]:
    """Chance 0..1 as chance about 0 of deviation 0.4, never beyond 1."""
    result: NDArray[np.floating] = np.sin(np.pi * (share - 0.5)) * np.abs(2 * share - 1) ** 0.5
    return result


def _straight(rows: DabRows, x: Planes, y: Planes, long: Floats, turn: Planes, joints: int) -> Planes:
    """Hairs as the tip is turned (n, joints, 2)."""
    cos, sin = np.cos(turn), np.sin(turn)
    dx, dy = rows[:, 5] * cos - rows[:, 6] * sin, rows[:, 5] * sin + rows[:, 6] * cos
    share = np.linspace(0, 1, joints, dtype=np.float32)
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


@dataclass(frozen=True, eq=False)
class _Roots:
    """Where n hairs stand: x, y in canvas px; off (2, n): from the middle of their dabs, in its radii; the rows and
    chances of their dabs.
    """

    rows: DabRows
    chance: Chance
    x: Planes
    y: Planes
    off: Floats

    @staticmethod
    def of(rows: DabRows, chance: Chance) -> _Roots:
        angle = 2 * np.pi * chance.of(ANGLE)
        off = np.sqrt(chance.of(REACH)) * np.stack((np.cos(angle), np.sin(angle)))
        x, y = (rows[:, :2].T + rows[:, 2] * off).astype(np.float32)
        return _Roots(rows, chance, x, y, off)

    def where(self, kept: NDArray[np.bool_]) -> _Roots:
        return _Roots(self.rows[kept], self.chance.where(kept), self.x[kept], self.y[kept], self.off[:, kept])


@dataclass(frozen=True, eq=False)
class _Role:
    """What guard hairs and undercoat differ in, for each hair: factors on length, thickness and value, how far it is
    drawn into tufts, and 1 for what lies deep.
    """

    long: Floats | float = 1.0
    wide: Floats | float = 1.0
    value: Floats | float = 1.0
    free: Floats | float = 1.0
    deep: Floats | float = 0.0

    @staticmethod
    def of(brush: Brush, chance: Chance) -> _Role:
        if not brush.guard or brush.does.from_paint:
            return _Role()
        guard = chance.of(ROLE) < brush.guard
        return _Role(*(np.where(guard, *two) for two in ((1.25, 0.8), (0.85, 1.7), (1.2, 0.6), (1.0, 0.4), (0.0, 1.0))))


def _tufts(x: Planes, y: Planes, gap: float) -> Planes:
    """The middles (n, 2) of the tufts that hairs with these roots belong to: fixed to the canvas, so that strokes side
    by side share them.
    """
    cells = np.stack((np.floor(x / gap), np.floor(y / gap)), axis=-1).astype(np.int64)
    around = cells[:, None] + np.stack(np.meshgrid((-1, 0, 1), (-1, 0, 1)), axis=-1).reshape(1, 9, 2)
    chance = Chance.numbered(0, ((around[..., 0] + OFFSET) * (2 * OFFSET) + around[..., 1] + OFFSET).astype(np.uint64))
    middles = (around + np.stack((chance.of(ANGLE), chance.of(REACH)), axis=-1)) * gap
    far = np.hypot(middles[..., 0] - x[:, None], middles[..., 1] - y[:, None])
    result: Planes = middles[np.arange(len(x)), far.argmin(axis=1)].astype(np.float32)
    return result


def _cover(tile: CoverTile, within: Rect, x: Floats, y: Floats) -> Floats:
    """Coverage (n,) at places of the canvas, 0..1."""
    return _on_tiles(tile, 1, within, x, y)[:, 0] / FULL


def _on_tiles(tile: Callable[[Key], NDArray[Any]], planes: int, within: Rect, x: Floats, y: Floats) -> Planes:
    """Values (n, planes) of tiles at places of the canvas; 0 outside of it."""
    found = np.zeros((len(x), planes), np.float32)
    columns, rows = np.floor(x).astype(int), np.floor(y).astype(int)
    inside = (columns >= 0) & (rows >= 0) & (columns < within.x1) & (rows < within.y1)
    keys = np.stack((rows // TILE, columns // TILE), axis=1)
    for key in np.unique(keys[inside], axis=0):
        here = inside & (keys == key).all(axis=1)
        found[here] = tile((int(key[0]), int(key[1])))[:, rows[here] % TILE, columns[here] % TILE].T
    return found
