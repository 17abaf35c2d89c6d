"""Layers as other readers of OpenRaster see them, and what that follows from."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from japanner.files.ora_state import LayerState, PaintingState, PictureState
from japanner.files.stored import MadeOf, Stored
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.picture.compositor import FREE, limit_tile, shown_tile
from japanner.raster.geometry import Key
from japanner.raster.limit import held_in
from japanner.raster.tiles import Raster
from japanner.types import Tile

__all__ = ["as_others_see", "ground_made_of", "seen_made_of", "sheets_of", "spill_made_of", "stored_as"]


def as_others_see(layer: Layer, part: Part) -> Raster:
    """The layer's pixels through its mask, inside the silhouette; the same raster if that takes nothing away."""
    pixels = layer.pixels
    if layer.mask is not None:
        pixels = pixels.with_tiles({key: tile for key in pixels.tiles if (tile := shown_tile(layer, key)) is not None})
    return _clipped(pixels, layer, part) if _held(layer, part) else pixels


def _held(layer: Layer, part: Part) -> bool:
    return layer.place == "body" and layer.role not in FREE and bool(part.flats)


def _clipped(pixels: Raster, layer: Layer, part: Part) -> Raster:
    fresh: dict[Key, Tile] = {}
    for key, tile in pixels.tiles.items():
        coverage = limit_tile(part, layer, key)
        cut = Raster.EMPTY if coverage is None else held_in(tile, coverage)
        if cut is not tile:
            fresh[key] = cut
    return pixels.with_tiles(fresh) if fresh else pixels


def seen_made_of(layer: Layer, part: Part) -> MadeOf:
    """All that `as_others_see` looks at."""
    made_of = ["seen", *_paint(layer)]
    if _held(layer, part):
        line = part.standing("body")
        edges = (one for one in line[: line.index(layer)] if one.role == "edge")
        for one in (*part.flats, *edges):
            made_of += (*_paint(one), one.strength, one.shown)
    return tuple(made_of)


def _paint(layer: Layer) -> tuple[Any, ...]:
    return (layer.pixels,) if layer.mask is None else (layer.pixels, layer.mask.pixels, layer.mask.ground)


def spill_made_of(layer: Layer, part: Part) -> MadeOf:
    """What clipping took from a layer follows from the same."""
    return ("spill", *seen_made_of(layer, part))


def ground_made_of(painting: Painting) -> MadeOf:
    """What the picture of the bare canvas follows from."""
    return ("ground", painting.width, painting.height, *painting.ground)


def sheets_of(layer: Layer) -> dict[str, Raster]:
    """The rasters that a file holds of a layer beside its paint, by kind."""
    found = {} if layer.mask is None else {"mask": layer.mask.pixels}
    if layer.relief is not None:
        found["relief"] = layer.relief.heights
    if layer.laid is not None and (there := layer.laid.settled(layer.pixels)) is not None:
        found["hair"], found["ranks"] = there.paint, there.ranks
    return found


def stored_as(painting: Painting, state: PaintingState, path: Path) -> Stored:
    """What lies in the file that a painting was just read from."""
    stored = Stored(path)
    stored.note(ground_made_of(painting), PictureState("data/ground.png", 0, 0))
    for part, described in zip(painting.parts, state.parts, strict=True):
        for layer, one in zip(part.layers, described.layers, strict=True):
            _note_layer(stored, layer, part, one)
    return stored


def _note_layer(stored: Stored, layer: Layer, part: Part, state: LayerState) -> None:
    stored.note(seen_made_of(layer, part), state.picture)
    stored.note(spill_made_of(layer, part), state.spill or False)
    places: dict[str, PictureState | None] = {"mask": state.mask, "relief": state.relief}
    if state.laid is not None:
        places |= {"hair": state.laid.hair, "ranks": state.laid.ranks}
    for kind, raster in sheets_of(layer).items():
        if (place := places[kind]) is not None:
            stored.note((kind, raster), place)
