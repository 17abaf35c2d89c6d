"""Hair and fur against the comb lines."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np

from japanner.errors import InputError
from japanner.painting.form.combing import comb_of
from japanner.review.checks.surface import FAINT, fine_detail
from japanner.review.finding import Check, Finding, Range
from japanner.review.seen import Plane, Seen

__all__ = ["HAIR", "directions_in"]

ASTRAY: Final = Range((0, 29), (0, 40))
SIGMA_PX: Final = 4.0
COHERENT: Final = 0.25


def directions_in(values: Plane, sigma: float) -> tuple[Plane, Plane]:
    """Which way lines run in a picture (h, w), degrees counterclockwise with y up, mod 180, and how sure that is, 0..1:
    by the structure tensor (G13).
    """
    dx, dy = cv2.Sobel(values, cv2.CV_32F, 1, 0), cv2.Sobel(values, cv2.CV_32F, 0, 1)
    xx, yy, xy = (cv2.GaussianBlur(one, (0, 0), sigma) for one in (dx * dx, dy * dy, dx * dy))
    spread = np.hypot(xx - yy, 2 * xy)
    across = np.degrees(np.arctan2(2 * xy, xx - yy)) / 2
    return (-(across + 90)) % 180, spread / np.maximum(xx + yy, 1e-6)


def _hair(seen: Seen) -> list[Finding]:
    """Median angle between painted hair and the comb, weighted by how sure its direction is (L9)."""
    found = []
    fine = fine_detail(seen, seen.values)
    angle, sure = directions_in(seen.values, max(SIGMA_PX * seen.px, 1.5))
    for one in seen.made_of("hair", "fur"):
        if not one.part.comb:
            continue
        try:
            field = comb_of(seen.painting, one.part)
        except InputError:
            continue
        y, x = np.nonzero(one.mask & (sure > COHERENT) & (fine > 2 * FAINT) & ~seen.bare)
        if len(y) < 400:
            continue
        dx, dy = field.directions((x + 0.5).astype(np.float32), (y + 0.5).astype(np.float32))
        combed = np.degrees(np.arctan2(-dy, dx))
        off = np.abs((angle[y, x] - combed.ravel() + 90) % 180 - 90)
        number = _weighted_median(off, sure[y, x])
        where = np.zeros(sure.shape, np.float32)
        where[y, x] = np.clip(off / 60, 0, 1)
        why = (
            f"{one.part.name}: half of the hair that can be told apart lies {number:.0f} degrees and more off the comb."
        )
        found.append(Finding(HAIR.name, number, "degrees off", ASTRAY, why, one.part.uid, one.part.name, where))
    return sorted(found, key=lambda one: -one.number)[:3]


def _weighted_median(values: Plane, weights: Plane) -> float:
    order = np.argsort(values)
    total = np.cumsum(weights[order])
    return float(values[order][np.searchsorted(total, total[-1] / 2)])


HAIR: Final = Check(
    "hair and comb", "Does hair run as it is combed?", _hair,
    "Show the comb lines (R) and comb the paint along them", "Comb hair", shaped=True,
)  # fmt: skip
