"""Measuring: the same lines on the painting and on a reference, and how far they differ."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.painting.model import Measure, Painting
from japanner.review.angles import turn_deg
from japanner.review.proportion import FEWEST, Place, Similarity, line_of, proportion, similarity

__all__ = ["LineCompared", "compared", "laid_on_canvas", "laying", "line_words", "steps_along"]

Floats = NDArray[np.float64]
ALIKE_DEG, ALIKE_PERCENT = 0.5, 0.5
"""What differs by less is told as the same."""
MOST_STEPS: Final = 200


def laying(painting: Painting, picture: str, width: int, height: int) -> Similarity:
    """How a pinned picture of this size in px is laid on the canvas: by landmarks of both; else by the lines that both
    have; else in the middle, as large as covers the canvas.
    """
    try:
        return proportion(painting.landmarks_on(picture).as_places(), painting.landmarks_on().as_places()).fit
    except InputError:
        pass
    pairs = [(other.ends, one.ends) for one, other in _pairs(painting, picture)]
    source, target = (np.array([end for pair in pairs for end in pair[k]], float).reshape(-1, 2) for k in (0, 1))
    if len(pairs) > 1 and len(source) >= FEWEST:
        try:
            return similarity(source, target)
        except InputError:
            pass
    if pairs:
        one, other = _pairs(painting, picture)[0]
        return _about(one.length / max(other.length, 1e-6), source.mean(axis=0), target.mean(axis=0))
    scale = max(painting.width / width, painting.height / height)
    return _about(scale, np.array((width / 2, height / 2)), np.array((painting.width / 2, painting.height / 2)))


def _about(scale: float, source: Floats, target: Floats) -> Similarity:
    """Without a turn, one place laid on another."""
    return Similarity(scale, np.eye(2), target - scale * source, np.zeros((0, 2)), 0.0)


def _pairs(painting: Painting, picture: str) -> list[tuple[Measure, Measure]]:
    """Lines on the canvas with those on a picture that measure the same, in the order of their numbers."""
    others = {one.number: one for one in painting.measures if one.picture == picture and one.kind == "line"}
    own = [one for one in painting.measures if not one.picture and one.kind == "line" and one.number in others]
    return [(one, others[one.number]) for one in sorted(own, key=lambda one: one.number)]


@dataclass(frozen=True)
class LineCompared:
    """How far a line on the canvas is turned against the same on the reference as it is laid, degrees (counter-
    clockwise above 0), and how much longer it is, per cent.
    """

    number: int
    turn_deg: float
    longer: float

    @property
    def words(self) -> str:
        """As it is told: "line 2: 3.1° clockwise, 6 % longer"."""
        found = []
        if abs(self.turn_deg) >= ALIKE_DEG:
            found.append(f"{abs(self.turn_deg):.1f}° {'counterclockwise' if self.turn_deg > 0 else 'clockwise'}")
        if abs(self.longer) >= ALIKE_PERCENT:
            found.append(f"{abs(self.longer):.0f} % {'longer' if self.longer > 0 else 'shorter'}")
        return f"line {self.number}: {', '.join(found) or 'as on the reference'}"


def compared(painting: Painting, picture: str, width: int, height: int) -> list[LineCompared]:
    """All lines that the canvas and a pinned picture have both, as the picture is laid on the canvas."""
    pairs = _pairs(painting, picture)
    fit, found = laying(painting, picture, width, height), []
    for one, other in pairs:
        long, angle, _ = line_of(*one.ends)
        ends = fit.at(np.array(other.ends))
        laid, wanted, _ = line_of(tuple(ends[0].tolist()), tuple(ends[1].tolist()))
        found.append(LineCompared(one.number, turn_deg(wanted, angle), 100 * (long / max(laid, 1e-6) - 1)))
    return found


def laid_on_canvas(one: Measure, fit: Similarity, *, back: bool = False) -> Measure:
    """A line of a picture where it comes to lie on the canvas; `back`: one of the canvas, on the picture."""
    places = np.array(one.ends)
    ends = (places - fit.shift) @ fit.rotation / fit.scale if back else fit.at(places)
    (x0, y0), (x1, y1) = np.round(ends, 2).tolist()
    return replace(one, x0=x0, y0=y0, x1=x1, y1=y1)


def line_words(one: Measure) -> str:
    """A line's length, and how it stands: off the nearest of level and plumb (K4)."""
    long, angle, tilt = line_of(*one.ends)
    level = abs((angle + 90) % 180 - 90) <= 45
    return f"{long:.0f} px, {abs(tilt):.1f}° off {'level' if level else 'plumb'}"


def steps_along(one: Measure, length: float) -> tuple[list[Place], float]:
    """Where steps of a length end along a line, and how many of them it is long; InputError for a length of nothing."""
    if length <= 0:
        raise InputError("A divider needs a line of some length to step by")
    count = one.length / length
    along = np.array((one.x1 - one.x0, one.y1 - one.y0)) / max(one.length, 1e-9)
    start = np.array((one.x0, one.y0))
    places = [start + along * length * k for k in range(1, min(int(count + 1e-9), MOST_STEPS) + 1)]
    return [(float(x), float(y)) for x, y in places], count
