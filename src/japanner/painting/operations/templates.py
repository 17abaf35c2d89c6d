"""Parts from another painting: a template that is dropped where it is wanted, with its layers, combs and forms."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass, field, fields, replace
from functools import lru_cache
from typing import Any, ClassVar, Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.model import Layer, Mask, Painting, Part, Relief
from japanner.painting.operations.base import Change, areas_of
from japanner.raster.codec import from_text, to_text
from japanner.raster.resample import placed
from japanner.raster.tiles import Raster, premultiplied, straight
from japanner.strand.comb import Guide
from japanner.types import Colour

__all__ = ["AddParts", "LayerSheet", "PartSheet", "SheetOfPaint", "template_of"]

MOST_PARTS: Final = 100
SMALLEST, LARGEST = 0.01, 50.0
SAME: Final = ("name", "role", "place", "mode", "strength", "shown", "hold_edges")


@dataclass(frozen=True)
class SheetOfPaint:
    """Straight pixels as PNG text, and where their upper left corner lies on the canvas that they come from."""

    data: str
    x: int = 0
    y: int = 0

    @staticmethod
    def of(raster: Raster) -> SheetOfPaint | None:
        """What there is on a sheet; None if it is bare."""
        area = raster.bounds()
        return None if area.empty else SheetOfPaint(to_text(straight(raster.read(area))), area.x0, area.y0)

    def onto(self, painting: Painting, matrix: NDArray[np.float64]) -> Raster:
        """The sheet on a canvas; matrix: from the canvas that it comes from."""
        here = matrix @ np.array(((1, 0, self.x), (0, 1, self.y), (0, 0, 1)), float)
        return placed(_pixels(self.data), here, painting.width, painting.height)


@lru_cache(maxsize=64)
def _pixels(data: str) -> NDArray[np.uint16]:
    """Decoded once while a template is dragged about."""
    found: NDArray[np.uint16] = premultiplied(from_text(data))
    found.setflags(write=False)
    return found


@dataclass(frozen=True)
class LayerSheet:
    """As `Layer`; what a maker made comes as paint."""

    name: str
    role: str
    paint: SheetOfPaint | None = None
    place: str = "body"
    mode: str = "Normal"
    strength: float = 1.0
    shown: bool = True
    hold_edges: bool = False
    mask: SheetOfPaint | None = None
    mask_ground: float | None = None
    heights: SheetOfPaint | None = None
    amount: float = 1.0
    gloss: float = 0.25

    @staticmethod
    def of(layer: Layer) -> LayerSheet:
        same = {name: getattr(layer, name) for name in SAME}
        mask = (None, None) if layer.mask is None else (SheetOfPaint.of(layer.mask.pixels), layer.mask.ground)
        relief = layer.relief
        heights = (
            (None, 1.0, 0.25) if relief is None else (SheetOfPaint.of(relief.heights), relief.amount, relief.gloss)
        )
        return LayerSheet(paint=SheetOfPaint.of(layer.pixels), mask=mask[0], mask_ground=mask[1], heights=heights[0],
                          amount=heights[1], gloss=heights[2], **same)  # fmt: skip

    def onto(self, painting: Painting, uid: int, matrix: NDArray[np.float64]) -> Layer:
        """The layer on a canvas."""
        bare = Raster(painting.width, painting.height)
        pixels = bare if self.paint is None else self.paint.onto(painting, matrix)
        mask = relief = None
        if self.mask_ground is not None:
            mask = Mask(bare if self.mask is None else self.mask.onto(painting, matrix), self.mask_ground)
        if self.heights is not None:
            relief = Relief(self.heights.onto(painting, matrix), self.amount, self.gloss)
        same = {name: getattr(self, name) for name in SAME}
        return Layer(uid, pixels=pixels, mask=mask, relief=relief, **same).relief_scaled(float(matrix[0, 0]))


@dataclass(frozen=True)
class PartSheet:
    """As `Part`, without lines to sketch over and without a kept grid."""

    name: str
    material: str
    layers: tuple[LayerSheet, ...] = ()
    strength: float = 1.0
    shown: bool = True
    scale: tuple[float, float, float, float, float] = Part.scale
    mixed: tuple[tuple[int, int, float, float, float], ...] = ()
    around: Colour | None = None
    comb: tuple[Guide, ...] = ()
    bald: bool = False

    @staticmethod
    def of(part: Part) -> PartSheet:
        same = {one.name: getattr(part, one.name) for one in fields(PartSheet) if one.name != "layers"}
        return PartSheet(layers=tuple(LayerSheet.of(layer) for layer in part.layers), **same)

    def onto(self, painting: Painting, uid: int, matrix: NDArray[np.float64]) -> Part:
        """The part on a canvas; its layers have the numbers after its own."""
        layers = tuple(one.onto(painting, uid + 1 + k, matrix) for k, one in enumerate(self.layers))
        factor, shift = float(matrix[0, 0]), (float(matrix[0, 2]), float(matrix[1, 2]))
        same = {one.name: getattr(self, one.name) for one in fields(self) if one.name not in ("layers", "comb")}
        return Part(uid, layers=layers, comb=tuple(one.scaled(factor, shift) for one in self.comb), **same)


@dataclass(frozen=True)
class AddParts:
    """Drop parts of another painting in front of all others.

    width, height: of the canvas that they come from, whose middle comes to this canvas's, moved by x and y px; times:
    how much larger they are here. maquette: the forms that they stand on, as JSON-ready data, whose pieces name parts
    by their place in `parts`, from 1 on; it is taken over where this painting has none, or one that stands upright.
    """

    op: ClassVar[str] = "add parts"
    parts: tuple[PartSheet, ...]
    width: int
    height: int
    x: float = 0.0
    y: float = 0.0
    times: float = 1.0
    maquette: dict[str, Any] = field(default_factory=dict)

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        checks.integer("number of parts", len(self.parts), 1, MOST_PARTS)
        checks.number("times", self.times, SMALLEST, LARGEST)
        checks.in_range("place", (self.x, self.y), -1e6, 1e6)
        for name in ("width", "height"):
            checks.integer(name, getattr(self, name), 1, 10**6)
        shift = self._shift(painting)
        matrix = np.array(((self.times, 0, shift[0]), (0, self.times, shift[1]), (0, 0, 1)), float)
        uid, fresh = painting.next_uid, list[Part]()
        for one in self.parts:
            fresh.append(one.onto(painting, uid, matrix))
            uid += 1 + len(one.layers)
        maquette = self._joined(painting, [part.uid for part in fresh], shift)
        areas = tuple(dict.fromkeys(areas_of([layer for part in fresh for layer in part.layers])))
        result = replace(painting, parts=(*painting.parts, *fresh), next_uid=uid, maquette=maquette)
        return result, Change("drop a template", areas, structure=True)

    def _shift(self, painting: Painting) -> tuple[float, float]:
        """Where the corner of the other canvas comes to lie; in whole px where nothing is sized."""
        x = painting.width / 2 + self.x - self.times * self.width / 2
        y = painting.height / 2 + self.y - self.times * self.height / 2
        return (float(round(x)), float(round(y))) if self.times == 1 else (x, y)

    def _joined(self, painting: Painting, uids: list[int], shift: tuple[float, float]) -> Maquette:
        if not self.maquette:
            return painting.maquette
        given = Maquette.from_record(self.maquette).scaled(self.times).moved(*shift)
        owned = replace(given, pieces=tuple(_renamed(one, lambda k: uids[k - 1]) for one in given.pieces
                                            if all(1 <= k <= len(uids) for k in one.owners)))  # fmt: skip
        own = painting.maquette
        if not own.pieces:
            return owned
        if any(own.turn) or any(owned.turn):
            return own
        ratio = owned.unit_px / own.unit_px
        away = ((owned.middle[0] - own.middle[0]) / own.unit_px, (own.middle[1] - owned.middle[1]) / own.unit_px, 0.0)
        return replace(own, pieces=(*own.pieces, *(_moved(one, ratio, away) for one in owned.pieces)))

    def scaled(self, factor: float) -> AddParts:
        """The same on a painting `factor` times as large."""
        return replace(self, x=self.x * factor, y=self.y * factor, times=self.times * factor)


def _renamed(piece: Piece, name: Any) -> Piece:
    """A piece whose parts have other numbers."""
    return replace(
        piece, part=name(piece.part) if piece.part else 0, parts=tuple((zone, name(k)) for zone, k in piece.parts)
    )


def _moved(piece: Piece, ratio: float, away: tuple[float, float, float]) -> Piece:
    x, y, z = (a * ratio + b for a, b in zip(piece.place, away, strict=True))
    points = tuple((a * ratio, b * ratio, c * ratio) for a, b, c in piece.points)
    # A figure and a mesh are as large as their size says; other forms measure in units.
    wide, high, deep = (one * ratio for one in piece.size)
    return replace(piece, place=(x, y, z), size=(wide, high, deep), points=points, edge=piece.edge * ratio,
                   blend=piece.blend * ratio)  # fmt: skip


def template_of(painting: Painting, uids: Collection[int]) -> AddParts:
    """Parts of a painting, from back to front, with the forms that they alone stand on; InputError without any."""
    chosen = [part for part in painting.parts if part.uid in uids]
    if not chosen:
        raise InputError("Choose a part: a template is made of parts")
    numbers = {part.uid: k for k, part in enumerate(chosen, 1)}
    pieces = tuple(_pieces_of(painting.maquette, numbers))
    record = replace(painting.maquette, pieces=pieces).to_record() if pieces else {}
    return AddParts(tuple(PartSheet.of(part) for part in chosen), painting.width, painting.height, maquette=record)


def _pieces_of(maquette: Maquette, numbers: dict[int, int]) -> Iterator[Piece]:
    """Pieces that belong to these parts and no others, with the parts' places in the template."""
    for one in maquette.pieces:
        if one.owners and all(uid in numbers for uid in one.owners):
            yield _renamed(one, lambda uid: numbers[uid])
