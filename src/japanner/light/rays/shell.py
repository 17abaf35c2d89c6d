"""A whole maquette as triangles."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.light import _kernels_forms as forms
from japanner.light import _kernels_points as kernels
from japanner.light.mesh.mesh import normals_of
from japanner.light.pieces import FACED, Piece
from japanner.light.rays.faced import faced
from japanner.light.rays.joined import SLOPE, Pitch, components, net_of
from japanner.light.rays.net import Net, offs
from japanner.light.rays.tree import Floats, Tree
from japanner.light.rays.worked import softened, stroked
from japanner.light.rows import Rows, rows_of

__all__ = ["Shell", "shell_of"]

KEPT: Final = 6
FACE_CELLS: Final = 0.7
"""Faces of a mesh are at most so wide, in cells."""
SLAB_SIDE: Final = 64
"""Squares to a side of what is drawn of a table."""
SLAB_REACH: Final = 8.0
"""How far a table goes, in sizes of the whole."""


@dataclass(frozen=True, eq=False)
class Shell:
    """points, normals (n, 3), triangles (m, 3), piece (n, 1) of each point; rough (m, 1) 0 or 1.
    cells, off (m,): see `Net`. rows: the forms behind them. nets: the meshes that it is of, with their first points.
    """

    rows: Rows
    points: Floats
    normals: Floats
    triangles: NDArray[np.int32]
    piece: NDArray[np.int32]
    rough: NDArray[np.uint8]
    cells: Floats
    off: Floats
    nets: tuple[tuple[int, Net], ...] = ()
    _looks: list[int] = field(default_factory=lambda: [0])

    def fresh(self) -> bool:
        """Whether nobody has asked so before."""
        self._looks[0] += 1
        return self._looks[0] == 1

    @cached_property
    def tree(self) -> Tree:
        return Tree.of(self.points, self.triangles)

    @property
    def fine(self) -> np.float32:
        """Step for slopes of the forms."""
        return np.float32(SLOPE * self.rows.scale)


_kept: OrderedDict[object, Shell] = OrderedDict()
_lock = threading.Lock()


def shell_of(pieces: tuple[Piece, ...], pitch: Pitch, or_else: Pitch | None = None) -> Shell | None:
    """The triangles of joined pieces, kept for whoever asks again, by what shapes them; None if there are none.

    or_else: how fine they are if there are none yet that are as fine as asked for.
    """
    shape = tuple(one.shape() for one in pieces)
    with _lock:
        for key in ((shape, pitch), (shape, or_else)):
            found = _kept.get(key)
            if found is not None:
                _kept.move_to_end(key)
                return found
    pitch = pitch if or_else is None else or_else
    key = shape, pitch
    found = _built(pieces, pitch)
    if found is None:
        return None
    with _lock:
        _kept[key] = found
        while len(_kept) > KEPT:
            _kept.popitem(last=False)
    return found


def _built(pieces: tuple[Piece, ...], pitch: Pitch) -> Shell | None:
    rows = rows_of(pieces)
    nets = [net for chosen in components(rows) for net in _nets(rows, chosen, pitch)]
    strokes = tuple(one for one in pieces if one.kind == "stroke")
    meshes = [_faced(piece, number, pitch, strokes) for number, piece in enumerate(pieces) if piece.kind in FACED]
    nets = _seamed(rows, nets, meshes, pieces)
    if not nets:
        return None
    offsets = np.cumsum([0, *(len(net.points) for net in nets)])
    triangles = np.concatenate([net.triangles + np.int32(at) for net, at in zip(nets, offsets, strict=False)])
    return Shell(
        rows,
        np.concatenate([net.points for net in nets]),
        np.concatenate([net.normals for net in nets]),
        np.ascontiguousarray(triangles, np.int32),
        np.concatenate([net.piece for net in nets]).astype(np.int32)[:, None],
        np.concatenate([net.rough for net in nets]).astype(np.uint8)[:, None],
        np.concatenate([net.cells for net in nets]),
        np.concatenate([net.off for net in nets]),
        tuple(zip(offsets.tolist(), nets, strict=False)),
    )


def _seamed(rows: Rows, nets: list[Net], meshes: list[Net], pieces: tuple[Piece, ...]) -> list[Net]:
    """All of them, where meshes have a blend with a softened seam between them and the forms."""
    for number, mesh in enumerate(meshes):
        blend = pieces[int(mesh.piece[0])].blend
        if blend <= 0 or not nets:
            continue
        found = np.zeros((len(mesh.points), 4), np.float32)
        kernels.distances(rows.rows, rows.data, np.float32(rows.strokes), mesh.points, found)
        meshes[number] = _drawn_out(mesh, found[:, 0], blend)
        tree = scipy.spatial.cKDTree(mesh.points)
        nets = [_drawn_out(net, _gap(net, mesh, tree, blend), blend) for net in nets]
    return nets + meshes


def _gap(net: Net, mesh: Net, tree: scipy.spatial.cKDTree, blend: float) -> Floats:
    """Distance (n,) of a net's points to a mesh, below 0 inside it; past the blend it does not matter."""
    away, nearest = tree.query(net.points, distance_upper_bound=blend)
    near = np.flatnonzero(np.isfinite(away))
    gap = np.full(len(net.points), np.inf, np.float32)
    at = np.asarray(nearest)[near]
    gap[near] = np.einsum("ij,ij->i", net.points[near] - mesh.points[at], mesh.normals[at])
    return gap


def _drawn_out(net: Net, gap: Floats, blend: float) -> Net:
    points = softened(net.points, net.normals, gap, blend)
    moved = np.abs(gap) < blend
    if not moved.any():
        return net
    normals = np.where(moved[:, None], normals_of(points, net.triangles), net.normals)
    # What was drawn out lies on no form any more.
    rough = net.rough & ~moved[net.triangles].any(axis=1)
    return replace(net, points=points, normals=normals, rough=rough, off=np.maximum(net.off, offs(rough, net.cells)))


def _faced(piece: Piece, number: int, pitch: Pitch, strokes: tuple[Piece, ...]) -> Net:
    """A piece of faces, finely enough for the canvas."""
    found = faced(piece, 1)
    if found.edge > FACE_CELLS * pitch.wide or not pitch.wide:
        found = faced(piece, 2 if pitch.wide else 1)
    found = stroked(found, strokes)
    count = len(found.points)
    piece_of, rough = np.full(count, number, np.int32), np.zeros(len(found.triangles), bool)
    cells = np.full(len(rough), found.edge, np.float32)
    return Net(found.points, found.normals, found.triangles, piece_of, rough, cells, offs(rough, cells), found.zones)


def _nets(rows: Rows, chosen: NDArray[np.int64], pitch: Pitch) -> list[Net]:
    table = rows.rows[chosen]
    slabs = chosen[(table[:, forms.KIND] == forms.SLAB) & (table[:, forms.JOIN] == forms.ADD)]
    found = [] if len(slabs) == len(chosen) else [net_of(rows, chosen, pitch)]
    nets = [one for one in found if one is not None]
    return nets + [_table(rows, int(slab), nets[0] if nets else None) for slab in slabs]


def _table(rows: Rows, slab: int, beside: Net | None) -> Net:
    """The plane of a slab, as far as it is worth it, but for where a net has it already."""
    row = rows.rows[slab]
    turn, place = row[forms.TURN : forms.TURN + 9].reshape(3, 3), row[forms.PLACE : forms.PLACE + 3]
    # Squares grow outwards, as they would be seen.
    steps = np.linspace(-1, 1, SLAB_SIDE + 1)
    steps = np.sign(steps) * (0.2 * np.abs(steps) + 0.8 * np.abs(steps) ** 3) * SLAB_REACH * rows.scale
    x, z = np.meshgrid(steps, steps, indexing="ij")
    points = (np.stack((x, np.zeros_like(x), z), -1).reshape(-1, 3) @ turn.T + place).astype(np.float32)
    number = np.arange((SLAB_SIDE + 1) ** 2).reshape(SLAB_SIDE + 1, -1)
    a, b, c, d = number[:-1, :-1], number[1:, :-1], number[1:, 1:], number[:-1, 1:]
    triangles = np.stack((a, d, c, a, c, b), -1).reshape(-1, 3).astype(np.int32)
    if beside is not None:
        cell = beside.cells.max()
        low, high = beside.points.min(axis=0) + cell, beside.points.max(axis=0) - cell
        inside = ((points >= low) & (points <= high)).all(axis=1)
        triangles = triangles[~inside[triangles].all(axis=1)]
    normals = np.tile(turn[:, 1], (len(points), 1))
    piece, rough = np.full(len(points), slab, np.int32), np.zeros(len(triangles), bool)
    cells = np.full(len(triangles), 0.02 * rows.scale, np.float32)
    return Net(points, normals, triangles, piece, rough, cells, offs(rough, cells))
