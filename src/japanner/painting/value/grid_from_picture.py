"""A mixing grid out of a picture: its colours told apart by undertone and ordered by value."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import lab, oklab, srgb
from japanner.color.value import with_value
from japanner.errors import InputError
from japanner.painting.model.kept_grid import KeptGrid, Row

__all__ = ["MOST_UNDERTONES", "grid_from_colours"]

MOST_UNDERTONES: Final = 4
MOST_READ: Final = 30_000
FEWEST: Final = 30
ALIKE: Final = 0.055
"""Undertones nearer to each other in a and b of OKLab over lightness are one."""
SMALL: Final = 0.03
"""A cluster of a smaller share of the region is chance."""
SHARES: Final = (3, 22, 50, 78, 97)
"""Percentiles of L* that become the five steps."""
LEAST_STEP: Final = 4.0
NEAR: Final = 9.0
GREY: Final = 0.025
HUES: Final = ((20, "rose"), (48, "red"), (72, "orange"), (112, "yellow"), (165, "green"), (215, "blue green"),
               (285, "blue"), (330, "violet"), (361, "rose"))  # fmt: skip
"""Hue angles of OKLab up to which a word holds; our choice."""


def grid_from_colours(colours: NDArray[np.floating], name: str) -> KeptGrid:
    """A kept grid from the encoded colours (n, 3) of a region of a picture: columns at its own five values, a row for
    each undertone, the commonest first. InputError for too few colours.
    """
    if len(colours) < FEWEST:
        raise InputError("The region is too small to take colours from")
    read = np.asarray(colours, float)[:: max(len(colours) // MOST_READ, 1)]
    values = lab.lightness_from_srgb(read)
    scale = _scale(values)
    plane = oklab.oklab_from_linear(srgb.decode(read))
    families = _families(plane)
    rows, used = list[Row](), dict[str, int]()
    for mask in families:
        words = _name(plane[mask])
        used[words] = used.get(words, 0) + 1
        words = words if used[words] == 1 else f"{words} {used[words]}"
        rows.append((words, tuple(_at(read[mask], values[mask], step) for step in scale)))
    return KeptGrid(name[:60], scale, tuple(rows))


def _scale(values: NDArray[np.floating]) -> tuple[float, ...]:
    """Five rising values, at least so far apart that they can be told."""
    found = np.percentile(values, SHARES)
    for k in range(1, len(found)):
        found[k] = max(found[k], found[k - 1] + LEAST_STEP)
    over = max(found[-1] - 99.0, 0.0)
    return tuple(round(float(v), 1) for v in np.maximum(found - over, np.arange(1, len(found) + 1)))


def _families(plane: NDArray[np.floating]) -> list[NDArray[np.bool_]]:
    """Which colours belong to each undertone: clusters of hue and saturation, whatever their lightness."""
    tone = (plane[:, 1:] / np.maximum(plane[:, :1], 0.12)).astype(np.float32)
    criteria = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 60, 1e-4)
    cv2.setRNGSeed(7)
    _, labels, centres = cv2.kmeans(tone, MOST_UNDERTONES, None, criteria, 4, cv2.KMEANS_PP_CENTERS)
    which = labels.ravel()
    groups = [[k] for k in range(MOST_UNDERTONES) if (which == k).mean() >= SMALL]
    while len(groups) > 1:
        middles = [np.average(centres[one], axis=0, weights=[(which == k).sum() for k in one]) for one in groups]
        apart = [(float(np.hypot(*(a - b))), i, j) for i, a in enumerate(middles) for j, b in enumerate(middles[:i])]
        least, i, j = min(apart)
        if least > ALIKE:
            break
        groups[j] += groups.pop(i)
    masks = [np.isin(which, one) for one in groups]
    return sorted(masks, key=lambda mask: -int(mask.sum()))


def _at(colours: NDArray[np.floating], values: NDArray[np.floating], step: float) -> tuple[float, float, float]:
    """What an undertone is at a value: the median of its colours near it, or the nearest ones, brought to it."""
    near = np.abs(values - step) <= NEAR
    if near.sum() < FEWEST // 3:
        near = np.argsort(np.abs(values - step))[: max(len(values) // 20, 5)]
    middle = tuple(float(v) for v in np.median(colours[near], axis=0))
    red, green, blue = (min(max(float(v), 0.0), 1.0) for v in with_value(middle, step))
    return red, green, blue


def _name(plane: NDArray[np.floating]) -> str:
    """A word for the hue of colours."""
    a, b = np.median(plane[:, 1]), np.median(plane[:, 2])
    if np.hypot(a, b) < GREY:
        return "grey"
    hue = float(np.degrees(np.arctan2(b, a))) % 360
    return next(word for end, word in HUES if hue < end)
