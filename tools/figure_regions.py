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
SHARP: Final = ("lips", "lids", "ears", "nostrils", "inside of the mouth")
"""Those with sharper borders than cheeks have."""
# The hairline's height over the middle of the head, in degrees, by the way around from the front: that of somebody of
# thirty whose hair has not receded (common practice: a third of the face lies above the brows).
HAIRLINE: Final = ((0, 44), (20, 42), (38, 37), (52, 38), (66, 34), (76, 12), (84, 2), (96, 4), (108, -8), (135, -28),
                   (160, -42), (180, -44))  # fmt: skip
MIDDLE: Final = np.array((0.0, 7.35, 0.45))
STATIONS: Final = np.linspace(-0.2, 0.2, 11)
"""Places across the mouth where lips are brought together."""
CORNER: Final = 0.235
REACH: Final = 0.09
"""How far up and down a lip follows."""
# Near these places the landmarks are.
SINGLE: Final = {
    "crown": (0.0, 8.416, 0.50), "hairline": (0.0, 8.07, 1.25), "between the brows": (0.0, 7.53, 1.44),
    "root of the nose": (0.0, 7.36, 1.41), "bridge of the nose": (0.0, 7.18, 1.49), "nose tip": (0.0, 6.998, 1.60),
    "nose base": (0.0, 6.874, 1.49), "upper lip": (0.0, 6.778, 1.535), "mouth": (0.0, 6.695, 1.47),
    "lower lip": (0.0, 6.567, 1.482), "fold under the lip": (0.0, 6.52, 1.42), "chin": (0.0, 6.40, 1.42),
    "under the chin": (0.0, 6.272, 1.27), "throat": (0.0, 6.15, 0.83), "neck hollow": (0.0, 5.25, 0.86),
    "back of the head": (0.0, 7.60, -0.48), "nape": (0.0, 6.55, -0.135),
}  # fmt: skip
PAIRED: Final = {
    "brow, inner end": (0.13, 7.47, 1.39), "brow, peak": (0.40, 7.50, 1.37), "brow, tail": (0.54, 7.44, 1.24),
    "nostril": (0.085, 6.90, 1.46), "wing of the nose": (0.19, 7.01, 1.45),
    "bow": (0.055, 6.79, 1.525), "temple": (0.70, 7.62, 0.80),
    "cheek": (0.45, 6.95, 1.22), "collar bone": (0.16, 5.27, 0.83), "shoulder": (1.75, 5.42, 0.15),
}  # fmt: skip


@dataclass(frozen=True, eq=False)
class Head:
    """points (n, 3), edges (k, 2) between them, normals (n, 3), masks by name (n,) 0..1; skin (n,): not eyes, teeth.
    eyes: middles and radii of the balls.
    """

    points: Floats
    edges: NDArray[np.int64]
    normals: Floats
    masks: Masks
    skin: NDArray[np.bool_]
    eyes: tuple[tuple[Floats, float], tuple[Floats, float]]


def zones_of(head: Head) -> dict[str, Floats]:
    """Every zone's share of every point (n,), 0..1; those that cover the skin come to 1 on it and to 0 elsewhere."""
    label = _labels(head)
    hard = np.stack([(label == number) & head.skin for number in range(len(COVERING))], axis=1).astype(float)
    soft, once = _even(head, hard, 2), _even(head, hard, 1)
    sharp = [COVERING.index(one) for one in SHARP]
    keep = once[:, sharp].sum(axis=1, keepdims=True)
    soft[:, sharp] = 0
    rest = soft.sum(axis=1, keepdims=True)
    soft = soft * np.where(rest > 0, (1 - keep) / np.maximum(rest, 1e-9), 0)
    soft[:, sharp] = once[:, sharp]
    soft *= head.skin[:, None] / np.maximum(soft.sum(axis=1, keepdims=True), 1e-9)
    return {**dict(zip(COVERING, soft.T, strict=True)), **_details(head, soft)}


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
    return height - np.asarray(scipy.interpolate.PchipInterpolator(*np.array(HAIRLINE, float).T)(around))


def _labels(head: Head) -> NDArray[np.int64]:
    x, y, z = head.points.T
    x = np.abs(x)
    up, front, face = head.normals[:, 1], head.normals[:, 2], over_hairline(head.points) <= 0
    hole = (x > 0.03) & (x < 0.2) & (y > 6.86) & (y < 7.1) & (z < 1.52) & (z > 1.2) & (up < -0.25) & (front < 0.45)
    rules = {
        "shoulders": np.ones(len(x), bool),
        "collar bones": (x < 1.05) & (z > 0.0) & (y < 5.62),
        "neck": (y > 5.45 + 0.25 * x) & (x < 0.85),
        "scalp": ~face,
        "jaw": (y > 6.2 + 0.42 * np.maximum(0.75 - z, 0) - 0.2 * (z > 1.0)) & (z > 0.3) & (y < 6.75),
        "cheeks": (y >= 6.62) & (y < 7.3) & (z > 0.42) & face,
        "forehead": (y >= 7.3) & face & (z > 0.3),
        "mouth surround": (x < 0.36) & (y > 6.5) & (y < 6.9) & (z > 1.1),
        "chin": (x < 0.33) & (y > 6.22) & (y < 6.56) & (z > 1.05),
        "eye sockets": (((x - 0.33) / 0.30) ** 2 + ((y - 7.3) / 0.21) ** 2 < 1) & (z > 0.95),
        "brows": (x > 0.09) & (x < 0.62) & (np.abs(y - 7.50 - 0.03 * np.sin(4.5 * x)) < 0.07) & (z > 0.85),
        "nose bridge": (x < 0.15) & (y > 7.05) & (y < 7.47) & (z > 1.34),
        "nose tip": (x < 0.16) & (y > 6.875) & (y <= 7.07) & (z > 1.47),
        "nose wings": (x > 0.1) & (x < 0.29) & (y > 6.87) & (y < 7.07) & (z > 1.3) & (z <= 1.52),
        "nostrils": hole,
        "ears": head.masks["ears"] > 0.5,
        "lids": head.masks["eyelids"] > 0.5,
        "lips": head.masks["lips"] > 0.5,
        "inside of the mouth": head.masks["inside-mouth"] > 0.5,
    }
    label = np.zeros(len(x), np.int64)
    for name, where in rules.items():
        label[where] = COVERING.index(name)
    return label


def _details(head: Head, covering: Floats) -> dict[str, Floats]:
    """Zones that lie within others."""
    share = dict(zip(COVERING, covering.T, strict=True))
    upper, lower = lip_stations(head)
    seam = head.points[np.r_[upper, lower]]
    to_eye = np.min([np.linalg.norm(head.points - middle, axis=1) - radius for middle, radius in head.eyes], axis=0)
    x, y, z = head.points.T
    ear = share["ears"] > 0.5
    middle, size = np.array((7.16, 0.45)), np.array((0.30, 0.19))
    out = np.linalg.norm((np.stack((y, z), 1) - middle) / size, axis=1)
    return {
        "hairline": np.exp(-((over_hairline(head.points) / 5) ** 2)) * (head.skin & (z > 0.1) & (share["ears"] < 0.2)),
        "lid margins": np.exp(-((np.maximum(to_eye, 0) / 0.022) ** 2)) * share["lids"],
        "lid fold": np.exp(-(((to_eye - 0.045) / 0.02) ** 2)) * (share["lids"] + share["eye sockets"]) * (y > 7.3),
        "lip border": 4 * share["lips"] * (1 - share["lips"]) * (share["inside of the mouth"] < 0.2),
        "lip seam": np.exp(-((_nearest(head.points, seam) / 0.03) ** 2)) * head.skin,
        "ear rim": ear * np.clip((out - 0.75) / 0.2, 0, 1),
        "ear bowl": ear * np.clip((0.62 - out) / 0.2, 0, 1) * (np.abs(x) < 0.79),
    }


def _nearest(points: Floats, others: Floats) -> Floats:
    return np.asarray(scipy.spatial.cKDTree(others).query(points)[0])


# --- lips ---------------------------------------------------------------------------------------------------


def lip_stations(head: Head) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """At every station across the mouth, the points of the upper and the lower lip that are to meet: those that face
    each other over the least height, rather in front than behind.
    """
    upper, lower = _lips(head)
    x, y, z = head.points.T
    found = []
    for station in STATIONS[STATIONS >= 0]:
        u, v = (own[np.abs(x[own] - station) < 0.03] for own in (upper, lower))
        cost = y[u][:, None] - y[v] - 0.4 * (z[u][:, None] + z[v])
        cost[np.abs(z[u][:, None] - z[v]) > 0.02] = np.inf
        i, j = np.unravel_index(cost.argmin(), cost.shape)
        found.append((u[i], v[j]))
    pairs = np.array(found)
    tree = scipy.spatial.cKDTree(head.points)
    other = tree.query(head.points[pairs[:0:-1]] * (-1, 1, 1))[1]
    both = np.concatenate((other, pairs))
    return both[:, 0], both[:, 1]


def _lips(head: Head) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Points of the upper and of the lower lip: what hangs together on either side of the corners."""
    own = (head.masks["lips"] > 0.5) & head.skin & (np.abs(head.points[:, 0]) < CORNER - 0.03)
    edges = head.edges[own[head.edges].all(axis=1)]
    count = len(head.points)
    beside = scipy.sparse.csr_matrix((np.ones(len(edges)), edges.T), (count, count))
    _, piece = scipy.sparse.csgraph.connected_components(beside, directed=False)
    tree = scipy.spatial.cKDTree(head.points)
    upper, lower = (piece[tree.query(SINGLE[name])[1]] for name in ("upper lip", "lower lip"))
    return np.flatnonzero(own & (piece == upper)), np.flatnonzero(own & (piece == lower))


def lip_closing(head: Head) -> Floats:
    """How far (n, stations) each point goes along where the lips at a station come together, -1..1: above 0 up."""
    upper, lower = lip_stations(head)
    x, y, z = head.points.T
    seam = np.interp(x, STATIONS, (y[upper] + y[lower]) / 2)
    high, low = np.interp(x, STATIONS, y[upper]), np.interp(x, STATIONS, y[lower])
    of_upper, of_lower = _lips(head)
    above = y > seam
    above[of_upper], above[of_lower] = True, False
    away = np.where(above, np.maximum(y - high, 0), np.maximum(low - y, 0))
    front = np.clip((z - 1.22) / 0.12, 0, 1)
    share = np.exp(-((away / REACH) ** 2)) * front * (np.abs(x) < CORNER) * head.skin
    share *= np.clip((CORNER - np.abs(x)) / 0.03, 0, 1)
    width = STATIONS[1] - STATIONS[0]
    by_station = np.clip(1 - np.abs(np.clip(x, STATIONS[0], STATIONS[-1])[:, None] - STATIONS) / width, 0, 1)
    return by_station * (share * np.where(above, -1, 1))[:, None]


# --- landmarks ----------------------------------------------------------------------------------------------


def landmarks_of(head: Head) -> dict[str, int]:
    """The point of the skin at every landmark; those in pairs are called left and right as the figure has them."""
    skin = np.flatnonzero(head.skin & (head.masks["inside-mouth"] < 0.5))
    tree = scipy.spatial.cKDTree(head.points[skin])
    found = {name: int(skin[tree.query(place)[1]]) for name, place in SINGLE.items()}
    paired: dict[str, Floats] = {name: np.array(place) for name, place in PAIRED.items()} | _found_places(head)
    for name, place in paired.items():
        for side, sign in (("left", 1), ("right", -1)):
            found[f"{side} {name}"] = int(skin[tree.query(place * (sign, 1, 1))[1]])
    return found


def _found_places(head: Head) -> dict[str, Floats]:
    """Places on the left that the form itself tells."""
    points, (middle, radius) = head.points, head.eyes[0]
    x, y, z = points.T
    left = head.skin & (x > 0.02)
    lids = points[left & (head.masks["eyelids"] > 0.5)]
    near = np.abs(np.linalg.norm(points - middle, axis=1) - radius) < 0.02
    margin = points[left & near & (z > middle[2] + 0.055)]
    aside, over = np.abs(lids[:, 0] - middle[0]) < 0.04, lids[:, 1] > middle[1]
    lips = points[left & (head.masks["lips"] > 0.5)]
    bones = points[left & (y > 7.0) & (y < 7.2) & (z > 0.55) & (head.masks["ears"] < 0.1)]
    jaw = points[left & (y > 6.35) & (y < 6.75) & (z > 0.3) & (z < 0.9)]
    ear = points[left & (head.masks["ears"] > 0.5)]
    return {
        "inner eye corner": margin[margin[:, 0].argmin()],
        "outer eye corner": margin[margin[:, 0].argmax()],
        "upper lid": lids[np.where(aside & over, lids[:, 1] - lids[:, 2], 99).argmin()],
        "lower lid": lids[np.where(aside & ~over, lids[:, 1] + lids[:, 2], -9).argmax()],
        "mouth corner": lips[lips[:, 0].argmax()],
        "cheek bone": bones[bones[:, 0].argmax()],
        "jaw angle": jaw[(jaw[:, 0] - jaw[:, 1] - 0.6 * jaw[:, 2]).argmax()],
        "top of the ear": ear[ear[:, 1].argmax()],
        "lobe": ear[ear[:, 1].argmin()],
    }
