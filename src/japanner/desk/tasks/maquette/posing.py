"""What drags do to a maquette, and where its handles are."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner.light.faces import points_of
from japanner.light.figure.data import figure_data
from japanner.light.figure.fit import landmarks
from japanner.light.figure.pull import pulled
from japanner.light.figure.sliders import checked, sliders
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.turning import turned
from japanner.painting.model import Light

__all__ = [
    "HEAD",
    "LIGHT",
    "Drag",
    "anchor_of",
    "dragged",
    "head_turned",
    "landmark_of",
    "light_at",
    "lit_from",
    "scale_of",
]

Vector = tuple[float, float, float]
Place = tuple[float, float]
LIGHT, HEAD = "light", "head"
"""Handles of the light, and of a figure's head."""
TURN_DEG_PX: Final = 0.35
LIGHT_UNITS: Final = 1.45
"""How far from the middle of the maquette the light's handle is at most."""


@dataclass(frozen=True)
class Drag:
    """How far the pointer went, in canvas px, to the right and down; canvas px to one of the easel; Shift held."""

    dx: float
    dy: float
    px: float
    shift: bool


def anchor_of(piece: Piece) -> Vector:
    """Where a piece's own handles are, in the maquette's axes."""
    if piece.kind == "figure":
        return landmark_of(piece, "neck hollow")
    if piece.kind in ("cord", "stroke"):
        middle = np.asarray(piece.points, float).mean(axis=0) + (piece.kind == "cord") * np.asarray(piece.place)
        return float(middle[0]), float(middle[1]), float(middle[2])
    return piece.place


def landmark_of(piece: Piece, name: str) -> Vector:
    """Where a landmark of a figure is in the maquette's axes."""
    own = points_of(piece)[figure_data().landmarks[name]] * piece.size
    x, y, z = turned(piece.turn) @ own + np.asarray(piece.place)
    return float(x), float(y), float(z)


def scale_of(piece: Piece) -> Any:
    """From a piece's points to lengths in its own axes."""
    if piece.kind == "sheet":
        return np.array((piece.size[0], piece.size[1], piece.size[0]))
    return np.array(piece.size) if piece.kind == "head" else np.ones(3)


def dragged(before: Maquette, index: int | None, held: str, drag: Drag) -> Maquette:
    """The maquette as a drag makes it that holds the whole, or a handle of the piece in hand."""
    across, up = drag.dx / drag.px * TURN_DEG_PX, -drag.dy / drag.px * TURN_DEG_PX
    if held == "whole" or index is None:
        yaw, pitch, roll = before.turn
        return replace(before, turn=(_round(yaw + across), _round(min(max(pitch + up, -90), 90)), roll))
    piece = before.pieces[index]
    if held == HEAD:
        return before.with_piece(index, sliders=head_turned(piece, across, up, tilt=drag.shift))
    if held == "turn":
        yaw, pitch, roll = piece.turn
        return before.with_piece(index, turn=(_round(yaw + across), _round(pitch + up), roll))
    if held == "size":
        factor = float(np.exp((drag.dx + drag.dy) / drag.px * 0.006))
        size = tuple(min(max(v * factor, 1e-3), 900.0) for v in piece.size)
        return before.with_piece(index, size=size, edge=piece.edge * (factor if piece.kind == "box" else 1))
    shift = np.array((drag.dx, -drag.dy, 0.0) if not drag.shift else (0.0, 0.0, drag.dy)) / before.unit_px
    own = turned(before.turn).T @ shift
    if held.startswith("point"):
        return _with_point(before, index, int(held.split()[1]), own)
    return _moved(before, index, own)


def _moved(before: Maquette, index: int, shift: NDArray[np.float64]) -> Maquette:
    piece = before.pieces[index]
    if piece.mirror and anchor_of(piece)[0] < 0:
        shift = shift * (-1, 1, 1)
    if piece.kind == "stroke":
        points = tuple(tuple(float(v) for v in np.add(point, shift)) for point in piece.points)
        return before.with_piece(index, points=points)
    return before.with_piece(index, place=tuple(round(float(v), 4) for v in np.add(piece.place, shift)))


def _with_point(before: Maquette, index: int, number: int, shift: NDArray[np.float64]) -> Maquette:
    """One point of a piece moved; those of a head's middle stay there. Of a figure, a landmark."""
    piece = before.pieces[index]
    if piece.kind == "figure":
        own = turned(piece.turn).T @ shift / piece.size
        values = pulled(dict(piece.sliders), landmarks()[number], own)
        return before.with_piece(index, sliders=tuple(sorted(values.items())))
    own = shift if piece.kind == "stroke" else turned(piece.turn).T @ shift
    moved = np.asarray(piece.points[number], float) + own / scale_of(piece)
    if piece.kind == "head" and abs(piece.points[number][0]) < 1e-6:
        moved[0] = 0.0
    x, y, z = (round(float(v), 4) for v in moved)
    return before.with_piece(
        index, points=tuple((x, y, z) if i == number else one for i, one in enumerate(piece.points))
    )


def head_turned(piece: Piece, across: float, up: float, *, tilt: bool) -> tuple[tuple[str, float], ...]:
    """A figure's sliders with its head turned and nodded by so many degrees, or tilted, as far as a neck goes."""
    values, known = dict(piece.sliders), sliders()
    for name, by in (("tilt", -across), ("nod", 0.0)) if tilt else (("turn", across), ("nod", up)):
        wanted = values.get(name, known[name].rest) + by
        values[name] = round(min(max(wanted, known[name].low), known[name].high), 1)
    return tuple(sorted(checked(values).items()))


def light_at(light: Light, maquette: Maquette) -> Place:
    """On a ring around the maquette, where the light comes from; in the middle, from the viewer."""
    (x, y, _), (left, top), reach = light.direction, maquette.middle, LIGHT_UNITS * maquette.unit_px
    return left + x * reach, top - y * reach


def lit_from(light: Light, maquette: Maquette, at: Place, *, behind: bool) -> Light:
    """The light from where its handle is dragged to."""
    reach = LIGHT_UNITS * maquette.unit_px
    x, y = (at[0] - maquette.middle[0]) / reach, (maquette.middle[1] - at[1]) / reach
    far = max(math.hypot(x, y), 1.0)
    x, y = x / far, y / far
    z = math.sqrt(max(1 - x * x - y * y, 0.0)) * (-1 if behind else 1)
    return replace(
        light, up_deg=round(math.degrees(math.asin(y)), 1), right_deg=round(math.degrees(math.atan2(x, z)), 1)
    )


def _round(value: float) -> float:
    return round((value + 180) % 360 - 180, 1)
