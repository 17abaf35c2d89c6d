"""Comb strokes as hands draw them: thinned, mirrored, smoothed, taken away."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray
from shapely import LineString, Point

from japanner.strand.comb import Guide

__all__ = ["crossed", "mirrored", "parted", "smoothed", "thinned", "whorl"]

POINTS: Final = 24


def thinned(rows: Sequence[tuple[float, float]], points: int = POINTS) -> tuple[tuple[float, float], ...]:
    """A drawn line as a few points at even distances, to a tenth of a pixel; () if it has no length."""
    found = np.asarray(rows, float)
    far = np.r_[0, np.cumsum(np.hypot(*np.diff(found, axis=0).T))] if len(found) > 1 else np.zeros(1)
    if far[-1] < 2:
        return ()
    at = np.linspace(0, far[-1], min(max(int(far[-1] / 6) + 2, 3), points))
    return _rounded(np.stack([np.interp(at, far, found[:, k]) for k in (0, 1)], axis=1))


def _rounded(points: NDArray[np.floating]) -> tuple[tuple[float, float], ...]:
    return tuple((round(float(x), 1), round(float(y), 1)) for x, y in points)


def mirrored(guide: Guide, middle: float) -> Guide:
    """The same stroke on the other side of an upright line."""
    return replace(guide, points=tuple((round(2 * middle - x, 1), y) for x, y in guide.points))


def smoothed(guides: Sequence[Guide], sigma: float = 1.5) -> tuple[Guide, ...]:
    """Strokes without the tremor of the hand."""

    def one(guide: Guide) -> Guide:
        points = scipy.ndimage.gaussian_filter1d(np.asarray(guide.points, float), sigma, axis=0, mode="nearest")
        return replace(guide, points=_rounded(points))

    return tuple(one(guide) for guide in guides)


def parted(line: Sequence[tuple[float, float]], long: float, like: Guide) -> tuple[Guide, ...]:
    """Strokes of `long` px away from a parting on both of its sides, a little on along it; else as `like`."""
    points = np.asarray(line, float)
    way = np.gradient(points, axis=0)
    way /= np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-9)
    aside = np.stack((-way[:, 1], way[:, 0]), axis=1)
    share = np.linspace(0.06, 1, 5)[:, None]
    return tuple(
        replace(like, points=_rounded(at + share * long * (side * out + 0.35 * share * on)))
        for at, on, out in zip(points, way, aside, strict=True)
        for side in (1, -1)
    )


def whorl(centre: tuple[float, float], radius: float, like: Guide, swirl_deg: float = 35.0) -> tuple[Guide, ...]:
    """Strokes out of a crown, which turn as they go; else as `like`."""
    share, turn = np.linspace(0.08, 1, 7), np.radians(swirl_deg)
    guides = []
    for start in np.linspace(0, 2 * np.pi, 10, endpoint=False):
        angle = start + turn * share
        points = np.asarray(centre) + radius * share[:, None] * np.stack((np.cos(angle), np.sin(angle)), axis=1)
        guides.append(replace(like, points=_rounded(points)))
    return tuple(guides)


def crossed(guides: Sequence[Guide], way: Sequence[tuple[float, float]], reach: float) -> tuple[int, ...]:
    """Which strokes come within `reach` px of a way (one place or more)."""
    line = LineString(way) if len(way) > 1 else Point(way[0])
    return tuple(index for index, one in enumerate(guides) if LineString(one.points).distance(line) <= reach)
