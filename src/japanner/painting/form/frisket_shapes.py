"""Frisket shapes: from the record of how one was drawn to what it lets through."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, Final

import numpy as np

from japanner import checks
from japanner.errors import InputError
from japanner.light.rays.contours import reached
from japanner.painting.form.coverages import layer_sheet, mask_sheet, silhouette_sheet
from japanner.painting.form.forms import seen_of
from japanner.painting.model import Painting
from japanner.painting.picture.reference import difference_from
from japanner.raster.fill import colour_coverage, flooded
from japanner.raster.shapes import box_outline, curve_outline, enclosed, oval_outline
from japanner.raster.sheets import full
from japanner.raster.tiles import Sheet

__all__ = ["SHAPES", "shape_sheet"]

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


def _form(painting: Painting, x: float, y: float, reach: float) -> Sheet:
    checks.number("reach", reach, 1, 20000)
    column, row = (int(checks.number(name, one, 0, most - 1e-6))
                   for name, one, most in (("x", x, painting.width), ("y", y, painting.height)))  # fmt: skip
    found = seen_of(painting)
    if not found.seen[row, column]:
        raise InputError("Nothing of the maquette is seen there")
    away = reached(found, painting.maquette, row, column, reach)
    # Whole up to two thirds of the way, and none at its end.
    inside = np.clip(3 * (1 - away / np.float32(reach)), 0, 1)
    return Sheet.of(inside * inside * (3 - 2 * inside), 0, 0, painting.width, painting.height)


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
    "form": (_form, ("x", "y", "reach")),
    "all": (_all, ()),
}
