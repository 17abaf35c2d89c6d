"""The head guide: a form that turns in space, drawn as lines to sketch over; it is never paint.

A human head is an egg for the skull and a jaw that narrows to the chin; an animal's is a ball for the skull and a
tube for the muzzle. Unit of all lengths is the head's height; before it is turned, x runs to the right, y down from
the crown, z towards the viewer. Proportions are common practice: the eye line lies half-way from crown to chin, the
nose base half-way from there to the chin, the mouth a third from nose base to chin, the ears between brow and nose
base, and the head is five eyes wide.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks

__all__ = ["EYE_LINE", "GUIDE_KINDS", "MOUTH", "NOSE_BASE", "HeadGuide", "Line", "guide_lines"]

Points = NDArray[np.float64]

GUIDE_KINDS: Final = ("human", "animal")
BROW: Final = 0.42
EYE_LINE: Final = 0.5
NOSE_BASE: Final = 0.75
MOUTH: Final = NOSE_BASE + (1 - NOSE_BASE) / 3
WIDTH: Final = 0.75
EYE_WIDTH: Final = WIDTH / 5
DEPTH: Final = 0.86
BALL: Final = 0.5
STEPS: Final = 49


@dataclass(frozen=True)
class HeadGuide:
    """Where a head is and how it is turned.

    x, y: canvas position of its middle; height_px: crown to chin, or the height of an animal's skull. yaw turns it
    to the right of the picture, pitch up, roll clockwise, in degrees. muzzle, muzzle_width, ears: length and width of
    an animal's muzzle and height of its ears, in skull heights.
    """

    kind: str = "human"
    x: float = 0.0
    y: float = 0.0
    height_px: float = 400.0
    yaw_deg: float = 0.0
    pitch_deg: float = 0.0
    roll_deg: float = 0.0
    muzzle: float = 0.45
    muzzle_width: float = 0.36
    ears: float = 0.3

    def __post_init__(self) -> None:
        checks.one_of("kind", self.kind, GUIDE_KINDS)
        checks.number("x", self.x, -1e6, 1e6)
        checks.number("y", self.y, -1e6, 1e6)
        checks.number("height_px", self.height_px, 4, 100_000)
        for name in ("yaw_deg", "pitch_deg", "roll_deg"):
            checks.number(name, getattr(self, name), -180, 180)
        checks.number("muzzle", self.muzzle, 0, 2)
        checks.number("muzzle_width", self.muzzle_width, 0.05, 1)
        checks.number("ears", self.ears, 0, 2)

    @property
    def turn(self) -> Points:
        """The rotation, 3x3, of columns (x, y, z)."""
        yaw, pitch, roll = (math.radians(v) for v in (self.yaw_deg, self.pitch_deg, self.roll_deg))
        cy, sy, cp, sp, cr, sr = (f(a) for a in (yaw, pitch, roll) for f in (math.cos, math.sin))
        about_y = np.array([(cy, 0, sy), (0, 1, 0), (-sy, 0, cy)])
        about_x = np.array([(1, 0, 0), (0, cp, -sp), (0, sp, cp)])
        about_z = np.array([(cr, -sr, 0), (sr, cr, 0), (0, 0, 1)])
        result: Points = about_z @ about_x @ about_y
        return result

    def on_canvas(self, points: Points) -> Points:
        """Canvas positions (n, 2) of points (n, 3) of the head, seen from far away."""
        turned = (points - (0, 0.5, 0)) @ self.turn.T
        result: Points = turned[:, :2] * self.height_px + (self.x, self.y)
        return result


@dataclass(frozen=True, eq=False)
class Line:
    """A line of the guide in canvas positions (n, 2); `hidden` lies on the far side, `name` says what it is."""

    name: str
    points: Points
    hidden: bool = False


@lru_cache(maxsize=4)
def guide_lines(guide: HeadGuide) -> tuple[Line, ...]:
    """All lines of a guide; those on the surface come in pieces, seen and hidden."""
    return tuple(_human(guide) if guide.kind == "human" else _animal(guide))


def _human(guide: HeadGuide) -> list[Line]:
    heights = 0.5 - 0.5 * np.cos(np.linspace(0.01, np.pi, STEPS))
    form = np.concatenate([_section(y, np.linspace(0, 2 * np.pi, STEPS)) for y in heights])
    lines = [_hull("outline", guide, form)]
    front = np.array([(0.0, y, _depths(y)[0]) for y in heights])
    lines += _on_surface("centre line", guide, front, front - (0, 0.5, 0))
    around = np.linspace(0, np.pi, STEPS)
    for name, y in (("brow", BROW), ("eye line", EYE_LINE), ("nose base", NOSE_BASE), ("mouth", MOUTH)):
        ring = _section(y, around)
        lines += _on_surface(name, guide, ring, ring - (0, y, 0))
    for side in (-1, 1):
        lines += _ear(guide, side) + _eye(guide, side)
    return lines


def _half_width(y: float) -> float:
    """Half the width of the head at a height: the egg, and from the eyes down the jaw, whichever is wider."""
    egg = WIDTH / 2 * math.sqrt(max(1 - ((y - 0.4) / 0.4) ** 2, 0))
    jaw = WIDTH / 2 * (1 - 0.64 * ((y - 0.45) / 0.55) ** 1.7) if y > 0.45 else 0
    # The chin is round.
    chin = math.sqrt(max(1 - (max(y - 0.86, 0) / 0.14) ** 2, 0))
    return max(egg, jaw) * max(chin, 0.02)


def _depths(y: float) -> tuple[float, float]:
    """How far the head reaches to the front and to the back at a height."""
    egg = DEPTH / 2 * math.sqrt(max(1 - ((y - 0.4) / 0.4) ** 2, 0))
    front = max(egg, DEPTH / 2 * (1 - 0.1 * ((y - 0.4) / 0.6) ** 2) if y > 0.4 else 0)
    back = max(egg, DEPTH / 2 * (1 - 1.35 * ((y - 0.4) / 0.6)) if y > 0.4 else 0)
    return front, max(back, 0.02)


def _section(y: float, angles: Points) -> Points:
    """The head cut at a height: points at angles from the right (0) over the front (90 degrees) round."""
    front, back = _depths(y)
    depth = np.where(np.sin(angles) > 0, front, back)
    return np.stack((_half_width(y) * np.cos(angles), np.full_like(angles, y), depth * np.sin(angles)), axis=1)


def _ear(guide: HeadGuide, side: int) -> list[Line]:
    t = np.linspace(0, 2 * np.pi, STEPS)
    y = (BROW + NOSE_BASE) / 2 + (NOSE_BASE - BROW) / 2 * np.sin(t)
    ring = np.stack((np.full_like(t, side * WIDTH / 2 * 0.98), y, -0.06 + 0.09 * np.cos(t)), axis=1)
    return _on_surface("ear", guide, ring, np.broadcast_to(np.array([float(side), 0, 0]), ring.shape))


def _eye(guide: HeadGuide, side: int) -> list[Line]:
    """The corners of an eye, as a short stroke across the eye line at either."""
    lines = []
    for x in (EYE_WIDTH / 2, EYE_WIDTH * 1.5):
        z = _depths(EYE_LINE)[0] * math.sqrt(1 - (x / _half_width(EYE_LINE)) ** 2)
        tick = np.array([(side * x, EYE_LINE - 0.02, z), (side * x, EYE_LINE + 0.02, z)])
        lines += _on_surface("eye corner", guide, tick, tick - (0, EYE_LINE, 0))
    return lines


def _animal(guide: HeadGuide) -> list[Line]:
    t = np.linspace(0, 2 * np.pi, STEPS)
    middle = np.array([0, 0.5, 0])
    level = np.stack((BALL * np.cos(t), np.zeros_like(t), BALL * np.sin(t)), axis=1)
    upright = np.stack((np.zeros_like(t), BALL * np.cos(t), BALL * np.sin(t)), axis=1)
    ball = np.concatenate([level * (s, 1, s) + (0, y, 0) for y, s in _slices()])
    lines = [_hull("skull", guide, ball + middle)]
    lines += _on_surface("eye line", guide, level + middle, level)
    lines += _on_surface("centre line", guide, upright + middle, upright)
    lines += _muzzle(guide, t) if guide.muzzle > 0 else []
    if guide.ears > 0:
        lines += _animal_ear(guide, t, -1) + _animal_ear(guide, t, 1)
    return lines


def _slices() -> list[tuple[float, float]]:
    heights = -np.cos(np.linspace(0.01, np.pi - 0.01, 33))
    return [(float(BALL * h), float(math.sqrt(1 - h * h))) for h in heights]


def _muzzle(guide: HeadGuide, t: Points) -> list[Line]:
    """A tube out of the lower front of the ball, and the pad of the nose on top of its end."""
    low, radius = 0.5 + BALL * 0.35, guide.muzzle_width / 2
    base_z, tip_z = BALL * 0.8, BALL * 0.8 + guide.muzzle
    ring = np.stack((np.cos(t), 0.8 * np.sin(t), np.zeros_like(t)), axis=1)
    base, tip = ring * radius + (0, low, base_z), ring * radius * 0.72 + (0, low + 0.03, tip_z)
    pad = ring * radius * (0.42, 0.4, 1) + (0, low - radius * 0.34, tip_z + 0.01)
    ahead = np.broadcast_to(np.array([0.0, 0, 1]), ring.shape)
    lines = [_hull("muzzle", guide, np.concatenate((base, tip)))]
    lines += _on_surface("muzzle base", guide, base, ring)
    return lines + _on_surface("muzzle end", guide, tip, ahead) + _on_surface("nose", guide, pad, ahead)


def _animal_ear(guide: HeadGuide, t: Points, side: int) -> list[Line]:
    """An ear stands on the ball, 50 degrees up at the side."""
    up = math.radians(50)
    out = np.array([side * math.cos(up), -math.sin(up), -0.1])
    along = np.array([side * math.sin(up), math.cos(up), 0])
    root = np.array([0, 0.5, 0]) + out * BALL * 0.88
    half = guide.ears / 2
    ring = root + np.outer(half * (1 + np.sin(t)) * 0.9, out) + np.outer(half * 0.8 * np.cos(t), along)
    facing = np.broadcast_to(np.array([side * 0.35, -0.1, 0.9]), ring.shape)
    return _on_surface("ear", guide, ring, facing)


def _hull(name: str, guide: HeadGuide, form: Points) -> Line:
    points = guide.on_canvas(form)
    around = cv2.convexHull(points.astype(np.float32))[:, 0, :].astype(np.float64)
    return Line(name, np.concatenate((around, around[:1])))


def _on_surface(name: str, guide: HeadGuide, points: Points, normals: Points) -> list[Line]:
    """A line on the surface in the pieces that face the viewer and those that do not."""
    depth = normals @ guide.turn.T[:, 2]
    canvas, seen = guide.on_canvas(points), depth >= 0
    lines, start = [], 0
    for end in range(1, len(canvas) + 1):
        if end == len(canvas) or seen[end] != seen[start]:
            if end - start > 1 or end < len(canvas):
                lines.append(Line(name, canvas[start : min(end + 1, len(canvas))], hidden=not seen[start]))
            start = end
    return lines
