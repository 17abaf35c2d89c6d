"""Frisket shapes: from the record of how one was drawn to what it lets through."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, Final

import numpy as np

from japanner import checks
from japanner.errors import InputError
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.picture.compositor import shown_tile, silhouette_tile
from japanner.painting.picture.reference import difference_from
from japanner.raster.fill import colour_coverage, flooded
from japanner.raster.shapes import box_outline, curve_outline, enclosed, oval_outline
from japanner.raster.sheets import full
from japanner.raster.tiles import Sheet

__all__ = ["SHAPES", "layer_sheet", "mask_sheet", "shape_sheet", "silhouette_sheet"]

Record = Mapping[str, Any]


def shape_sheet(painting: Painting, shape: Record) -> Sheet:
    """The coverage of a shape: a record with its kind under "shape" and the kind's own fields (see `SHAPES`)."""
    if not isinstance(shape, Mapping):
        raise InputError(f"shape: expected a record, got {checks.shown(shape)}")
    kind = checks.one_of("shape", shape.get("shape", ""), SHAPES)
    make, fields = SHAPES[kind]
    values = {name: value for name, value in shape.items() if name != "shape"}
    if set(values) != set(fields):
        raise InputError(f"shape {kind}: expected {', '.join(fields) or 'no fields'}, got {', '.join(sorted(values))}")
    sheet = make(painting, **values)
    if not sheet.tiles:
        raise InputError("The frisket would let nothing through; nothing has changed")
    return sheet


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


def _oval(painting: Painting, x0: float, y0: float, x1: float, y1: float) -> Sheet:
    return enclosed(oval_outline(x0, y0, x1, y1), painting.width, painting.height)


def _box(painting: Painting, x0: float, y0: float, x1: float, y1: float) -> Sheet:
    return enclosed(box_outline(x0, y0, x1, y1), painting.width, painting.height)


def _outline(painting: Painting, points: Any) -> Sheet:
    return enclosed(points, painting.width, painting.height)


def _curve(painting: Painting, nodes: Any) -> Sheet:
    return enclosed(curve_outline(nodes), painting.width, painting.height)


def _colour(
    painting: Painting, x: float, y: float, tolerance: float, reference: str, layer: int, connected: bool
) -> Sheet:
    checks.number("tolerance", tolerance, 0, 200)
    difference = difference_from(painting, x, y, reference, layer)
    if not connected:
        return Sheet.of(colour_coverage(difference, tolerance), 0, 0, painting.width, painting.height)
    region, area = flooded(difference, int(x), int(y), tolerance=tolerance)
    return Sheet.of_codes(region, area, painting.width, painting.height)


def _layer(painting: Painting, layer: int) -> Sheet:
    return layer_sheet(painting, painting.layer(layer))


def _mask(painting: Painting, layer: int) -> Sheet:
    return mask_sheet(painting, painting.layer(layer))


def _silhouette(painting: Painting, part: int) -> Sheet:
    return silhouette_sheet(painting, painting.part(part))


def _all(painting: Painting) -> Sheet:
    return full(painting.width, painting.height)


Make = Callable[..., Sheet]
CORNERS: Final = ("x0", "y0", "x1", "y1")
SHAPES: Final[dict[str, tuple[Make, tuple[str, ...]]]] = {
    "oval": (_oval, CORNERS),
    "box": (_box, CORNERS),
    "outline": (_outline, ("points",)),
    "curve": (_curve, ("nodes",)),
    "colour": (_colour, ("x", "y", "tolerance", "reference", "layer", "connected")),
    "layer": (_layer, ("layer",)),
    "mask": (_mask, ("layer",)),
    "silhouette": (_silhouette, ("part",)),
    "all": (_all, ()),
}
