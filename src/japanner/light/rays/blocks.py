"""The cubes that the surface of joined forms may pass, in blocks of 8 x 8 x 8, and the distances at their corners."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.light import _kernels_forms as forms
from japanner.light.rays import _kernels_nets as kernels
from japanner.light.rays.tree import Floats
from japanner.raster.parallel import each

__all__ = ["CHUNK", "MIRRORED", "SIDE", "Counts", "Grid", "all_blocks", "grid_of", "sorted_out", "valued"]

SIDE: Final = 8
"""Cells to a side of a block, as the kernels have it."""
Counts = NDArray[np.int32]
CHUNK: Final = 8
"""Blocks to a piece of work."""
MIRRORED: Final = np.array((-1, 1, 1), np.float32)


@dataclass(frozen=True, eq=False)
class Grid:
    """Values (n, 512) at the corners of blocks (n, 3), which `table` finds; rows, data, strokes: of the forms."""

    rows: Floats
    data: Floats
    strokes: float
    low: Floats
    cell: float
    table: Counts
    blocks: Counts
    values: Floats


@lru_cache(maxsize=32)
def _grids(count: int, cell: float) -> dict[str, Grid]:
    """The latest grid of so many rows and so wide a cell: what has not moved keeps its values."""
    return {}


def all_blocks(counts: NDArray[np.int64]) -> Counts:
    """The places (n, 3) of all blocks of a grid of so many."""
    return np.stack(np.meshgrid(*map(np.arange, counts), indexing="ij"), -1).reshape(-1, 3).astype(np.int32)


def sorted_out(
    table: Floats, data: Floats, strokes: np.float32, low: Floats, cell: float, blocks: Counts
) -> Counts:  # fmt: skip
    """What the surface does in blocks (n, 3): 1 where it may pass, else INSIDE or OUTSIDE."""
    kept = np.empty((len(blocks), 1), np.int32)

    def chunk(begin: int) -> None:
        kernels.sort_out(table, data, strokes, low, np.float32(cell), blocks, kept, begin, min(begin + 64, len(blocks)))

    each(range(0, len(blocks), 64), chunk, worth_it=2)
    return kept[:, 0]


def grid_of(table: Floats, data: Floats, strokes: np.float32, low: Floats, high: Floats, cell: float) -> Grid | None:
    """The grid of forms between two corners; None if no surface is there."""
    side = SIDE * cell
    first = np.floor(low / side).astype(np.int64) - 1
    low = (first * side).astype(np.float32)
    counts = np.ceil((high - low) / side).astype(np.int64) + 1
    # Eight blocks a side are sorted out at once, then each of those that are left.
    coarse = all_blocks(-(-counts // SIDE))
    passed = coarse[sorted_out(table, data, strokes, low, cell * SIDE, coarse) == 1]
    within = all_blocks(np.full(3, SIDE))
    blocks = (passed[:, None] * SIDE + within).reshape(-1, 3).astype(np.int32)
    state = sorted_out(table, data, strokes, low, cell, blocks)
    whole = -(-counts // SIDE) * SIDE
    lookup = np.full(tuple(whole), kernels.OUTSIDE, np.int32)
    lookup[tuple(blocks.T)] = np.where(state == 1, 0, state)
    inside = coarse[sorted_out(table, data, strokes, low, cell * SIDE, coarse) == kernels.INSIDE]
    for i, j, k in inside * SIDE:
        lookup[i : i + SIDE, j : j + SIDE, k : k + SIDE] = kernels.INSIDE
    blocks = np.ascontiguousarray(blocks[state == 1])
    if not len(blocks):
        return None
    lookup[tuple(blocks.T)] = np.arange(len(blocks))
    return valued(table, data, strokes, low, cell, lookup, blocks)


def valued(
    table: Floats, data: Floats, strokes: np.float32, low: Floats, cell: float, lookup: Counts, blocks: Counts
) -> Grid:
    """The grid of these blocks with its values; those that it had before are taken from there."""
    former = _grids(len(table), cell).get("latest")
    values = _values(table, data, strokes, low, cell, blocks, former)
    grid = Grid(table, data, float(strokes), low, cell, lookup, blocks, values)
    _grids(len(table), cell)["latest"] = grid
    return grid


def _values(
    table: Floats, data: Floats, strokes: np.float32, low: Floats, cell: float, blocks: Counts, former: Grid | None
) -> Floats:
    values = np.empty((len(blocks), SIDE**3), np.float32)
    fresh = np.arange(len(blocks))
    if former is not None and len(former.data) == len(data):
        fresh = fresh[~_same(Grid(table, data, float(strokes), low, cell, former.table, blocks, values), former)]
    todo = np.ascontiguousarray(blocks[fresh])
    found = np.empty((len(todo), SIDE**3), np.float32)

    def chunk(begin: int) -> None:
        end = min(begin + CHUNK, len(todo))
        kernels.measure(table, data, strokes, low, np.float32(cell), todo, found, begin, end)

    each(range(0, len(todo), CHUNK), chunk, worth_it=2)
    values[fresh] = found
    return values


def _same(grid: Grid, former: Grid) -> NDArray[np.bool_]:
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


def _data_changed(grid: Grid, former: Grid) -> NDArray[np.bool_]:
    """Which rows' curves or grids are others than before."""
    places = np.flatnonzero(grid.data != former.data)
    starts = grid.rows[:, forms.START].astype(np.int64)
    order = np.argsort(starts)
    owner = order[np.maximum(np.searchsorted(starts[order], places, side="right") - 1, 0)]
    found = np.zeros(len(starts), bool)
    found[owner] = True
    return found
