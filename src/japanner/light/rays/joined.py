"""Joined forms as meshes: what flows into each other together, what only touches each for itself."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.light import _kernels_forms as forms
from japanner.light.rays import _kernels_nets as kernels
from japanner.light.rays.tree import Floats
from japanner.light.rows import STROKE_REACH, Rows
from japanner.raster.parallel import each

__all__ = ["Net", "Pitch", "components", "net_of"]

SIDE: Final = 8
"""Cells to a side of a block, as the kernels have it."""
Counts = NDArray[np.int32]
CHUNK: Final = 8
"""Blocks to a piece of work."""
THIN: Final = 0.9
"""Cells are at most so wide, in thicknesses of the thinnest form."""
FINER: Final = 1.25
"""How many more cells than `most` thin forms may have."""
MIRRORED: Final = np.array((-1, 1, 1), np.float32)
SLOPE: Final = 2e-4
"""Step for slopes, in shares of the maquette's size."""


@dataclass(frozen=True)
class Pitch:
    """How fine a mesh is to be: cells `wide` units, but at least `fewest` and at most `most` of them across it."""

    wide: float = 0.0
    fewest: int = 96
    most: int = 300

    def cell(self, extent: float, thinnest: float) -> float:
        """The width for a form: in quarters of an octave, so that one that changes a little keeps its grid."""
        wanted = min(max(self.wide, extent / self.most), extent / self.fewest)
        # A thin form needs more, within reason.
        wanted = max(min(wanted, THIN * thinnest), min(wanted, extent / (FINER * self.most)))
        return float(2 ** (round(4 * math.log2(wanted)) / 4))


@dataclass(frozen=True, eq=False)
class Net:
    """points and normals (n, 3) on the surface, triangles (m, 3), piece (n,) that is nearest to each point; rough (m,):
    whether a triangle's corners do not say all about it, as it bends within or is of two pieces. cell: width of a cell.
    zones: share of every point (n,) in zones, by name.
    """

    points: Floats
    normals: Floats
    triangles: Counts
    piece: Counts
    rough: NDArray[np.bool_]
    cell: float
    zones: Mapping[str, Floats] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class _Grid:
    """Values (n, 512) at the corners of blocks (n, 3), which `table` finds; rows, data, strokes: of the forms."""

    rows: Floats
    data: Floats
    strokes: float
    low: Floats
    cell: float
    table: Counts
    blocks: Counts
    values: Floats


def components(rows: Rows) -> list[NDArray[np.int64]]:
    """Rows that have to be meshed together: what blends, cuts or strokes what it reaches."""
    table = rows.rows
    solid = table[:, forms.KIND] <= forms.STROKE
    numbers = dict.fromkeys(table[solid, forms.GROUP].tolist())
    groups = [np.flatnonzero((table[:, forms.GROUP] == one) & solid) for one in numbers]
    leader = list(range(len(groups)))

    def lead(one: int) -> int:
        while leader[one] != one:
            one = leader[one]
        return one

    for j, later in enumerate(groups):
        for i in range(j):
            if lead(i) != lead(j) and _meet(table, groups[i], later):
                leader[max(lead(i), lead(j))] = min(lead(i), lead(j))
    leaders = [lead(one) for one in range(len(groups))]
    found = [np.sort(np.concatenate([groups[i] for i, one in enumerate(leaders) if one == leading]))
             for leading in dict.fromkeys(leaders)]  # fmt: skip
    # Strokes alone have no surface, nor has what is only cut away.
    return [one for one in found if (table[one, forms.KIND] != forms.STROKE).any()]


def _meet(table: Floats, before: NDArray[np.int64], later: NDArray[np.int64]) -> bool:
    head = table[later[0]]
    stroke = head[forms.KIND] == forms.STROKE or table[before[0], forms.KIND] == forms.STROKE
    if not stroke and int(head[forms.JOIN]) == forms.MEET:
        return True
    blend = float(head[forms.BLEND])
    if not stroke and int(head[forms.JOIN]) == forms.ADD and blend <= 0:
        return False
    return any(_near(table[i], table[j], blend) for i in before for j in later)


def _near(one: Floats, other: Floats, blend: float) -> bool:
    if one[forms.REACH] <= 0 or other[forms.REACH] <= 0:
        return True
    wide = float(one[forms.REACH] + other[forms.REACH]) + blend
    a, b = one[forms.CENTRE : forms.CENTRE + 3], other[forms.CENTRE : forms.CENTRE + 3]
    gaps = [float(np.linalg.norm(a - b))]
    if one[forms.MIRROR] or other[forms.MIRROR]:
        gaps.append(float(np.linalg.norm(a * (-1, 1, 1) - b)))
    return min(gaps) < wide


@lru_cache(maxsize=32)
def _grids(count: int, cell: float) -> dict[str, _Grid]:
    """The latest grid of so many rows and so wide a cell: what has not moved keeps its values."""
    return {}


def net_of(rows: Rows, chosen: NDArray[np.int64], pitch: Pitch) -> Net | None:
    """The mesh of the forms of some rows; None if they have no surface."""
    table = np.ascontiguousarray(rows.rows[chosen])
    strokes = np.float32(_strokes(table))
    bounds = _bounds(table, rows.data, strokes)
    if bounds is None:
        return None
    low, high = bounds
    # What is cut away may come out a little rounder; what stands by itself must not fall to pieces.
    solid = (row for row in table if row[forms.KIND] != forms.STROKE and int(row[forms.JOIN]) == forms.ADD)
    thinnest = min(map(_thickness, solid), default=math.inf)
    cell = pitch.cell(float((high - low).max()), thinnest)
    grid = _grid(table, rows.data, strokes, low, high, cell)
    if grid is None:
        return None
    return _net(grid, rows.data, strokes, np.float32(SLOPE * rows.scale), chosen)


def _strokes(table: Floats) -> float:
    own = table[table[:, forms.KIND] == forms.STROKE]
    return float(np.maximum(STROKE_REACH * own[:, forms.SIZE], 4 * own[:, forms.SIZE + 1]).max()) if len(own) else 0.0


def _bounds(table: Floats, data: Floats, strokes: np.float32) -> tuple[Floats, Floats] | None:
    """About where the surface is: by blocks that it may pass."""
    solid = table[(table[:, forms.KIND] != forms.STROKE) & (table[:, forms.REACH] > 0)]
    if not len(solid):
        return np.full(3, -1, np.float32), np.full(3, 1, np.float32)
    centre, reach = solid[:, forms.CENTRE : forms.CENTRE + 3], solid[:, forms.REACH, None]
    mirrored = solid[:, forms.MIRROR] > 0
    centre = np.concatenate((centre, centre[mirrored] * MIRRORED))
    reach = np.concatenate((reach, reach[mirrored]))
    low, high = (centre - reach).min(axis=0), (centre + reach).max(axis=0)
    side = float((high - low).max()) / 14
    blocks = _all_blocks(np.ceil((high - low) / side).astype(int))
    kept = blocks[_sorted_out(table, data, strokes, low, side / SIDE, blocks) == 1]
    if not len(kept):
        return None
    return low + kept.min(axis=0) * np.float32(side), low + (kept.max(axis=0) + 1) * np.float32(side)


def _thickness(row: Floats) -> float:
    kind, (a, b, c) = int(row[forms.KIND]), (float(one) for one in row[forms.SIZE : forms.SIZE + 3])
    if kind in (forms.TUBE, forms.CORD):
        return min(a, b)
    if kind == forms.RING:
        return b / max(c, 1.0)
    if kind == forms.SHEET:
        return max(c, float(row[forms.CELL]))
    if kind in (forms.SLAB, forms.HEAD, forms.PUFF):
        return math.inf
    return min(a, b, c)


def _all_blocks(counts: NDArray[np.int64]) -> Counts:
    return np.stack(np.meshgrid(*map(np.arange, counts), indexing="ij"), -1).reshape(-1, 3).astype(np.int32)


def _sorted_out(
    table: Floats, data: Floats, strokes: np.float32, low: Floats, cell: float, blocks: Counts
) -> Counts:  # fmt: skip
    kept = np.empty((len(blocks), 1), np.int32)

    def chunk(begin: int) -> None:
        kernels.sort_out(table, data, strokes, low, np.float32(cell), blocks, kept, begin, min(begin + 64, len(blocks)))

    each(range(0, len(blocks), 64), chunk, worth_it=2)
    return kept[:, 0]


def _grid(table: Floats, data: Floats, strokes: np.float32, low: Floats, high: Floats, cell: float) -> _Grid | None:
    side = SIDE * cell
    first = np.floor(low / side).astype(np.int64) - 1
    low = (first * side).astype(np.float32)
    counts = np.ceil((high - low) / side).astype(np.int64) + 1
    # Eight blocks a side are sorted out at once, then each of those that are left.
    coarse = _all_blocks(-(-counts // SIDE))
    passed = coarse[_sorted_out(table, data, strokes, low, cell * SIDE, coarse) == 1]
    within = _all_blocks(np.full(3, SIDE))
    blocks = (passed[:, None] * SIDE + within).reshape(-1, 3).astype(np.int32)
    state = _sorted_out(table, data, strokes, low, cell, blocks)
    whole = -(-counts // SIDE) * SIDE
    lookup = np.full(tuple(whole), kernels.OUTSIDE, np.int32)
    lookup[tuple(blocks.T)] = np.where(state == 1, 0, state)
    inside = coarse[_sorted_out(table, data, strokes, low, cell * SIDE, coarse) == kernels.INSIDE]
    for i, j, k in inside * SIDE:
        lookup[i : i + SIDE, j : j + SIDE, k : k + SIDE] = kernels.INSIDE
    blocks = np.ascontiguousarray(blocks[state == 1])
    if not len(blocks):
        return None
    lookup[tuple(blocks.T)] = np.arange(len(blocks))
    former = _grids(len(table), cell).get("latest")
    values = _values(table, data, strokes, low, cell, blocks, former)
    grid = _Grid(table, data, float(strokes), low, cell, lookup, blocks, values)
    _grids(len(table), cell)["latest"] = grid
    return grid


def _values(
    table: Floats, data: Floats, strokes: np.float32, low: Floats, cell: float, blocks: Counts, former: _Grid | None
) -> Floats:
    values = np.empty((len(blocks), SIDE**3), np.float32)
    fresh = np.arange(len(blocks))
    if former is not None and len(former.data) == len(data):
        fresh = fresh[~_same(_Grid(table, data, float(strokes), low, cell, former.table, blocks, values), former)]
    todo = np.ascontiguousarray(blocks[fresh])
    found = np.empty((len(todo), SIDE**3), np.float32)

    def chunk(begin: int) -> None:
        end = min(begin + CHUNK, len(todo))
        kernels.measure(table, data, strokes, low, np.float32(cell), todo, found, begin, end)

    each(range(0, len(todo), CHUNK), chunk, worth_it=2)
    values[fresh] = found
    return values


def _same(grid: _Grid, former: _Grid) -> NDArray[np.bool_]:
    """Which blocks no changed form reaches; their values are taken from the grid before."""
    table, blocks, values, low, cell = grid.rows, grid.blocks, grid.values, grid.low, grid.cell
    changed = (table != former.rows).any(axis=1) | _data_changed(grid, former)
    none = np.zeros(len(blocks), bool)
    free = (np.concatenate((table[changed], former.rows[changed]))[:, forms.REACH] <= 0).any()
    if free or (table[changed][:, forms.JOIN] == forms.MEET).any():
        return none
    side = SIDE * cell
    centre = low + (blocks + np.float32(0.5)) * np.float32(side)
    wide = float(table[:, forms.BLEND].max(initial=0) + max(grid.strokes, former.strokes)) + side * 0.9
    touched = none.copy()
    for row in (*table[changed], *former.rows[changed]):
        at = row[forms.CENTRE : forms.CENTRE + 3]
        for middle in (at, at * MIRRORED) if row[forms.MIRROR] else (at,):
            touched |= np.linalg.norm(centre - middle, axis=1) < row[forms.REACH] + wide
    shift = np.rint((low - former.low) / side).astype(np.int64)
    there = blocks + shift
    known = ((there >= 0) & (there < former.table.shape)).all(axis=1)
    index = np.full(len(blocks), -1)
    index[known] = former.table[tuple(there[known].T)]
    same = (index >= 0) & ~touched
    values[same] = former.values[index[same]]
    result: NDArray[np.bool_] = same
    return result


def _data_changed(grid: _Grid, former: _Grid) -> NDArray[np.bool_]:
    """Which rows' curves or grids are others than before."""
    places = np.flatnonzero(grid.data != former.data)
    starts = grid.rows[:, forms.START].astype(np.int64)
    order = np.argsort(starts)
    owner = order[np.maximum(np.searchsorted(starts[order], places, side="right") - 1, 0)]
    found = np.zeros(len(starts), bool)
    found[owner] = True
    return found


def _net(grid: _Grid, data: Floats, strokes: np.float32, fine: np.float32, chosen: NDArray[np.int64]) -> Net | None:
    blocks, count = grid.blocks, len(grid.blocks)
    counts = np.empty((count, 1), np.int32)
    chunks = range(0, count, CHUNK)
    each(chunks, lambda b: kernels.count_points(grid.table, grid.values, blocks, counts, b, min(b + CHUNK, count)), 2)
    first = np.concatenate(((0,), np.cumsum(counts[:, 0]))).astype(np.int64)
    total = int(first[-1])
    if not total:
        return None
    points, normals = np.empty((total, 3), np.float32), np.empty((total, 3), np.float32)
    piece, numbers = np.empty((total, 1), np.int32), np.empty((count, SIDE**3), np.int32)

    def chunk(begin: int) -> None:
        kernels.put_points(
            grid.rows, data, strokes, grid.low, np.float32(grid.cell), fine, grid.table, grid.values, blocks, first,
            points, normals, piece, numbers, begin, min(begin + CHUNK, count),
        )  # fmt: skip

    each(chunks, chunk, worth_it=2)
    quads = np.empty((3 * SIDE**3 * count, 4), np.int32)
    quads = quads[: kernels.join_points(grid.table, grid.values, blocks, numbers, quads)]
    triangles = _triangles(points, normals, quads)
    rough = _rough(normals, piece[:, 0], triangles)
    return Net(points, normals, triangles, chosen.astype(np.int32)[piece[:, 0]], rough, grid.cell)


def _triangles(points: Floats, normals: Floats, quads: Counts) -> Counts:
    """Quads cut along the diagonal whose ends have the more alike normals."""
    a, b, c, d = quads.T
    one = (normals[a] * normals[c]).sum(axis=1)
    other = (normals[b] * normals[d]).sum(axis=1)
    along = (one >= other)[:, None]
    first = np.where(along, np.stack((a, b, c), 1), np.stack((a, b, d), 1))
    second = np.where(along, np.stack((a, c, d), 1), np.stack((b, c, d), 1))
    found = np.concatenate((first, second))
    p, q, r = (points[found[:, k]] for k in range(3))
    thick = np.linalg.norm(np.cross(q - p, r - p), axis=1) > 1e-12
    return np.ascontiguousarray(found[thick])


BENT: Final = 0.9965
"""Cosine of the angle between a triangle's normals below which it is rough."""


def _rough(normals: Floats, piece: Counts, triangles: Counts) -> NDArray[np.bool_]:
    a, b, c = triangles.T
    na, nb, nc = normals[a], normals[b], normals[c]
    least = np.minimum(np.minimum((na * nb).sum(1), (nb * nc).sum(1)), (na * nc).sum(1))
    mixed = (piece[a] != piece[b]) | (piece[b] != piece[c])
    result: NDArray[np.bool_] = (least < BENT) | mixed
    return result
