"""A pair of eyes: where they stand, how large they are, where they look, and their catch lights."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np

from japanner.review.angles import apart_deg, azimuth_deg, turn_deg
from japanner.review.finding import GOOD, Check, Finding, Range
from japanner.review.proportion import line_of
from japanner.review.seen import Mask, Seen

__all__ = ["CATCH", "EYES", "LEVEL", "Eye", "pairs_in"]

OUT: Final = Range((0, 3.6), (0, 5.5))
ASIDE: Final = Range((0, 75), (0, 100))
TILTED: Final = Range((0, 3.5), (0, 6.0))
UNEVEN: Final = Range((0, 18), (0, 30))
FRONTAL_DEG: Final = 25.0
"""A head guide that is turned by less shows how level the eyes should be."""
CATCHES: Final = 22.0
"""So much lighter than what is around it, L*, is a catch light."""
CATCHES_WITHIN: Final = 0.8
PALE: Final = 30.0
CLEAR_PX: Final = 8.5
"""Half width, in pixels as they are looked at, from which a catch light is told from what is around it."""
MOUTH: Final = ("left mouth corner", "right mouth corner")
LEAST_PX: Final = 8.0
"""Half width, px of the reference, below which an eye says nothing."""


@dataclass(frozen=True, eq=False)
class Eye:
    """One eye as it is seen: middle and half width of its opening, middle of the dark of iris and pupil, and of its
    catch light, if there is one, px.
    """

    part: int
    mask: Mask
    middle: tuple[float, float]
    half: float
    iris: tuple[float, float]
    catch: tuple[float, float] | None


def pairs_in(seen: Seen) -> list[list[Eye]]:
    """Eyes two by two: the two largest of a part, and parts of one eye each, the largest first."""
    pairs, single = list[list[Eye]](), list[Eye]()
    for one in seen.made_of("eye"):
        found = []
        count, labels, stats, centres = cv2.connectedComponentsWithStats(one.mask.astype(np.uint8), connectivity=8)
        for k in range(1, count):
            half = stats[k, cv2.CC_STAT_WIDTH] / 2
            if half >= LEAST_PX * seen.px and stats[k, cv2.CC_STAT_AREA] > half * half * 0.6:
                middle = float(centres[k][0]), float(centres[k][1])
                found.append(_eye(seen, one.part.uid, labels == k, middle, half))
        found.sort(key=lambda eye: -eye.half)
        if len(found) > 1:
            pairs.append(found[:2])
        single += found if len(found) == 1 else []
    single.sort(key=lambda eye: -eye.half)
    pairs += [single[k : k + 2] for k in range(0, len(single), 2)]
    return sorted(pairs, key=lambda pair: -pair[0].half)


def _eye(seen: Seen, part: int, mask: Mask, middle: tuple[float, float], half: float) -> Eye:
    values = np.where(mask, seen.values, 100)
    soft = cv2.GaussianBlur(values, (0, 0), max(0.12 * half, 0.8))
    inner = cv2.erode(mask.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    inner = inner if inner.any() else mask
    # Iris and pupil are the dark of an eye, whatever shines in them.
    dark = inner & (soft <= np.percentile(soft[inner], 32))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(dark.astype(np.uint8), connectivity=8)
    which = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA])) if count > 1 else 0
    round_ = np.zeros(mask.shape, np.uint8)
    places = np.argwhere(labels == which)[:, ::-1].astype(np.int32)
    cv2.fillConvexPoly(round_, cv2.convexHull(places), 1)
    y, x = np.nonzero(round_)
    iris = float(x.mean()), float(y.mean())
    # What is small and bright, beside the white of the eye, which is not small.
    size = 2 * max(round(0.3 * half), 1) + 1
    spots = cv2.morphologyEx(seen.values, cv2.MORPH_TOPHAT, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    y, x = np.nonzero(inner)
    near = np.hypot(x - iris[0], y - iris[1]) < CATCHES_WITHIN * half
    y, x = y[near], x[near]
    chroma = np.hypot(seen.lab[y, x, 1], seen.lab[y, x, 2])
    high = (spots[y, x] > CATCHES) & (seen.values[y, x] > 0.85 * seen.values[y, x].max(initial=0)) & (chroma < PALE)
    catch = None
    if half >= CLEAR_PX and high.any():
        catch = float(x[high].mean()), float(y[high].mean())
    return Eye(part, mask, middle, half, iris, catch)


def _pair(seen: Seen) -> list[Finding]:
    """How much higher the dark of one eye stands in its opening than that of the other, in per cent of the distance
    between the two: one that was moved, or that looks elsewhere.
    """
    found = []
    for pair in pairs_in(seen):
        if len(pair) < 2:
            continue
        first, second = sorted(pair, key=lambda one: one.middle[0])
        apart = float(np.hypot(*np.subtract(first.middle, second.middle)))
        gazes = [np.subtract(one.iris, one.middle) / max(one.half, 1) for one in (first, second)]
        higher = float(np.abs(gazes[0] - gazes[1])[1]) * min(first.half, second.half)
        number = 100 * higher / apart
        why = f"The dark of one eye stands {number:.1f} % of their distance higher in it than that of the other."
        where = (first.mask | second.mask).astype(np.float32)
        found.append(Finding(EYES.name, number, "% of their distance", OUT, why, first.part, where=where))
    return sorted(found, key=lambda one: -one.number)[:1]


def _standing(seen: Seen, pair: list[Eye]) -> tuple[float, float | None] | None:
    """How a pair should stand: the angle of the line through it, degrees, and the height of the left one over that of
    the right one, as far as something says so: eyes of the maquette, the mouth's corners, or a head guide.
    """
    forms = [_modelled(seen, eye) for eye in pair]
    if all(form is not None for form in forms):
        (left, high), (right, other) = ((form[0], form[1]) for form in forms if form is not None)
        return line_of(left, right)[1], high / max(other, 1e-3)
    marks = seen.painting.landmarks_on().as_places()
    corners = [marks[name] for name in MOUTH if name in marks]
    if len(corners) == len(MOUTH):
        first, second = sorted(corners)
        return line_of(first, second)[1], None
    guide = next((part.guide for part in seen.painting.parts if part.guide is not None), None)
    if guide is not None and abs(guide.yaw_deg) < FRONTAL_DEG and abs(guide.pitch_deg) < FRONTAL_DEG:
        return -guide.roll_deg, None
    return None


def _modelled(seen: Seen, eye: Eye) -> tuple[tuple[float, float], float] | None:
    """Middle and height of the form of an eye, as the maquette has it."""
    one = next(part for part in seen.parts if part.part.uid == eye.part)
    form = seen.form(one)
    if form is None or not form.modelled:
        return None
    count, _, stats, centres = cv2.connectedComponentsWithStats((form.cover > 0.5).astype(np.uint8), connectivity=8)
    if count < 2:
        return None
    at = np.subtract(eye.middle, (form.area.x0, form.area.y0))
    k = 1 + int(np.argmin(np.hypot(*(centres[1:] - at).T)))
    middle = float(centres[k][0] + form.area.x0), float(centres[k][1] + form.area.y0)
    return middle, float(stats[k, cv2.CC_STAT_HEIGHT])


def _level(seen: Seen) -> list[Finding]:
    """How far the line through a pair is turned, and how far their heights differ, against how they should stand."""
    found = []
    for pair in pairs_in(seen):
        if len(pair) < 2:
            continue
        both = sorted(pair, key=lambda one: one.middle[0])
        wanted = _standing(seen, both)
        if wanted is None:
            continue
        where = (both[0].mask | both[1].mask).astype(np.float32)
        off = abs(turn_deg(wanted[0], line_of(both[0].middle, both[1].middle)[1]))
        why = f"The line through the eyes is turned by {off:.1f} degrees against how the head stands."
        found.append(Finding(LEVEL.name, off, "degrees off level", TILTED, why, both[0].part, where=where))
        if wanted[1] is not None:
            heights = [float(np.ptp(np.nonzero(one.mask.any(axis=1))[0])) + 1 for one in both]
            uneven = 100 * abs(heights[0] / max(heights[1], 1.0) / wanted[1] - 1)
            why = f"One eye is {uneven:.0f} % higher than the other, beyond what the head's turn explains."
            found.append(Finding(LEVEL.name, uneven, "% uneven in size", UNEVEN, why, both[0].part, where=where))
    return sorted(found, key=lambda one: (one.word == GOOD, -one.number))[:2]


def _catch(seen: Seen) -> list[Finding]:
    """How far round the catch lights of a pair stand from where the key does, seen from the middles of the irises."""
    key, found = np.asarray(seen.painting.light.direction), []
    for pair in pairs_in(seen):
        lit = [one for one in pair if one.catch is not None]
        ways = [np.subtract(one.catch or one.iris, one.iris) / one.half for one in lit]
        ways = [way for way in ways if np.hypot(*way) > 0.12]
        if not ways:
            continue
        x, y = np.sum([way / np.hypot(*way) for way in ways], axis=0)
        aside = apart_deg(azimuth_deg((x, -y)), azimuth_deg(key))
        why = f"Catch lights stand {aside:.0f} degrees round from the side that the key is on."
        where = np.maximum.reduce([one.mask for one in lit]).astype(np.float32)
        found.append(Finding(CATCH.name, aside, "degrees off", ASIDE, why, pair[0].part, where=where))
    return sorted(found, key=lambda one: -one.number)[:1]


EYES: Final = Check(
    "eyes", "Do both eyes look the same way?", _pair,
    "Nudge the one that is off, with a large tip", "Nudge",
)  # fmt: skip
CATCH: Final = Check(
    "catch lights", "Are catch lights on the side of the key?", _catch,
    "Wipe it, and set it anew on the side of the key", "Catch light",
)  # fmt: skip
LEVEL: Final = Check(
    "level of eyes", "Are the eyes level and even in size, as the head stands?", _level,
    "Turn or size one of them; the head guide or the maquette shows how the head stands", "Edit › Move, scale, turn",
    shaped=True,
)  # fmt: skip
