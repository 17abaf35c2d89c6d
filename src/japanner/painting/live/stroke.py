"""A stroke while it is being painted: the painting as it looks meanwhile, and the operation that it becomes."""

from __future__ import annotations

import secrets
from collections.abc import Sequence

from japanner.painting.model import Painting
from japanner.painting.operations import Change, Operation, Stroke
from japanner.painting.operations.layer_stroke import LayerStroke
from japanner.raster.geometry import Rect
from japanner.stroke.brush import Brush
from japanner.stroke.pen.steadying import Steady, assisted
from japanner.types import Colour

__all__ = ["LiveStroke"]


class LiveStroke:
    """One stroke of `brush` on a layer of `painting`; nothing has happened until its outcome is committed."""

    def __init__(
        self, painting: Painting, layer: int, brush: Brush, colour: Colour, *, wipe: bool, on: str = "paint",
        lag_ms: float = 0.0, assist: str = "free", seed: int | None = None, px: float = 1.0,
        unseen: bool = False,
    ) -> None:  # fmt: skip
        """lag_ms, assist: how the hand is steadied; see `japanner.stroke.pen.steadying`. seed: of all that is left to
        chance, None for any. px: how many px of the canvas the hand is on one here stands for. unseen: nobody looks
        before it ends.
        """
        self._painting, self._layer, self._given = painting, layer, colour
        self.wipes, self.on, self._px, self._unseen = wipe, on, px, unseen
        self.seed = secrets.randbits(31) if seed is None else seed
        self._steady, self._assist = Steady(lag_ms), assist
        self._stroke = self._begun(brush)
        self.areas: list[Rect] = []

    def _begun(self, brush: Brush) -> LayerStroke:
        stroke = LayerStroke(
            self._painting,
            self._layer,
            brush,
            self._given,
            wipe=self.wipes,
            on=self.on,
            seed=self.seed,
            px=self._px,
            unseen=self._unseen,
        )
        self.preview = stroke.preview()
        return stroke

    @property
    def layer(self) -> int:
        """The uid of the layer that it is on."""
        return self._layer

    @property
    def brush(self) -> Brush:
        return self._stroke.brush

    @property
    def colour(self) -> Colour:
        """What the stroke lays: the colour given, or what it has picked up on touch."""
        return self._stroke.colour if self.brush.pick_up else self._given

    def add(self, samples: Sequence[Sequence[float]]) -> list[Rect]:
        """Paint on; the areas that look different now."""
        return self._changed(self._stroke.add(self._steady.follow(samples)))

    def finish(self) -> list[Rect]:
        """The pen is lifted: the brush catches up with it, and an assist puts the stroke right."""
        areas = self._stroke.add(self._steady.end()) + self._stroke.finish()
        if self._assist != "free":
            drawn = self._stroke.samples
            self._stroke = self._begun(self.brush)
            areas += self.areas + self._stroke.add(assisted(drawn, self._assist)) + self._stroke.finish()
        return self._changed(areas)

    def _changed(self, areas: list[Rect]) -> list[Rect]:
        self.areas += areas
        return areas

    def outcome(self) -> tuple[Operation, Painting, Change] | None:
        """The operation with what it leads to; None if the stroke has changed nothing."""
        if not self._stroke.changes:
            return None
        rows = tuple(tuple(sample) for sample in self._stroke.samples)
        operation = Stroke(
            self._layer, self.brush.to_record(), self.colour, rows, wipe=self.wipes, seed=self.seed, on=self.on
        )
        return operation, *operation.finished(self._stroke, self.areas)
