"""Pen samples: what a tablet, a mouse through the practice pen, or a script says about the pen."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Final, NamedTuple

from japanner import checks
from japanner.errors import InputError

__all__ = ["PenSample", "admitted", "samples_from_rows"]

# How far outside the canvas a sample may lie, in canvas sizes, before it is clipped.
REACH: Final = 2.0


class PenSample(NamedTuple):
    """One report of the pen.

    x, y: canvas px, pixel centres at halves; pressure 0..1; tilt_x, tilt_y: degrees -90..90 from
    upright, to the right and towards the painter; twist: degrees 0..360; time_ms: since any start.
    """

    x: float
    y: float
    pressure: float = 1.0
    tilt_x: float = 0.0
    tilt_y: float = 0.0
    twist: float = 0.0
    time_ms: float = 0.0


def admitted(sample: Sequence[float], width: int, height: int) -> PenSample | None:
    """The sample as a stroke may use it, or None if it has to be dropped.

    Positions are clipped to twice the canvas around it and every number is rounded (a thousandth of a
    pixel, a ten-thousandth of full pressure), so that what is painted is exactly what the journal says.
    A sample with a number that is not finite is dropped: a driver's hiccup must not end a stroke.
    """
    if not all(math.isfinite(value) for value in sample):
        return None
    x, y, pressure, tilt_x, tilt_y, twist, time_ms = PenSample(*sample)
    return PenSample(
        round(min(max(x, -REACH * width), (1 + REACH) * width), 3),
        round(min(max(y, -REACH * height), (1 + REACH) * height), 3),
        round(min(max(pressure, 0.0), 1.0), 4),
        round(min(max(tilt_x, -90.0), 90.0), 2),
        round(min(max(tilt_y, -90.0), 90.0), 2),
        round(twist % 360, 2) % 360,
        round(min(max(time_ms, -1e12), 1e12), 1),
    )


def samples_from_rows(rows: Iterable[Sequence[float]]) -> tuple[PenSample, ...]:
    """Samples from rows of 2 to 7 numbers in the order of `PenSample`, as scripts and the journal give them."""
    result = []
    for index, row in enumerate(rows):
        if not isinstance(row, (list, tuple)) or not 2 <= len(row) <= 7:
            raise InputError(f"samples: expected rows of 2 to 7 numbers, got {checks.shown(row)} at {index}")
        if not all(isinstance(value, (int, float)) and not isinstance(value, bool) for value in row):
            raise InputError(f"samples: expected numbers, got {checks.shown(row)} at {index}")
        result.append(PenSample(*(float(value) for value in row)))
    return tuple(result)
