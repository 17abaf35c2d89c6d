"""A stroke while it is being painted: the painting as it looks meanwhile, and the operation that it becomes."""

from __future__ import annotations

import secrets
from collections import ChainMap
from collections.abc import Sequence

from japanner.desk.hand import Colour
from japanner.painting.model import Painting
from japanner.painting.operations import Change, Operation, Stroke, Target, begin_stroke
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush

__all__ = ["LiveStroke"]


class LiveStroke:
    """One stroke of `brush` on a layer of `painting`; nothing has happened until its outcome is committed."""

    def __init__(
        self, painting: Painting, layer: int, brush: Brush, colour: Colour, *, wipe: bool, on: str = "paint"
    ) -> None:
        self._painting, self._layer, self._given = painting, layer, colour
        self.wipes, self._on = wipe, on
        self._seed = secrets.randbits(31)
        self._stroke = begin_stroke(painting, layer, brush, colour, wipe=wipe, on=on, seed=self._seed)
        target = Target.of(painting, layer, on)
        # The stroke's tiles lie before those of the layer.
        tiles = ChainMap(self._stroke.tiles, dict(target.pixels.tiles))
        self.preview = target.with_pixels(Raster(target.pixels.width, target.pixels.height, tiles))
        self.areas: list[Rect] = []

    @property
    def brush(self) -> Brush:
        return self._stroke.brush

    @property
    def colour(self) -> Colour:
        """What the stroke lays: the colour given, or what it has picked up on touch."""
        return self._stroke.colour if self.brush.pick_up else self._given

    def add(self, samples: Sequence[Sequence[float]]) -> list[Rect]:
        """Paint on; the areas that look different now."""
        return self._changed(self._stroke.add(samples))

    def finish(self) -> list[Rect]:
        return self._changed(self._stroke.finish())

    def _changed(self, areas: list[Rect]) -> list[Rect]:
        self.areas += areas
        return areas

    def outcome(self) -> tuple[Operation, Painting, Change] | None:
        """The operation with what it leads to; None if the stroke has changed nothing."""
        if not self._stroke.samples or not self._stroke.tiles:
            return None
        rows = tuple(tuple(sample) for sample in self._stroke.samples)
        operation = Stroke(
            self._layer, self.brush.to_record(), self.colour, rows, wipe=self.wipes, seed=self._seed, on=self._on
        )
        return operation, *operation.finished(self._painting, self._stroke, self.areas)
