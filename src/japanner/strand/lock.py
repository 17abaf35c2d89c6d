"""A lock: many strands along one line, with a width, clumps, a pattern, and a value that runs from root to tip."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.strand import shine
from japanner.strand.curls import PATTERNS, offsets, stretched
from japanner.strand.strands import Strands

__all__ = ["LockKind", "lock"]

Floats = NDArray[np.floating]
VIEWER: Final = np.array((0.0, 0.0, 1.0))
JOINTS: Final = (10, 360)
PX_A_JOINT: Final = 5.0
COIL_PX: Final = 14.0
"""Narrower coils are not told apart."""
BULGE: Final = 0.9
"""How far a lock bends towards the viewer, as the slope at its ends: hair lies round a head."""


@dataclass(frozen=True)
class LockKind:
    """What a lock is like.

    count: strands. wide_px: thickness of each. pattern: of `PATTERNS`; mm_px: canvas px to a millimetre. clump: how far
    strands are drawn into smaller locks, 0..1. variety: of length and value, 0..1. depth: dark roots and ends, 0..1.
    gloss: light band where the line faces the light, 0..1. stray: share of strands that leave the lock. stretch: of the
    pattern.
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


def lock(
    line: Floats, width: Floats, kind: LockKind, colour: tuple[float, float, float], alpha: float,
    light: tuple[float, float, float], seed: int, thick: Floats | None = None,
) -> Strands:  # fmt: skip
    """Strands of a lock along a line (k, 2) in canvas px from root to tip; width (k,): half of it, px, at its points.

    colour: encoded, of its middle. light: unit vector towards the key light, y up. thick (k,): factor on the
    strands' own thickness along the line.
    """
    random = np.random.Generator(np.random.PCG64(seed))
    run = np.r_[0, np.cumsum(np.hypot(*np.diff(line, axis=0).T))]
    length, pattern = max(float(run[-1]), 1e-3), stretched(PATTERNS[kind.pattern], kind.stretch)
    swings = length / max(pattern.pitch_mm * kind.mm_px, 0.5) if pattern.shape != "line" else 0.0
    joints = int(np.clip(max(length / PX_A_JOINT, 14 * swings), *JOINTS))
    share = np.linspace(0, 1, joints)
    n = kind.count
    place, stray = np.sort(_even(n, random)), random.random(n) < kind.stray
    ends = 1 - 0.45 * kind.variety * random.random(n) ** 2
    begins = 0.05 * random.random(n) ** 1.5 if n > 1 else np.zeros(1)
    at = (begins[:, None] + share[None] * (ends - begins)[:, None]) * length
    x, y = (np.interp(at, run, line[:, k]) for k in (0, 1))
    half = np.interp(at, run, width)
    s = at / length
    coiled = pattern.shape == "helix" and pattern.coil_mm * kind.mm_px > COIL_PX
    # Curls part a lock into as many as have room side by side; else it parts into thinner locks towards its tip.
    parts = max(float(width.max()) * 1.3 / (pattern.coil_mm * kind.mm_px), 0.5) if coiled else max(n**0.5 / 2, 1)
    bundle = np.round(place * parts + (0.2 if coiled else 0.35) * random.standard_normal(n))
    centre = np.clip(bundle / parts, -1, 1)[:, None]
    drawn = np.minimum(s / 0.12, 1) * 0.92 if coiled else kind.clump * s**1.3
    off = place[:, None] * (1 - drawn) + centre * drawn
    # A lock is narrow where it grows, full in its middle, and comes to a point.
    profile = np.minimum(0.55 + 2.2 * s, 1) * (1 - (0.35 + 0.45 * kind.clump) * s**2.2)
    loose = stray[:, None] * random.standard_normal((n, 1)) * s**1.5
    aside = (off + 1.3 * loose) * half * profile
    swing = 2 * np.pi * random.random() + (1 - pattern.together) * 2 * np.pi * random.standard_normal(n)
    swing += (2.4 if coiled else 0.5 * (1 - pattern.together)) * bundle
    across, ahead, toward = (kind.mm_px * one for one in offsets(pattern, at / kind.mm_px, swing, random))
    dx, dy = _tangents(x, y)
    points = np.stack((x - dy * (aside + across) + dx * ahead, y + dx * (aside + across) + dy * ahead), axis=-1)
    shade = _shade(kind, points, s, place, off, toward, light, random)
    # What stands nearer to the viewer lies over the rest; dark ones first.
    order = np.sqrt(np.clip(1 - place**2, 0, 1)) + 0.25 * random.standard_normal(n) + 0.6 * stray
    chosen = np.broadcast_to(np.asarray(colour, float), (n, 3, 3))
    own = kind.wide_px * np.exp(0.5 * kind.variety * random.standard_normal(n))
    wide = None if thick is None else np.interp(at, run, thick)
    whole = Strands.of(points, own, chosen, alpha, shade=shade, wide=wide, tip=0.7, soft=0.06, power=2.2)
    return Strands.together([whole], order)


def _even(count: int, random: np.random.Generator) -> Floats:
    """Places -1..1 across a lock, evenly with a jitter."""
    if count == 1:
        return np.zeros(1)
    return np.clip((np.arange(count) + 0.5 + random.uniform(-0.45, 0.45, count)) / count * 2 - 1, -1, 1)


def _tangents(x: Floats, y: Floats) -> tuple[Floats, Floats]:
    dx, dy = np.gradient(x, axis=1), np.gradient(y, axis=1)
    size = np.maximum(np.hypot(dx, dy), 1e-6)
    return dx / size, dy / size


def _shade(
    kind: LockKind, points: Floats, s: Floats, place: Floats, off: Floats, toward: Floats,
    light: tuple[float, float, float], random: np.random.Generator,
) -> Floats:  # fmt: skip
    """Factor on the colour (n, m): dark at root and end, round across, a band where the line faces the light."""
    n = len(place)
    key = np.asarray(light, float)
    dx, dy = _tangents(points[..., 0], points[..., 1])
    slope = BULGE * np.cos(np.pi * s)
    space = np.stack((dx, -dy, slope), axis=-1)
    space /= np.linalg.norm(space, axis=-1, keepdims=True)
    across = np.stack((dy, dx, np.zeros_like(dx)), axis=-1)
    round_ = np.clip(off, -1, 1)[..., None]
    normal = np.sqrt(1 - 0.8 * round_**2) * np.cross(space, across) * -1 + 0.9 * round_ * -across
    normal *= np.sign(normal[..., 2:] + 1e-9)
    normal /= np.maximum(np.linalg.norm(normal, axis=-1, keepdims=True), 1e-9)
    jitter = 0.08 * random.standard_normal((n, 1))
    band = shine.specular(shine.shifted(space, normal, -0.10 + jitter), key, VIEWER, 24.0)
    second = shine.specular(shine.shifted(space, normal, 0.16 + jitter), key, VIEWER, 9.0)
    lit = 0.55 + 0.45 * np.clip(normal @ key, -0.3, 1) + 0.12 * shine.diffuse(space, key)
    root = 1 - kind.depth * (0.55 * np.exp(-((s / 0.16) ** 2)) + 0.3 * np.clip((s - 0.7) / 0.3, 0, 1) ** 2)
    value = np.exp(0.28 * kind.variety * random.standard_normal((n, 1)))
    near = 1 + 0.32 * np.tanh(toward / max(float(np.abs(toward).max()), 1e-6)) if toward.any() else 1.0
    result: Floats = root * value * near * lit * (1 + kind.gloss * (0.9 * band + 0.5 * second))
    return result
