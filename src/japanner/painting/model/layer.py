"""Layers: sheets of paint, with what hides, raises and made them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any, Final

from japanner import checks
from japanner.errors import InputError
from japanner.raster.field import Warp
from japanner.raster.modes import MODES
from japanner.raster.tiles import Raster
from japanner.stroke.kinds.laid import LaidHair

__all__ = ["MOST_AMOUNT", "PLACES", "ROLES", "TARGETS", "Layer", "Made", "Mask", "Relief"]

PLACES: Final = ("behind", "body", "over")
ROLES: Final = (
    "sketch",
    "flat",
    "shadow",
    "accent",
    "undertone",
    "bounce",
    "light",
    "highlight",
    "texture",
    "detail",
    "strands",
    "edge",
    "strays",
    "glow",
)
TARGETS: Final = ("paint", "mask")
"""What of a layer an operation works on."""
MOST_AMOUNT: Final = 4.0
"""The most that relief may be exaggerated."""


@dataclass(frozen=True, eq=False)
class Mask:
    """A grey sheet that hides parts of a layer: what is black on it hides, what is white shows.

    pixels: neutral paint on the sheet. ground: the grey of the bare sheet, 0 or 1. A brush paints on it as on
    any layer, and wiping bares the sheet again.
    """

    pixels: Raster
    ground: float = 1.0

    def __post_init__(self) -> None:
        if self.ground not in (0, 1):
            raise InputError(f"ground: expected 0 or 1, got {self.ground!r}")


@dataclass(frozen=True, eq=False)
class Relief:
    """How thick a layer's paint lies, and how the key light shows it.

    heights: black paint whose coverage is the thickness, 1 for the thickest (`japanner.light.relief`). amount: factor
    on the slopes. gloss: linear light of the brightest sheen.
    """

    heights: Raster
    amount: float = 1.0
    gloss: float = 0.25

    def __post_init__(self) -> None:
        checks.number("amount", self.amount, 0, MOST_AMOUNT)
        checks.number("gloss", self.gloss, 0, 1)


@dataclass(frozen=True)
class Made:
    """What made a layer: a maker with its settings, so that it can be run again.

    run: the same for all layers of one run; sheet: which of them. on: painted on since, so that it stays as it is
    when it is run again. seen: a number for all that it was made from, see `japanner.painting.makers.grounds`; 0 if
    nobody knows. amount: 0..1, of all that it made.
    """

    maker: str
    run: int
    seed: int
    settings: dict[str, Any]
    sheet: str = ""
    on: bool = False
    seen: int = 0
    amount: float = 1.0

    def __post_init__(self) -> None:
        checks.integer("seen", self.seen, 0, 2**32)
        checks.number("amount", self.amount, 0, 1)
        checks.text("maker", self.maker, 40)
        checks.integer("run", self.run, 1, 2**40)
        checks.integer("seed", self.seed, 0, 2**31)
        if not isinstance(self.settings, dict):
            raise InputError(f"settings: expected a record, got {checks.shown(self.settings)}")


@dataclass(frozen=True, eq=False)
class Layer:
    """One sheet of paint. `uid` names it for good, whatever it is called and wherever it moves.

    hold_edges: paint goes only where the layer has paint already.
    """

    uid: int
    name: str
    role: str
    pixels: Raster
    place: str = "body"
    mode: str = "Normal"
    strength: float = 1.0
    shown: bool = True
    hold_edges: bool = False
    mask: Mask | None = None
    relief: Relief | None = None
    warp: Warp | None = None
    """What nudging has done to the pixels since they were last painted on."""
    made: Made | None = None
    laid: LaidHair | None = None
    """The hair in the pixels that can be told apart from what is under it."""

    def __post_init__(self) -> None:
        checks.text("name", self.name, 80)
        checks.one_of("role", self.role, ROLES)
        checks.one_of("place", self.place, PLACES)
        checks.one_of("mode", self.mode, MODES)
        checks.number("strength", self.strength, 0, 1)
        checks.flag("shown", self.shown)
        checks.flag("hold_edges", self.hold_edges)

    def rasters(self) -> Iterator[tuple[str, Raster]]:
        """Every raster of the layer by its name."""
        yield "pixels", self.pixels
        if self.warp is not None:
            yield "origin", self.warp.origin
        if self.mask is not None:
            yield "mask", self.mask.pixels
        if self.relief is not None:
            yield "relief", self.relief.heights
        if self.laid is not None:
            yield "hair", self.laid.paint
            yield "hair ranks", self.laid.ranks

    def remade(self, remake: Callable[[Raster], Raster]) -> Layer:
        """The layer with its paint, mask and relief made anew, such as moved or scaled."""
        mask = self.mask and replace(self.mask, pixels=remake(self.mask.pixels))
        relief = self.relief and replace(self.relief, heights=remake(self.relief.heights))
        pixels = remake(self.pixels)
        laid = self.laid and self.laid.remade(self.pixels, pixels, remake)
        return replace(self, pixels=pixels, mask=mask, relief=relief, warp=None, laid=laid)

    def settled(self) -> Layer:
        """The layer without memory of how nudges came about, and with the hair that is still in it."""
        if self.warp is None and (self.laid is None or self.laid.of is self.pixels):
            return self
        return replace(self, warp=None, laid=self.laid and self.laid.settled(self.pixels))

    def relief_scaled(self, factor: float) -> Layer:
        """The layer with its relief as it has to be on a canvas `factor` times as large to look the same."""
        if self.relief is None:
            return self
        return replace(self, relief=replace(self.relief, amount=min(self.relief.amount * factor, MOST_AMOUNT)))
