"""What parts, layers and masks cover, as sheets."""

from __future__ import annotations

import numpy as np

from japanner.errors import InputError
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.picture.compositor import shown_tile, silhouette_tile
from japanner.raster.sheets import full
from japanner.raster.tiles import Sheet

__all__ = ["layer_sheet", "mask_sheet", "silhouette_sheet"]


def silhouette_sheet(painting: Painting, part: Part) -> Sheet:
    """The part's silhouette; InputError if it has none."""
    keys = {key for layer in part.flats for key in layer.pixels.tiles}
    tiles = {key: np.rint(cover * 65535).astype(np.uint16)[None] for key in keys
             if (cover := silhouette_tile(part, key)) is not None}  # fmt: skip
    sheet = Sheet(painting.width, painting.height).with_tiles(tiles)
    if not sheet.tiles:
        raise InputError(f"{part.name} has no silhouette yet: nothing is on its flat")
    return sheet


def layer_sheet(painting: Painting, layer: Layer) -> Sheet:
    """The coverage of the layer's paint; InputError if there is none."""
    tiles = {key: tile[3:].copy() for key in layer.pixels.tiles if (tile := shown_tile(layer, key)) is not None}
    if not tiles:
        raise InputError(f"There is no paint on {layer.name}")
    return Sheet(painting.width, painting.height).with_tiles(tiles)


def mask_sheet(painting: Painting, layer: Layer) -> Sheet:
    """What the layer's mask lets through."""
    mask = layer.mask
    if mask is None:
        raise InputError(f"{layer.name} has no mask")
    bare = full(painting.width, painting.height) if mask.ground else Sheet(painting.width, painting.height)
    # Neutral paint, and the bare sheet as far as it is not covered; beyond the canvas there is neither.
    fresh = {
        key: tile[1:2] + bare.tile(key) - np.minimum(bare.tile(key), tile[3:])
        for key, tile in mask.pixels.tiles.items()
    }
    return bare.with_tiles(fresh)
