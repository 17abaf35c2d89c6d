"""Cutting a form into flat facets, as in a planes study: pixels grouped by the way their surface faces."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError

__all__ = ["MOST_FACETS", "Planes", "Turn", "cut"]

MOST_FACETS: Final = 200
ROUNDS: Final = 14
SAMPLES: Final = 24_000
# How much being near counts beside facing the same way, so that facets keep together (our choice).
PLACE_WEIGHT: Final = 0.55


@dataclass(frozen=True)
class Turn:
    """Where two facets meet: their numbers, the angle between them in degrees, and how long the border is, px."""

    one: int
    other: int
    angle_deg: float
    length_px: float


@dataclass(frozen=True, eq=False)
class Planes:
    """facet: which one each pixel belongs to, -1 for none (h, w). normals: (n, 3), unit; areas: (n,), of the surface,
    in px of its own plane. turns: the edges to soften, the sharpest first.
    """

    facet: NDArray[np.int32]
    normals: NDArray[np.float64]
    areas: NDArray[np.float64]
    turns: tuple[Turn, ...]

    def flat(self) -> NDArray[np.float32]:
        """The facets' normals as (3, h, w), 0 where there is none."""
        table = np.vstack((self.normals, np.zeros(3)))
        result: NDArray[np.float32] = np.moveaxis(table[self.facet], -1, 0).astype(np.float32)
        return result


def cut(normal: NDArray[np.floating], seen: NDArray[np.bool_], count: int) -> Planes:
    """Cut what is seen into `count` facets (3 and more).

    normal: (3, h, w), unit, z to the viewer. Facets begin as far from each other as can be (Gonzalez 1985) and are
    then centred on what they hold (Lloyd 1982), each pixel counting as the area of surface it shows; a facet's normal
    is the mean of its pixels' normals by that area.
    """
    checks.integer("count", count, 3, MOST_FACETS)
    rows, columns = np.nonzero(seen)
    if len(rows) < count:
        raise InputError("There is too little of a form to cut into planes")
    towards = normal[:, rows, columns].T.astype(np.float64)
    area = 1 / np.maximum(towards[:, 2], 0.08)
    extent = max(float(np.hypot(np.ptp(rows), np.ptp(columns))), 1.0)
    features = np.column_stack((towards, PLACE_WEIGHT * columns / extent, PLACE_WEIGHT * rows / extent))
    step = max(len(rows) // SAMPLES, 1)
    centres = _centres(features[::step], area[::step], count)
    number = _nearest(features, centres)
    number = np.unique(number, return_inverse=True)[1].astype(np.int32)
    kept = int(number.max()) + 1
    sums = np.stack([np.bincount(number, area * towards[:, k], kept) for k in range(3)], axis=1)
    facet = np.full(seen.shape, -1, np.int32)
    facet[rows, columns] = number
    normals = sums / np.maximum(np.linalg.norm(sums, axis=1, keepdims=True), 1e-12)
    return Planes(facet, normals, np.bincount(number, area, kept).astype(float), _turns(facet, normals))


def _centres(features: NDArray[np.float64], area: NDArray[np.float64], count: int) -> NDArray[np.float64]:
    first = int(np.argmax(features[:, 2]))
    chosen, far = [first], np.full(len(features), np.inf)
    for _ in range(count - 1):
        far = np.minimum(far, ((features - features[chosen[-1]]) ** 2).sum(axis=1))
        chosen.append(int(np.argmax(far)))
    centres = features[chosen].copy()
    for _ in range(ROUNDS):
        number = _nearest(features, centres)
        total = np.bincount(number, area, count)
        for k in range(features.shape[1]):
            mean = np.bincount(number, area * features[:, k], count) / np.maximum(total, 1e-12)
            centres[:, k] = np.where(total > 0, mean, centres[:, k])
        length = np.linalg.norm(centres[:, :3], axis=1, keepdims=True)
        centres[:, :3] /= np.maximum(length, 1e-9)
    return centres


def _nearest(features: NDArray[np.float64], centres: NDArray[np.float64]) -> NDArray[np.intp]:
    result = np.empty(len(features), np.intp)
    for start in range(0, len(features), 1 << 16):
        part = features[start : start + (1 << 16)]
        result[start : start + (1 << 16)] = np.argmin((centres**2).sum(axis=1) - 2 * part @ centres.T, axis=1)
    return result


def _turns(facet: NDArray[np.int32], normals: NDArray[np.float64]) -> tuple[Turn, ...]:
    pairs = [
        np.stack((one.ravel(), other.ravel()))
        for one, other in ((facet[:, :-1], facet[:, 1:]), (facet[:-1], facet[1:]))
    ]
    met = np.sort(np.concatenate(pairs, axis=1), axis=0)
    met = met[:, (met[0] >= 0) & (met[0] != met[1])]
    if not met.size:
        return ()
    edges, lengths = np.unique(met, axis=1, return_counts=True)
    cosine = np.clip((normals[edges[0]] * normals[edges[1]]).sum(axis=1), -1, 1)
    found = [
        Turn(int(a), int(b), float(np.degrees(np.arccos(c))), float(n))
        for a, b, c, n in zip(*edges, cosine, lengths, strict=True)
    ]
    return tuple(sorted(found, key=lambda turn: -turn.angle_deg))
