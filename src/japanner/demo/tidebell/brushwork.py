"""The hand that paints Tidebell: a script, its chance, and the few ways in which it lays a stroke."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from japanner.scripting import OnForm, Script, lch, shipped_brush
from japanner.stroke.brush import Brush

__all__ = ["Lch", "Painter", "tapered"]

Lch = tuple[float, float, float]
"""L*, C* and h in degrees, as painters' notes have them."""
Place = Sequence[float] | NDArray[np.floating]
"""A place of the canvas (x, y), or a point on the form (x, y, z)."""


def tapered(brush: str, size_px: float, strength: float, *, edge: float = 0.85, **more: Any) -> Brush:
    """A shipped brush that comes in and goes out softly."""
    settings = {"taper_by": "share", "taper_in": 30.0, "taper_out": 45.0, "edge": edge, **more}
    return shipped_brush(brush).with_changes(size_px=max(size_px, 1.0), strength=min(strength, 1.0), **settings)


@dataclass(eq=False)
class Painter:
    """Lays strokes; `form` is what stands before the canvas now."""

    script: Script
    told: Callable[[], None] = lambda: None
    rng: np.random.Generator = field(default_factory=lambda: np.random.default_rng(7))
    form: OnForm | None = None
    _count: int = 0

    def seen(self, place: Place) -> tuple[float, float]:
        """A place on the canvas, whichever way it is given."""
        if len(place) == 2:
            return float(place[0]), float(place[1])
        assert self.form is not None
        return self.form.at(place)

    def stroke(self, layer: int, brush: Brush, colour: Lch, rows: Sequence[Place], **more: Any) -> None:
        """One stroke; rows are x, y, pressure."""
        self._count += 1
        self.script.stroke(layer, brush, lch(*colour), rows, seed=self._count, **more)
        if self._count % 50 == 0:
            self.told()

    def line(
        self, layer: int, brush: Brush, colour: Lch, places: Sequence[Place] | NDArray[np.floating],
        pressures: Sequence[float] = (1.0,), shake: float = 0.0,
    ) -> None:  # fmt: skip
        """A stroke through places, with pressures shared out along it and a hand that is not a ruler."""
        share = np.linspace(0, 1, len(pressures))
        rows = [
            (*(np.array(self.seen(one)) + shake * self.rng.standard_normal(2)).tolist(),
             float(np.interp(at, share, pressures)))
            for at, one in zip(np.linspace(0, 1, len(places)), places, strict=True)
        ]  # fmt: skip
        self.stroke(layer, brush, colour, rows)

    def veil(
        self, layer: int, colour: Lch, start: Place, end: Place, size_px: float, strength: float, wipe: bool = False
    ) -> None:
        """One soft broad stroke, a glaze."""
        (x0, y0), (x1, y1) = self.seen(start), self.seen(end)
        mop = shipped_brush("Mop").with_changes(size_px=size_px, strength=strength)
        self.stroke(layer, mop, colour, [(x0, y0, 1.0), ((x0 + x1) / 2, (y0 + y1) / 2, 1.0), (x1 + 1, y1 + 1, 1.0)],
                    wipe=wipe)  # fmt: skip

    def broken(
        self, layer: int, colour: Lch, start: Place, end: Place, size_px: float, strength: float, spread: float = 0.0,
        dabs: int = 5, wipe: bool = False,
    ) -> None:  # fmt: skip
        """Soft dabs along a line on the form, uneven in place, size and value, so that no edge of one is seen."""
        rng, a, b = self.rng, np.array(start, float), np.array(end, float)
        for k in range(dabs):
            at = a + (b - a) * (k + float(rng.uniform(-0.3, 0.3))) / (dabs - 1)
            size = size_px * float(rng.uniform(0.65, 1.1))
            shaken = (float(colour[0] + rng.normal(0, spread)), colour[1], float(colour[2] + 2 * rng.normal(0, 1)))
            off = 0.13 * size_px * rng.standard_normal(2)
            x, y = np.array(self.seen(at)) + off
            tx, ty = np.array(self.seen(at + (b - a) * 0.12)) + off
            mop = shipped_brush("Mop").with_changes(size_px=size, strength=strength * 0.55)
            shaken = (min(max(shaken[0], 1.0), 100.0), shaken[1], shaken[2])
            self.stroke(layer, mop, shaken, [(x, y, 1.0), (tx, ty, 1.0)], wipe=wipe)
