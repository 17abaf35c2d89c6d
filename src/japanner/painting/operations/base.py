"""What operations are, and what they share."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Protocol

from japanner import checks
from japanner.color import lab, srgb
from japanner.errors import InputError
from japanner.painting.model import TARGETS, Layer, Painting, Part
from japanner.raster.geometry import Rect
from japanner.raster.limit import Limit
from japanner.raster.tiles import Raster
from japanner.stroke.engine import checked_colour

__all__ = [
    "Change",
    "Operation",
    "Target",
    "affected",
    "areas_of",
    "grey_of",
    "inserted",
    "some_layers",
    "tiles_between",
]


@dataclass(frozen=True)
class Change:
    """What an operation did: words for the Edit menu, the areas to show anew, and whether the build changed."""

    words: str
    areas: tuple[Rect, ...] = ()
    structure: bool = False


class Operation(Protocol):
    """A change as data."""

    op: ClassVar[str]

    def apply(self, painting: Painting) -> tuple[Painting, Change]: ...


@dataclass(frozen=True, eq=False)
class Target:
    """What an operation paints on: a layer's paint, or its mask."""

    painting: Painting
    layer: Layer
    on: str

    @staticmethod
    def of(painting: Painting, layer: int, on: str = "paint") -> Target:
        target = Target(painting, painting.layer(layer), checks.one_of("on", on, TARGETS))
        if on == "mask" and target.layer.mask is None:
            raise InputError(f"{target.layer.name} has no mask to work on")
        return target

    @property
    def pixels(self) -> Raster:
        return self.layer.mask.pixels if self.on == "mask" and self.layer.mask is not None else self.layer.pixels

    @property
    def limit(self) -> Limit:
        """The frisket, and the paint's own edges if the layer holds them."""
        frisket = self.painting.frisket
        return Limit(frisket.sheet if frisket else None, self.layer.hold_edges and self.on == "paint")

    def colour(self, colour: Any) -> tuple[float, float, float]:
        """The colour as it can be laid here: a mask takes the grey of the same value."""
        return grey_of(colour) if self.on == "mask" else checked_colour(colour)

    def with_pixels(self, pixels: Raster, **beside: Any) -> Painting:
        """The painting with other pixels here, whatever the limit; beside: what else of a layer changes with them."""
        if self.on == "mask" and self.layer.mask is not None:
            return self.painting.with_layer(self.layer.uid, mask=replace(self.layer.mask, pixels=pixels))
        return self.painting.with_layer(self.layer.uid, pixels=pixels, **beside)

    def changed_to(self, fresh: Raster, words: str) -> tuple[Painting, Change]:
        """The painting with `fresh` here as far as the limit lets it through, and what that changed."""
        pixels = self.limit.applied(self.pixels, fresh)
        return self.with_pixels(pixels), Change(words, tiles_between(self.pixels, pixels))


def grey_of(colour: Any) -> tuple[float, float, float]:
    """The neutral colour of the same value."""
    grey = float(srgb.encode(lab.luminance_from_lightness(lab.lightness_from_srgb(checked_colour(colour)))))
    return grey, grey, grey


def some_layers(painting: Painting, layers: tuple[int, ...]) -> tuple[int, ...]:
    """The layers, each once."""
    checks.integer("number of layers", len(layers), 1, 10000)
    return tuple(dict.fromkeys(painting.layer(uid).uid for uid in layers))


def tiles_between(one: Raster, other: Raster) -> tuple[Rect, ...]:
    """The areas in which two versions of a raster differ."""
    keys = one.tiles.keys() | other.tiles.keys()
    return tuple(Rect.of_tile(key) for key in sorted(keys) if one.tiles.get(key) is not other.tiles.get(key))


def inserted(items: tuple[Any, ...], item: Any, index: int | None) -> tuple[Any, ...]:
    """The items with one more, last or at `index`."""
    at = len(items) if index is None else checks.integer("index", index, 0, len(items))
    return (*items[:at], item, *items[at:])


def affected(part: Part, layer: Layer) -> Iterable[Layer]:
    """The layers whose look may change with `layer`: a flat carries the rest of the body."""
    return part.layers if layer.role == "flat" or layer.place == "body" else (layer,)


def areas_of(layers: Iterable[Layer]) -> tuple[Rect, ...]:
    """The areas that the layers have paint in."""
    keys = {key for layer in layers for key in layer.pixels.tiles}
    return tuple(Rect.of_tile(key) for key in sorted(keys))
