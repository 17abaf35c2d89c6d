"""Smooth surfaces of faces, as matrices: what the faces alone say is worked out once, for any place of the points."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner import checks

__all__ = ["Refinement", "refinement"]

Faces = NDArray[np.int32]
Numbers = NDArray[np.signedinteger]
Matrix = Any
"""A sparse one, of SciPy's."""
MOST_LEVELS = 4


@dataclass(frozen=True, eq=False)
class Refinement:
    """matrix (k, n): from the points of a mesh to those of the finer one on its limit surface; faces (m, 4) of the
    finer one; parent (m,): the face that each comes from.
    """

    matrix: Matrix
    faces: Faces
    parent: NDArray[np.int32]


def refinement(faces: Faces, count: int, levels: int, *, limit: bool = True) -> Refinement:
    """Faces (m, 4) between `count` points divided `levels` times by the rules of Catmull and Clark (1978), then put on
    the limit surface (Halstead, Kass & DeRose 1993).

    Open edges become cubic B-splines of their own; so do edges where more than two faces meet.
    """
    checks.integer("levels", levels, 0, MOST_LEVELS)
    matrix, parent = scipy.sparse.identity(count, format="csr"), np.arange(len(faces), dtype=np.int32)
    for _ in range(levels):
        step, faces, origin = _divided(faces, matrix.shape[0])
        matrix, parent = (step @ matrix).tocsr(), parent[origin]
    if limit and levels:
        matrix = (_to_limit(faces, matrix.shape[0]) @ matrix).tocsr()
    return Refinement(matrix, faces, parent)


@dataclass(frozen=True, eq=False)
class _Corners:
    """Every corner of every face: its face, point, the point after it, and the number of the edge between; of each
    edge (e, 2) its ends, and how many faces meet there.
    """

    face: NDArray[np.int64]
    point: NDArray[np.int64]
    edge: NDArray[np.int64]
    before: NDArray[np.int64]
    ends: NDArray[np.int64]
    meeting: NDArray[np.int64]


def _corners(faces: Faces, count: int) -> _Corners:
    real = np.ones(faces.shape, bool)
    real[:, 3] = faces[:, 3] != faces[:, 2]
    after = np.roll(faces, -1, axis=1)
    after[~real[:, 3], 2] = faces[~real[:, 3], 0]
    face, slot = np.nonzero(real)
    point, following = faces[face, slot].astype(np.int64), after[face, slot].astype(np.int64)
    low, high = np.minimum(point, following), np.maximum(point, following)
    keys, edge, meeting = np.unique(low * count + high, return_inverse=True, return_counts=True)
    # The edge before a corner is that of the corner before it in its face.
    first = np.r_[True, face[1:] != face[:-1]]
    last = np.flatnonzero(np.r_[first[1:], True])
    before = np.r_[0, edge[:-1]]
    before[first] = edge[last]
    return _Corners(face, point, edge, before, np.stack((keys // count, keys % count), 1), meeting)


def _sparse(
    values: NDArray[np.floating],
    rows: NDArray[np.signedinteger],
    columns: NDArray[np.signedinteger],
    shape: tuple[int, int],
) -> Matrix:
    return scipy.sparse.csr_matrix((values, (rows, columns)), shape)


def _divided(faces: Faces, count: int) -> tuple[Matrix, Faces, NDArray[np.int64]]:
    """One step: the matrix to the points, edges and faces in their new places; the new faces, and what each is of."""
    c = _corners(faces, count)
    faces_in, edges_in = len(faces), len(c.ends)
    sides = np.bincount(c.face, minlength=faces_in)
    to_face = _sparse(1 / sides[c.face], c.face, c.point, (faces_in, count))
    smooth = c.meeting == 2
    ends = _sparse(np.ones(2 * edges_in), np.repeat(np.arange(edges_in), 2), c.ends.ravel(), (edges_in, count))
    beside = _sparse(np.ones(len(c.edge)), c.edge, c.face, (edges_in, faces_in))
    quarter = scipy.sparse.diags(np.where(smooth, 0.25, 0.5)), scipy.sparse.diags(np.where(smooth, 0.25, 0.0))
    to_edge = quarter[0] @ ends + quarter[1] @ (beside @ to_face)
    to_point = _points_moved(c, count, to_face, ends, smooth)
    matrix = scipy.sparse.vstack((to_point, to_edge, to_face)).tocsr()
    quads = np.stack((c.point, count + c.edge, count + edges_in + c.face, count + c.before), 1)
    return matrix, quads.astype(np.int32), c.face


def _points_moved(
    c: _Corners, count: int, to_face: Matrix, ends: Matrix, smooth: NDArray[np.bool_]
) -> Matrix:  # fmt: skip
    """(mean of faces + 2 mean of the edges' middles + (n - 3) itself) / n; along open edges 1, 6, 1 eighths."""
    edges = np.arange(len(c.ends))
    at_edge = _sparse(np.ones(2 * len(edges)), c.ends.ravel(), np.repeat(edges, 2), (count, len(edges)))
    at_face = _sparse(np.ones(len(c.face)), c.point, c.face, (count, to_face.shape[0]))
    valence = np.maximum(np.asarray(at_edge.sum(axis=1)).ravel(), 1)
    meeting = np.maximum(np.asarray(at_face.sum(axis=1)).ravel(), 1)
    same = scipy.sparse.identity(count, format="csr")
    inner = (
        scipy.sparse.diags(1 / (valence * meeting)) @ at_face @ to_face
        + scipy.sparse.diags(1 / valence**2) @ at_edge @ ends
        + scipy.sparse.diags((valence - 3) / valence) @ same
    )
    open_edges = at_edge @ scipy.sparse.diags((~smooth).astype(float))
    rim = np.asarray(open_edges.sum(axis=1)).ravel()
    # Where open edges end or cross, and where no face is, a point stays.
    along = scipy.sparse.diags(0.125 * (rim == 2)) @ open_edges @ ends + scipy.sparse.diags(
        np.where(rim == 2, 0.5, 1.0)
    )
    used = np.asarray(at_face.sum(axis=1)).ravel() > 0
    free = scipy.sparse.diags(((rim == 0) & used).astype(float))
    return free @ inner + scipy.sparse.diags(((rim > 0) | ~used).astype(float)) @ along


def _to_limit(faces: Faces, count: int) -> Matrix:
    """(n^2 itself + 4 its edges' far ends + its faces' far corners) / (n (n + 5)), between faces of four; along open
    edges 1, 4, 1 sixths.
    """
    c = _corners(faces, count)
    smooth = c.meeting == 2
    a, b = c.ends.T
    one = np.ones(len(a))
    to_ends = _sparse(np.r_[one, one], np.r_[a, b], np.r_[b, a], (count, count))
    far = _sparse(np.ones(faces.size), faces.ravel(), np.roll(faces, 2, axis=1).ravel(), (count, count))
    n = np.asarray(to_ends.sum(axis=1)).ravel()
    scale = 1 / np.maximum(n * (n + 5), 1)
    inner = (
        scipy.sparse.diags(n * n * scale) + scipy.sparse.diags(4 * scale) @ to_ends + scipy.sparse.diags(scale) @ far
    )
    rim_a, rim_b = a[~smooth], b[~smooth]
    one = np.ones(len(rim_a))
    rims = _sparse(np.r_[one, one], np.r_[rim_a, rim_b], np.r_[rim_b, rim_a], (count, count))
    rim = np.asarray(rims.sum(axis=1)).ravel()
    along = scipy.sparse.diags((rim == 2) / 6.0) @ rims + scipy.sparse.diags(np.where(rim == 2, 4 / 6, 1.0))
    free = scipy.sparse.diags(((rim == 0) & (n > 0)).astype(float))
    return free @ inner + scipy.sparse.diags(((rim > 0) | (n == 0)).astype(float)) @ along
