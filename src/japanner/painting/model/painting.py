"""The painting: frozen values that share what they do not change."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from typing import Any, Final

from japanner import checks
from japanner.color.temperature import COOLEST_K, WARMEST_K
from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.painting.model.head_guide import HeadGuide
from japanner.painting.model.kept_grid import KeptGrid
from japanner.raster.field import Warp
from japanner.raster.geometry import Rect
from japanner.raster.modes import MODES
from japanner.raster.tiles import LONGEST_SIDE, Raster, Sheet
from japanner.strand.comb import Guide
from japanner.stroke.engine import checked_colour
from japanner.stroke.kinds.laid import LaidHair

__all__ = [
    "DEFAULT_SCALE",
    "LARGEST_AREA_PX",
    "MATERIALS",
    "MOST_AMOUNT",
    "PLACES",
    "ROLES",
    "STEP_NAMES",
    "TARGETS",
    "Frisket",
    "Layer",
    "Light",
    "Made",
    "Mask",
    "Painting",
    "Part",
    "Pinned",
    "Relief",
]

MATERIALS: Final = ("drawing", "plain", "skin", "hair", "fur", "eye", "metal", "glass", "cloth")
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
    "strays",
    "glow",
)
TARGETS: Final = ("paint", "mask")
"""What of a layer an operation works on."""
STEP_NAMES: Final = ("accent", "shadow", "halftone", "light", "highlight")
DEFAULT_SCALE: Final = (10.0, 28.0, 48.0, 68.0, 90.0)
LARGEST_AREA_PX: Final = 200_000_000
MOST_AMOUNT: Final = 4.0
"""The most that relief may be exaggerated."""
MOST_GUIDES: Final = 2000


@dataclass(frozen=True)
class Light:
    """The light of the painting.

    The key: degrees above the horizon (-90..90) and to the right of the viewer (-180..180), colour in K, strength, and
    angular size in degrees, from a sun to a wide sky. sky, bounce: strength of the light from above and from the
    ground, with a colour in K and an encoded colour. rim: strength of a white light from behind.
    """

    up_deg: float = 48.0
    right_deg: float = -40.0
    kelvin: float = 4300.0
    key: float = 1.0
    size_deg: float = 8.0
    sky: float = 0.22
    sky_kelvin: float = 8000.0
    bounce: float = 0.28
    bounce_colour: tuple[float, float, float] = (0.60, 0.50, 0.42)
    rim: float = 0.0

    def __post_init__(self) -> None:
        checks.number("up_deg", self.up_deg, -90, 90)
        checks.number("right_deg", self.right_deg, -180, 180)
        for name in ("kelvin", "sky_kelvin"):
            checks.number(name, getattr(self, name), WARMEST_K, COOLEST_K)
        for name in ("key", "sky", "bounce", "rim"):
            checks.number(name, getattr(self, name), 0, 4)
        checks.number("size_deg", self.size_deg, 0.05, 120)
        checked_colour(self.bounce_colour)

    @property
    def direction(self) -> tuple[float, float, float]:
        """Unit vector towards the light: x right, y up, z towards the viewer."""
        up, right = math.radians(self.up_deg), math.radians(self.right_deg)
        return math.cos(up) * math.sin(right), math.sin(up), math.cos(up) * math.cos(right)


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


@dataclass(frozen=True, eq=False)
class Frisket:
    """The temporary limit to where paint goes. curve: the nodes it was drawn from, if it can be edited as a curve."""

    sheet: Sheet
    curve: tuple[tuple[float, ...], ...] = ()


@dataclass(frozen=True)
class Pinned:
    """A picture on the reference board, as PNG data."""

    name: str
    data: bytes

    def __post_init__(self) -> None:
        checks.text("name", self.name, 80)


@dataclass(frozen=True)
class Made:
    """What made a layer: a maker with its settings, so that it can be run again.

    run: the same for all layers of one run; sheet: which of them. on: painted on since, so that it stays as it is
    when it is run again.
    """

    maker: str
    run: int
    seed: int
    settings: dict[str, Any]
    sheet: str = ""
    on: bool = False

    def __post_init__(self) -> None:
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
        _flag("shown", self.shown)
        _flag("hold_edges", self.hold_edges)

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


@dataclass(frozen=True, eq=False)
class Part:
    """One piece of the subject, of one material; its layers stand from first to last.

    scale: the five value steps, L* of accent, shadow, halftone, light and highlight. guide: lines to sketch over.
    mixed: cells of the mixing grid that the painter has set: undertone, step, encoded colour. grid: the mixing grid
    kept for this part; None while it is worked out. around: encoded colour of what surrounds the part; None: as the
    ground. comb: strokes that say which way its hair lies. bald: fur of other parts keeps off it.
    length_map, density_map: layers, by their uid, whose paint says how long and how dense its fur grows; 0: none.
    """

    uid: int
    name: str
    material: str = "plain"
    layers: tuple[Layer, ...] = ()
    strength: float = 1.0
    shown: bool = True
    scale: tuple[float, float, float, float, float] = DEFAULT_SCALE
    guide: HeadGuide | None = None
    mixed: tuple[tuple[int, int, float, float, float], ...] = ()
    grid: KeptGrid | None = None
    around: tuple[float, float, float] | None = None
    comb: tuple[Guide, ...] = ()
    bald: bool = False
    length_map: int = 0
    density_map: int = 0

    def __post_init__(self) -> None:
        checks.text("name", self.name, 80)
        checks.one_of("material", self.material, MATERIALS)
        checks.number("strength", self.strength, 0, 1)
        _flag("shown", self.shown)
        _flag("bald", self.bald)
        for name in ("length_map", "density_map"):
            checks.integer(name, getattr(self, name), 0, 2**40)
        values = checks.in_range("scale", self.scale, 0, 100)
        if values.shape != (5,) or (values[1:] <= values[:-1]).any():
            raise InputError(f"scale: expected five rising L* values, got {self.scale!r}")
        for row, step, *colour in self.mixed:
            checks.integer("undertone", row, 0, 20)
            checks.integer("step", step, 0, 4)
            checked_colour(colour)
        if self.around is not None:
            checked_colour(self.around)
        checks.integer("number of comb strokes", len(self.comb), 0, MOST_GUIDES)

    def in_place(self, place: str) -> tuple[Layer, ...]:
        return tuple(layer for layer in self.layers if layer.place == place)

    @property
    def flats(self) -> tuple[Layer, ...]:
        """The layers whose coverage is the silhouette."""
        return tuple(layer for layer in self.in_place("body") if layer.role == "flat")


@dataclass(frozen=True, eq=False)
class Painting:
    """The document.

    ground: encoded colour behind everything; parts stand from back to front. board: pictures to look at while
    painting.
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

    def __post_init__(self) -> None:
        checks.integer("width", self.width, 1, LONGEST_SIDE)
        checks.integer("height", self.height, 1, LONGEST_SIDE)
        if self.width * self.height > LARGEST_AREA_PX:
            raise InputError(
                f"width x height: expected at most {LARGEST_AREA_PX / 1e6:.0f} Mpx, "
                f"got {self.width * self.height / 1e6:.0f} Mpx"
            )
        checks.number("ppi", self.ppi, 1, 10000)
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


def _flag(name: str, value: object) -> None:
    if not isinstance(value, bool):
        raise InputError(f"{name}: expected true or false, got {value!r}")
