"""How a layer's relief shows."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np

from japanner import checks
from japanner.errors import InputError
from japanner.light.relief import THICKEST_PX
from japanner.painting.form.forms import form_of
from japanner.painting.model import MOST_AMOUNT, Painting, Relief
from japanner.painting.operations.base import Change, affected, areas_of
from japanner.raster.tiles import Raster

__all__ = ["DropRelief", "FormRelief", "SetRelief"]


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
class FormRelief:
    """Raise a layer's paint as the part's form does (`japanner.painting.form.forms`), by so many px at the most: in
    place of the thickness that it had.
    """

    op: ClassVar[str] = "relief from form"
    layer: int
    high: float = 6.0

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        checks.number("high", self.high, 0.1, THICKEST_PX)
        part, layer = painting.find(self.layer)
        form = form_of(painting, part)
        heights = form.height - form.height[form.cover > 0].min()
        share = heights / max(float(heights[form.cover > 0].max()), 1e-6) * (self.high / THICKEST_PX)
        codes = np.zeros((4, *share.shape), np.uint16)
        codes[3] = np.rint(np.clip(share, 0, 1) * form.cover * 65535)
        raster = Raster(painting.width, painting.height).written(form.area.x0, form.area.y0, codes)
        relief = replace(layer.relief or Relief(raster), heights=raster)
        change = Change(f"relief of {layer.name} from the form", areas_of(affected(part, layer)), structure=True)
        return painting.with_layer(layer.uid, relief=relief), change

    def scaled(self, factor: float) -> FormRelief:
        """The same on a painting `factor` times as large."""
        return replace(self, high=min(max(self.high * factor, 0.1), THICKEST_PX))


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
