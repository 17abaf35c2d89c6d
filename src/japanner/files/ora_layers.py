"""The pictures of layers for a painting's file: copied from the file before where they are the same, else made anew."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from typing import Final, TypeVar

import numpy as np
from numpy.typing import NDArray

from japanner.files import png
from japanner.files.container import Piece, Source
from japanner.files.ora_state import LaidState, LayerState, MaskState, PictureState, ReliefState, SpillState
from japanner.files.seen import as_others_see, ground_made_of, seen_made_of, sheets_of, spill_made_of
from japanner.files.stored import MadeOf, Stored
from japanner.painting.model import Layer, Painting, Part
from japanner.raster.geometry import Rect
from japanner.raster.limit import where_other
from japanner.raster.tiles import Raster, straight

__all__ = ["GROUND", "LayerPictures", "WrittenLayer"]

GROUND: Final = "data/ground.png"
AHEAD: Final = 2
"""So many layers may lie ready beyond those that are written: packed they are large."""

Place = TypeVar("Place", bound=PictureState)
Entry = tuple[PictureState, bytes | Piece]


@dataclass(frozen=True)
class WrittenLayer:
    """A layer as the file describes it, and its entries."""

    state: LayerState
    entries: tuple[tuple[str, bytes | Piece], ...]


class LayerPictures:
    """Makes the entries of layers. `stored` knows what lies in `source`; what is made is noted in `fresh`."""

    def __init__(self, stored: Stored, source: Source, fresh: Stored, bits: int) -> None:
        self._stored, self._source, self._fresh, self._bits = stored, source, fresh, bits

    def layers(self, painting: Painting) -> Iterator[WrittenLayer]:
        """All layers, topmost part first, made on all cores."""
        todo = [(layer, part) for part in reversed(painting.parts) for layer in reversed(part.layers)]
        with ThreadPoolExecutor(2, "pictures") as pool:
            waiting = [pool.submit(self._layer, *one) for one in todo[:AHEAD]]
            try:
                for at in range(len(todo)):
                    if at + AHEAD < len(todo):
                        waiting.append(pool.submit(self._layer, *todo[at + AHEAD]))
                    yield waiting.pop(0).result()
            finally:
                for one in waiting:
                    one.cancel()

    def ground(self, painting: Painting) -> bytes | Piece:
        """The bare canvas, which others see as a layer."""

        def made() -> Raster:
            colour = np.rint(np.array((*painting.ground, 1.0)) * 65535).astype(np.uint16)
            pixels = np.broadcast_to(colour[:, None, None], (4, painting.height, painting.width))
            return Raster(painting.width, painting.height).written(0, 0, pixels)

        return self._entry(GROUND, ground_made_of(painting), made)[1]

    def _layer(self, layer: Layer, part: Part) -> WrittenLayer:
        inside: list[Raster] = []

        def seen() -> Raster:
            if not inside:
                inside.append(as_others_see(layer, part))
            return inside[0]

        entries = [self._entry(f"data/layer{layer.uid}.png", seen_made_of(layer, part), seen)]
        spill = self._spill(layer, spill_made_of(layer, part), seen, entries)
        places: dict[str, PictureState] = {}
        for kind, raster in sheets_of(layer).items():
            entries.append(self._entry(f"japanner/{kind}{layer.uid}.png", (kind, raster), partial(_itself, raster)))
            places[kind] = entries[-1][0]
        mask = relief = laid = None
        if layer.mask is not None:
            mask = _placed(places["mask"], MaskState, layer.mask.ground)
        if layer.relief is not None:
            relief = _placed(places["relief"], ReliefState, layer.relief.amount, layer.relief.gloss)
        if "hair" in places:
            laid = LaidState(places["hair"], places["ranks"])
        state = LayerState(
            layer.uid, layer.name, layer.role, layer.place, layer.mode, layer.strength, layer.shown, layer.hold_edges,
            entries[0][0], spill, mask, relief, laid, layer.made,
        )  # fmt: skip
        return WrittenLayer(state, tuple((place.src, data) for place, data in entries))

    def _spill(
        self, layer: Layer, made_of: MadeOf, seen: Callable[[], Raster], entries: list[Entry]
    ) -> SpillState | None:
        """What clipping took from a layer, as an entry of its own; None where that is nothing."""
        known = self._stored.found(made_of)
        taken = None
        if known is None and seen() is not layer.pixels:
            taken = _taken(layer.pixels, seen())
            areas = tuple((a.x0, a.y0, a.x1, a.y1) for a in _areas(taken))
        elif known:
            areas = known.areas
        else:
            self._fresh.note(made_of, False)
            return None
        whole = taken
        place, data = self._entry(
            f"japanner/spill{layer.uid}.png", made_of, lambda: whole or _taken(layer.pixels, seen())
        )
        spill = _placed(place, SpillState, areas)
        self._fresh.note(made_of, spill)
        entries.append((spill, data))
        return spill

    def _entry(self, name: str, made_of: MadeOf, make: Callable[[], Raster]) -> Entry:
        """Where it lies, and its bytes."""
        known: PictureState | None = self._stored.found(made_of)
        piece = None if known is None else self._source.piece(known.src)
        if known is not None and piece is not None:
            place = PictureState(name, known.x, known.y)
            self._fresh.note(made_of, place)
            return place, piece
        raster = make()
        bounds = raster.bounds()
        if bounds.empty:
            bounds = Rect(0, 0, 1, 1)
        place = PictureState(name, bounds.x0, bounds.y0)
        self._fresh.note(made_of, place)
        return place, self._encoded(straight(raster.read(bounds)))

    def _encoded(self, pixels: NDArray[np.uint16]) -> bytes:
        return png.encode(pixels if self._bits == 16 else png.as_8_bit(pixels))


def _itself(raster: Raster) -> Raster:
    return raster


def _placed(place: PictureState, kind: Callable[..., Place], *more: object) -> Place:
    return kind(place.src, place.x, place.y, *more)


def _taken(whole: Raster, inside: Raster) -> Raster:
    """In the tiles that clipping changed, the pixels that it changed, as they were."""
    tiles = {}
    for key, tile in whole.tiles.items():
        kept = inside.tiles.get(key)
        if kept is not tile:
            tiles[key] = tile if kept is None else where_other(tile, kept)
    return Raster(whole.width, whole.height, tiles)


def _areas(raster: Raster) -> list[Rect]:
    """The canvas pixels that a raster's tiles hold: a file must not depend on the size of tiles."""
    return [Rect.of_tile(key).intersected(raster.rect) for key in sorted(raster.tiles)]
