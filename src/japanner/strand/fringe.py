"""A row of hairs along a line, as lashes on a lid or hairs in a brow: pale and wide first, dark and fine after."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.strand.courses import curled, middles
from japanner.strand.curls import PATTERNS
from japanner.strand.strands import Strands

__all__ = ["FringeKind", "fringe", "in_tufts"]

Floats = NDArray[np.floating]
JOINTS: Final = 10
PALE: Final = (0.55, 1.9, 0.24)
"""Of the pale pass: its hairs, as a share of the others, and factors on their thickness and coverage."""


@dataclass(frozen=True)
class FringeKind:
    """What a row is like.

    count: hairs. long_px: of the longest, which stand past its middle; wide_px: thickness. from_deg, to_deg: between
    the line's direction and the hairs at its begin and end, to its left. bend: how far hairs curve on, 0..1. variety:
    how far they differ and cross, 0..1. pattern: of `PATTERNS`, as for coils along the edge of a mass; mm_px: canvas px
    to its millimetre. across: over what share of the line's width, to either side, roots stand; across_deg: how far
    hairs on either side lean back to the line. tuft: how far neighbours are drawn to one tip, by twos to fours, 0..1.
    long_in, long_out: length at the line's begin and end, of the longest.
    """

    count: int = 60
    long_px: float = 30.0
    wide_px: float = 1.5
    from_deg: float = 110.0
    to_deg: float = 50.0
    bend: float = 0.4
    variety: float = 0.5
    pattern: str = "flat"
    mm_px: float = 2.2
    across: float = 0.0
    across_deg: float = 0.0
    tuft: float = 0.0
    long_in: float = 0.5
    long_out: float = 0.5


def fringe(
    line: Floats, kind: FringeKind, colour: tuple[float, float, float], alpha: float, seed: int,
    half: Floats | None = None,
) -> Strands:  # fmt: skip
    """The hairs of a row along a line (k, 2) of canvas px, whose roots stand on it, or within `half` (k,) px of it."""
    half = np.zeros(len(line)) if half is None else half
    dark = np.asarray(colour, float)
    light = srgb.encode(np.clip(srgb.decode(dark) * 2.2 + 0.03, 0, 1))
    more, wider, weaker = PALE
    under = _row(
        line, half, kind, light, max(round(kind.count * more), 1), kind.wide_px * wider, alpha * weaker, seed, 0
    )
    over = _row(line, half, kind, dark, kind.count, kind.wide_px, alpha, seed, 1)
    # The pale pass lies under the other; in each, front over back where hairs curl.
    order = np.concatenate([under[1], 10 + over[1]])
    return Strands.together([under[0], over[0]], order)


def _row(
    line: Floats,
    half: Floats,
    kind: FringeKind,
    colour: Floats,
    count: int,
    wide: float,
    alpha: float,
    seed: int,
    number: int,
) -> tuple[Strands, Floats]:
    """The hairs of one pass, and the order to draw them in."""
    random = np.random.Generator(np.random.PCG64((seed, number)))
    run = np.r_[0, np.cumsum(np.hypot(*np.diff(line, axis=0).T))]
    length = max(float(run[-1]), 1e-3)
    # Roots stand in loose threes and fours, with gaps.
    at = (np.arange(count) + 0.5 + 0.6 * kind.variety * random.uniform(-1, 1, count)) / count
    at = np.clip(at + 0.35 * kind.variety / count * np.sin(at * count * 1.9), 0, 1)
    kept = random.random(count) > 0.14 * kind.variety
    at = at[kept] if kept.any() else at
    x, y = (np.interp(at * length, run, line[:, k]) for k in (0, 1))
    reach = 0.02 * length + 1.0
    ahead, behind = (np.clip(at * length + d, 0, length) for d in (reach, -reach))
    dx, dy = (np.interp(ahead, run, line[:, k]) - np.interp(behind, run, line[:, k]) for k in (0, 1))
    lean = kind.from_deg + (kind.to_deg - kind.from_deg) * at
    crossing = (random.random(len(at)) < 0.22 * kind.variety) * random.choice((-1, 1), len(at)) * 20
    lean = lean + 14 * kind.variety * random.standard_normal(len(at)) * 0.5 + crossing
    least = kind.long_in + (kind.long_out - kind.long_in) * at
    tall = least + (1 - least) * np.sin(np.pi * np.clip(at, 0.02, 0.98) ** 1.3)
    long = kind.long_px * tall * np.exp(0.35 * kind.variety * random.standard_normal(len(at)))
    if kind.across > 0:
        # Most stand near the line; each side leans towards it, so that a ridge comes about.
        aside = np.clip(random.normal(0, 0.45, len(at)), -1, 1)
        lean = lean + kind.across_deg * aside
        beside = np.interp(at * length, run, half) * kind.across * aside
        along = np.maximum(np.hypot(dx, dy), 1e-6)
        x, y = x + beside * dy / along, y - beside * dx / along  # to the line's left
    share = np.linspace(0, 1, JOINTS)
    # Away from the line at first, then along it: they curve as they go on.
    bent = np.arctan2(dy, dx)[:, None] - np.radians(lean[:, None] + 65 * kind.bend * (share - 0.5))
    step = long[:, None] / (JOINTS - 1)
    points: Floats = np.zeros((len(at), JOINTS, 2))
    points[:, 1:, 0] = np.cumsum(step * np.cos(bent[:, :-1]), axis=1)
    points[:, 1:, 1] = np.cumsum(step * np.sin(bent[:, :-1]), axis=1)
    points += np.stack((x, y), axis=1)[:, None]
    if kind.tuft > 0:
        points = in_tufts(points, kind.tuft, random)
    value = np.exp(0.3 * kind.variety * random.standard_normal(len(at)))
    shades = np.clip(srgb.decode(colour) * value[:, None], 0, 1)
    colours = np.repeat(srgb.encode(shades)[:, None], 3, axis=1)
    thick = wide * np.exp(0.2 * kind.variety * random.standard_normal(len(at)))
    pattern = PATTERNS.get(kind.pattern, PATTERNS["flat"])
    order, shade, pieces = np.linspace(0, 1, len(at))[:, None], None, 1
    if pattern.shape != "line":
        # Roots of curls stand behind the line too, as far as they differ.
        points = points - kind.variety * random.random(len(at))[:, None, None] * 0.4 * (points[:, -1:] - points[:, :1])
        points, toward, pieces = curled(points, long, 1.4 * kind.long_px, pattern, kind.mm_px, random)
        high = toward / max(float(np.abs(toward).max()), 1e-6)
        order, shade = order + 4 * middles(high, pieces), 1 + 0.4 * high
    whole = Strands.of(points, thick, colours, alpha, shade=shade, tip=0.75, soft=0.02, power=1.3)
    return whole.cut(pieces), order.reshape(-1)


def in_tufts(points: Floats, amount: float, random: np.random.Generator) -> Floats:
    """Hairs (n, m, 2) in their order along a line, drawn to the mean tip of two to four neighbours; one in eight joins
    a tuft further on, and crosses.
    """
    sizes = random.integers(2, 5, len(points))
    tuft = np.repeat(np.arange(len(sizes)), sizes)[: len(points)]
    stray = random.random(len(points)) < 0.12
    tuft[stray] = np.roll(tuft, 3)[stray]
    tips, hairs = points[:, -1], np.maximum(np.bincount(tuft), 1)
    middle = np.stack([np.bincount(tuft, tips[:, k]) / hairs for k in range(2)], axis=1)[tuft]
    share = np.linspace(0, 1, points.shape[1])[None, :, None] ** 1.6
    drawn = amount * random.uniform(0.5, 1.0, len(points))[:, None, None]
    return points + (middle - tips)[:, None] * drawn * share
