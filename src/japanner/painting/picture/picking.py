"""Picking up a colour: the mean, in linear light, of a few pixels of the picture or of a layer."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.color import srgb
from japanner.painting.model import Painting, Part
from japanner.painting.picture.compositor import Compositor, plan, silhouette_tile
from japanner.raster.geometry import TILE, Rect
from japanner.types import Colour

__all__ = ["PICK_AREAS", "PICK_SOURCES", "below", "mean_colour", "part_at", "picked", "picked_inside"]


PICK_AREAS: Final = (1, 5, 15, 31)
PICK_SOURCES: Final = ("visible", "layer")
HALF_COVERED: Final = 32767
WHOLLY_COVERED: Final = 0.98


def picked(painting: Painting, x: float, y: float, source: str, layer: int, side: int) -> Colour | None:
    """The encoded mean colour of `side` x `side` px about a canvas position; None off the canvas or on no paint.

    source: "visible", all that shows, or "layer", the paint of `layer` alone.
    """
    checks.one_of("source", source, PICK_SOURCES)
    checks.integer("side", side, 1, TILE)
    left, top = math.floor(x) - side // 2, math.floor(y) - side // 2
    area = Rect(left, top, left + side, top + side).intersected(painting.rect)
    if area.empty or not (0 <= x < painting.width and 0 <= y < painting.height):
        return None
    if source == "layer":
        return mean_colour(painting.layer(layer).pixels.read(area).astype(np.float64) / 65535)
    return mean_colour(_visible(painting, area))


def picked_inside(painting: Painting, x: float, y: float, part: Part, side: int) -> Colour | None:
    """The encoded mean colour of what shows about a canvas position as far as a part's silhouette covers it, and none
    of what lies outside; None where it covers nothing there.
    """
    left, top = math.floor(x) - side // 2, math.floor(y) - side // 2
    area = Rect(left, top, left + side, top + side).intersected(painting.rect)
    if area.empty:
        return None
    cover = np.zeros((area.height, area.width))
    for key, local in area.tiles():
        tile = silhouette_tile(part, key)
        if tile is not None:
            at = local.moved(key[1] * TILE - area.x0, key[0] * TILE - area.y0)
            cover[at.y0 : at.y1, at.x0 : at.x1] = tile[local.y0 : local.y1, local.x0 : local.x1]
    # A pixel that is partly outside shows what is there, too.
    return mean_colour(_visible(painting, area) * (cover >= WHOLLY_COVERED))


def below(painting: Painting, layer: int, x: float, y: float) -> Colour | None:
    """The encoded colour at a canvas position of what lies under a layer; None off the canvas."""
    part, held = painting.find(layer)
    index = next(i for i, one in enumerate(painting.parts) if one.uid == part.uid)
    under = replace(part, layers=part.layers[: part.layers.index(held)])
    return picked(replace(painting, parts=(*painting.parts[:index], under)), x, y, "visible", 0, 1)


def mean_colour(pixels: NDArray[np.float64]) -> Colour | None:
    """The encoded mean, in linear light, of premultiplied encoded pixels (4, h, w), weighted by coverage."""
    cover = pixels[3]
    total = float(cover.sum())
    if total <= 0:
        return None
    straight = np.where(cover > 0, pixels[:3] / np.maximum(cover, 1e-9), 0)
    light = (srgb.decode(np.clip(straight, 0, 1)) * cover).reshape(3, -1).sum(axis=1) / total
    r, g, b = (float(v) for v in srgb.encode(np.clip(light, 0, 1)))
    return r, g, b


def _visible(painting: Painting, area: Rect) -> NDArray[np.float64]:
    steps, compositor = plan(painting), Compositor()
    out = np.empty((4, area.height, area.width))
    for key, local in area.tiles():
        acc = compositor.tile(painting, steps, key, local)
        at = local.moved(key[1] * TILE - area.x0, key[0] * TILE - area.y0)
        out[:, at.y0 : at.y1, at.x0 : at.x1] = acc[:, local.y0 : local.y1, local.x0 : local.x1]
    return out


def part_at(painting: Painting, x: float, y: float) -> Part | None:
    """The foremost shown part whose silhouette covers most of the pixel at a canvas position; None on the ground."""
    if not (0 <= x < painting.width and 0 <= y < painting.height):
        return None
    column, row = math.floor(x), math.floor(y)
    key = (row // TILE, column // TILE)
    for part in reversed(painting.parts):
        for layer in part.flats if part.shown else ():
            tile = layer.pixels.tiles.get(key)
            if tile is not None and tile[3, row % TILE, column % TILE] > HALF_COVERED:
                return part
    return None
