"""The courses that strands of a lock take: loose along a line, in a braid, wound up into a bun, laid to a cord."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.strand.curls import PATTERNS, Pattern, offsets, stretched, wander
from japanner.strand.growing import PLASTIC

__all__ = ["DRESSED", "Course", "LockKind", "braided", "curled", "laid", "loose", "middles", "wound"]

Floats = NDArray[np.floating]
DRESSED: Final = ("braid", "bun", "cord")
"""Ways to dress hair that are no patterns of its own."""
PX_A_JOINT: Final = 5.0
JOINTS: Final = (10, 900)
MOST_PIECES: Final = 220
COIL_PX: Final = 5.0
"""Narrower coils are not told apart, nor are their front and back."""
SWAY: Final = ((1.4, 0.05), (0.7, 0.2))
"""Of coils: how far curls wander, in diameters, and in how many bends for a swing."""
UNEVEN: Final = 0.16
"""How unevenly curls are wound, in turns."""
BULGE: Final = 0.9
"""How far a lock bends towards the viewer, as the slope at its ends: hair lies round a head."""
LAY: Final = 3.4
"""Of a cord: the length of one turn of its three yarns, in widths of the cord (common practice)."""
YARN: Final = 0.464
"""Radius of each of three yarns that touch in a cord of radius 1: 1 / (1 + 2 / sqrt 3)."""


@dataclass(frozen=True)
class LockKind:
    """What a lock is like.

    count: strands. wide_px: thickness of each. pattern: of `PATTERNS` or `DRESSED`; mm_px: canvas px to a millimetre.
    clump: how far strands are drawn into smaller locks, 0..1. variety: of length and value, 0..1. depth: dark roots
    and ends, 0..1. gloss: light band where the line faces the light, 0..1. stray: share of strands that leave the lock.
    stretch: of the pattern.
    """

    count: int = 60
    wide_px: float = 1.2
    pattern: str = "flat"
    mm_px: float = 2.2
    clump: float = 0.5
    variety: float = 0.5
    depth: float = 0.6
    gloss: float = 0.6
    stray: float = 0.04
    stretch: float = 1.0


@dataclass(frozen=True, eq=False)
class Course:
    """Where n strands of m joints run.

    points (n, m, 2): canvas px from root to tip. share (n, m): of the lock's length. off: place across the lock or the
    part of it that they lie in, -1..1. toward, slope: height towards the viewer, px, and how it rises along. order (n,
    k): of the k pieces that each strand is drawn in, later ones over earlier ones. lean (n, m, 2): added to the normal,
    for what lies round something, y up.
    """

    points: Floats
    share: Floats
    off: Floats
    toward: Floats
    slope: Floats
    order: Floats
    lean: Floats | None = None
    blunt: bool = False
    """Cut off at both ends, not grown."""


def loose(line: Floats, half: Floats, kind: LockKind, every: int, random: np.random.Generator) -> Course:
    """Strands side by side along a line (k, 2) with half a width (k,), px, in a pattern of hair; `every`: only every so
    many of them, for a quick look.
    """
    run, length = _run(line)
    pattern, scale = stretched(PATTERNS[kind.pattern], kind.stretch), kind.mm_px
    coil_px = pattern.coil_mm * scale
    swings = length / max(pattern.pitch_mm * scale, 0.5) if pattern.shape != "line" else 0.0
    coiled = pattern.shape == "helix" and coil_px > COIL_PX
    pieces = int(np.clip(np.ceil(4 * swings), 1, MOST_PIECES)) if coiled else 1
    place, share, noise = _chances(kind, every, random)
    stray, several = share[0] < kind.stray, kind.count > 1
    ends, begins = 1 - 0.45 * kind.variety * share[1] ** 2, 0.05 * share[2] ** 1.5 * several
    # A quick look does with fewer joints: every pixel of a thick strand looks at all that are within its width.
    joint_px = PX_A_JOINT if every == 1 else max(2 * PX_A_JOINT, kind.wide_px / 6)
    bends = max(length / joint_px, 14 * swings)
    s = np.linspace(0, 1, _joints(bends, pieces))[None]
    s = (begins[:, None] + s * (ends - begins)[:, None]).astype(np.float32)
    at = s * np.float32(length)
    x, y, wide = (np.interp(at, run, plane) for plane in (line[:, 0], line[:, 1], half))
    # Curls part a lock into as many as have room side by side; else it parts into thinner locks towards its tip.
    parts = max(float(half.max()) * 1.3 / coil_px, 0.5) if coiled else max(kind.count**0.5 / 2, 1)
    bundle = np.round(place * parts + (0.2 if coiled else 0.35) * noise[0])
    drawn = np.minimum(s / 0.12, 1) * 0.92 if coiled else kind.clump * s**1.3
    off = place[:, None] * (1 - drawn) + np.clip(bundle / parts, -1, 1)[:, None] * drawn
    # A lock is narrow where it grows, full in its middle, and comes to a point.
    profile = np.minimum(0.55 + 2.2 * s, 1) * (1 - (0.35 + 0.45 * kind.clump) * s**2.2)
    aside = (off + 1.3 * (stray * noise[1])[:, None] * s**1.5) * wide * profile
    swing = 2 * np.pi * (random.random() + (1 - pattern.together) * noise[2])
    swing += (2.4 if coiled else 0.5 * (1 - pattern.together)) * bundle
    run_mm, sway = at / np.float32(scale), np.zeros((2, *s.shape), np.float32)
    if coiled or pattern.frizz > 0.1:
        # No curl is wound evenly, and fine ones wander far.
        sway = _sway(bundle, s.shape[1], swings, random)
        run_mm = run_mm + UNEVEN * pattern.pitch_mm * np.roll(sway[0], s.shape[1] // 2, axis=1)
        sway *= coil_px * (1.0 if pattern.frizz > 0.1 else 0.25)
    shifts = offsets(pattern, np.maximum(run_mm, 0), swing.astype(np.float32), random)
    across, ahead, toward = (np.float32(scale) * one for one in shifts)
    across, ahead = across + sway[0], ahead + sway[1]
    dx, dy = _tangents(x, y)
    points = np.stack((x - dy * (aside + across) + dx * ahead, y + dx * (aside + across) + dy * ahead), axis=-1)
    # What stands nearer to the viewer lies over the rest; dark ones first.
    order = (np.sqrt(np.clip(1 - place**2, 0, 1)) + 0.25 * noise[3] + 0.6 * stray)[:, None]
    slope = np.broadcast_to(BULGE * np.cos(np.pi * s), s.shape)
    if coiled:
        order = order + 4 * middles(toward, pieces) / coil_px
        slope = slope + 0.5 * np.gradient(toward, axis=1) / max(length / s.shape[1], 1e-6)
    return Course(points, s, off, toward, slope, order)


def _chances(kind: LockKind, every: int, random: np.random.Generator) -> tuple[Floats, Floats, Floats]:
    """Of the strands wanted: places -1..1 across the lock, four shares 0..1 and four deviates each. They are drawn for
    all strands, so that a quick look shows some of those that will be there.
    """
    n = kind.count
    place = np.sort(_even(n, random))
    return place[::every], random.random((4, n))[:, ::every], random.standard_normal((4, n))[:, ::every]


def _sway(bundle: Floats, joints: int, swings: float, random: np.random.Generator) -> Floats:
    """How far coils wander, each curl by itself, in diameters: aside and ahead (2, n, m)."""
    _, curl = np.unique(bundle, return_inverse=True)
    waves = (size * wander(random, int(curl.max()) + 1, joints, bends * swings) for size, bends in SWAY)
    sway = np.add(*waves)[curl]
    return np.stack((sway, 0.6 * np.roll(sway, joints // 3, axis=1))).astype(np.float32)


def braided(line: Floats, half: Floats, kind: LockKind, every: int, random: np.random.Generator) -> Course:
    """Three locks that cross in turn along a line, tied near the end, with a loose tail."""
    run, length = _run(line)
    widest = max(float(half.max()), 1.0)
    place, share, noise = _chances(kind, every, random)
    which = np.arange(len(place)) % 3
    ends = 1 - 0.12 * kind.variety * share[0] ** 2
    # A braid gets narrower, and so do its turns.
    fine = np.linspace(0, 1, 400)
    wide = np.interp(fine * length, run, half) * (1 - 0.4 * fine) * np.minimum(0.7 + 4 * fine, 1)
    turn = np.concatenate(([0.0], np.cumsum(2 * np.pi / (4.4 * np.maximum(wide[:-1], 0.5)) * length / 399)))
    pieces = int(np.clip(np.ceil(turn[-1] / (2 * np.pi) * 8), 1, MOST_PIECES))
    joints = _joints(length / PX_A_JOINT, pieces)
    s = np.linspace(0, 1, joints)[None] * ends[:, None]
    x, y = (np.interp(s * length, run, line[:, k]) for k in (0, 1))
    phase = np.interp(s, fine, turn) + which[:, None] * 2 * np.pi / 3
    size = np.interp(s, fine, wide)
    tail = np.clip((s - 0.84) / 0.05, 0, 1)
    woven, opened = 1 - tail, np.clip((s - 0.9) / 0.1, 0, 1)
    weave = 0.52 * size * np.cos(phase) * woven * np.minimum(s / 0.05, 1)
    toward = 0.5 * size * np.sin(2 * phase) * woven
    # Each lock is round: its strands lie across its own way.
    step = np.maximum(np.gradient(s * length, axis=1), 1e-6)
    rise = np.gradient(weave, axis=1) / step
    steep = np.sqrt(1 + rise**2)
    thick = size * (0.46 * woven + tail * (0.3 + 0.5 * opened * (1 - 0.5 * opened)))
    spot = place[:, None] + 0.25 * kind.variety * noise[0][:, None] * opened
    dx, dy = _tangents(x, y)
    astray = 0.5 * size * _astray(s, kind.stray, share, noise[2])
    across, ahead = weave + spot * thick / steep + astray, -spot * thick * rise / steep
    points = np.stack((x - dy * across + dx * ahead, y + dx * across + dy * ahead), axis=-1)
    order = middles(toward / np.maximum(size, 1e-6), pieces) * 4 + 0.1 * noise[1][:, None]
    slope = np.gradient(toward, axis=1) / step + 0.3 * np.cos(np.pi * s)
    return Course(points, s, np.broadcast_to(place[:, None], s.shape), toward / widest, slope, order)


def wound(line: Floats, half: Floats, kind: LockKind, every: int, random: np.random.Generator) -> Course:
    """A rope of hair as wide as the stroke, wound up to a bun; the line goes across the bun from rim to rim."""
    rope = max(float(half.max()), 1.0)
    ends = line[-1] - line[0]
    radius, begin = max(float(np.hypot(*ends)) / 2, 1.2 * rope), np.arctan2(*-ends[::-1])
    middle = (line[0] + line[-1]) / 2
    rows = 0.95 * rope
    turns = max((radius - rope) / rows, 0.6) + 0.35
    whole = 2 * np.pi * turns * (radius + 0.3 * rope) / 2
    pieces = int(np.clip(np.ceil(turns * 10), 1, MOST_PIECES))
    joints = _joints(whole / PX_A_JOINT, pieces)
    place, share, noise = _chances(kind, every, random)
    begins, last = 0.12 * share[0] ** 2, 1 - 0.08 * kind.variety * share[2]
    s = begins[:, None] + np.linspace(0, 1, joints)[None] * (last - begins)[:, None]
    angle = begin + 2 * np.pi * turns * s + 0.3 * np.sin(5 * s)
    wobble = 1 + 0.05 * np.sin(angle * 2 + 2 * np.pi * random.random())
    path = np.maximum((radius - rope) * wobble - rows * turns * s, 0.12 * rope)
    # The rope is twisted, and thinner where it ends.
    twist = 1.4 * np.pi * turns * s + PLASTIC * 40 * np.pi * place[:, None]
    inside = np.sqrt(0.35 + 0.65 * share[3])[:, None]
    off, high = inside * np.cos(twist), inside * np.sin(twist)
    astray = 0.5 * _astray(s, kind.stray, share, noise[2])
    far = path + rope * (off * np.minimum(0.55 + 3 * s, 1) * (1 - 0.35 * s**3) + astray)
    x, y = middle[0] + far * np.cos(angle), middle[1] + far * np.sin(angle)
    order = 7 * turns * middles(s, pieces) + 1.5 * middles(high, pieces)
    lean = np.stack((x - middle[0], middle[1] - y), axis=-1) / radius
    return Course(np.stack((x, y), axis=-1), s, off, high, np.zeros_like(s), order, lean)


def laid(line: Floats, half: Floats, kind: LockKind, every: int, random: np.random.Generator) -> Course:
    """Three yarns laid to a cord that is as wide all along and blunt at both ends; each yarn twists the other way."""
    run, length = _run(line)
    widest = max(float(half.max()), 0.5)
    place, share, noise = _chances(kind, every, random)
    which = np.arange(len(place)) % 3
    fine = np.linspace(0, 1, 400)
    wide = np.maximum(np.interp(fine * length, run, half), 0.5)
    turn = np.concatenate(([0.0], np.cumsum(np.pi / (LAY * wide[:-1]) * length / 399)))
    pieces = int(np.clip(np.ceil(turn[-1] / (2 * np.pi) * 8), 1, MOST_PIECES))
    s = np.repeat(np.linspace(0, 1, _joints(length / PX_A_JOINT, pieces))[None], len(place), axis=0)
    x, y = (np.interp(s * length, run, line[:, k]) for k in (0, 1))
    size, phase = np.interp(s, fine, wide), np.interp(s, fine, turn) + which[:, None] * 2 * np.pi / 3
    # Hairs are spread over the yarn's cross-section and wind about its middle; some stand off it.
    inner = np.sqrt(share[3])[:, None] * (1 + 0.12 * kind.variety * noise[0][:, None])
    twist = 2 * np.pi * share[1][:, None] - 1.5 * phase
    off, high = (0.536 * fun(phase) + YARN * inner * fun(twist) for fun in (np.cos, np.sin))
    across = size * (off + 0.5 * _astray(s, kind.stray, share, noise[2]))
    dx, dy = _tangents(x, y)
    points = np.stack((x - dy * across, y + dx * across), axis=-1)
    step = np.maximum(np.gradient(s * length, axis=1), 1e-6)
    # Light tells the yarns apart before it tells the cord: each is round by itself.
    side = np.clip(0.45 * off + 0.75 * inner * np.cos(twist), -1, 1)
    order = middles(high, pieces)
    return Course(points, s, side, size * high / widest, np.gradient(size * high, axis=1) / step, order, blunt=True)


def _astray(s: Floats, stray: float, share: Floats, noise: Floats) -> Floats:
    """How far strands leave a lock (n, m), about -1..1: a share of them by their chances, over a stretch of each."""
    near = np.clip(1 - np.abs(s - share[1][:, None]) / 0.07, 0, 1)
    result: Floats = ((share[0] < 3 * stray) * noise)[:, None] * near**2
    return result


def curled(
    axes: Floats, long: Floats, longest: float, pattern: Pattern, mm_px: float, random: np.random.Generator
) -> tuple[Floats, Floats, int]:
    """Hairs (n, m, 2) of a pattern around axes (n, k, 2) so `long` (n,), px; their height towards the viewer in px (n,
    m); and how many pieces to draw each in. `longest`: about the longest there are, for the number of joints.
    """
    n, swings = len(axes), longest / max(pattern.pitch_mm * mm_px, 0.5)
    told = pattern.shape == "helix" and pattern.coil_mm * mm_px > COIL_PX
    pieces = int(np.clip(np.ceil(4 * swings), 1, MOST_PIECES)) if told else 1
    share = np.linspace(0, 1, _joints(max(longest / PX_A_JOINT, 14 * swings), pieces))
    at = np.linspace(0, 1, axes.shape[1])
    x, y = (np.stack([np.interp(share, at, one) for one in axes[..., k]]) for k in (0, 1))
    # Each curls by itself, and no two alike.
    size = mm_px * np.exp(0.3 * random.standard_normal((n, 1)))
    phase = 2 * np.pi * random.random(n)
    across, ahead, toward = (size * one for one in offsets(pattern, share * long[:, None] / mm_px, phase, random))
    dx, dy = _tangents(x, y)
    return np.stack((x - dy * across + dx * ahead, y + dx * across + dy * ahead), axis=-1), toward, pieces


def _run(line: Floats) -> tuple[Floats, float]:
    """Way along a line at its points, and its length."""
    run = np.r_[0, np.cumsum(np.hypot(*np.diff(line, axis=0).T))]
    return run, max(float(run[-1]), 1e-3)


def _joints(wanted: float, pieces: int) -> int:
    """About so many joints, evenly shared among pieces."""
    return pieces * max(round(float(np.clip(wanted, *JOINTS)) / pieces), 3 if pieces > 1 else JOINTS[0]) + 1


def middles(values: Floats, pieces: int) -> Floats:
    """Mean (n, k) of values at joints over each of k pieces."""
    n, m = values.shape
    inner = (values[:, 1:] + values[:, :-1]) / 2
    result: Floats = inner.reshape(n, pieces, (m - 1) // pieces).mean(axis=2)
    return result


def _even(count: int, random: np.random.Generator) -> Floats:
    """Places -1..1 across a lock, evenly with a jitter."""
    if count == 1:
        return np.zeros(1)
    return np.clip((np.arange(count) + 0.5 + random.uniform(-0.45, 0.45, count)) / count * 2 - 1, -1, 1)


def _tangents(x: Floats, y: Floats) -> tuple[Floats, Floats]:
    dx, dy = np.gradient(x, axis=1), np.gradient(y, axis=1)
    size = np.maximum(np.hypot(dx, dy), 1e-6)
    return dx / size, dy / size
