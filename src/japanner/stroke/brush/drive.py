"""What drives a setting of a brush while a stroke is drawn: pressure and the like, each through a curve."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks

__all__ = ["DRIVEN", "SOURCES", "Drive", "factors"]

DRIVEN: Final = ("size", "strength", "flow", "roundness", "scatter", "grain")
"""Settings that can be driven."""
SOURCES: Final = ("pressure", "tilt", "speed", "direction", "random", "length")
"""What can drive them, each as 0..1: pressure; tilt from upright to 60 degrees; speed up to 10 canvas px per ms;
direction from level (0) to upright (1); chance; length drawn so far, up to twenty tip sizes."""

Source = Callable[[str], NDArray[np.float64]]
"""Gives what a source is at every dab, 0..1, (n,)."""


@dataclass(frozen=True)
class Drive:
    """How far a source drives a setting.

    factor = 1 - |amount| + |amount| * clamp((s - low) / (high - low)) ** gamma for a source s of 0..1; a negative
    amount turns the source round (1 - clamp(...)). amount -1..1 (0: the source does nothing), low and high 0..1, gamma
    0.1..10. The curve is common practice.
    """

    setting: str
    source: str = "pressure"
    amount: float = 0.0
    low: float = 0.0
    high: float = 1.0
    gamma: float = 1.0

    def __post_init__(self) -> None:
        checks.one_of("setting", self.setting, DRIVEN)
        checks.one_of("source", self.source, SOURCES)
        checks.number("amount", self.amount, -1, 1)
        checks.number("low", self.low, 0, 0.99)
        checks.number("high", self.high, self.low + 0.01, 1)
        checks.number("gamma", self.gamma, 0.1, 10)

    def factor(self, source: Any) -> Any:
        """The factor 0..1 at a source of 0..1, of any shape."""
        reached = np.clip((np.asarray(source, float) - self.low) / (self.high - self.low), 0, 1)
        curve = (reached if self.amount >= 0 else 1 - reached) ** self.gamma
        return 1 - abs(self.amount) + abs(self.amount) * curve


def factors(drives: tuple[Drive, ...], setting: str, source: Source) -> Any:
    """The product of all that drives a setting: 1, or of shape (n,) if anything does."""
    result: Any = 1.0
    for drive in drives:
        if drive.setting == setting and drive.amount:
            result = result * drive.factor(source(drive.source))
    return result
