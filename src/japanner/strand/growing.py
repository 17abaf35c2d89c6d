"""How strands grow: roots spread evenly, hair along the comb field, drawn together in clumps, waved."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner import checks
from japanner.raster.geometry import Rect
from japanner.strand.comb import CombField

__all__ = ["clumped", "coiled", "grown", "nearest_clump", "spread", "waved"]

Floats = NDArray[np.floating]
PLASTIC = 1.324717957244746
"""Its powers step through the plane as evenly as any known sequence does (Roberts 2018)."""


def spread(count: int, random: np.random.Generator) -> NDArray[np.float64]:
    """Places (n, 2) in the unit square, evenly and without a grid to be seen."""
    checks.integer("count", count, 0, 5_000_000)
    steps = np.arange(1, count + 1)[:, None] * np.array((1 / PLASTIC, 1 / PLASTIC**2))
    # A jitter of half their distance hides the sequence.
    jitter = random.uniform(-0.5, 0.5, (count, 2)) / max(np.sqrt(count), 1)
    return (steps + random.random(2) + jitter) % 1.0


def grown(
    field: CombField, x: Floats, y: Floats, length: Floats, turn: Floats, joints: int = 7, stiff: float = 0.35
) -> Floats:
    """Strands (n, joints, 2) that follow the field from their roots; length: px as seen; turn: radians off the field.

    stiff: how far a strand keeps the way that it set out, 0..1.
    """
    checks.integer("joints", joints, 2, 400)
    points: Floats = np.empty((len(x), joints, 2), np.float32)
    points[:, 0, 0], points[:, 0, 1] = x, y
    step = np.asarray(length, np.float32) / np.float32(joints - 1)
    cos, sin = np.cos(turn), np.sin(turn)
    former = None
    for k in range(1, joints):
        dx, dy = field.directions(points[:, k - 1, 0], points[:, k - 1, 1])
        dx, dy = cos * dx - sin * dy, sin * dx + cos * dy
        if former is not None:
            dx, dy = dx + stiff * former[0], dy + stiff * former[1]
            size = np.maximum(np.hypot(dx, dy), 1e-6)
            dx, dy = dx / size, dy / size
        former = (dx, dy)
        points[:, k, 0] = points[:, k - 1, 0] + step * dx
        points[:, k, 1] = points[:, k - 1, 1] + step * dy
    return points


def nearest_clump(
    points: Floats, spacing: float, random: np.random.Generator, over: Rect | None = None
) -> tuple[NDArray[np.intp], Floats]:
    """The clump each strand belongs to, and where its middle is (n, 2): seeds about `spacing` px apart, over all
    roots or over a rectangle, so that several lots of strands share them.
    """
    roots = points[:, 0]
    first, last = (roots.min(axis=0), roots.max(axis=0)) if over is None else ((over.x0, over.y0), (over.x1, over.y1))
    low, high = np.subtract(first, spacing), np.add(last, spacing)
    count = int(np.clip(np.prod(high - low) / spacing**2, 1, 400_000))
    seeds = spread(count, random) * (high - low) + low
    at = np.asarray(scipy.spatial.cKDTree(seeds).query(roots, workers=2)[1], np.intp)
    return at, seeds[at].astype(np.float32)


def clumped(points: Floats, middle: Floats, amount: Floats | float, most: Floats | float) -> Floats:
    """Strands drawn sideways to the line through the middle of their clump, the more the nearer to the tip; `most`: px
    that a tip moves at the most.
    """
    way = points[:, -1] - points[:, 0]
    way = way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-6)
    off = middle - points[:, 0]
    aside = off - way * np.einsum("ni,ni->n", off, way)[:, None]
    far = np.maximum(np.linalg.norm(aside, axis=1), 1e-6)
    pull = np.minimum(far * amount, most) / far
    share = np.linspace(0, 1, points.shape[1], dtype=np.float32) ** 1.5
    result: Floats = points + (aside * pull[:, None])[:, None] * share[:, None]
    return result


def coiled(points: Floats, radius: Floats, turns: Floats, phase: Floats, tilt: float = 0.45) -> tuple[Floats, Floats]:
    """Strands that turn round the way they have, in coils of `radius` px (n,), `turns` (n,) times, seen `tilt` radians
    from the side; and how far each joint is towards the viewer, -1..1 (n, m).
    """
    way = np.gradient(points, axis=1)
    way /= np.maximum(np.linalg.norm(way, axis=2, keepdims=True), 1e-6)
    share = np.linspace(0, 1, points.shape[1], dtype=np.float32)
    angle = 2 * np.pi * turns[:, None] * share + phase[:, None]
    wide = (radius[:, None] * np.minimum(share * 6, 1))[..., None]
    aside = np.stack((-way[..., 1], way[..., 0]), axis=-1)
    around = (
        aside * (np.cos(angle) - np.cos(phase)[:, None])[..., None] + way * (np.sin(tilt) * np.sin(angle))[..., None]
    )
    return (points + wide * around).astype(np.float32), np.sin(angle).astype(np.float32)


def waved(points: Floats, high: Floats | float, turns: Floats | float, phase: Floats) -> Floats:
    """Strands that swing to either side by `high` px, `turns` times along their length, from their root on."""
    way = np.gradient(points, axis=1)
    way /= np.maximum(np.linalg.norm(way, axis=2, keepdims=True), 1e-6)
    share = np.linspace(0, 1, points.shape[1], dtype=np.float32)
    angle = 2 * np.pi * np.asarray(turns)[..., None] * share + phase[:, None]
    # From the place of the root, wherever in its swing it begins.
    swing = np.asarray(high)[..., None] * (np.sin(angle) - np.sin(phase)[:, None]) * np.minimum(share * 3, 1)
    aside = np.stack((-way[..., 1], way[..., 0]), axis=-1)
    result: Floats = (points + aside * swing[..., None]).astype(np.float32)
    return result
