"""The net of points through the cubes that a surface crosses."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.light.rays import _kernels_nets as kernels
from japanner.light.rays.blocks import CHUNK, SIDE, Counts, Grid
from japanner.light.rays.tree import Floats
from japanner.raster.parallel import each

__all__ = ["Net", "bend_of", "net_through", "offs"]

STEPS: Final = 4
"""By so many of Newton's steps points are put on the surface."""
OFF_ROUGH: Final = 0.5
OFF: Final = 0.1
"""How far from the surface rays start, in cells: where the mesh does not follow the forms closely, and elsewhere."""


@dataclass(frozen=True, eq=False)
class Net:
    """points and normals (n, 3) on the surface, triangles (m, 3), piece (n,) that is nearest to each point; rough (m,):
    whether a triangle's corners do not say all about it, as it bends within or is of two pieces. cells (m,): width of a
    triangle's cell; off (m,): how far from it rays start, so that its own neighbours do not stop them. zones: share of
    every point (n,) in zones, by name.
    """

    points: Floats
    normals: Floats
    triangles: Counts
    piece: Counts
    rough: NDArray[np.bool_]
    cells: Floats
    off: Floats
    zones: Mapping[str, Floats] = field(default_factory=dict)


def offs(rough: NDArray[np.bool_], cells: Floats) -> Floats:
    """How far from triangles rays start: farther where the mesh does not follow the forms closely."""
    return (np.where(rough, OFF_ROUGH, OFF) * cells).astype(np.float32)


def net_through(grid: Grid, fine: np.float32, chosen: NDArray[np.int64], steps: int = STEPS) -> Net | None:
    """The net of a grid, with `fine` as the step for slopes; `chosen` (k,): what its rows are called outside."""
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
            grid.rows, grid.data, np.float32(grid.strokes), grid.low, np.float32(grid.cell), fine, grid.table,
            grid.values, blocks, first, points, normals, piece, numbers, steps, begin, min(begin + CHUNK, count),
        )  # fmt: skip

    each(chunks, chunk, worth_it=2)
    quads = np.empty((3 * SIDE**3 * count, 4), np.int32)
    quads = quads[: kernels.join_points(grid.table, grid.values, blocks, numbers, quads)]
    triangles = _triangles(points, normals, quads)
    rough = _rough(normals, piece[:, 0], triangles)
    cells = np.full(len(triangles), grid.cell, np.float32)
    return Net(points, normals, triangles, chosen.astype(np.int32)[piece[:, 0]], rough, cells, offs(rough, cells))


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


def bend_of(normals: Floats, triangles: Counts) -> Floats:
    """Cosine (m,) of the widest angle between the normals of each triangle's corners."""
    na, nb, nc = (normals[corner] for corner in triangles.T)
    result: Floats = np.minimum(np.minimum((na * nb).sum(1), (nb * nc).sum(1)), (na * nc).sum(1))
    return result


def _rough(normals: Floats, piece: Counts, triangles: Counts) -> NDArray[np.bool_]:
    a, b, c = piece[triangles.T]
    result: NDArray[np.bool_] = (bend_of(normals, triangles) < BENT) | (a != b) | (b != c)
    return result
