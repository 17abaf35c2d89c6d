"""The balls of eyes that a maquette has: where they are before the viewer, and how they turn to what they look at."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner.light.faces import points_of
from japanner.light.figure.data import figure_data
from japanner.light.figure.shape import MM_UNITS
from japanner.light.maquette import Maquette
from japanner.light.turning import turned
from japanner.painting.makers.base import Aim
from japanner.painting.model import Painting, Part

__all__ = ["GAZE", "Eyeball", "eyeballs_of", "target_of"]

Vector = NDArray[np.float64]
GLOBE_MM: Final = 15.6
"""Radius of an animal's ball, as that of a figure's is: so settings mean the same in both."""
HANDLE_MM: Final = 160.0
"""So far before the eyes is the handle of their gaze."""


@dataclass(frozen=True, eq=False)
class Eyeball:
    """One ball.

    place (3,): of its middle, in maquette units as the viewer has it: x right, y up, z towards the viewer, who is at
    `eye` on z. mm: units to a millimetre of the animal's own; globe_mm: its radius. head (3, 3): how the head is
    turned, and ahead (3,): which way the ball looks of itself, as the viewer has it. side: -1 where its inner corner is
    on the viewer's left, or 1. piece: its number in the maquette.
    """

    place: Vector
    mm: float
    globe_mm: float
    head: Vector
    ahead: Vector
    side: float
    eye: float
    piece: int

    def larger(self) -> float:
        """By how much perspective makes it larger than in the plane of the maquette's middle."""
        return self.eye / (self.eye - float(self.place[2]))

    def frame(self) -> Vector:
        """Axes (3, 3), by rows: right, up, and the way to the viewer from here."""
        z = np.array((0.0, 0.0, self.eye)) - self.place
        z /= np.linalg.norm(z)
        x = np.cross((0.0, 1.0, 0.0), z)
        x /= np.linalg.norm(x)
        return np.stack((x, np.cross(z, x), z))

    def gaze(self, target: Vector) -> Vector:
        """The way (3,), of unit length, in which it looks at a place, as the viewer has it."""
        way = target - self.place
        return np.asarray(way / np.linalg.norm(way))

    def angles(self, target: Vector) -> tuple[float, float]:
        """The same in degrees, right and up from the way to the viewer."""
        x, y, z = self.frame() @ self.gaze(target)
        return float(np.degrees(np.arctan2(x, z))), float(np.degrees(np.arcsin(np.clip(y, -1, 1))))

    def roll(self) -> float:
        """How far the head's upright is turned to the viewer's left, in degrees."""
        up = self.frame() @ self.head[:, 1]
        return float(np.degrees(np.arctan2(-up[0], up[1])))


def eyeballs_of(painting: Painting, part: Part) -> list[Eyeball]:
    """Every ball of the part's, from the left: figures' eyes that are the part's, and pieces that are balls."""
    maquette = painting.maquette
    found = [ball for number in range(len(maquette.pieces)) for ball in _balls(maquette, number, part.uid)]
    found.sort(key=lambda one: float(one.place[0]))
    return found


def _balls(maquette: Maquette, number: int, part: int) -> Iterator[Eyeball]:
    piece = maquette.pieces[number]
    if piece.kind == "figure":
        yield from _of_figure(maquette, number, part)
    elif piece.kind == "ball" and part in piece.owners and piece.join == "add":
        whole, size = turned(maquette.turn), float(np.mean(piece.size))
        for side in (1.0, -1.0) if piece.mirror else (1.0 if piece.place[0] >= 0 else -1.0,):
            x, y, z = piece.place
            place = whole @ np.array((abs(x) * side, y, z))
            yield Eyeball(place, size / GLOBE_MM, GLOBE_MM, whole, whole[:, 2], -side, maquette.eye, number)


def _of_figure(maquette: Maquette, number: int, part: int) -> Iterator[Eyeball]:
    piece = maquette.pieces[number]
    data, points, owners = figure_data(), points_of(piece), dict(piece.parts)
    sliders = dict(piece.sliders)
    own = turned(maquette.turn) @ turned(piece.turn)
    angles = (sliders.get("turn", 0.0), sliders.get("nod", 0.0), sliders.get("tilt", 0.0))
    gaze = (sliders.get("gaze aside", 0.0), sliders.get("gaze up", 0.0), 0.0)
    for side, name in ((-1.0, "left eye"), (1.0, "right eye")):  # a figure's left is on the viewer's right
        if owners.get(name, piece.part) != part:
            continue
        ball = points[np.unique(data.faces[data.group == data.groups.index(name)])]
        middle = ball.mean(axis=0)
        radius = float(np.linalg.norm(ball - middle, axis=1).mean())
        size = float(np.mean(piece.size))
        place = turned(maquette.turn) @ (turned(piece.turn) @ (middle * piece.size) + piece.place)
        head = own @ turned(angles)
        ahead = head @ turned(gaze)[:, 2]
        yield Eyeball(place, MM_UNITS * size, radius / MM_UNITS, head, ahead, side, maquette.eye, number)


def target_of(balls: list[Eyeball], right_deg: float, up_deg: float, far_mm: float) -> Vector:
    """The place (3,) that all look at: so far before the middle between them, aside from where the head looks."""
    middle, head = np.mean([one.place for one in balls], axis=0), balls[0].head
    aside, rise = _angles(head.T @ balls[0].ahead) + np.radians((right_deg, up_deg))
    way = head @ np.array((np.sin(aside) * np.cos(rise), np.sin(rise), np.cos(aside) * np.cos(rise)))
    result: Vector = middle + way * far_mm * balls[0].mm
    return result


def _angles(way: Vector) -> Vector:
    """Right and up, radians, of a way of unit length."""
    return np.array((np.arctan2(way[0], way[2]), np.arcsin(np.clip(way[1], -1, 1))))


def _handle(painting: Painting, part: Part, values: Mapping[str, Any]) -> tuple[float, float] | None:
    balls = eyeballs_of(painting, part)
    if not balls:
        return None
    x, y, z = target_of(balls, values["gaze_right"], values["gaze_up"], HANDLE_MM)
    maquette = painting.maquette
    larger = maquette.eye / max(maquette.eye - z, 1e-3) * maquette.unit_px
    return maquette.middle[0] + x * larger, maquette.middle[1] - y * larger


def _towards(painting: Painting, part: Part, values: Mapping[str, Any], x: float, y: float) -> dict[str, Any]:
    """The gaze whose handle is at a canvas position, or as near to it as it gets."""
    balls, maquette = eyeballs_of(painting, part), painting.maquette
    middle, far = np.mean([one.place for one in balls], axis=0), HANDLE_MM * balls[0].mm
    eye = np.array((0.0, 0.0, maquette.eye))
    seen = np.array(((x - maquette.middle[0]) / maquette.unit_px, (maquette.middle[1] - y) / maquette.unit_px, 0.0))
    way = (seen - eye) / np.linalg.norm(seen - eye)
    # Where the ray meets the ball of places that far off, on this side; past it, where it comes nearest.
    along = float(way @ (middle - eye))
    aside = float(np.linalg.norm(middle - eye - along * way))
    place = eye + way * (along - np.sqrt(max(far**2 - aside**2, 0.0)))
    looks = balls[0].head.T @ ((place - middle) / np.linalg.norm(place - middle))
    right, up = np.degrees(_angles(looks) - _angles(balls[0].head.T @ balls[0].ahead))
    return {"gaze_right": float(np.clip(right, -45, 45)), "gaze_up": float(np.clip(up, -35, 35))}


GAZE: Final = Aim(_handle, _towards)
