"""Finer nets where forms are thin or bend much, in place of that part of the net of the whole."""

from __future__ import annotations

import math
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.light import _kernels_forms as forms
from japanner.light.rays import _kernels_nets as kernels
from japanner.light.rays.blocks import SIDE, Counts, Grid, all_blocks, sorted_out, valued
from japanner.light.rays.net import Net, bend_of, net_through
from japanner.light.rays.tree import Floats

__all__ = ["RATIO", "refined", "thickness"]

RATIO: Final = 3
"""Cells of the finer net to one of the net of the whole."""
THIN: Final = 2.0
"""So many cells wide is a form that wants a finer net."""
BENT: Final = 0.87
"""Cosine of the angle between the normals of a triangle's corners from which on it wants one."""
SPARE: Final = 0.4
"""Where the two nets overlap, rays start so far off, in cells of the whole."""
DEEP: Final = 0.5
"""So many cells deep is a stroke that wants a finer net."""
REACH: Final = 2.0
"""How far to either side a stroke moves the surface much, in its widths."""


def thickness(row: Floats) -> float:
    """How thick a form is where it is thinnest, in units."""
    kind, (a, b, c) = int(row[forms.KIND]), (float(one) for one in row[forms.SIZE : forms.SIZE + 3])
    if kind in (forms.TUBE, forms.CORD):
        return min(a, b)
    if kind == forms.RING:
        return b / max(c, 1.0)
    if kind == forms.SHEET:
        return max(c, float(row[forms.CELL]))
    if kind in (forms.SLAB, forms.HEAD, forms.PUFF):
        return math.inf
    return a if kind == forms.STROKE else min(a, b, c)


def refined(grid: Grid, net: Net, fine: np.float32, chosen: NDArray[np.int64]) -> Net:
    """The net of a grid, but finer where that is needed."""
    counts = np.array(grid.table.shape) * RATIO
    wanted = np.zeros(tuple(counts), bool)
    wanted[tuple(_thin(grid).T)] = True
    bent = net.triangles[bend_of(net.normals, net.triangles) < BENT]
    wanted[tuple(_block_of(grid, net.points[bent.ravel()]).T)] = True
    if not wanted.any():
        return net
    # Where the two nets meet they overlap, so there is no gap.
    around = scipy.ndimage.binary_dilation(wanted, np.ones((3, 3, 3), bool))
    finer = _finer_grid(grid, around)
    small = None if finer is None else net_through(finer, fine, chosen)
    if small is None:
        return net
    inside = wanted[tuple(_block_of(grid, net.points).T)]
    kept = ~inside[net.triangles].all(axis=1)
    far = np.float32(SPARE * grid.cell)
    shared = around[tuple(_block_of(grid, net.points).T)][net.triangles].any(axis=1)
    edge = ~scipy.ndimage.binary_erosion(wanted)
    border = edge[tuple(_block_of(grid, small.points).T)][small.triangles].any(axis=1)
    return Net(
        np.concatenate((net.points, small.points)),
        np.concatenate((net.normals, small.normals)),
        np.concatenate((net.triangles[kept], small.triangles + np.int32(len(net.points)))),
        np.concatenate((net.piece, small.piece)),
        np.concatenate((net.rough[kept], small.rough)),
        np.concatenate((net.cells[kept], small.cells)),
        np.concatenate(
            (
                np.where(shared, np.maximum(net.off, far), net.off)[kept],
                np.where(border, np.maximum(small.off, far), small.off),
            )
        ),
    )


def _block_of(grid: Grid, points: Floats) -> NDArray[np.int64]:
    """Which of the finer grid's blocks each point (n, 3) is in."""
    side = np.float32(SIDE * grid.cell / RATIO)
    most = np.array(grid.table.shape) * RATIO - 1
    return np.clip(((points - grid.low) / side).astype(np.int64), 0, most)


def _thin(grid: Grid) -> Counts:
    """The finer grid's blocks (n, 3) that thin forms and strokes reach."""
    thick = np.array([thickness(row) for row in grid.rows])
    shallow = (grid.rows[:, forms.KIND] == forms.STROKE) & (grid.rows[:, forms.SIZE + 1] < DEEP * grid.cell)
    rows = np.ascontiguousarray(grid.rows[(thick < THIN * grid.cell) & ~shallow])
    blocks = np.empty((0, 3), np.int32)
    if not len(rows):
        return blocks
    strokes = rows[:, forms.KIND] == forms.STROKE
    rows[strokes, forms.SIZE : forms.SIZE + 2] = REACH * rows[strokes, forms.SIZE, None]
    rows[strokes, forms.KIND] = forms.CORD
    rows[:, forms.JOIN], rows[:, forms.BLEND], rows[:, forms.GROUP] = forms.ADD, 0, np.arange(len(rows))
    cell = grid.cell / RATIO
    side, found = np.float32(SIDE * cell), [blocks]
    within = all_blocks(np.full(3, RATIO))
    for row in rows:
        middle = grid.low + (grid.blocks + np.float32(0.5)) * (side * RATIO)
        at = row[forms.CENTRE : forms.CENTRE + 3]
        if row[forms.MIRROR]:
            middle[:, 0] = np.abs(middle[:, 0])
        near = np.linalg.norm(middle - at, axis=1) < row[forms.REACH] + side * RATIO
        some = (grid.blocks[near][:, None] * RATIO + within).reshape(-1, 3).astype(np.int32)
        state = sorted_out(row[None], grid.data, np.float32(0), grid.low, cell, some)
        found.append(some[state != kernels.OUTSIDE])
    return np.concatenate(found)


def _finer_grid(grid: Grid, around: NDArray[np.bool_]) -> Grid | None:
    """The grid of the blocks that are asked for; beyond them nothing is known."""
    blocks, cell = np.ascontiguousarray(np.argwhere(around), np.int32), grid.cell / RATIO
    strokes = np.float32(grid.strokes)
    state = sorted_out(grid.rows, grid.data, strokes, grid.low, cell, blocks)
    lookup = np.full(around.shape, kernels.UNKNOWN, np.int32)
    lookup[tuple(blocks.T)] = state
    blocks = np.ascontiguousarray(blocks[state == 1])
    if not len(blocks):
        return None
    lookup[tuple(blocks.T)] = np.arange(len(blocks))
    return valued(grid.rows, grid.data, strokes, grid.low, cell, lookup, blocks)
