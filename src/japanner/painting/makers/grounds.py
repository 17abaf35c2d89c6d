"""What a maker's layers were made from, as one number: light, form, flats, maps, and what is behind or beside."""

from __future__ import annotations

import weakref
from collections.abc import Collection, Iterator, Mapping
from dataclasses import replace
from typing import Any
from zlib import crc32

from japanner.painting.form.forms import albedos, has_pieces
from japanner.painting.makers.base import Maker
from japanner.painting.model import Layer, Painting, Part
from japanner.raster.tiles import Raster
from japanner.types import Tile

__all__ = ["before_run", "grounds_of"]

_tiles: dict[int, tuple[weakref.ref[Any], int]] = {}


def before_run(painting: Painting, part: Part, maker: Maker, run: int) -> Painting:
    """The painting as a run of a maker finds it: without its own layers; those over them are hidden from makers that
    take their colours from what is beneath, but still there for maps.
    """
    line = part.layers
    first = next((i for i, one in enumerate(line) if one.made is not None and one.made.run == run), len(line))
    kept = [
        replace(one, shown=False) if maker.covers and i > first and one.role != "flat" else one
        for i, one in enumerate(line)
        if one.made is None or one.made.run != run
    ]
    return painting.with_part(part.uid, layers=tuple(kept))


def grounds_of(painting: Painting, part: Part, maker: Maker, values: Mapping[str, Any], seeing: Collection[str]) -> int:
    """A number, 1 and above, that stays as long as nothing changes that a run of a maker depends on, and hardly ever
    comes again; the same in every session.

    seeing: makers whose layers show other parts. Of parts in front they do not count: two mirrors that face each other
    would never come to an end.
    """
    total = 0
    for one in _grounds(painting, part, maker, values, seeing):
        total = crc32(one.encode(), total)
    return total or 1


def _grounds(
    painting: Painting, part: Part, maker: Maker, values: Mapping[str, Any], seeing: Collection[str]
) -> Iterator[str]:
    yield repr((maker.name, painting.width, painting.height, painting.light, part.material, part.scale))
    if has_pieces(painting, part):
        yield repr(painting.maquette.unnamed())
        yield repr([(one.part, one.parts) for one in painting.maquette.pieces])
        # Neighbours throw their colours on it.
        yield repr(albedos(painting))
    for layer in part.flats:
        yield _of_layer(layer)
    maps = {values[one.name] for one in maker.settings if one.kind == "map"} - {0}
    if maker.combed:
        maps |= {part.length_map, part.density_map} - {0}
        yield repr(part.comb)
        for other in painting.parts:
            if other.bald and other.uid != part.uid:
                yield from map(_of_layer, other.flats)
    for layer in part.layers:
        if layer.uid in maps:
            yield _of_layer(layer)
    if maker.covers:
        yield from _of_part(part, frozenset())
    if maker.sees:
        yield repr(painting.ground)
        index = painting.parts.index(part)
        for other in painting.parts[:index]:
            yield from _of_part(other, frozenset())
        for other in painting.parts[index + 1 :] if maker.sees == "beside" else ():
            yield from _of_part(other, seeing)


def _of_part(part: Part, without: Collection[str]) -> Iterator[str]:
    """What is seen of a part, without what some makers made."""
    if part.shown:
        yield repr((part.strength, part.material))
        for layer in part.layers:
            if layer.shown and (layer.made is None or layer.made.maker not in without):
                yield _of_layer(layer)


def _of_layer(layer: Layer) -> str:
    mask = None if layer.mask is None else (_of_raster(layer.mask.pixels), layer.mask.ground)
    relief = None if layer.relief is None else (_of_raster(layer.relief.heights), layer.relief.amount)
    return repr(
        (layer.uid, layer.role, layer.place, layer.mode, layer.strength, _of_raster(layer.pixels), mask, relief)
    )


def _of_raster(raster: Raster) -> int:
    total = 0
    for key in sorted(raster.tiles):
        total = crc32(repr((key, _of_tile(raster.tiles[key]))).encode(), total)
    return total


def _of_tile(tile: Tile) -> int:
    """The same tile, which nobody writes on, is asked for again and again."""
    kept = _tiles.get(id(tile))
    if kept is not None and kept[0]() is tile:
        return kept[1]
    number, name = crc32(tile.tobytes()), id(tile)
    _tiles[name] = weakref.ref(tile, lambda _: _tiles.pop(name, None)), number
    return number
