"""Kinds of coats, and the passes of hairs that each is made of."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

__all__ = ["BODY", "COATS", "GUARD", "STRAY", "UNDER", "Coat", "Pass"]


@dataclass(frozen=True)
class Coat:
    """How a kind of coat differs from the plain one, as factors and shares (our choice).

    long, thick: of hairs. under, guard: of their numbers. clump: to tufts and to locks. lift: how far it stands off.
    mess: degrees off the field. wave: height as a share of the length, and swings along it. gloss: of what it mirrors.
    locks: hairs of a tuft lie together. coil: radius as a share of the length, and turns along it. many: of the number
    of all hairs.
    """

    long: float = 1.0
    thick: float = 1.0
    under: float = 1.0
    guard: float = 1.0
    clump: float = 1.0
    lift: float = 0.2
    mess: float = 9.0
    wave: tuple[float, float] = (0.0, 1.0)
    gloss: float = 1.0
    locks: bool = False
    coil: tuple[float, float] = (0.0, 1.0)
    many: float = 1.0


COATS: Final[dict[str, Coat]] = {
    "double coat": Coat(),
    "short sleek": Coat(long=0.45, thick=0.85, under=0.6, clump=0.25, lift=0.05, mess=5.0, gloss=1.7),
    "plush": Coat(long=0.6, thick=0.9, under=1.6, guard=0.5, clump=0.15, lift=0.5, mess=16.0, gloss=0.35),
    "wiry": Coat(0.9, 1.35, under=0.8, guard=1.2, clump=0.6, lift=0.35, mess=22.0, wave=(0.05, 1.6), gloss=0.6),
    "curly": Coat(1.5, 1.0, under=1.2, guard=0.8, clump=1.5, lift=0.25, mess=7.0, wave=(0.12, 1.2), locks=True),
    "coily": Coat(
        1.3, 1.0, under=1.6, guard=0.6, clump=0.5, lift=0.35, mess=34.0, gloss=0.5, coil=(0.07, 5.0), many=0.5
    ),
    "long silky": Coat(2.6, 0.9, under=0.6, guard=1.2, clump=0.9, lift=0.08, mess=5.0, wave=(0.02, 0.9), gloss=1.5),
}


@dataclass(frozen=True)
class Pass:
    """Hairs of one kind in a coat: share of all, length, width px, coverage, value, value at root, middle, tip, and how
    far they are drawn into tufts and locks (figures from a study of an otter).
    """

    share: float
    long: float
    wide: float
    alpha: float
    value: float
    stops: tuple[float, float, float]
    clump: tuple[float, float]


UNDER: Final = Pass(0.16, 0.85, 2.6, 0.75, 0.55, (0.6, 0.85, 1.0), (0.25, 0.2))
BODY: Final = (
    Pass(0.32, 0.95, 1.5, 0.72, 0.85, (0.45, 0.9, 1.15), (0.4, 0.35)),
    Pass(0.10, 1.0, 1.0, 0.70, 0.38, (0.5, 0.8, 1.0), (0.4, 0.5)),
)
GUARD: Final = (
    Pass(0.30, 1.15, 1.0, 0.72, 1.05, (0.45, 0.95, 1.35), (0.7, 0.55)),
    Pass(0.08, 1.05, 0.75, 0.62, 1.2, (0.5, 1.1, 1.7), (0.65, 0.6)),
)
STRAY: Final = Pass(0.04, 1.35, 0.8, 0.62, 1.1, (0.6, 1.0, 1.5), (0.0, 0.3))
