"""A figure as lines over the canvas: the nets of faces that are seen from in front, to check it by."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner.light.faces import points_of
from japanner.light.figure.data import figure_data
from japanner.light.maquette import Maquette
from japanner.light.turning import turned

__all__ = ["figure_lines"]

Place = tuple[float, float]
HIDDEN: Final = ("inside of the mouth", "nostrils")


def figure_lines(maquette: Maquette) -> list[list[Place]]:
    """Outlines, in canvas px, of the faces of all figures that look at the viewer."""
    data, lines = figure_data(), list[list[Place]]()
    inside = np.stack([data.zones[name] for name in HIDDEN]).sum(axis=0) > 0.5
    faces = data.faces[(data.group == data.groups.index("skin")) & ~inside[data.faces].any(axis=1)]
    turn = turned(maquette.turn)
    for piece in maquette.pieces:
        if piece.kind != "figure":
            continue
        there = (points_of(piece) * piece.size @ turned(piece.turn).T + piece.place) @ turn.T
        larger = maquette.eye * maquette.unit_px / np.maximum(maquette.eye - there[:, 2], 1e-3)
        seen = np.stack((maquette.middle[0] + there[:, 0] * larger, maquette.middle[1] - there[:, 1] * larger), 1)
        a, b, c = (seen[faces[:, k]] for k in range(3))
        facing = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0]) < 0
        lines += [[(float(x), float(y)) for x, y in seen[face]] for face in faces[facing]]
    return lines
