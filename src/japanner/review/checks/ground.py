"""Figure against ground, and how its edges are spread from hard to lost."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np

from japanner.review.finding import Check, Finding, Range
from japanner.review.region import region_of_mask
from japanner.review.seen import Mask, Plane, Seen
from japanner.review.separation import earth_mover, separation_of

__all__ = ["EDGES", "GROUND", "edge_kinds"]

LOST: Final = Range((0, 45), (0, 62))
VARIED: Final = Range((0.25, 1.0), (0.14, 1.0))
BAND_PX: Final = 8
ACROSS_PX: Final = 20.0
ALONG_PX: Final = 10.0
BINNED: Final = 0.55
"""What the bins of a profile add to the variance of an edge, px squared."""
HARD_PX, SOFT_PX = 1.5, 6.0
"""Widths of edges, px of the reference: below the first hard, below the second soft, else diffuse (L8)."""
LOST_BELOW: Final = 5.0


def _figure(seen: Seen) -> Mask:
    """All that is not ground, without specks."""
    figure = (~seen.ground).astype(np.uint8)
    size = max(round(3 * seen.px), 1)
    opened: Mask = cv2.morphologyEx(figure, cv2.MORPH_OPEN, np.ones((size, size), np.uint8)) > 0
    return opened


def _ground(seen: Seen) -> list[Finding]:
    """Share of the outline where figure and ground are nearly of one value (L2, L3)."""
    figure = _figure(seen)
    found = separation_of(seen.lab, figure, max(round(BAND_PX * seen.px), 3))
    if found is None:
        return []
    share = 100 * found.lost
    region = region_of_mask(np.where(figure, np.uint8(255), np.uint8(0)), max(round(BAND_PX * seen.px), 3))
    piece = seen.values[region.piece]
    moved = earth_mover(piece[region.inside], piece[region.outside])
    where = np.zeros(figure.shape, np.float32)
    where[region.piece][region.inside | region.outside] = 1
    why = f"Along {share:.0f} % of the outline both sides are of about one value; in all they lie {moved:.0f} L* apart."
    return [Finding(GROUND.name, share, "% of the outline lost", LOST, why, where=where)]


def profiles(values: Plane, figure: Mask, reach: int, along: int) -> tuple[Plane, Mask]:
    """Mean values at signed distances from a silhouette, -reach..reach px (2 reach + 1, n), within a box of `along` px
    about each of its n border pixels; and where those are (h, w). Hairs and grain of either side even out.
    """
    inside = figure.astype(np.uint8)
    inward = cv2.distanceTransform(inside, cv2.DIST_L2, 5)
    outward = cv2.distanceTransform(1 - inside, cv2.DIST_L2, 5)
    signed = np.where(figure, inward - 0.5, 0.5 - outward)
    ring = figure & (inward < 1.5)
    ring[[0, -1]] = ring[:, [0, -1]] = False
    rows, size = [], (2 * (along + reach) + 1,) * 2
    for d in range(-reach, reach + 1):
        band = (np.abs(signed - d) <= 0.71).astype(np.float32)
        total, count = (
            cv2.boxFilter(values * band, -1, size, normalize=False),
            cv2.boxFilter(band, -1, size, normalize=False),
        )
        rows.append((total / np.maximum(count, 1e-3))[ring])
    return np.stack(rows).astype(np.float32), ring


def edge_kinds(seen: Seen, figure: Mask) -> tuple[Plane, Plane, Mask]:
    """Contrast in L* and blur in px of the reference of a silhouette's border pixels (n,), and where they are (L8)."""
    reach = max(round(ACROSS_PX * seen.px), 5)
    found, ring = profiles(seen.values, figure, reach, max(round(ALONG_PX * seen.px), 2))
    end = max(reach // 4, 1)
    height = np.abs(found[-end:].mean(axis=0) - found[:end].mean(axis=0))
    steep = np.abs(np.diff(found, axis=0)).max(axis=0)
    sigma = height / (np.sqrt(2 * np.pi) * np.maximum(steep, 1e-6))
    sigma = np.sqrt(np.maximum(sigma**2 - BINNED, 0.3))
    return height, sigma / np.float32(seen.px), ring


def _edges(seen: Seen) -> list[Finding]:
    """How evenly hard, soft and lost edges are mixed along the figure: entropy of their shares (L8)."""
    figure = _figure(seen)
    if not figure.any() or figure.all():
        return []
    contrast, sigma, ring = edge_kinds(seen, figure)
    if len(sigma) < 100:
        return []
    lost, hard = contrast < LOST_BELOW, sigma < HARD_PX
    shares = np.array([(hard & ~lost).mean(), (~hard & ~lost & (sigma < SOFT_PX)).mean(),
                       (~lost & (sigma >= SOFT_PX)).mean(), lost.mean()])  # fmt: skip
    there = shares[shares > 0]
    index = float(-(there * np.log(there)).sum() / np.log(len(shares)))  # Shannon's entropy, of the greatest
    words = f"{100 * shares[0]:.0f} % of its edges are hard, {100 * shares[1]:.0f} % soft, {100 * shares[3]:.0f} % lost"
    why = f"{words}: edges of one kind all round cut a figure out, or let it float."
    why = f"{words}." if VARIED.word(index) == "good" else why
    where = np.zeros(figure.shape, np.float32)
    where[ring] = np.where(lost, 0.3, np.where(hard, 1.0, 0.6))
    where = cv2.dilate(where, np.ones((5, 5), np.uint8))
    return [Finding(EDGES.name, index, "of 1", VARIED, why, where=where)]


GROUND: Final = Check(
    "figure against ground", "Does the figure stand out from what is behind it?", _ground,
    "Lighten the ground beside the shadow, or darken it beside the light", "Mop",
)  # fmt: skip
EDGES: Final = Check(
    "edges", "Are there hard, soft and lost edges, and not one kind only?", _edges,
    "Lose the edges that do not matter, and find those at the focus", "Lose an edge",
)  # fmt: skip
