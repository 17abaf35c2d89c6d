"""Pieces of faces as fine, smooth meshes in the maquette's axes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.light.faces import points_of
from japanner.light.figure.data import figure_data
from japanner.light.mesh.mesh import Floats, normals_of, triangles_of
from japanner.light.mesh.packing import mesh_of
from japanner.light.mesh.subdivide import Refinement, refinement
from japanner.light.pieces import Piece
from japanner.light.turning import turned

__all__ = ["Faced", "faced"]

MOST_FINE: Final = 400_000
"""Faces of a fine mesh at most."""
LEVELS: Final = 2
MIRRORED: Final = np.array((-1, 1, 1), np.float32)


@dataclass(frozen=True, eq=False)
class Faced:
    """points, normals (n, 3) in the maquette's axes, triangles (m, 3); zones: share of every point (n,) 0..1 in zones
    of a figure or groups of a mesh, by name. edge: mean width of a face.
    """

    points: Floats
    normals: Floats
    triangles: NDArray[np.int32]
    zones: Mapping[str, Floats] = field(default_factory=dict)
    edge: float = 0.01


def faced(piece: Piece, levels: int = LEVELS) -> Faced:
    """The surface of a piece of faces, divided so many times, as far as there is room."""
    points, fine, zones = _own(piece, levels)
    place = np.asarray(piece.place)
    turn, size = turned(piece.turn), np.asarray(piece.size)
    smooth = np.asarray(fine.matrix @ points) * size @ turn.T + place
    triangles = triangles_of(fine.faces)
    normals = normals_of(smooth.astype(np.float32), triangles)
    if piece.mirror:
        # The other side is the same with x turned round, and corners the other way.
        count = len(smooth)
        smooth = np.concatenate((smooth, smooth * (-1, 1, 1)))
        normals = np.concatenate((normals, normals * MIRRORED))
        triangles = np.concatenate((triangles, triangles[:, ::-1] + np.int32(count)))
        zones = {name: np.tile(share, 2) for name, share in zones.items()}
    a, b = smooth[triangles[:, 0]], smooth[triangles[:, 1]]
    edge = float(np.linalg.norm(a - b, axis=1).mean())
    return Faced(
        np.ascontiguousarray(smooth, np.float32), np.ascontiguousarray(normals, np.float32),
        np.ascontiguousarray(triangles), zones, edge,
    )  # fmt: skip


def _own(piece: Piece, levels: int) -> tuple[NDArray[np.floating], Refinement, dict[str, Floats]]:
    if piece.kind == "figure":
        return points_of(piece), _figure_fine(levels), _figure_zones(levels)
    several = len(mesh_of(piece.mesh).names) > 1
    return points_of(piece), _mesh_fine(piece.mesh, levels), _groups(piece.mesh, levels) if several else {}


@lru_cache(maxsize=4)
def _figure_fine(levels: int) -> Refinement:
    data = figure_data()
    return refinement(data.faces, len(data.points), levels)


@lru_cache(maxsize=4)
def _figure_zones(levels: int) -> dict[str, Floats]:
    """Zones of the skin, and eyes, teeth and tongue as groups of faces are."""
    data, fine = figure_data(), _figure_fine(levels)
    zones = np.stack(list(data.zones.values()), axis=1)
    smooth = np.clip(fine.matrix @ zones, 0, 1).astype(np.float32)
    found = {name: np.ascontiguousarray(smooth[:, k]) for k, name in enumerate(data.zones)}
    for number, name in enumerate(data.groups):
        if name != "skin":
            found[name] = _of_group(fine, data.group, number)
    return found


def _of_group(fine: Refinement, group: NDArray[np.signedinteger], number: int) -> Floats:
    share = np.zeros(fine.matrix.shape[0], np.float32)
    share[np.unique(fine.faces[group[fine.parent] == number])] = 1
    return share


@lru_cache(maxsize=4)
def _mesh_fine(text: str, levels: int) -> Refinement:
    mesh = mesh_of(text)
    while levels and len(mesh.faces) * 4**levels > MOST_FINE:
        levels -= 1
    return refinement(mesh.faces, len(mesh.points), levels)


@lru_cache(maxsize=4)
def _groups(text: str, levels: int) -> dict[str, Floats]:
    mesh, fine = mesh_of(text), _mesh_fine(text, levels)
    return {name: _of_group(fine, mesh.group, number) for number, name in enumerate(mesh.names) if name}
