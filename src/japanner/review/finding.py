"""What a check of the picture says: one type for all of them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from japanner.review.seen import Seen

__all__ = ["GOOD", "LOOK", "PROBLEM", "WORDS", "Check", "Finding", "Range", "Where"]

GOOD, LOOK, PROBLEM = "good", "look again", "problem"
WORDS: Final = (GOOD, LOOK, PROBLEM)
Where = NDArray[np.float32]
"""How far each pixel of the reduced picture (h, w) takes part, 0..1."""


@dataclass(frozen=True)
class Range:
    """Where a number is good, and, wider, where it is worth a second look; beyond it is a problem."""

    good: tuple[float, float]
    fair: tuple[float, float]

    def word(self, number: float) -> str:
        if self.good[0] <= number <= self.good[1]:
            return GOOD
        return LOOK if self.fair[0] <= number <= self.fair[1] else PROBLEM

    @property
    def words(self) -> str:
        """Where it is good; an end that is never passed is not named."""
        low, high = self.good
        if high >= self.fair[1]:
            return f"from {low:g}"
        return f"up to {high:g}" if low <= self.fair[0] else f"{low:g} to {high:g}"


@dataclass(frozen=True, eq=False)
class Finding:
    """What a check has found.

    number: in `unit`; range: where it is good. why: one sentence that says what it means here. part: its uid, 0 for the
    whole picture. where: the map, None where there is nothing to point at.
    """

    check: str
    number: float
    unit: str
    range: Range
    why: str
    part: int = 0
    about: str = ""
    where: Where | None = None

    @property
    def word(self) -> str:
        """good, look again or problem."""
        return self.range.word(self.number)

    @property
    def figure(self) -> str:
        """The number with its unit, as it is shown."""
        digits = 0 if abs(self.number) >= 10 else 1 if abs(self.number) >= 1 else 2
        return f"{self.number:.{digits}f} {self.unit}".strip()


@dataclass(frozen=True)
class Check:
    """A check by its name, and what it asks.

    run: says nothing where it does not apply. advice: one thing to try; tool: the brush, or the command by its path in
    the menus, that it takes.
    """

    name: str
    asks: str
    run: Callable[[Seen], list[Finding]]
    advice: str
    tool: str
    shaped: bool = False
    """It asks for the forms of parts, which take a while."""
