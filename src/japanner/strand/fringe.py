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

__all__ = ["FringeKind", "fringe"]

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
    to its millimetre.
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


def fringe(line: Floats, kind: FringeKind, colour: tuple[float, float, float], alpha: float, seed: int) -> Strands:
    """The hairs of a row along a line (k, 2) of canvas px, whose roots stand on it."""
    dark = np.asarray(colour, float)
    light = srgb.encode(np.clip(srgb.decode(dark) * 2.2 + 0.03, 0, 1))
    more, wider, weaker = PALE
    under = _row(line, kind, light, max(round(kind.count * more), 1), kind.wide_px * wider, alpha * weaker, seed, 0)
    over = _row(line, kind, dark, kind.count, kind.wide_px, alpha, seed, 1)
    # The pale pass lies under the other; in each, front over back where hairs curl.
    order = np.concatenate([under[1], 10 + over[1]])
    return Strands.together([under[0], over[0]], order)


def _row(
    line: Floats, kind: FringeKind, colour: Floats, count: int, wide: float, alpha: float, seed: int, number: int
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
    tall = 0.5 + 0.5 * np.sin(np.pi * np.clip(at, 0.02, 0.98) ** 1.3)
    long = kind.long_px * tall * np.exp(0.35 * kind.variety * random.standard_normal(len(at)))
    share = np.linspace(0, 1, JOINTS)
    # Away from the line at first, then along it: they curve as they go on.
    bent = np.arctan2(dy, dx)[:, None] - np.radians(lean[:, None] + 65 * kind.bend * (share - 0.5))
    step = long[:, None] / (JOINTS - 1)
    points: Floats = np.zeros((len(at), JOINTS, 2))
    points[:, 1:, 0] = np.cumsum(step * np.cos(bent[:, :-1]), axis=1)
    points[:, 1:, 1] = np.cumsum(step * np.sin(bent[:, :-1]), axis=1)
    points += np.stack((x, y), axis=1)[:, None]
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
