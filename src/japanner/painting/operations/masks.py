"""Masks of layers."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Final

import numpy as np

from japanner import checks
from japanner.errors import InputError
from japanner.painting.form.coverages import mask_sheet
from japanner.painting.model import Layer, Mask, Painting
from japanner.painting.operations.base import Change, affected, areas_of
from japanner.painting.picture.compositor import shown_tile
from japanner.raster.sheets import inverted, softened
from japanner.raster.tiles import Raster, Sheet

__all__ = ["MASK_CHANGES", "AddMask", "ApplyMask", "ChangeMask", "DropMask"]

MASK_CHANGES: Final = ("invert", "soften")


@dataclass(frozen=True)
class AddMask:
    """Give a layer a mask: one that hides nothing, or (`from_frisket`) one that shows what the frisket lets through."""

    op: ClassVar[str] = "add mask"
    layer: int
    from_frisket: bool = False

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        layer = painting.layer(self.layer)
        if layer.mask is not None:
            raise InputError(f"{layer.name} has a mask already")
        mask = Mask(Raster(painting.width, painting.height))
        if self.from_frisket:
            if painting.frisket is None:
                raise InputError("There is no frisket to make a mask from")
            mask = _mask_of(painting.frisket.sheet, ground=0.0)
        return _with_mask(painting, layer, mask, "add mask")


@dataclass(frozen=True)
class ChangeMask:
    """Turn a mask inside out, or soften it by a Gaussian of `px`."""

    op: ClassVar[str] = "change mask"
    layer: int
    change: str
    px: float = 0.0

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        layer, mask = _masked(painting, self.layer)
        if checks.one_of("change", self.change, MASK_CHANGES) == "invert":
            fresh = Mask(_inverted(mask.pixels), 1.0 - mask.ground)
        elif mask.ground:
            # The bare sheet shows: what is softened is what hides, so that the border of the canvas is no edge.
            hidden = softened(inverted(mask_sheet(painting, layer)), self.px)
            fresh = _mask_of(inverted(hidden), ground=1.0)
        else:
            fresh = _mask_of(softened(mask_sheet(painting, layer), self.px), ground=0.0)
        return _with_mask(painting, layer, fresh, f"{self.change} mask")

    def scaled(self, factor: float) -> ChangeMask:
        """The same on a painting `factor` times as large."""
        return replace(self, px=self.px * factor)


@dataclass(frozen=True)
class ApplyMask:
    """Make what the mask hides go for good, and the mask with it."""

    op: ClassVar[str] = "apply mask"
    layer: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        layer, _ = _masked(painting, self.layer)
        tiles = {key: tile for key in layer.pixels.tiles if (tile := shown_tile(layer, key)) is not None}
        fresh = painting.with_layer(layer.uid, pixels=layer.pixels.with_tiles(tiles), mask=None)
        return fresh, Change(f"apply mask of {layer.name}", structure=True)


@dataclass(frozen=True)
class DropMask:
    """Take a mask away: all of the layer shows again."""

    op: ClassVar[str] = "drop mask"
    layer: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        layer, _ = _masked(painting, self.layer)
        return _with_mask(painting, layer, None, "drop mask")


def _masked(painting: Painting, uid: int) -> tuple[Layer, Mask]:
    layer = painting.layer(uid)
    if layer.mask is None:
        raise InputError(f"{layer.name} has no mask")
    return layer, layer.mask


def _with_mask(painting: Painting, layer: Layer, mask: Mask | None, words: str) -> tuple[Painting, Change]:
    part, _ = painting.find(layer.uid)
    change = Change(f"{words} of {layer.name}", areas_of(affected(part, layer)), structure=True)
    return painting.with_layer(layer.uid, mask=mask), change


def _mask_of(sheet: Sheet, ground: float) -> Mask:
    """A mask that shows what a sheet lets through: white paint on black, or black paint on white."""
    cover = inverted(sheet) if ground else sheet
    grey = np.uint16(1 - ground)
    tiles = {key: np.concatenate((tile * grey, tile * grey, tile * grey, tile)) for key, tile in cover.tiles.items()}
    return Mask(Raster(sheet.width, sheet.height).with_tiles(tiles), ground)


def _inverted(pixels: Raster) -> Raster:
    """Neutral paint of the opposite grey."""

    def turned(tile: np.ndarray) -> np.ndarray:
        return np.concatenate((tile[3:] - tile[:3], tile[3:]))

    return pixels.with_tiles({key: turned(tile) for key, tile in pixels.tiles.items()})
