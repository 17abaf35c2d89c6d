"""The coat: mass, undercoat, body hair, guard hairs, light tips and edge tufts of a fur, along the comb field."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Final, TypeVar

import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.light.shading import half_way
from japanner.painting.form.combing import bald_cover, comb_of
from japanner.painting.form.own_paint import own_paint
from japanner.painting.makers.base import (
    DEPTH,
    FRONT,
    Maker,
    Plane,
    Scene,
    Sheet,
    choice,
    encoded,
    fractal,
    number,
    painted_map,
    smoothstep,
)  # fmt: skip
from japanner.painting.makers.coat_kinds import BODY, COATS, GUARD, STRAY, UNDER, Coat, Pass
from japanner.raster.geometry import Rect
from japanner.raster.parallel import each
from japanner.strand import growing, shine
from japanner.strand.comb import CombField
from japanner.strand.strands import Strands

__all__ = ["COAT"]

Floats = NDArray[np.float32]
T = TypeVar("T")


JOINTS: Final = 8
WAVED_JOINTS: Final = 18
COILED_JOINTS: Final = 56
MOST_HAIRS: Final = 1_500_000
THINNEST_PX: Final = 0.55
SKETCHED_PX: Final = 1.6


@dataclass(eq=False)
class _Pelt:
    """What all passes share: the field, and planes over the form's area."""

    scene: Scene
    coat: Coat
    field: CombField
    albedo: Plane
    light: Plane
    density: Plane
    length: Plane
    noise: Plane

    @staticmethod
    def of(scene: Scene) -> _Pelt:
        form, part = scene.form, scene.part
        field = comb_of(scene.painting, part)
        ys, xs = np.mgrid[form.area.y0 : form.area.y1, form.area.x0 : form.area.x1].astype(np.float32)
        long = field.at(field.length, xs + 0.5, ys + 0.5)
        painted = scene.map("length_map")
        if painted is not None:
            long = long * np.maximum(painted, 0.12)
        dense = scene.map("density_map")
        random, shape = scene.chance("field"), form.cover.shape
        noise = 6 * fractal(random, shape, 30, 2) + 3 * fractal(random, shape, 9, 1)
        beneath = srgb.decode(own_paint(scene.painting, part, form.area)).astype(np.float32)
        density = form.cover * (1 if dense is None else dense) * _free(scene, form.area)
        return _Pelt(scene, COATS[scene["coat"]], field, beneath, _light(scene), density, long, noise)

    @property
    def thick(self) -> float:
        """Thickness of hairs, px: on a small canvas fewer and thicker ones stand for many that would hardly show."""
        return max(float(self.scene["thick"]), SKETCHED_PX if self.scene.sketch else THINNEST_PX)

    def planted(self, one: Pass, share: float, name: str) -> _Hairs:
        """Hairs of a pass, grown from roots spread over the silhouette."""
        scene, coat, area = self.scene, self.coat, self.scene.form.area
        random = scene.chance(name)
        dense = scene["density"] / 100 / self.thick**2
        count = int(min(one.share * share * coat.many * dense * area.width * area.height, MOST_HAIRS))
        places = (growing.spread(count, random) * (area.width, area.height)).astype(np.float32)
        i, j = places[:, 0].astype(np.intp), places[:, 1].astype(np.intp)
        i, j = np.minimum(i, area.width - 1), np.minimum(j, area.height - 1)
        scene.look_up()
        kept = random.random(count) < self.density[j, i]
        i, j, x, y = i[kept], j[kept], places[kept, 0] + area.x0, places[kept, 1] + area.y0
        size = np.exp(0.18 * random.standard_normal(len(x)))
        length = scene["length"] * coat.long * one.long * self.length[j, i] * size
        mess = coat.mess * scene["mess"] / 100
        turn = np.radians(self.noise[j, i] * min(mess / 9, 2) + mess * random.standard_normal(len(x)))
        scene.look_up()
        tangent, normal = self._stance(x, y, i, j, turn)
        scene.look_up()
        seen = length * np.maximum(np.hypot(tangent[:, 0], tangent[:, 1]), 0.25)
        joints = (
            COILED_JOINTS
            if coat.coil[0]
            else WAVED_JOINTS
            if coat.wave[0] > 0.01 or float(self.field.curl.max()) > 0.05
            else JOINTS
        )
        turn = turn + _outward(self.field, x, y, turn, tangent)
        points = growing.grown(self.field, x, y, seen.astype(np.float32), turn.astype(np.float32), joints)
        return _Hairs(self, one, i, j, points, length.astype(np.float32), tangent, normal, random)

    def _stance(
        self, x: Floats, y: Floats, i: NDArray[np.intp], j: NDArray[np.intp], turn: NDArray[np.floating]
    ) -> tuple[NDArray[np.floating], NDArray[np.floating]]:
        """Direction in space (n, 3) of hairs at their roots, and the form's normal there; y up."""
        normal = self.scene.form.normal[:, j, i].T.astype(np.float64)
        dx, dy = _combed(self.field, x, y, turn)
        way: NDArray[np.floating] = np.stack((dx, -dy, np.zeros(len(x))), axis=1)
        along = way - normal * np.einsum("ni,ni->n", way, normal)[:, None]
        along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-6)
        lift = np.clip(self.field.at(self.field.lift, x, y) + self.coat.lift - 0.2, 0, 0.9)[:, None]
        # Where the form turns away hair is seen from its side, and what stands off stands out.
        lift = np.clip(lift + 0.4 * smoothstep(0.55, 0.1, normal[:, 2:]), 0, 0.9)
        tangent = along * (1 - lift) + normal * lift
        return tangent / np.linalg.norm(tangent, axis=1, keepdims=True), normal


def _combed(field: CombField, x: Floats, y: Floats, turn: NDArray[np.floating]) -> tuple[Floats, Floats]:
    """The way hairs are combed, each turned off it by so many radians; y down."""
    dx, dy = field.directions(x, y)
    cos, sin = np.cos(turn), np.sin(turn)
    return cos * dx - sin * dy, sin * dx + cos * dy


def _outward(field: CombField, x: Floats, y: Floats, turn: Floats, tangent: NDArray[np.floating]) -> Floats:
    """How far lifted hairs are seen turned from the way they are combed, radians (n,)."""
    dx, dy = _combed(field, x, y, turn)
    across = dx * -tangent[:, 1] - dy * tangent[:, 0]
    along = dx * tangent[:, 0] - dy * tangent[:, 1]
    # Hair that comes straight at the viewer is seen from no side.
    clear = np.clip(np.hypot(tangent[:, 0], tangent[:, 1]) * 2, 0, 1)
    result: Floats = (0.8 * clear * np.arctan2(across, np.maximum(along, 0.05))).astype(np.float32)
    return result


@dataclass(eq=False)
class _Hairs:
    """Hairs of one pass; i, j: the pixel of the form's area that each stands in."""

    pelt: _Pelt
    kind: Pass
    i: NDArray[np.intp]
    j: NDArray[np.intp]
    points: Floats
    length: Floats
    tangent: NDArray[np.floating]
    normal: NDArray[np.floating]
    random: np.random.Generator
    rim: NDArray[np.floating] | float = 1.0
    middle: Floats | None = None
    shade: Floats | None = None

    def shaped(self) -> _Hairs:
        """Drawn into tufts and locks, and waved."""
        pelt, scene = self.pelt, self.pelt.scene
        coat, length = pelt.coat, self.length
        mean = float(np.median(length)) if len(length) else 1.0
        amount = coat.clump * scene["clump"] / 100 * self._by("clump_map")
        bunch = np.zeros(len(length), np.intp)
        for level, (gap, share) in enumerate(((0.85, self.kind.clump[0]), (0.30, self.kind.clump[1]))):
            strong = np.minimum(share * amount, 1.0)
            if not len(length) or float(np.max(strong)) < 0.02:
                continue
            spacing = max(gap * mean, 2.5)
            # The same clumps for all passes, so that they fall together.
            scene.look_up()
            at, middle = growing.nearest_clump(self.points, spacing, scene.chance(f"clumps {level}"))
            if level == 0:
                bunch, self.middle = at, middle
            off = np.linalg.norm(self.points[:, 0] - middle, axis=1) / spacing
            self.points = growing.clumped(self.points, middle, strong, 0.38 * length)
            deep = 0.6 if coat.locks and level == 0 else 0.22
            self.rim = self.rim * (1 - deep * strong * np.clip(off * 1.6, 0, 1) ** 2)
        high, turns = coat.wave
        curl = pelt.field.at(pelt.field.curl, self.points[:, 0, 0], self.points[:, 0, 1])
        high = (high + 0.15 * curl) * scene["wave"] / 100 * self._by("wave_map")
        if len(length) and float(np.max(high)) > 0.002:
            own = scene.chance("phases").uniform(0, 2 * np.pi, int(bunch.max()) + 1)[bunch]
            phase = own + 0.22 * self.random.standard_normal(len(length))
            size = np.exp(0.12 * self.random.standard_normal(len(length)))
            self.points = growing.waved(self.points, high * length * size, turns * size, phase)
        if coat.coil[0] and len(length):
            self._coil(bunch)
        return self

    def _coil(self, bunch: NDArray[np.intp]) -> None:
        """Turn hairs round their way; those of a tuft are near to each other in size and phase."""
        scene, n = self.pelt.scene, len(self.length)
        radius, turns = self.pelt.coat.coil
        own = scene.chance("coils").standard_normal((int(bunch.max()) + 1, 2))[bunch]
        size = (
            np.exp(0.3 * own[:, 0] + 0.15 * self.random.standard_normal(n)) * scene["wave"] / 100 * self._by("wave_map")
        )
        phase = np.pi * own[:, 1] + 0.9 * self.random.standard_normal(n)
        # Wider coils have fewer turns.
        self.points, high = growing.coiled(
            self.points, radius * self.length * size, turns / np.maximum(size, 0.3), phase
        )
        self.shade = 1 + 0.4 * high

    def colours(self) -> Floats:
        """Encoded colours (n, 3, 3) at root, middle and tip: the paint beneath in the light, and what hair mirrors."""
        pelt, scene, kind = self.pelt, self.pelt.scene, self.kind
        albedo = pelt.albedo[:, self.j, self.i].T
        tones = _undertones(scene)
        albedo = albedo * tones[scene.chance("undertones").integers(0, len(tones), len(albedo))]
        if scene["pale_map"]:
            grey = self.random.random(len(albedo)) < 0.6 * self._by("pale_map")
            albedo = np.where(grey[:, None], np.maximum(0.35 * albedo + 0.42, albedo), albedo)
        if scene["dark_map"]:
            albedo = albedo * np.reshape(1 - 0.75 * self._by("dark_map"), (-1, 1))
        scene.look_up()
        light = pelt.light[:, self.j, self.i].T
        toward = np.asarray(scene.light, float)
        across = 0.6 + 0.4 * shine.diffuse(self.tangent, toward)
        spread = np.exp(0.16 * scene["variety"] / 100 * self.random.standard_normal(len(albedo)) * 2)
        lit = albedo * light * (kind.value * across * spread * self.rim)[:, None]
        stops = np.asarray(kind.stops)[None, :, None] ** (scene["contrast"] / 100)
        linear = lit[:, None] * stops
        linear = linear + self._shine(albedo)[:, None] * np.array((0.3, 1.0, 0.8))[None, :, None]
        return encoded(np.clip(linear, 0, 1)).astype(np.float32)

    def _shine(self, albedo: NDArray[np.floating]) -> NDArray[np.floating]:
        """What hair mirrors of the key (n, 3): a broad gloss by the form, and two highlights by the hair itself."""
        pelt, scene = self.pelt, self.pelt.scene
        toward = np.asarray(scene.light, float)
        half = half_way(toward, FRONT)
        reach = scene.form.lit[self.j, self.i] * np.clip(self.normal @ toward + 0.15, 0, 1)
        broad = np.clip(self.normal @ half, 0, 1)[:, None] ** 9 * (0.016 + 0.34 * albedo)
        jitter = 0.06 * self.random.standard_normal(len(albedo))
        narrow, wide = (
            shine.specular(shine.shifted(self.tangent, self.normal, shift + jitter), toward, FRONT, power)
            for shift, power in ((-0.10, 60.0), (0.12, 16.0))
        )
        lobes = 0.085 * narrow[:, None] + 0.20 * wide[:, None] * np.maximum(albedo, 0) ** 0.6
        key = np.asarray(scene.sources.key_colour)
        gain = pelt.coat.gloss * scene["gloss"] / 100 * (0 if scene["lit"] == PAINTED else 1)
        return (broad + lobes) * key * (reach * gain * self.kind.value)[:, None]

    def _by(self, name: str) -> NDArray[np.floating] | float:
        """What a painted map says at the roots, 1 without one."""
        painted = self.pelt.scene.map(name)
        return 1.0 if painted is None else painted[self.j, self.i]

    def strands(self) -> Strands:
        kind = self.kind
        width = (
            kind.wide
            * self.pelt.coat.thick
            * self.pelt.thick
            * (0.35 + 0.65 * self._by("thick_map"))
            * np.exp(0.22 * self.random.standard_normal(len(self.points)))
        )
        return Strands.of(self.points, width, self.colours(), kind.alpha, shade=self.shade)

    def rank(self) -> Floats:
        """The order to lay them in: what lies downstream first, with a little chance."""
        field, roots = self.pelt.field, self.points[:, 0]
        if self.pelt.coat.locks and self.middle is not None:
            # A lock lies over the next one as a whole.
            roots = self.middle + 0.1 * (roots - self.middle)
        return field.at(field.rank, roots[:, 0], roots[:, 1]) + (
            0.25 * self.length * self.random.standard_normal(len(self.length)) / field.cell
        ).astype(np.float32)


PAINTED: Final = "as painted"
EDGE_ALONE: Final = "the edge alone"
WHERE: Final = "where, by layers"


def _undertones(scene: Scene) -> Floats:
    """Factors on linear colour (k, 3) that take the part's own colour to the undertones of its mixing grid, at the same
    value, as far as asked.
    """
    halftones = srgb.decode(np.array([scene.local, *(row[2] for row in scene.grid.values())]))
    even = np.maximum(halftones, 0.01) / np.maximum(srgb.luminance(halftones), 0.01)[:, None]
    result: Floats = (np.clip(even[1:] / even[0], 0.3, 3) ** (scene["undertones"] / 100)).astype(np.float32)
    return result


def _light(scene: Scene) -> Plane:
    """What of a white coat comes back (3, h, w), so that the part's own colour keeps to its value scale; 1 where the
    paint beneath has the light in it already. Maps lift it or deepen it.
    """
    form = scene.form
    share = scene["by_key"] / 100 if scene["lit"] != PAINTED else 0.0
    found = np.ones((3, *form.cover.shape), np.float32)
    if share > 0:
        found = _by_key(scene) * np.float32(share) + np.float32(1 - share)
    lift, deepen = scene.map("lift_map"), scene.map("deepen_map")
    if lift is not None:
        found = found * (1 + 1.4 * lift)
    if deepen is not None:
        found = found * (1 - 0.75 * deepen)
    return found.astype(np.float32)


def _by_key(scene: Scene) -> Plane:
    """The same by the key light alone."""
    form = scene.form
    albedo = srgb.decode(np.asarray(scene.local))
    linear = scene.in_scale(scene.shaded(form.normal, albedo, form.lit, form.openness, "drawing", form.extra))
    share = linear / np.maximum(albedo, 1e-3)[:, None, None]
    # Half of the light's own colour: hair scatters it among many.
    even = srgb.luminance(np.moveaxis(share, 0, -1))
    return ((share + even) / 2).astype(np.float32)


def _mass(pelt: _Pelt) -> Sheet:
    """The dark of the coat that is seen between hairs."""
    form = pelt.scene.form
    return Sheet("Mass", "shadow", form.area, encoded(np.clip(pelt.albedo * pelt.light * 0.42, 0, 1)), form.cover)


def _sheet(name: str, role: str, strands: Strands, scene: Scene) -> Sheet:
    drawn = strands.drawn(scene.form.area)
    cover = drawn[3] * _free(scene, scene.form.area)
    return Sheet(name, role, scene.form.area, drawn[:3] / np.maximum(drawn[3], 1e-6), cover)


def _free(scene: Scene, area: Rect) -> Plane | float:
    """Where no bald part stands in the way, 0..1."""
    bald = bald_cover(scene.painting, scene.part)
    return 1.0 if bald is None else 1 - bald.coverage(area)


def _edge(scene: Scene, strands: Strands) -> Sheet:
    """What of the coat's hairs reaches out of the silhouette; within it they are seen in the body."""
    form = scene.form
    points = strands.points.reshape(-1, 2) if len(strands.points) else np.array(((form.area.x0, form.area.y0),))
    (x0, y0), (x1, y1) = points.min(axis=0) - 4, points.max(axis=0) + 4
    area = form.area.united(Rect(int(x0), int(y0), int(x1) + 1, int(y1) + 1)).intersected(scene.painting.rect)
    drawn = strands.drawn(area)
    cover = drawn[3] * _free(scene, area)
    top, left = form.area.y0 - area.y0, form.area.x0 - area.x0
    # On pixels that the silhouette only partly covers it is whole, else what is behind would shine through as a line.
    cover[top : top + form.area.height, left : left + form.area.width] *= np.minimum(4 * (1 - form.cover), 1)
    return Sheet("Edge", "edge", area, drawn[:3] / np.maximum(drawn[3], 1e-6), cover)


def _make(scene: Scene) -> list[Sheet]:
    pelt = _Pelt.of(scene)
    coat = pelt.coat
    kinds = [(one, 1.0) for one in BODY] + [(one, coat.guard * scene["guard"] / 100) for one in GUARD] + [(STRAY, 1.0)]
    passes = [(one, share, f"pass {n}") for n, (one, share) in enumerate(kinds)]
    edge_alone = scene["layers"] == EDGE_ALONE
    if not edge_alone:
        passes.append((UNDER, coat.under, "under"))
    # Each pass has chance of its own, so that they can be planted side by side.
    hairs = _all_of([partial(pelt.planted, *one) for one in passes])
    hairs = _all_of([one.shaped for one in hairs])
    scene.tell(0.35)
    over = len(kinds)
    ranks = [one.rank() for one in hairs[:over]]
    strands = _all_of([one.strands for one in hairs])
    # All of them in one order: one after another they would look like films.
    whole = Strands.together(strands[:over], np.concatenate(ranks))
    scene.tell(0.55)
    if edge_alone:
        return [_edge(scene, whole.where(_leaving(scene, whole)))]
    lowest = Strands.together(strands[over:], hairs[over].rank())
    sheets = [_mass(pelt), _sheet("Undercoat", "texture", lowest, scene), _sheet("Coat", "strands", whole, scene)]
    scene.tell(0.85)
    if scene["edge"] > 0:
        sheets.append(_edge(scene, whole.where(_leaving(scene, whole))))
    return sheets


def _all_of(tasks: Sequence[Callable[[], T]]) -> list[T]:
    """What pieces of work come to that do not depend on each other."""
    found: dict[int, T] = {}

    def work(at: int) -> None:
        found[at] = tasks[at]()

    each(range(len(tasks)), work, worth_it=2)
    return [found[at] for at in range(len(tasks))]


def _leaving(scene: Scene, whole: Strands) -> NDArray[np.bool_]:
    """Which hairs end outside of the silhouette; a share of them by chance."""
    area, cover = scene.form.area, scene.form.cover
    padded = np.pad(cover, 1)
    i, j = (np.clip(np.floor(whole.points[:, -1, k] - start).astype(int) + 1, 0, side + 1)
            for k, start, side in ((0, area.x0, area.width), (1, area.y0, area.height)))  # fmt: skip
    chosen = scene.chance("edge").random(len(whole.points)) < scene["edge"] / 100
    return (padded[j, i] < 0.5) & chosen


COAT: Final = Maker(
    "coat", ("fur", "hair"), "A coat of fur along the comb lines: mass, undercoat, body and guard hairs, edge tufts",
    (
        choice("coat", "", tuple(COATS), "Kind of coat"),
        choice("layers", "makes", ("the whole coat", EDGE_ALONE), "All of it, or what breaks the edge of painted fur"),
        number("length", "long", 24, 2, 600, "Length of its hairs", unit=" px", px=True),
        *painted_map("length_map", "length", "A layer whose paint says how long: none is bare, full is all", WHERE),
        number("density", "dense", 60, 1, 200, "How many hairs", unit=" %"),
        *painted_map("density_map", "density", "A layer whose paint says how dense", WHERE),
        number("thick", "thick", 1.0, 0.2, 12, "Thickness of its hairs", unit=" px", digits=2, px=True),
        *painted_map("thick_map", "thickness", "A layer whose paint says how thick hairs are: fine to full", WHERE),
        number("guard", "guard hairs", 100, 0, 200, "How many long shining hairs stand over it", unit=" %"),
        number("clump", "tufts", 70, 0, 150, "How far hairs are drawn together", unit=" %"),
        *painted_map("clump_map", "tufts", "A layer whose paint says how strongly", WHERE),
        number("mess", "mess", 100, 0, 300, "How far hairs stray from the comb lines", unit=" %"),
        number("wave", "wave", 100, 0, 300, "How strongly they swing, where the coat or the comb says so", unit=" %"),
        *painted_map("wave_map", "wave", "A layer whose paint says how strongly", WHERE),
        number("contrast", "depth", 100, 0, 200, "Dark roots and light tips", unit=" %"),
        number("undertones", "undertones", 35, 0, 100, "How far hairs take those of the mixing grid", unit=" %"),
        number("variety", "variety", 100, 0, 300, "How much hairs differ in value", unit=" %"),
        *painted_map("pale_map", "silver", "A layer whose paint says where hairs are silver, as old ones are", WHERE),
        *painted_map("dark_map", "dark", "A layer whose paint says where hairs are dark, as on a saddle", WHERE),
        number("gloss", "gloss", 100, 0, 300, "How brightly it shines", unit=" %"),
        number("edge", "edge", 100, 0, 100, "How many hairs stand out over the silhouette", unit=" %"),
        choice("lit", "light", ("by the key light", PAINTED), "Work out the light, or take it from the paint beneath"),
        number("by_key", "of it", 100, 0, 100, "How much of the key light; the rest is as it is painted beneath",
               unit=" %"),
        *painted_map("lift_map", "lift", "A layer whose paint says where the coat is lighter", WHERE),
        *painted_map("deepen_map", "deepen", "A layer whose paint says where it is darker", WHERE),
        DEPTH,
    ),
    _make,
    combed=True,
)  # fmt: skip
