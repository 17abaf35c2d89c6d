"""The practice pen: pressure for a mouse, a finger, or a test."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from japanner import checks
from japanner.stroke.pen.samples import PenSample

__all__ = ["PRESSURE_FROM", "PracticePen", "PracticePenSettings"]

PRESSURE_FROM: Final = ("fixed", "speed", "taper")


@dataclass(frozen=True)
class PracticePenSettings:
    """Where pressure comes from.

    fixed: always `pressure`. speed: full when the hand is slow, falling to a fifth at `fast_px_ms`.
    taper: grows from a fifth to `pressure` over the first `taper_px` of the stroke. tilt_deg: how far the pen leans
    from upright; lean_deg: where to, from the right against the clock.
    """

    source: str = "fixed"
    pressure: float = 0.7
    fast_px_ms: float = 6.0
    taper_px: float = 80.0
    tilt_deg: float = 0.0
    lean_deg: float = 0.0

    def __post_init__(self) -> None:
        checks.one_of("source", self.source, PRESSURE_FROM)
        checks.number("pressure", self.pressure, 0.01, 1)
        checks.number("fast_px_ms", self.fast_px_ms, 0.1, 100)
        checks.number("taper_px", self.taper_px, 1, 5000)
        checks.number("tilt_deg", self.tilt_deg, 0, 80)
        checks.number("lean_deg", self.lean_deg, -180, 180)


class PracticePen:
    """Turns positions with times into pen samples; one per stroke."""

    SMOOTHING_MS: Final = 40.0

    def __init__(self, settings: PracticePenSettings) -> None:
        self._settings = settings
        self._last: PenSample | None = None
        self._run_px = 0.0

    def sample(self, x: float, y: float, time_ms: float) -> PenSample:
        """The sample for canvas position (x, y) px at `time_ms`."""
        pressure = self._settings.pressure
        if self._last is not None:
            self._run_px += math.hypot(x - self._last.x, y - self._last.y)
        if self._settings.source == "taper":
            pressure *= 0.2 + 0.8 * min(self._run_px / self._settings.taper_px, 1.0)
        elif self._settings.source == "speed":
            pressure = self._from_speed(x, y, time_ms)
        lean = math.radians(self._settings.lean_deg)
        tilt_x, tilt_y = self._settings.tilt_deg * math.cos(lean), -self._settings.tilt_deg * math.sin(lean)
        self._last = PenSample(x, y, pressure, tilt_x, tilt_y, time_ms=time_ms)
        return self._last

    def _from_speed(self, x: float, y: float, time_ms: float) -> float:
        if self._last is None:
            return self._settings.pressure * 0.6
        elapsed = max(time_ms - self._last.time_ms, 1.0)
        speed = math.hypot(x - self._last.x, y - self._last.y) / elapsed
        target = self._settings.pressure * (1 - 0.8 * min(speed / self._settings.fast_px_ms, 1.0))
        # Exponential smoothing: a step is taken to 1 - 1/e after SMOOTHING_MS.
        return self._last.pressure + (1 - math.exp(-elapsed / self.SMOOTHING_MS)) * (target - self._last.pressure)
