"""A brush's dabs: from path rows to rows that the kernels stamp."""

from __future__ import annotations

import math
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.raster.geometry import Rect
from japanner.strand.comb import CombField
from japanner.stroke.brush import Brush
from japanner.stroke.brush.drive import factors
from japanner.stroke.kinds.chance import Chance
from japanner.stroke.pen.path import DIRECTION, PRESSURE, RUN, SPEED, TILT_X, TILT_Y, TWIST

__all__ = ["COLOUR", "DabRows", "Extents", "around", "extents", "rows_for", "step_px"]

DabRows = NDArray[np.float32]
"""Shape (n, 13): x, y, radius in px; ceiling 0..1; flow 0..1; cosine and sine of the turn; 1 / roundness; depth of the
grain 0..1; how hard the bristles are pressed 0..1; encoded colour."""
COLOUR: Final = slice(10, 13)
COLUMNS: Final = 13

Extents = NDArray[np.int64]
Paths = NDArray[np.float64]

FULL_TILT_DEG: Final = 60.0
FULL_SPEED: Final = 10.0
FULL_LENGTH: Final = 20.0
TINY: Final = 1e-6
VALUE_RANGE: Final = 50.0
# The middle size of spots as a share of the tip.
SPOT_SHARE: Final = 0.08
# Chances, by what they are for.
SIZE, TURN, STRENGTH, HUE, VALUE, PLACE, PLACE_TURN, RANDOM = range(8)


def step_px(brush: Brush, pen: NDArray[np.float64], px: float = 1.0) -> float:
    """Distance between dabs for what the pen says: a share of the present size, never under half a pixel of the canvas,
    of which one here stands for `px`.
    """
    size = brush.size_px
    if any(drive.setting == "size" for drive in brush.drives):
        row = np.zeros((1, RUN + 1))
        row[0, PRESSURE : PRESSURE + len(pen)] = pen
        size *= float(np.mean(factors(brush.drives, "size", lambda name: _source(name, brush, row, None))))
    return max(brush.spacing * size, 0.5 / px)


def rows_for(
    brush: Brush, path: Paths, colour: tuple[float, float, float], chance: Chance, length: float,
    comb: CombField | None = None,
) -> DabRows:  # fmt: skip
    """Dab rows for path rows; `chance` is that of their dabs; `length` of the whole stroke, 0 while it is not known;
    `comb`: what a tip that turns with it follows, without one the stroke.
    """
    if brush.per_step > 1:
        path = np.repeat(path, brush.per_step, axis=0)
    rows = np.empty((len(path), COLUMNS), np.float32)
    if not len(path):
        return rows

    def driven(setting: str) -> Any:
        return factors(brush.drives, setting, lambda name: _source(name, brush, path, chance))

    taper = _taper(brush, path[:, RUN], length)
    size = driven("size") * (1 - brush.taper_size * (1 - taper))
    if brush.does.strews:
        # Many small and few large: the logarithm of the size is spread evenly.
        size = size * SPOT_SHARE * (1 + 3 * brush.jitter_size) ** (2 * chance.of(SIZE) - 1)
    elif brush.jitter_size:
        size = size * (1 - brush.jitter_size * chance.of(SIZE))
    strength = driven("strength") * (1 - brush.taper_strength * (1 - taper))
    if brush.jitter_strength:
        strength = strength * (1 - brush.jitter_strength * chance.of(STRENGTH))
    wet: Any = 1.0 if not brush.dry_px else np.clip(1 - path[:, RUN] / max(brush.dry_px, TINY), 0, 1)
    rows[:, :2] = path[:, :2]
    if brush.scatter or brush.does.strews:
        rows[:, :2] += _strays(brush, driven("scatter"), chance)
    rows[:, 2] = brush.size_px / 2 * size
    rows[:, 3] = brush.strength * strength * np.sqrt(wet)
    rows[:, 4] = brush.flow * driven("flow")
    rows[:, 5], rows[:, 6] = _turned(brush, path, chance, comb)
    rows[:, 7] = 1 / np.maximum(brush.roundness * driven("roundness"), 0.05)
    # As paint runs dry it catches on the grain alone.
    rows[:, 8] = np.maximum(brush.grain_depth * driven("grain"), 1 - wet) if brush.grain else 0
    rows[:, 9] = brush.stiffness + (1 - brush.stiffness) * path[:, PRESSURE] * wet
    rows[:, COLOUR] = _colours(brush, colour, chance)
    return rows


def _source(name: str, brush: Brush, path: Paths, chance: Chance | None) -> NDArray[np.float64]:
    """What can drive a setting, 0..1, (n,)."""
    if name == "pressure":
        return path[:, PRESSURE]
    if name == "tilt":
        return np.minimum(np.hypot(path[:, TILT_X], path[:, TILT_Y]) / FULL_TILT_DEG, 1)
    if name == "speed":
        return np.minimum(path[:, SPEED] / FULL_SPEED, 1)
    if name == "direction":
        return np.abs(np.sin(path[:, DIRECTION]))
    if name == "random":
        return np.full(len(path), 0.5) if chance is None else chance.of(RANDOM)
    return np.minimum(path[:, RUN] / (FULL_LENGTH * max(brush.size_px, 1.0)), 1)


def _turned(brush: Brush, path: Paths, chance: Chance, comb: CombField | None) -> tuple[Any, Any]:
    """Cosine and sine of the turn of every dab."""
    angle = _turn(brush, path, comb)
    if brush.jitter_turn:
        angle = angle + brush.jitter_turn * math.pi * (2 * chance.of(TURN) - 1)
    return np.cos(angle), np.sin(angle)


BY_FIELD: Final = ("comb", "form")
"""Turns that follow a field of the part: its comb, or the level lines of its form; without it, the stroke."""


def _turn(brush: Brush, path: Paths, comb: CombField | None) -> Any:
    """Where the long axis of the tip points, in radians of image axes (y down)."""
    own = -math.radians(brush.turn_deg)
    if brush.turn in BY_FIELD and comb is not None:
        dx, dy = comb.directions(path[:, 0], path[:, 1])
        return own + np.arctan2(dy, dx)
    if brush.turn in ("along", "comb"):
        return own + path[:, DIRECTION]
    if brush.turn in ("across", "form"):
        return own + path[:, DIRECTION] + math.pi / 2
    if brush.turn == "tilt":
        return own + np.arctan2(path[:, TILT_Y], path[:, TILT_X])
    if brush.turn == "twist":
        return own + np.arctan2(path[:, TWIST + 1], path[:, TWIST])
    return own


def _taper(brush: Brush, run: NDArray[np.float64], length: float) -> Any:
    """How far a stroke has grown (1: in full) at lengths along it; its end fades once `length` is known."""
    grown: Any = 1.0
    unit = 1.0
    if brush.taper_by == "share":
        if not length:
            return grown
        unit = length / 100
    if brush.taper_in:
        grown = np.minimum(grown, run / max(brush.taper_in * unit, TINY))
    if brush.taper_out and length:
        grown = np.minimum(grown, (length - run) / max(brush.taper_out * unit, TINY))
    return np.clip(grown, 0, 1)


def _strays(brush: Brush, share: Any, chance: Chance) -> NDArray[np.float64]:
    """Offsets (n, 2) evenly spread over a disc."""
    reach = brush.size_px / 2 if brush.does.strews else brush.scatter * brush.size_px * share
    radius, turn = reach * np.sqrt(chance.of(PLACE)), 2 * math.pi * chance.of(PLACE_TURN)
    return np.stack((radius * np.cos(turn), radius * np.sin(turn)), axis=1)


def _colours(brush: Brush, colour: tuple[float, float, float], chance: Chance) -> NDArray[np.float64]:
    """The encoded colour of each dab, (n, 3) or (3,): moved by chance in hue and value."""
    if not brush.jitter_hue and not brush.jitter_value:
        return np.asarray(colour)
    value, chroma, hue = lab.lch_from_srgb(colour)
    turned = np.radians(hue + brush.jitter_hue * 90 * (2 * chance.of(HUE) - 1))
    values = np.clip(value + brush.jitter_value * VALUE_RANGE * (2 * chance.of(VALUE) - 1), 0, 100)
    labs = np.stack((values, chroma * np.cos(turned), chroma * np.sin(turned)), axis=1)
    return np.clip(lab.srgb_from_lab(labs), 0, 1)


def extents(rows: DabRows, thick: float | None = None) -> Extents:
    """The pixels that each dab may touch: whole numbers (n, 4), columns as in `Rect`.

    thick: of a tip that is a picture, how far from its long axis there is any of it, as a share of its radius.
    """
    result = np.empty((len(rows), 4), np.int64)
    radius, turn, narrow = rows[:, 2:3], np.abs(rows[:, 5:7]), rows[:, 2:3] / rows[:, 7:8]
    if thick is None:
        reach = np.hypot(radius * turn, narrow * turn[:, ::-1]) + 2
    else:
        reach = radius * turn + narrow * np.float32(thick) * turn[:, ::-1] + 3
    result[:, :2] = np.floor(rows[:, :2] - reach)
    result[:, 2:] = np.ceil(rows[:, :2] + reach) + 1
    return result


def around(found: Extents) -> Rect:
    """The smallest rectangle around some dabs' pixels."""
    low, high = found[:, :2].min(axis=0).tolist(), found[:, 2:].max(axis=0).tolist()
    return Rect(*low, *high)
