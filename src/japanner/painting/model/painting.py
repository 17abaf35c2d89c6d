"""The painting: frozen values that share what they do not change."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from typing import Any, Final

from japanner import checks
from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.painting.model.landmarks import Landmarks
from japanner.painting.model.layer import Layer
from japanner.painting.model.light import Light
from japanner.painting.model.measure import MOST_MEASURES, Measure
from japanner.painting.model.part import Part
from japanner.raster.geometry import Rect
from japanner.raster.tiles import LONGEST_SIDE, Raster, Sheet
from japanner.stroke.engine import checked_colour

__all__ = ["LARGEST_AREA_PX", "Frisket", "Painting", "Pinned"]

LARGEST_AREA_PX: Final = 200_000_000


@dataclass(frozen=True, eq=False)
class Frisket:
    """The temporary limit to where paint goes. curve: the nodes it was drawn from, if it can be edited as a curve."""

    sheet: Sheet
    curve: tuple[tuple[float, ...], ...] = ()


@dataclass(frozen=True)
class Pinned:
    """A picture on the reference board, as PNG data. link: the file that it shows, whose copy the data are; width,
    height: of the picture in that file, which places on it count in; 0: as the data.
    """

    name: str
    data: bytes
    link: str = ""
    width: int = 0
    height: int = 0

    def __post_init__(self) -> None:
        checks.text("name", self.name, 80)
        if self.link:
            checks.text("link", self.link, 4000)
            checks.integer("width", self.width, 1, LONGEST_SIDE)
            checks.integer("height", self.height, 1, LONGEST_SIDE)


@dataclass(frozen=True, eq=False)
class Painting:
    """The document.

    ground: encoded colour behind everything; parts stand from back to front. board: pictures to look at while
    painting. landmarks, measures: those on the canvas, and on pictures of the board.
    """

    width: int
    height: int
    ppi: float = 300.0
    title: str = "Untitled"
    ground: tuple[float, float, float] = (0.30, 0.29, 0.28)
    light: Light = field(default_factory=Light)
    parts: tuple[Part, ...] = ()
    next_uid: int = 1
    frisket: Frisket | None = None
    board: tuple[Pinned, ...] = ()
    maquette: Maquette = field(default_factory=Maquette)
    landmarks: tuple[Landmarks, ...] = ()
    measures: tuple[Measure, ...] = ()

    def __post_init__(self) -> None:
        checks.integer("width", self.width, 1, LONGEST_SIDE)
        checks.integer("height", self.height, 1, LONGEST_SIDE)
        if self.width * self.height > LARGEST_AREA_PX:
            raise InputError(
                f"width x height: expected at most {LARGEST_AREA_PX / 1e6:.0f} Mpx, "
                f"got {self.width * self.height / 1e6:.0f} Mpx"
            )
        checks.number("ppi", self.ppi, 1, 10000)
        checks.integer("number of lines that measure", len(self.measures), 0, MOST_MEASURES)
        checks.text("title", self.title, 200)
        checked_colour(self.ground)

    @property
    def rect(self) -> Rect:
        return Rect(0, 0, self.width, self.height)

    def layers(self) -> Iterator[tuple[Part, Layer]]:
        for part in self.parts:
            for layer in part.layers:
                yield part, layer

    def rasters(self) -> Iterator[tuple[object, Raster]]:
        """Every raster of the painting with a name that stays the same from version to version."""
        for _, layer in self.layers():
            for name, raster in layer.rasters():
                yield (layer.uid, name), raster
        if self.frisket is not None:
            yield "frisket", self.frisket.sheet

    def settled(self) -> Painting:
        """The painting without memory of how nudges came about: as a file holds it."""
        settled = [tuple(layer.settled() for layer in part.layers) for part in self.parts]
        if all(one is layer for part, fresh in zip(self.parts, settled, strict=True)
               for one, layer in zip(fresh, part.layers, strict=True)):  # fmt: skip
            return self
        parts = (replace(part, layers=layers) for part, layers in zip(self.parts, settled, strict=True))
        return replace(self, parts=tuple(parts))

    def landmarks_on(self, picture: str = "") -> Landmarks:
        """The landmarks of a picture of the board, or of the canvas."""
        return next((one for one in self.landmarks if one.picture == picture), Landmarks(picture))

    def part(self, uid: int) -> Part:
        for part in self.parts:
            if part.uid == uid:
                return part
        raise InputError(f"part: expected one of the painting's parts, got {uid!r}")

    def layer(self, uid: int) -> Layer:
        return self.find(uid)[1]

    def find(self, uid: int) -> tuple[Part, Layer]:
        """The layer and the part that holds it."""
        for part, layer in self.layers():
            if layer.uid == uid:
                return part, layer
        raise InputError(f"layer: expected one of the painting's layers, got {uid!r}")

    def with_part(self, uid: int, **changes: Any) -> Painting:
        self.part(uid)
        return replace(self, parts=tuple(replace(p, **changes) if p.uid == uid else p for p in self.parts))

    def with_layer(self, uid: int, **changes: Any) -> Painting:
        part, _ = self.find(uid)
        if "pixels" in changes:
            made = self.layer(uid).made
            changes = {"warp": None, "made": None if made is None else replace(made, on=True), **changes}
        fresh = tuple(replace(one, **changes) if one.uid == uid else one for one in part.layers)
        return self.with_part(part.uid, layers=fresh)
