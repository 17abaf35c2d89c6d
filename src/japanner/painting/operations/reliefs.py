"""How a layer's relief shows."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar

from japanner.errors import InputError
from japanner.painting.model import MOST_AMOUNT, Painting, Relief
from japanner.painting.operations.base import Change, affected, areas_of
from japanner.raster.tiles import Raster

__all__ = ["DropRelief", "SetRelief"]


@dataclass(frozen=True)
class SetRelief:
    """Set how strongly a layer's relief shows and how it shines; a layer without one gets a bare one to lay on."""

    op: ClassVar[str] = "set relief"
    layer: int
    amount: float = Relief.amount
    gloss: float = Relief.gloss

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, layer = painting.find(self.layer)
        relief = layer.relief or Relief(Raster(painting.width, painting.height))
        fresh = replace(relief, amount=self.amount, gloss=self.gloss)
        change = Change(f"relief of {layer.name}", areas_of(affected(part, layer)), structure=True)
        return painting.with_layer(layer.uid, relief=fresh), change

    def scaled(self, factor: float) -> SetRelief:
        """The same on a painting `factor` times as large."""
        return replace(self, amount=min(self.amount * factor, MOST_AMOUNT))


@dataclass(frozen=True)
class DropRelief:
    """Take the thickness of a layer's paint away: it lies flat."""

    op: ClassVar[str] = "drop relief"
    layer: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, layer = painting.find(self.layer)
        if layer.relief is None:
            raise InputError(f"{layer.name} has no relief")
        change = Change(f"drop relief of {layer.name}", areas_of(affected(part, layer)), structure=True)
        return painting.with_layer(layer.uid, relief=None), change
