"""Where a figure's zones and landmarks are, told on the grown-up head of even mixture; lengths in its decimetres,
x to its left, y up, z forward.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Masks = Mapping[str, Floats]

COVERING: Final = (
    "scalp", "forehead", "brows", "lids", "eye sockets", "nose bridge", "nose tip", "nose wings", "nostrils", "cheeks",
    "lips", "mouth surround", "chin", "jaw", "ears", "neck", "collar bones", "shoulders", "inside of the mouth",
)  # fmt: skip
"""Zones that cover the skin once."""
DETAILS: Final = ("hairline", "lid margins", "lid fold", "lip border", "lip seam", "ear rim", "ear bowl")
"""Zones that lie within others."""
# The hairline's height over the middle of the head, in degrees, by the way around from the front; the same of a man of
# thirty without a receding one (common practice: a third of the face above the brows).
HAIRLINE: Final = ((0, 44), (20, 42), (38, 37), (52, 38), (66, 34), (76, 12), (84, 2), (96, 4), (108, -8), (135, -28),
                   (160, -42), (180, -44))  # fmt: skip
MIDDLE: Final = np.array((0.0, 7.35, 0.45))


@dataclass(frozen=True, eq=False)
class Head:
    """points (n, 3), edges (k, 2) between them, normals (n, 3), masks by name (n,) 0..1; skin (n,): not eyes, teeth."""

    points: Floats
    edges: NDArray[np.int64]
    normals: Floats
    masks: Masks
    skin: NDArray[np.bool_]


def zones_of(head: Head) -> dict[str, Floats]:
    """Every zone's share of every point (n,), 0..1; those that cover the skin come to 1 on it and to 0 elsewhere."""
    label = _labels(head)
    hard = np.stack([(label == number) & head.skin for number in range(len(COVERING))]).astype(float)
    soft = _even(head, hard.T, 2)
    # Lips, lids and ears have sharper borders than cheeks have.
    sharp = [COVERING.index(one) for one in ("lips", "lids", "ears", "nostrils", "inside of the mouth")]
    once = _even(head, hard.T, 1)
    keep = once[:, sharp].sum(axis=1, keepdims=True)
    soft[:, sharp] = 0
    rest = soft.sum(axis=1, keepdims=True)
    soft = np.where(rest > 0, soft * (1 - keep) / np.maximum(rest, 1e-9), 0)
    soft[:, sharp] = once[:, sharp]
    soft = np.where(head.skin[:, None], soft / np.maximum(soft.sum(axis=1, keepdims=True), 1e-9), 0)
    return {**dict(zip(COVERING, soft.T, strict=True)), **_details(head, label)}


def _even(head: Head, values: Floats, times: int) -> Floats:
    """Means over neighbours, `times` over."""
    a, b = head.edges.T
    count = len(head.points)
    beside = scipy.sparse.csr_matrix((np.ones(2 * len(a)), (np.r_[a, b], np.r_[b, a])), (count, count))
    degree = np.maximum(np.asarray(beside.sum(axis=1)), 1)
    for _ in range(times):
        values = 0.5 * values + 0.5 * (beside @ values) / degree
    return values


def over_hairline(points: Floats) -> Floats:
    """Degrees above the hairline, below 0 under it."""
    way = points - MIDDLE
    around = np.degrees(np.arctan2(np.abs(way[:, 0]), way[:, 2]))
    height = np.degrees(np.arctan2(way[:, 1], np.hypot(way[:, 0], way[:, 2])))
    line = scipy.interpolate.PchipInterpolator(*np.array(HAIRLINE, float).T)
    return height - line(around)


def _labels(head: Head) -> NDArray[np.int64]:
    x, y, z = head.points.T
    x = np.abs(x)
    up, front = head.normals[:, 1], head.normals[:, 2]
    rules = {
        "shoulders": np.ones(len(x), bool),
        "collar bones": (x < 1.05) & (z > 0.0) & (y < 5.62),
        "neck": (y > 5.45 + 0.25 * x) & (x < 0.85),
        "scalp": over_hairline(head.points) > 0,
        "jaw": (y > 6.2 + 0.42 * np.maximum(0.75 - z, 0) - 0.2 * (z > 1.0)) & (z > 0.3) & (y < 6.75),
        "cheeks": (y >= 6.62) & (y < 7.3) & (z > 0.42) & (over_hairline(head.points) <= 0),
        "forehead": (y >= 7.3) & (over_hairline(head.points) <= 0) & (z > 0.3),
        "mouth surround": (x < 0.36) & (y > 6.5) & (y < 6.9) & (z > 1.1),
        "chin": (x < 0.33) & (y > 6.22) & (y < 6.56) & (z > 1.05),
        "eye sockets": (((x - 0.33) / 0.30) ** 2 + ((y - 7.3) / 0.21) ** 2 < 1) & (z > 0.95),
        "brows": (x > 0.09) & (x < 0.62) & (np.abs(y - 7.50 - 0.03 * np.sin(4.5 * x)) < 0.07) & (z > 0.85),
        "nose bridge": (x < 0.15) & (y > 7.05) & (y < 7.47) & (z > 1.34),
        "nose tip": (x < 0.16) & (y > 6.875) & (y <= 7.07) & (z > 1.47),
        "nose wings": (x > 0.1) & (x < 0.29) & (y > 6.87) & (y < 7.07) & (z > 1.3) & (z <= 1.52),
        "nostrils": (x > 0.03) & (x < 0.2) & (y > 6.86) & (y < 7.1) & (z < 1.52) & (z > 1.2) & (up < -0.25) & (front < 0.45),
        "ears": head.masks["ears"] > 0.5,
        "lids": head.masks["eyelids"] > 0.5,
        "lips": head.masks["lips"] > 0.5,
        "inside of the mouth": head.masks["inside-mouth"] > 0.5,
    }
    label = np.zeros(len(x), np.int64)
    for name, where in rules.items():
        label[where] = COVERING.index(name)
    return label


def _details(head: Head, label: NDArray[np.int64]) -> dict[str, Floats]:
    return {}


def landmarks_of(head: Head) -> dict[str, int]:
    """The nearest point of the skin to every landmark."""
    return {}
