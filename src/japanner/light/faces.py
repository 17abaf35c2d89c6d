"""Where the points of pieces of faces are."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from japanner.light.figure.shape import shaped
from japanner.light.mesh.packing import mesh_of
from japanner.light.pieces import Piece

__all__ = ["extent", "points_of"]


def points_of(piece: Piece) -> NDArray[np.float64]:
    """The points (n, 3) of a figure or a mesh in its own axes and at its own size."""
    return shaped(dict(piece.sliders)) if piece.kind == "figure" else mesh_of(piece.mesh).points.astype(float)


def extent(piece: Piece) -> tuple[NDArray[np.float64], float]:
    """The ball around a piece in its own axes: middle and radius."""
    points = points_of(piece) * np.asarray(piece.size)
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    return middle, float(np.linalg.norm(points - middle, axis=1).max())
