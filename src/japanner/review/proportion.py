"""Proportion: one set of places laid on another as well as turning, sizing and moving can, and what is left."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.review.angles import turn_deg

__all__ = ["FEWEST", "LineOff", "Misfit", "Place", "Proportion", "Similarity", "line_of", "proportion", "similarity"]

Floats = NDArray[np.float64]
Place = tuple[float, float]
FEWEST: Final = 3
THIN: Final = 0.02
"""Places that lie in a line: less than this share of their spread lies across it."""
HEAD: Final = ("crown", "chin")
"""Landmarks whose distance is a head's height."""
WORTH: Final = 0.35
"""Per cent of a head's height from which a direction of a misfit is named."""


@dataclass(frozen=True, eq=False)
class Similarity:
    """Y = scale * R X + shift. turn_deg: counterclockwise with y down, as pixels have it, is below 0. residuals (n, 2):
    target minus where the fit puts it; rms: their root mean square.
    """

    scale: float
    rotation: Floats
    shift: Floats
    residuals: Floats
    mean_squared: float

    @property
    def turn_deg(self) -> float:
        return float(np.degrees(np.arctan2(self.rotation[1, 0], self.rotation[0, 0])))

    @property
    def rms(self) -> float:
        return float(np.sqrt(self.mean_squared))

    def at(self, places: ArrayLike) -> Floats:
        """Where it puts places (n, 2)."""
        found: Floats = self.scale * np.asarray(places, float) @ self.rotation.T + self.shift
        return found


def similarity(source: ArrayLike, target: ArrayLike) -> Similarity:
    """The similarity that lays `source` (n, 2) on `target` (n, 2) with the least squared distance, without mirroring
    (Umeyama 1991, IEEE Trans. PAMI 13(4), 376, equations 34 to 43). InputError for fewer than three places, or places
    in a line.
    """
    x, y = np.asarray(source, float), np.asarray(target, float)
    if x.shape != y.shape or x.ndim != 2 or x.shape[1] != 2:
        raise InputError(f"places: expected two lists of as many pairs, got {x.shape} and {y.shape}")
    if len(x) < FEWEST:
        raise InputError(f"Proportions are compared by {FEWEST} landmarks and more that both pictures have")
    checks.in_range("places", np.stack((x, y)), -1e9, 1e9)
    for places in (x, y):
        spread = np.linalg.svd(places - places.mean(axis=0), compute_uv=False)
        if spread[1] <= THIN * max(spread[0], 1e-12):
            raise InputError("The landmarks lie in a line: one more is needed beside it")
    middle_x, middle_y = x.mean(axis=0), y.mean(axis=0)
    off_x, off_y = x - middle_x, y - middle_y
    u, d, vt = np.linalg.svd(off_y.T @ off_x / len(x))
    signs = np.ones(2)
    if np.linalg.det(u) * np.linalg.det(vt) < 0:
        signs[-1] = -1
    rotation = u @ np.diag(signs) @ vt
    variance = float((off_x**2).sum() / len(x))
    scale = float((d * signs).sum() / variance)
    shift = middle_y - scale * rotation @ middle_x
    residuals = y - (scale * x @ rotation.T + shift)
    return Similarity(scale, rotation, shift, residuals, float((residuals**2).sum() / len(x)))


def line_of(start: Place, end: Place) -> tuple[float, float, float]:
    """Length in px, angle in degrees (0 to the right, 90 up), and tilt off the nearest of level and plumb, -45..45, of
    a line between two places of the canvas (K4).
    """
    across, down = end[0] - start[0], end[1] - start[1]
    angle = float(np.degrees(np.arctan2(-down, across)))
    return float(np.hypot(across, down)), angle, (angle + 45) % 90 - 45


@dataclass(frozen=True)
class Misfit:
    """How far one landmark is off: x right, y down, in per cent of the head's height; dx, dy: the same in canvas px."""

    name: str
    right: float
    down: float
    dx: float
    dy: float

    @property
    def size(self) -> float:
        return float(np.hypot(self.right, self.down))

    @property
    def words(self) -> str:
        """As it is told: "chin 4.1 % of the head's height too low"."""
        told = [
            f"{abs(value):.1f} % {word}"
            for value, word in (
                (self.down, "too low" if self.down > 0 else "too high"),
                (self.right, "too far right" if self.right > 0 else "too far left"),
            )
            if abs(value) >= WORTH
        ]
        return f"{self.name}: {' and '.join(told)}" if told else f"{self.name}: right"


@dataclass(frozen=True)
class LineOff:
    """How far the line between two landmarks is turned against the reference, degrees, and how much longer it is, in
    per cent.
    """

    names: tuple[str, str]
    turn_deg: float
    longer: float

    @property
    def words(self) -> str:
        return (
            f"line {self.names[0]} to {self.names[1]}: {abs(self.turn_deg):.0f} degrees off, {self.longer:+.0f} % long"
        )


@dataclass(frozen=True, eq=False)
class Proportion:
    """fit: lays the reference on the painting. head: the head's height, or what stands for it, canvas px. misfits: of
    all landmarks, the largest first; lines: those that are most turned, the largest first.
    """

    fit: Similarity
    head: float
    misfits: tuple[Misfit, ...]
    lines: tuple[LineOff, ...]

    @property
    def rms(self) -> float:
        """Of all misfits, in per cent of the head's height."""
        return 100 * self.fit.rms / self.head


def proportion(reference: Mapping[str, Place], painting: Mapping[str, Place]) -> Proportion:
    """Compare places by their names on a reference and on the canvas; InputError where there are too few."""
    names = [name for name in painting if name in reference]
    source = np.array([reference[name] for name in names], float).reshape(-1, 2)
    target = np.array([painting[name] for name in names], float).reshape(-1, 2)
    fit = similarity(source, target)
    laid = fit.at(source)
    head = _head_height(names, laid)
    off = 100 * fit.residuals / head
    misfits = [
        Misfit(name, float(off[k, 0]), float(off[k, 1]), *map(float, fit.residuals[k])) for k, name in enumerate(names)
    ]
    return Proportion(
        fit, head, tuple(sorted(misfits, key=lambda one: -one.size)), tuple(_lines(names, laid, target, head))
    )


def _head_height(names: Sequence[str], laid: Floats) -> float:
    if all(name in names for name in HEAD):
        first, last = (laid[names.index(name)] for name in HEAD)
        return float(np.hypot(*(first - last)))
    return float(np.hypot(*np.ptp(laid, axis=0)))


def _lines(names: Sequence[str], laid: Floats, target: Floats, head: float) -> list[LineOff]:
    """Long lines only: short ones turn with any tremor."""
    found = []
    for a, b in combinations(range(len(names)), 2):
        (long, angle, _), (longer, other, _) = (
            line_of(tuple(places[a].tolist()), tuple(places[b].tolist())) for places in (laid, target)
        )
        if long < 0.2 * head:
            continue
        found.append(LineOff((names[a], names[b]), turn_deg(angle, other), 100 * (longer / long - 1)))
    return sorted(found, key=lambda one: -abs(one.turn_deg))[:12]
