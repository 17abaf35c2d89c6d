"""A form of faces, as data."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.errors import InputError

__all__ = ["MOST_FACES", "Floats", "Mesh", "normals_of", "triangles_of"]

Floats = NDArray[np.float32]
Faces = NDArray[np.int32]
MOST_FACES: Final = 250_000


@dataclass(frozen=True, eq=False)
class Mesh:
    """points (n, 3); faces (m, 4), anticlockwise as seen from outside, a triangle with its last corner twice; group
    (m,) of each face, a number in `names`.
    """

    points: Floats
    faces: Faces
    group: NDArray[np.int16]
    names: tuple[str, ...] = ("",)

    def __post_init__(self) -> None:
        if not len(self.faces) or not len(self.points):
            raise InputError("mesh: there is no face in it")
        if len(self.faces) > MOST_FACES:
            raise InputError(f"mesh: expected {MOST_FACES} faces at most, got {len(self.faces)}")
        if not np.isfinite(self.points).all():
            raise InputError("mesh: a point of it is no number")
        if self.faces.min() < 0 or self.faces.max() >= len(self.points):
            raise InputError("mesh: a face of it has a corner that is no point")
        if self.group.shape != (len(self.faces),) or self.group.min() < 0 or self.group.max() >= len(self.names):
            raise InputError("mesh: a face of it is of no group")
        for part in (self.points, self.faces, self.group):
            part.setflags(write=False)


def triangles_of(faces: Faces) -> Faces:
    """Two triangles for each face (m, 4); those without extent are left out."""
    a, b, c, d = faces.T
    found = np.concatenate((np.stack((a, b, c), 1), np.stack((a, c, d), 1)))
    whole = (found[:, 0] != found[:, 1]) & (found[:, 1] != found[:, 2]) & (found[:, 0] != found[:, 2])
    return np.ascontiguousarray(found[whole])


def normals_of(points: Floats, triangles: Faces) -> Floats:
    """Normals (n, 3) at points: means of those of the triangles around, by their areas."""
    a, b, c = (points[triangles[:, k]] for k in range(3))
    across = np.cross(b - a, c - a)
    total = np.zeros((len(points), 3))
    for k in range(3):
        for axis in range(3):
            total[:, axis] += np.bincount(triangles[:, k], across[:, axis], len(points))
    length = np.linalg.norm(total, axis=1, keepdims=True)
    return (total / np.maximum(length, 1e-20)).astype(np.float32)
