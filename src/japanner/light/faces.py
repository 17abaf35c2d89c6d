"""Where the points of pieces of faces are, and how far it is to them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.light.figure.data import figure_data
from japanner.light.figure.shape import shaped
from japanner.light.mesh.mesh import normals_of, triangles_of
from japanner.light.mesh.packing import mesh_of
from japanner.light.mesh.subdivide import Refinement, refinement
from japanner.light.pieces import Piece
from japanner.light.turning import turned

__all__ = ["Surface", "extent", "points_of", "surface_of"]


def points_of(piece: Piece) -> NDArray[np.float64]:
    """The points (n, 3) of a figure or a mesh in its own axes and at its own size."""
    return shaped(dict(piece.sliders)) if piece.kind == "figure" else mesh_of(piece.mesh).points.astype(float)


def extent(piece: Piece) -> tuple[NDArray[np.float64], float]:
    """The ball around a piece in its own axes: middle and radius."""
    points = points_of(piece) * np.asarray(piece.size)
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    return middle, float(np.linalg.norm(points - middle, axis=1).max())


@dataclass(frozen=True, eq=False)
class Surface:
    """Points of a surface with its normals (n, 3), in the maquette's axes, and a tree to find them by."""

    normals: NDArray[np.float32]
    points: NDArray[np.float64]
    tree: Any

    def distances(self, points: NDArray[np.floating]) -> NDArray[np.float32]:
        """Distance, below 0 inside, and its slope (m, 4) at points (m, 3): near the surface within a share of its
        faces; an open border goes on as a plane.
        """
        _, at = self.tree.query(points, workers=2)
        normal = self.normals[at]
        # What is nearest is taken for the plane that it lies in.
        off = np.einsum("mi,mi->m", points - self.points[at], normal)
        return np.column_stack((off, normal)).astype(np.float32)


@lru_cache(maxsize=4)
def surface_of(piece: Piece) -> Surface:
    """The surface of a figure or a mesh where it stands; a mirrored one on both sides."""
    fine = _fine(piece.kind, piece.mesh)
    own = np.asarray(fine.matrix @ points_of(piece)) * piece.size @ turned(piece.turn).T + piece.place
    normals = normals_of(own.astype(np.float32), triangles_of(fine.faces))
    if piece.mirror:
        own, normals = (np.concatenate((one, one * (-1, 1, 1))) for one in (own, normals))
    return Surface(normals.astype(np.float32), own, scipy.spatial.cKDTree(own))


@lru_cache(maxsize=2)
def _fine(kind: str, text: str) -> Refinement:
    """Faces once divided, which is as fine as cloth."""
    if kind == "figure":
        data = figure_data()
        return refinement(data.faces, len(data.points), 1)
    mesh = mesh_of(text)
    return refinement(mesh.faces, len(mesh.points), 1)
