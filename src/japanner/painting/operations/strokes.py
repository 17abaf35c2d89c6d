"""Strokes."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, ClassVar

from japanner.painting.model import Painting
from japanner.painting.operations.base import Change
from japanner.painting.operations.layer_stroke import LayerStroke
from japanner.raster.geometry import Rect
from japanner.stroke.brush import Brush
from japanner.stroke.pen.samples import samples_from_rows

__all__ = ["Stroke"]


@dataclass(frozen=True)
class Stroke:
    """One stroke; rows are x, y, pressure, tilt x, tilt y, twist, time."""

    op: ClassVar[str] = "stroke"
    layer: int
    brush: dict[str, Any]
    colour: tuple[float, float, float]
    samples: tuple[tuple[float, ...], ...]
    wipe: bool = False
    seed: int = 0
    on: str = "paint"

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        brush = Brush.from_record(self.brush)
        stroke = LayerStroke(painting, self.layer, brush, self.colour, wipe=self.wipe, on=self.on, seed=self.seed)
        areas = stroke.add(samples_from_rows(self.samples)) + stroke.finish()
        return self.finished(stroke, areas)

    def scaled(self, factor: float) -> Stroke:
        """The same on a painting `factor` times as large."""
        brush = Brush.from_record(self.brush).scaled(factor)
        samples = tuple((x * factor, y * factor, *rest) for x, y, *rest in self.samples)
        return replace(self, brush=brush.to_record(), samples=samples)

    def finished(self, stroke: LayerStroke, areas: list[Rect]) -> tuple[Painting, Change]:
        """The painting with a stroke that was painted live; `apply` would give the same bytes."""
        kind = "wipe" if self.wipe else stroke.brush.kind
        return stroke.outcome(), Change(f"{kind} stroke", tuple(areas))
