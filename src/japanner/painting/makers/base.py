"""What makers are: functions from a part, its form and the light to layers, with settings that can be changed later."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Final, NamedTuple
from zlib import crc32

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.color import lab, srgb
from japanner.errors import InputError
from japanner.light.rays.contours import Contours
from japanner.light.shading import half_way
from japanner.light.sources import SURFACES, Sources, shaded_planes
from japanner.painting.form.combing import fur_map
from japanner.painting.form.coverages import layer_sheet
from japanner.painting.form.forms import Form, form_of
from japanner.painting.form.own_paint import PLAIN
from japanner.painting.makers.lock_edits import edits_from
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.picture.lighting import sources_of
from japanner.painting.value.mixing_grid import local_colour, mixing_grid
from japanner.raster.adjust import encoded
from japanner.raster.codec import from_text
from japanner.raster.geometry import Rect
from japanner.raster.parallel import each
from japanner.raster.tiles import paint_codes
from japanner.stroke.engine import checked_colour
from japanner.types import Colour

__all__ = [
    "FRONT",
    "Aim",
    "Maker",
    "Scene",
    "Setting",
    "Sheet",
    "choice",
    "chosen_layer",
    "colour",
    "encoded",
    "filled",
    "fractal",
    "in_bands",
    "number",
    "painted_map",
    "part_over_all",
    "smoothstep",
    "softened",
    "start_of",
    "switch",
    "whitened",
]

Plane = NDArray[np.float32]
Told = Callable[[float], None]

FRONT: Final = np.array((0.0, 0.0, 1.0))
BAND: Final = 32
BROAD: Final = 4
"""Noise that changes over four times as many px is worked out at every so many."""


@dataclass(frozen=True)
class Setting:
    """One setting of a maker. px: it is a length on the canvas, and grows with it. page: shown apart, under this
    name, where there are many.
    """

    name: str
    label: str
    kind: str
    start: Any
    low: float = 0.0
    high: float = 1.0
    unit: str = ""
    digits: int = 0
    choices: tuple[str, ...] = ()
    px: bool = False
    tip: str = ""
    page: str = ""

    def checked(self, value: Any) -> Any:
        """The value, if it is one."""
        if self.kind in VALUE_CHECKS:
            return VALUE_CHECKS[self.kind](self, value)
        if not isinstance(value, bool):
            raise InputError(f"{self.name}: expected true or false, got {value!r}")
        return value


def _strip(name: str, value: Any) -> tuple[tuple[float, float], ...]:
    if len(value) == 0:
        return ()
    found = checks.in_range(name, value, 0, 100)
    if found.ndim != 2 or found.shape[1] != 2 or len(found) < 2 or (np.diff(found[:, 0]) < 0).any():
        raise InputError(f"{name}: expected two or more pairs of a rising place and a value, 0 to 100")
    return tuple((float(at), float(v)) for at, v in found)


def _world(name: str, value: Any) -> str:
    """Paint on the surroundings, as text (see `japanner.raster.codec`); "" for none."""
    if not isinstance(value, str):
        raise InputError(f"{name}: expected text, got {type(value).__name__}")
    if value:
        from_text(value)
    return value


VALUE_CHECKS: Final[dict[str, Callable[[Setting, Any], Any]]] = {
    "number": lambda one, value: checks.number(one.name, value, one.low, one.high),
    "choice": lambda one, value: checks.one_of(one.name, value, one.choices),
    "colour": lambda one, value: checked_colour(value),
    "strip": lambda one, value: _strip(one.name, value),
    "world": lambda one, value: _world(one.name, value),
    "edits": lambda one, value: edits_from(one.name, value),
    "map": lambda one, value: checks.integer(one.name, value, 0, 2**40),
}


# Ends of the names of a map's range.
BARE, FULL = "_bare", "_full"
# Deviation that a map's edges are softened by: a share of the form's longer side, and px at least.
FEATHER, FEATHER_PX = 0.004, 1.5


def number(name: str, label: str, start: float, low: float, high: float, tip: str, **rest: Any) -> Setting:
    """A number with a range and a unit."""
    return Setting(name, label, "number", start, low, high, tip=tip, **rest)


def choice(name: str, label: str, choices: tuple[str, ...], tip: str) -> Setting:
    """One of several words, the first to begin with."""
    return Setting(name, label, "choice", choices[0], choices=choices, tip=tip)


def colour(name: str, label: str, start: Colour, tip: str) -> Setting:
    """An encoded colour."""
    return Setting(name, label, "colour", start, tip=tip)


def switch(name: str, label: str, start: bool, tip: str) -> Setting:
    """On or off."""
    return Setting(name, label, "switch", start, tip=tip)


def chosen_layer(name: str, label: str, tip: str) -> Setting:
    """A layer of the part, by its uid; 0 for none."""
    return Setting(name, label, "map", 0, tip=tip)


def painted_map(name: str, label: str, tip: str, page: str = "") -> tuple[Setting, Setting, Setting]:
    """A layer of the part, by its uid, whose paint says where how much (0 for none), and its range: what bare and full
    mean. With bare above full it is the other way round.
    """
    return (
        Setting(name, label, "map", 0, tip=tip, page=page),
        Setting(name + BARE, "bare", "number", 0, 0, 100, tip="What it means where the map is bare", unit=" %",
                page=page),
        Setting(name + FULL, "full", "number", 100, 0, 100, tip="What it means where the map is full", unit=" %",
                page=page),
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class Sheet:
    """A layer as a maker gives it: straight encoded colour (3, h, w) and coverage (h, w), both 0..1, over an area."""

    name: str
    role: str
    area: Rect
    colour: Plane
    cover: Plane
    place: str = "body"
    mode: str = "Normal"
    strength: float = 1.0

    def smoothed(self, ends: Contours) -> Sheet:
        """The same with its paint in shares along the contours inside a form of its area."""
        here, there = tuple(ends.pixels.T), tuple(ends.others.T)
        own, beyond = ends.share * self.cover[here], (1 - ends.share) * self.cover[there]
        whole = own + beyond
        cover, colour = self.cover.copy(), self.colour
        cover[here] = whole
        if colour.strides[1:] != (0, 0):  # else it is one colour all over
            mixed = (own * colour[:, *here] + beyond * colour[:, *there]) / np.maximum(whole, 1e-6)
            colour = colour.copy()
            colour[:, *here] = mixed
        return replace(self, colour=colour, cover=cover)

    def codes(self) -> NDArray[np.uint16]:
        """Premultiplied codes (4, h, w)."""
        return paint_codes(self.colour, self.cover)


@dataclass(eq=False)
class Scene:
    """What a maker works from: the painting, the part, the settings, chance by the seed, and the part's form."""

    painting: Painting
    part: Part
    values: Mapping[str, Any]
    seed: int
    told: Told = lambda done: None
    sketch: bool = False
    """A first look is wanted: of what is many, some will do."""
    _share: float = field(default=0.0, init=False)

    def __getitem__(self, name: str) -> Any:
        return self.values[name]

    def look_up(self) -> None:
        """Let whoever does not want this any more stop it; to be called every few tenths of a second."""
        self.told(self._share)

    def tell(self, share: float) -> None:
        """So much of the work is done."""
        self._share = share
        self.told(share)

    @cached_property
    def random(self) -> np.random.Generator:
        return np.random.Generator(np.random.PCG64(self.seed))

    def chance(self, what: str) -> np.random.Generator:
        """Chance for one thing by its name, which nothing else that is made draws from."""
        return np.random.Generator(np.random.PCG64((self.seed, crc32(what.encode()))))

    @cached_property
    def form(self) -> Form:
        return form_of(self.painting, self.part, float(self.values.get("depth", 1.0)))

    def map(self, name: str) -> Plane | None:
        """What a painted map says, (h, w), 0..1 over the form's area; None if the setting names no layer.

        Its edges are feathered, and its range counts. For length and density of fur a layer may be set for the whole
        part.
        """
        uid = self.values[name]
        if not uid:
            own = fur_map(self.part, name) if hasattr(self.part, name) else None
            return None if own is None else self._ranged(name, own)
        layer = next((one for one in self.part.layers if one.uid == uid), None)
        if layer is None:
            raise InputError(f"{self.part.name} has no layer any more for {name.replace('_', ' ')}; choose another")
        return self._ranged(name, layer)

    def _ranged(self, name: str, layer: Layer) -> Plane:
        area = self.form.area
        cover = layer_sheet(self.painting, layer).coverage(area)
        if name + BARE not in self.values:  # it is a layer that was chosen, not a map
            return cover
        sigma = max(FEATHER * max(area.width, area.height), FEATHER_PX)
        soft = cv2.GaussianBlur(cover, (0, 0), sigma)
        bare, full = (np.float32(self.values.get(name + end, start) / 100) for end, start in ((BARE, 0), (FULL, 100)))
        result: Plane = bare + (full - bare) * soft
        return result

    @cached_property
    def sources(self) -> Sources:
        return sources_of(self.painting.light)

    @cached_property
    def light(self) -> NDArray[np.float32]:
        return np.asarray(self.painting.light.direction, np.float32)

    @property
    def local(self) -> Colour:
        """The part's own colour, encoded."""
        return local_colour(self.painting, self.part) or PLAIN

    @cached_property
    def grid(self) -> dict[str, tuple[Colour, ...]]:
        """The part's mixing grid: by undertone, the colours of the five steps."""
        return dict(mixing_grid(self.painting, self.part, self.local))

    def shaded(self, normal: Plane, albedo: NDArray[Any], lit: Plane, openness: Plane, material: str = "",
               extra: Plane | None = None) -> Plane:  # fmt: skip
        """Linear light (3, h, w) from a surface of this material; extra: see `Form`."""
        row = SURFACES[material or self.part.material].row(albedo)
        kind = np.zeros(normal.shape[1:], np.int32)
        surface, reach, free = (np.ascontiguousarray(one, np.float32) for one in (normal, lit, openness))
        return shaded_planes(surface, kind, (row,), self.sources, reach, free, extra)

    def facing(self, normal: Plane) -> Plane:
        """Cosine (h, w) between normals and the key light; below 0 where they are turned away."""
        result: Plane = np.einsum("i,ihw->hw", self.light, normal)
        return result

    def mirroring(self, normal: Plane, light: NDArray[Any] | None = None) -> Plane:
        """Cosine (h, w), 0 and more, between normals and the one that mirrors the light (the key) to the viewer."""
        half = half_way(self.light if light is None else light, FRONT)
        result: Plane = np.clip(np.einsum("i,ihw->hw", half.astype(np.float32), normal), 0, 1)
        return result

    def value_curve(self) -> Callable[[Plane], Plane]:
        """From L* as the light gives it to L* as the part's value scale has it.

        What faces the key comes to the light step, what it does not reach to the shadow step; beyond these the way to
        highlight and accent is eased.
        """
        light, albedo = self.light, srgb.decode(np.asarray(self.local))
        lit, unlit = (
            self.shaded(n[:, None, None], albedo, np.full((1, 1), on, np.float32), np.full((1, 1), 0.8, np.float32),
                        "drawing")
            for n, on in ((light, 1.0), (np.array((0, -0.2, 0.98), np.float32), 0.0))
        )  # fmt: skip
        high, low = (float(lab.lightness(srgb.luminance(one[:, 0, 0]))) for one in (lit, unlit))
        scale = self.part.scale
        slope = (scale[3] - scale[1]) / max(high - low, 4.0)

        def curve(value: Plane) -> Plane:
            found = scale[1] + (value - low) * slope
            top, bottom = max(scale[4] - scale[3], 1e-3), max(scale[1] - scale[0], 1e-3)
            over_, under = np.maximum(found - scale[3], 0), np.maximum(scale[1] - found, 0)
            middle = np.clip(found, scale[1], scale[3])
            eased = top * (1 - np.exp(-over_ / top)) - bottom * (1 - np.exp(-under / bottom))
            result: Plane = np.clip(middle + eased, 0, 100).astype(np.float32)
            return result

        return curve

    def in_scale(self, linear: Plane) -> Plane:
        """Linear light (3, h, w) brought to the part's value scale; its hue stays."""
        luminance = srgb.luminance(np.moveaxis(linear, 0, -1))
        wanted = self.value_curve()(lab.lightness(np.clip(luminance, 0, 4)))
        share = lab.luminance_from_lightness(wanted) / np.maximum(luminance, 1e-4)
        result: Plane = linear * share.astype(np.float32)
        return result


class Aim(NamedTuple):
    """A handle on the canvas that settings follow.

    at: where it is for settings of a part, None if there is none. towards: the settings that put it at a place.
    """

    at: Callable[[Painting, Part, Mapping[str, Any]], tuple[float, float] | None]
    towards: Callable[[Painting, Part, Mapping[str, Any], float, float], dict[str, Any]]


@dataclass(frozen=True)
class Maker:
    """A maker by its name: for which materials it is offered first, what it does, its settings, and the function."""

    name: str
    materials: tuple[str, ...]
    words: str
    settings: tuple[Setting, ...]
    make: Callable[[Scene], list[Sheet]]
    starts: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    """Settings to begin with by what the part belongs to: its material, or that of the part it lies on."""
    kinds: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    """What each choice of the setting *kind* sets the others to, to begin with."""
    aim: Aim | None = None
    sees: str = ""
    """What of the rest of the painting it depends on: "behind" the part, all parts "beside" it, or nothing."""
    combed: bool = False
    """It follows the part's comb, its maps of fur, and keeps off bald parts."""
    covers: bool = False
    """It takes its colours from what is painted beneath it in its part."""
    over_all: bool = False
    """It works on the whole picture, with a part of its own in front of all others."""
    whole: bool = False
    """What is behind the part is painted into its layers: its flats have to be there in full, or all of it is pale."""

    def made(self, scene: Scene) -> list[Sheet]:
        """What it makes, smooth along contours inside the form."""
        sheets = self.make(scene)
        form: Form | None = vars(scene).get("form")  # some makers need none
        if form is None or form.ends is None or not len(form.ends.pixels):
            return sheets
        return [one.smoothed(form.ends) if one.area == form.area else one for one in sheets]

    def checked(self, given: Mapping[str, Any]) -> dict[str, Any]:
        """All settings, with those that are not given as they are to begin with; InputError for what is not one."""
        known = {one.name: one for one in self.settings}
        given = {**self.kinds.get(given.get("kind", ""), {}), **given}
        if unknown := sorted(set(given) - set(known)):
            raise InputError(f"{self.name}: unknown settings {unknown}")
        return {name: one.checked(given.get(name, one.start)) for name, one in known.items()}


def part_over_all(painting: Painting, maker: str) -> Part | None:
    """The part that holds the layers of a maker that works on the whole picture, if it was run."""
    return next((part for part in painting.parts for one in part.layers if one.made and one.made.maker == maker), None)


def start_of(maker: Maker, painting: Painting, part: Part) -> dict[str, Any]:
    """What a maker begins with on a part that it has not worked on: an eye that lies on fur is an animal's."""
    behind = [one.material for one in painting.parts[: painting.parts.index(part)]]
    around = next((name for name in (part.material, *reversed(behind)) if name in maker.starts), "")
    return maker.checked(maker.starts.get(around, {}))


DEPTH: Final = number(
    "depth", "roundness", 1.0, 0.05, 3.0, "How far a silhouette without a maquette is blown up", digits=2
)


def smoothstep(low: Any, high: Any, value: Any) -> Any:
    """0 below `low`, 1 above `high`, eased between; either may be the greater one."""
    t = np.clip((np.asarray(value, np.float32) - low) / (high - low), 0, 1).astype(np.float32)
    return t * t * (3 - 2 * t)


def fractal(
    random: np.random.Generator, shape: tuple[int, int], cell: float, octaves: int = 4, falloff: float = 0.55,
    stretch: tuple[float, float] = (1.0, 1.0),
) -> Plane:  # fmt: skip
    """Noise of about mean 0 and deviation 1, whose largest features are `cell` px; `stretch`: along x and y.

    What is broad is worked out on fewer pixels.
    """
    fine, broad = np.zeros(shape, np.float32), None
    weight = 1.0
    few = -(-shape[0] // BROAD), -(-shape[1] // BROAD)
    for octave in range(octaves):
        size = [max(cell * s / 2**octave, 1.0) for s in stretch]
        counts = [int(np.ceil(side / one)) + 4 for side, one in zip(shape[::-1], size, strict=True)]
        coarse = random.standard_normal((counts[1], counts[0])).astype(np.float32) * np.float32(weight)
        if min(size) >= 4 * BROAD and min(few) > 1:
            broad = (0 if broad is None else broad) + _between(coarse, size, few, BROAD)
        else:
            fine += _between(coarse, size, shape, 1)
        weight *= falloff
    if broad is not None:
        fine += cv2.resize(broad, shape[::-1], interpolation=cv2.INTER_CUBIC)
    return fine / max(float(fine.std()), 1e-6)


def _between(coarse: Plane, size: list[float], shape: tuple[int, int], step: int) -> Plane:
    """Numbers whose squares are of a size in px (x, y), at every pixel, or in the middle of every `step` of them."""
    middle = (step - 1) / 2
    across, down = ((one / step, -(1.5 * one + middle) / step) for one in size)
    matrix = np.array(((across[0], 0, across[1]), (0, down[0], down[1])))
    found: Plane = cv2.warpAffine(coarse, matrix, shape[::-1], flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT)
    return found


def softened(plane: Plane, sigma: float) -> Plane:
    """A plane (h, w), or pixels (h, w, k), blurred by a Gaussian; what is broad is worked out on fewer pixels."""
    step = int(sigma / 4)
    if step < 2 or min(plane.shape[:2]) < 4 * step:
        fine: Plane = cv2.GaussianBlur(plane, (0, 0), max(sigma, 0.1))
        return fine
    height, width = plane.shape[:2]
    small = cv2.resize(plane, (-(-width // step), -(-height // step)), interpolation=cv2.INTER_AREA)
    small = cv2.GaussianBlur(small, (0, 0), sigma / step)
    broad: Plane = cv2.resize(small, (width, height), interpolation=cv2.INTER_LINEAR)
    return broad


def whitened(light: Plane) -> Plane:
    """Linear light (3, h, w) that is brighter than paint can be drawn towards white by as much, instead of into a
    garish colour.
    """

    def band(rows: slice) -> Plane:
        part = light[:, rows]
        most = np.maximum(part.max(axis=0), 1)
        found: Plane = part / most
        if float(most.max()) > 1:
            over = 1 - 1 / most
            found = found * (1 - over) + over
        return found

    return in_bands(light.shape, band)


def in_bands(shape: tuple[int, ...], work: Callable[[slice], Plane]) -> Plane:
    """Planes (..., h, w) that `work` gives for some rows at a time: what it has in between stays small, and all cores
    have some.
    """
    out = np.empty(shape, np.float32)

    def band(top: int) -> None:
        rows = slice(top, min(top + BAND, shape[-2]))
        out[..., rows, :] = work(rows)

    each(range(0, shape[-2], BAND), band)
    return out


def filled(shape: tuple[int, int], colour: Colour) -> Plane:
    """A plane of one colour (3, h, w)."""
    return np.broadcast_to(np.asarray(colour, np.float32)[:, None, None], (3, *shape))
