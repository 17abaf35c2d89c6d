"""Lines of proportion: on the canvas, and on pictures pinned beside it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Final

from japanner import checks

__all__ = ["MEASURES", "MOST_MEASURES", "Measure"]

MEASURES: Final = ("line", "divider", "plumb", "level")
MOST_MEASURES: Final = 400


@dataclass(frozen=True)
class Measure:
    """A line between two places; a divider, which steps along it by the length of another line; or a plumb or level
    line through its first place.

    number: lines of the same number on the canvas and on a picture measure the same thing. picture: "" for the canvas,
    else the name of a pinned one, in whose px its places are. by: the number of the line whose length a divider takes.
    """

    kind: str
    number: int
    x0: float
    y0: float
    x1: float
    y1: float
    picture: str = ""
    by: int = 0

    def __post_init__(self) -> None:
        checks.one_of("kind", self.kind, MEASURES)
        checks.integer("number", self.number, 1, 10 * MOST_MEASURES)
        checks.integer("by", self.by, 0, 10 * MOST_MEASURES)
        checks.in_range("places", (self.x0, self.y0, self.x1, self.y1), -1e6, 1e6)
        if self.picture:
            checks.text("picture", self.picture, 80)

    @property
    def ends(self) -> tuple[tuple[float, float], tuple[float, float]]:
        return (self.x0, self.y0), (self.x1, self.y1)

    @property
    def length(self) -> float:
        """In px of what it lies on."""
        return math.hypot(self.x1 - self.x0, self.y1 - self.y0)

    def with_end(self, end: int, x: float, y: float) -> Measure:
        """The same with its first (0) or second (1) end elsewhere."""
        x, y = round(x, 2), round(y, 2)
        return replace(self, x0=x, y0=y) if end == 0 else replace(self, x1=x, y1=y)

    def scaled(self, factor: float, shift: tuple[float, float] = (0.0, 0.0)) -> Measure:
        """The same on a canvas `factor` times as large and then shifted; those on pictures stay."""
        if self.picture:
            return self
        x, y = shift
        return replace(self, x0=self.x0 * factor + x, y0=self.y0 * factor + y, x1=self.x1 * factor + x,
                       y1=self.y1 * factor + y)  # fmt: skip
