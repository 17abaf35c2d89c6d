"""Tips as pictures of coverage: the shapes of real brushes, solid or of bristles, and the painter's own pictures.

Bristles are soft dots. Each lies on a place of the tip and is touched down only when the tip is pressed hard enough for
it, so a light touch leaves gaps; and as the tip is dragged, each leaves a trace of its own. Shapes and figures are our
choice, after real brushes (common practice).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.stroke.brush import Brush
from japanner.stroke.brush.image_tip import tip_coverage

__all__ = ["BLADE_THICKNESS", "SHAPES", "Coverages", "tip_pictures", "tip_thickness"]

Coverages = NDArray[np.float32]
"""(levels, side, side): coverage 0..1 from pressed lightly to pressed hard, bare at the rim."""
Grid = NDArray[np.float64]

LARGEST: Final = 384
LARGEST_IMAGE: Final = 2048
SMALLEST: Final = 24
LEVELS: Final = 5
# Tips that are wide and thin: their bristles lie side by side, and are long enough for the dabs of a trace to join.
WIDE: Final = ("flat", "hake", "fan", "blade")
LONG: Final = 0.04
BLADE_THICKNESS: Final = 0.1
SOLID: Final = {"fan": 26, "stippler": 90, "hake": 60, "spatter": 40}
"""Tips that are never solid, and how many bristles (or drops) they have when the brush does not say."""


def _flat(x: Grid, y: Grid) -> Grid:
    return np.maximum(np.abs(x) / 0.96, np.abs(y) / 0.26)


def _filbert(x: Grid, y: Grid) -> Grid:
    return ((np.abs(x) / 0.96) ** 3 + (np.abs(y) / 0.42) ** 2.2) ** 0.42


def _fan(x: Grid, y: Grid) -> Grid:
    # A thin arc, bent away from the stroke.
    bend = 0.35 * x * x
    return np.maximum(np.abs(x) / 0.96, np.abs(y + bend - 0.14) / 0.14)


def _rigger(x: Grid, y: Grid) -> Grid:
    return np.hypot(x / 0.96, y / 0.4)


def _stippler(x: Grid, y: Grid) -> Grid:
    return np.hypot(x, y) / 0.94


def _hake(x: Grid, y: Grid) -> Grid:
    return np.maximum(np.abs(x) / 0.98, np.abs(y) / 0.14)


def _dagger(x: Grid, y: Grid) -> Grid:
    # From a broad heel to a point; one side straight.
    width = 0.34 * np.clip((0.96 - x) / 1.92, 0, 1) ** 0.8
    return np.maximum(np.abs(x) / 0.96, np.abs(y - 0.34 + width) / np.maximum(width, 1e-3))


def _blade(x: Grid, y: Grid) -> Grid:
    return np.maximum(np.abs(x) / 0.97, np.abs(y) / BLADE_THICKNESS)


SHAPES: Final[dict[str, Callable[[Grid, Grid], Grid]]] = {
    "mop": _stippler,
    "round": _stippler,
    "flat": _flat,
    "filbert": _filbert,
    "fan": _fan,
    "rigger": _rigger,
    "stippler": _stippler,
    "hake": _hake,
    "dagger": _dagger,
    "spatter": _stippler,
    "blade": _blade,
}
"""How far out a place (x, y in -1..1) lies on a tip: below 1 it is part of it. "blade" is that of the knife."""


def tip_pictures(brush: Brush) -> Coverages | None:
    """The brush's tip as pictures; None for a solid mop or round tip, which kernels work out themselves."""
    if brush.tip == "image":
        return _image(brush.image, _side(brush, LARGEST_IMAGE))
    shape = "blade" if brush.does.blade else brush.tip
    if shape == "blade" and not brush.bristles:
        return _ridged(_side(brush))
    bristles = brush.bristles or SOLID.get(shape, 0)
    if not bristles:
        return None if shape in ("mop", "round") else _solid(shape, round(brush.edge, 3), _side(brush))
    return _bristled(shape, bristles, round(brush.edge, 3), _side(brush))


def tip_thickness(pictures: Coverages) -> float:
    """How far from the long axis there is any coverage, as a share of half the side."""
    side = pictures.shape[1]
    rows = np.flatnonzero(pictures.max(axis=(0, 2)) > 0)
    return float(np.abs(rows - (side - 1) / 2).max() + 1) / (side / 2) if rows.size else 0.0


def _side(brush: Brush, largest: int = LARGEST) -> int:
    """About as many px as the tip is large, in steps of a factor of the root of 2, so that few pictures are made."""
    wanted = min(max(brush.size_px + 2, SMALLEST), largest)
    return int(SMALLEST * 2 ** (math.ceil(2 * math.log2(wanted / SMALLEST)) / 2)) // 2 * 2


@lru_cache(maxsize=16)
def _image(text: str, side: int) -> Coverages:
    """An image tip no larger than a brush of this side can show; each of its pixels then counts."""
    whole = tip_coverage(text)
    if whole.shape[0] <= side:
        return whole[None]
    small = cv2.resize(whole, (side, side), interpolation=cv2.INTER_AREA)
    small[[0, -1]] = small[:, [0, -1]] = 0
    return _frozen(small[None])


@lru_cache(maxsize=24)
def _solid(shape: str, edge: float, side: int) -> Coverages:
    return _frozen(_body(shape, edge, side)[None])


@lru_cache(maxsize=8)
def _ridged(side: int) -> Coverages:
    """A blade that presses unevenly along its edge: broad ridges, narrower ones on them, and a few nicks."""
    random = np.random.Generator(np.random.PCG64(17))
    across = (np.arange(side) + 0.5) / side
    press = np.full(side, 0.72)
    for knots, share in ((7, 0.42), (19, 0.26), (53, 0.16)):
        press += share * np.interp(across, np.linspace(0, 1, knots), random.uniform(-1, 1, knots))
    for at in random.uniform(0.05, 0.95, 7):
        press -= random.uniform(0.5, 1.0) * np.exp(-(((across - at) * random.uniform(60, 160)) ** 2))
    return _frozen((_body("blade", 0.2, side) * np.clip(press, 0, 1).astype(np.float32))[None])


@lru_cache(maxsize=24)
def _bristled(shape: str, bristles: int, edge: float, side: int) -> Coverages:
    """One picture for each of LEVELS of pressing, from a quarter of the bristles to all of them."""
    random = np.random.Generator(np.random.PCG64(bristles))
    places = _places(shape, bristles, random)
    touch = random.permutation(len(places)) / max(len(places) - 1, 1)
    load = random.uniform(0.45, 1.0, len(places))
    thick = _thickness(shape, len(places)) * random.uniform(0.6, 1.5, len(places))
    if shape == "spatter":
        thick *= 0.5 * (1 - random.random(len(places))) ** -0.45
    body = _body(shape, edge, side) if edge > 0.2 else np.ones((side, side), np.float32)
    levels, sheet, before = [], np.zeros((side, side), np.float32), -1.0
    for reach in np.linspace(0.25, 1, LEVELS):
        fresh = (touch > before) & (touch <= reach)
        before = float(reach)
        _add_dots(sheet, places[fresh], thick[fresh], load[fresh], LONG if shape in WIDE else 0.0)
        levels.append(sheet * body)
    return _frozen(np.stack(levels))


def _frozen(pictures: Coverages) -> Coverages:
    result = np.ascontiguousarray(pictures, np.float32)
    # A bare rim, so that what lies outside is bare, too.
    result[:, [0, -1], :] = 0
    result[:, :, [0, -1]] = 0
    result.setflags(write=False)
    return result


def _body(shape: str, edge: float, side: int) -> NDArray[np.float32]:
    """The shape with an edge from hard, one pixel, to soft, half of the tip."""
    fine = 4 * side if side <= 96 else 2 * side
    axis = (np.arange(fine) + 0.5) / fine * 2 - 1
    out = SHAPES[shape](axis[None, :], axis[:, None])
    ramp = max(edge * 0.9, 3.0 / side)
    t = np.clip((out - (1 - ramp)) / ramp, 0, 1)
    grown = (1 - t * t * (3 - 2 * t)).astype(np.float32)
    return cv2.resize(grown, (side, side), interpolation=cv2.INTER_AREA)


def _places(shape: str, count: int, random: np.random.Generator) -> NDArray[np.float64]:
    """Places inside the shape, evenly scattered: of some candidates each time the one farthest from the others."""
    inside = SHAPES[shape]
    found: list[NDArray[np.float64]] = []
    while len(found) < count:
        some = random.uniform(-1, 1, (400, 2))
        some = some[inside(some[:, 0], some[:, 1]) < 0.94]
        if shape == "fan":
            some = some[np.cos(some[:, 0] * 21) > -0.2]  # its hairs part into clumps
        some = some[:10]
        if not found:
            found.append(some[0])
            continue
        apart = np.hypot(*(some[:, None, :] - np.array(found)[None]).transpose(2, 0, 1)).min(axis=1)
        found.append(some[int(apart.argmax())])
    return np.array(found)


def _thickness(shape: str, count: int) -> float:
    """The radius of a bristle, tip radius 1: so that all of them cover a good half of the tip."""
    axis = (np.arange(64) + 0.5) / 32 - 1
    area = float((SHAPES[shape](axis[None, :], axis[:, None]) < 1).mean()) * 4
    thick = math.sqrt(0.62 * area / (math.pi * count))
    return min(thick, 0.6 / count) if shape in WIDE else thick


def _add_dots(
    sheet: NDArray[np.float32], places: NDArray[np.float64], thick: NDArray[np.float64], load: NDArray[np.float64],
    longest: float,
) -> None:  # fmt: skip
    """Add soft dots, at least `longest` of the side long across the tip; where they meet, the greater counts."""
    side = sheet.shape[0]
    half = side / 2
    for (x, y), radius, full in zip(places, thick, load, strict=True):
        px = max(radius * half, 0.6)
        py = max(px, longest * side)
        cx, cy = (x + 1) * half - 0.5, (y + 1) * half - 0.5
        x0, x1 = max(int(cx - px - 2), 0), min(int(cx + px + 3), side)
        y0, y1 = max(int(cy - py - 2), 0), min(int(cy + py + 3), side)
        if x0 >= x1 or y0 >= y1:
            continue
        ys, xs = np.mgrid[y0:y1, x0:x1]
        away = np.hypot(xs - cx, (ys - cy) * (px / py))
        dot = np.clip((px + 0.5 - away) / max(0.45 * px, 1.0), 0, 1) * full
        np.maximum(sheet[y0:y1, x0:x1], dot.astype(np.float32), out=sheet[y0:y1, x0:x1])
