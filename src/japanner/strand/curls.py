"""Twelve patterns of hair in four families, as curves in space around the line that a lock takes."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks

__all__ = [
    "FAMILIES",
    "PATTERNS",
    "Pattern",
    "family_of",
    "helix_curvature",
    "helix_length",
    "offsets",
    "stretched",
    "wander",
    "wave_length",
]

Floats = NDArray[np.floating]
HEAD_MM: Final = 230.0
"""Height of a head (common practice)."""


@dataclass(frozen=True)
class Pattern:
    """A curve around a lock's line.

    shape: line, wave (in a plane), helix, zigzag, cloud. coil_mm: its diameter across; pitch_mm: along, for a turn.
    begins: share of the length from the root that is straight. view_deg: how far the coil is seen from its end, which
    makes loops of waves. together: how far the strands of a lock swing as one, 0..1. frizz: of chance, in diameters.
    drawn: share of a lock's length that is left when it has curled up in a mass of its like.
    """

    family: str
    shape: str = "line"
    coil_mm: float = 0.0
    pitch_mm: float = 1.0
    begins: float = 0.0
    view_deg: float = 0.0
    together: float = 0.9
    frizz: float = 0.0
    drawn: float = 1.0


FAMILIES: Final = ("straight", "wavy", "curly", "coily")
PATTERNS: Final[dict[str, Pattern]] = {
    "flat": Pattern("straight", together=1.0),
    "bodied": Pattern("straight", "wave", 3.0, 300.0, together=0.7),
    "soft bend": Pattern("straight", "wave", 12.0, 330.0, 0.25, together=0.9),
    "stretched wave": Pattern("wavy", "wave", 12.0, 110.0, 0.15, together=0.88),
    "S wave": Pattern("wavy", "wave", 20.0, 78.0, 0.08, together=0.92),
    "wave with spirals": Pattern("wavy", "helix", 18.0, 75.0, 0.2, 18.0, together=0.9, frizz=0.04),
    "loose loops": Pattern("curly", "helix", 32.0, 46.0, 0.1, 38.0, together=0.95, frizz=0.03),
    "ringlets": Pattern("curly", "helix", 16.0, 17.0, 0.06, 32.0, together=0.96, frizz=0.02),
    "corkscrews": Pattern("curly", "helix", 8.0, 9.5, 0.03, 30.0, together=0.96, frizz=0.03, drawn=0.75),
    "S coil": Pattern("coily", "helix", 4.5, 4.6, 0.0, 28.0, together=0.9, frizz=0.10, drawn=0.5),
    "Z zigzag": Pattern("coily", "zigzag", 4.2, 3.6, 0.0, together=0.8, frizz=0.16, drawn=0.42),
    "tight without pattern": Pattern("coily", "cloud", 3.6, 3.4, 0.0, together=0.3, frizz=0.4, drawn=0.35),
}
"""Diameters by common practice: a corkscrew is as wide as a drinking straw or a pencil, 5 to 8 mm, a ringlet as a
marker pen, 10 to 18, a tight coil as a chopstick or less, 4 to 6. Coily hair draws up to half of its length and less.
"""
BINS: Final = ((200.0, "straight"), (60.0, "wave"), (25.0, "loose curl"), (10.0, "ringlet"), (5.0, "corkscrew"))


def family_of(diameter_mm: float) -> str:
    """What a curl of this diameter is called (our choice of bins; an edge value belongs to the larger one)."""
    checks.number("diameter_mm", diameter_mm, 0, 1e9)
    return next((word for least, word in BINS if diameter_mm >= least), "coil")


def helix_length(radius: float, pitch: float) -> float:
    """Length of one turn of a helix."""
    return math.hypot(2 * math.pi * radius, pitch)


def helix_curvature(radius: float, pitch: float) -> tuple[float, float]:
    """Curvature and torsion of a helix, r / (r^2 + c^2) and c / (r^2 + c^2) with c = pitch / 2 pi."""
    c = pitch / (2 * math.pi)
    return radius / (radius**2 + c**2), c / (radius**2 + c**2)


def wave_length(high: float, pitch: float) -> float:
    """Length of a sine wave of this height, over its length along (by the trapezoidal rule, exact to 1e-9)."""
    x = np.linspace(0, 1, 4097)
    slope = 2 * math.pi * high / pitch * np.cos(2 * math.pi * x)
    return float(np.trapezoid(np.sqrt(1 + slope**2), x))


def stretched(pattern: Pattern, factor: float) -> Pattern:
    """The pattern drawn out to `factor` times its pitch, or pushed together: the length of a coil stays as it is, so
    that it gets narrower, or wider.
    """
    checks.number("factor", factor, 0.05, 20)
    if pattern.shape == "line":
        return pattern
    whole = helix_length(pattern.coil_mm / 2, pattern.pitch_mm)
    pitch = min(pattern.pitch_mm * factor, max(0.98 * whole, pattern.pitch_mm))
    return replace(pattern, pitch_mm=pitch, coil_mm=math.sqrt(whole**2 - pitch**2) / math.pi)


def offsets(
    pattern: Pattern, along_mm: Floats, phase: Floats, random: np.random.Generator, size: float = 1.0
) -> tuple[Floats, Floats, Floats]:
    """How far strands are off their line: aside, ahead, and towards the viewer, all (n, m) in mm.

    along_mm (n, m): way from the root. phase (n,): where in its turn each begins. size: factor on the coil.
    """
    n, m = along_mm.shape
    kind = along_mm.dtype

    def sway(bends: float) -> Floats:
        return wander(random, n, m, bends).astype(kind)

    zero = np.zeros((n, m), kind)
    if pattern.shape == "line":
        return zero, zero, zero
    whole = max(float(along_mm.max()), 1e-6)
    radius = pattern.coil_mm / 2 * size
    # It begins little by little, and coils differ in width.
    grown = np.clip((along_mm / whole - pattern.begins) / 0.12 + (1 if pattern.begins == 0 else 0), 0, 1)
    turns = whole / (pattern.pitch_mm * size)
    uneven = (1 + 0.16 * (1 - pattern.together) * random.standard_normal((n, 1))).astype(kind)
    turn = 2 * math.pi * along_mm / (pattern.pitch_mm * size) * uneven + phase.astype(kind)[:, None]
    r, frizz = radius * grown, zero
    if pattern.frizz:
        turn = turn + 6 * pattern.frizz * sway(0.4 * turns)
        r, frizz = r * (1 + 0.12 * sway(0.7 * turns)), pattern.frizz * pattern.coil_mm * sway(1.1 * turns)
    if pattern.shape == "wave":
        return r * np.sin(turn), zero, 0.3 * r * np.cos(turn)
    if pattern.shape == "zigzag":
        bend = 2 / math.pi * np.arcsin(0.985 * np.sin(turn))
        return r * bend + frizz, zero, 0.6 * r * np.cos(turn)
    if pattern.shape == "cloud":
        # Each way bends at places of its own: else the hair would go straight from bend to bend.
        x, y, z = (2.2 * r * sway(bends * turns) for bends in (2.2, 1.7, 1.9))
        return x, y, z
    tilt = math.radians(pattern.view_deg)
    aside = r * np.cos(turn) - radius * np.cos(phase.astype(kind))[:, None] * grown
    return aside + frizz, r * math.sin(tilt) * np.sin(turn), r * math.cos(tilt) * np.sin(turn)


def wander(random: np.random.Generator, n: int, m: int, bends: float) -> Floats:
    """Smooth chance along strands, about -1..1, with so many bends."""
    knots = random.standard_normal((n, int(np.clip(bends, 2, m)) + 2))
    at = np.linspace(0, knots.shape[1] - 1.001, m)
    low = at.astype(int)
    share = (1 - np.cos(np.pi * (at - low))) / 2
    result: Floats = 0.7 * (knots[:, low] * (1 - share) + knots[:, low + 1] * share)
    return result
