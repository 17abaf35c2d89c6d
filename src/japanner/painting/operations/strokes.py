"""Strokes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from japanner.painting.compositor import Compositor, plan
from japanner.painting.model import Painting
from japanner.painting.operations.base import Change, Target
from japanner.painting.picking import picked
from japanner.raster.accumulate import Accumulator
from japanner.raster.geometry import Key, Rect
from japanner.stroke.brush import Brush
from japanner.stroke.engine import StrokeInProgress
from japanner.stroke.samples import samples_from_rows

Colour = tuple[float, float, float]
# What a brush that picks up on touch takes: the mean of so many px square.
TOUCH_PX = 5

__all__ = ["Stroke", "begin_stroke"]


def begin_stroke(
    painting: Painting, layer: int, brush: Brush, colour: Any, *, wipe: bool = False, on: str = "paint", seed: int = 0
) -> StrokeInProgress:
    """A stroke on a layer of the painting or on its mask, ready for samples.

    The picture under it is read only if needed.
    """
    compositor, target = Compositor(), Target.of(painting, layer, on)

    def visible(key: Key) -> Accumulator:
        return compositor.tile(painting, plan(painting), key)

    colour = target.colour(colour)
    warp = target.layer.warp if on == "paint" else None

    def pick(x: float, y: float) -> Colour | None:
        found = picked(painting, x, y, "visible", layer, TOUCH_PX)
        return None if found is None else target.colour(found)

    scale = painting.find(layer)[0].scale
    return StrokeInProgress(
        target.pixels, brush, colour,
        wipe=wipe, seed=seed, visible=visible, limit=target.limit, warp=warp, steps=scale, pick=pick,
    )  # fmt: skip


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
        stroke = begin_stroke(painting, self.layer, brush, self.colour, wipe=self.wipe, on=self.on, seed=self.seed)
        areas = stroke.add(samples_from_rows(self.samples)) + stroke.finish()
        return self.finished(painting, stroke, areas)

    def finished(self, painting: Painting, stroke: StrokeInProgress, areas: list[Rect]) -> tuple[Painting, Change]:
        """The painting with a stroke that was painted live; `apply` would give the same bytes."""
        kind = "wipe" if self.wipe else stroke.brush.kind
        result = stroke.result()
        fresh = Target.of(painting, self.layer, self.on).with_pixels(result, stroke.warp(result))
        return fresh, Change(f"{kind} stroke", tuple(areas))
