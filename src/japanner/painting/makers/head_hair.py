"""A mass of hair filled with locks along the comb lines: from broad and dark to fine and light, front over back."""

from __future__ import annotations

from dataclasses import replace
from typing import Final, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.painting.form.combing import comb_of
from japanner.painting.form.outlines import border_of
from japanner.painting.makers.base import (
    DEPTH,
    Maker,
    Plane,
    Scene,
    Setting,
    Sheet,
    choice,
    encoded,
    filled,
    fractal,
    number,
    painted_map,
    smoothstep,
    softened,
)  # fmt: skip
from japanner.painting.makers.lock_edits import edited
from japanner.raster.geometry import Rect
from japanner.raster.parallel import each
from japanner.strand import growing
from japanner.strand.comb import CombField
from japanner.strand.curls import PATTERNS
from japanner.strand.lock import LockKind, lock
from japanner.strand.strands import Strands

__all__ = ["HEAD_HAIR", "lock_lines"]

Floats = NDArray[np.floating]


class Level(NamedTuple):
    """Locks of one size: width and length as shares of the settings, how often they cover the mass, their value, and
    how far they lie off the comb, degrees.
    """

    wide: float
    long: float
    often: float
    value: float
    mess: float


LEVELS: Final = (
    Level(1.0, 1.0, 2.0, 0.46, 3.0), Level(0.6, 0.95, 1.9, 0.66, 5.0), Level(0.34, 0.9, 1.2, 0.90, 7.0),
    Level(0.18, 0.85, 0.55, 1.08, 10.0), Level(0.08, 0.9, 0.22, 1.22, 15.0),
)  # fmt: skip
"""From thick to thin (common practice: each size lighter, and less of it)."""
NAMES: Final = ("Broad locks", "Locks", "Thin locks", "Fine locks", "Single hairs")
JOINTS: Final = 26
MOST_LOCKS: Final = 2600
MOST_STRANDS: Final = 80
SKETCHED: Final = 24
"""So many locks of a size, wider ones, are enough for a first look."""
OVERLAP: Final = 3.2
"""So many hairs over each other fill a lock."""
CLUMPED: Final = 0.55
COILS_WIDE: Final = 2.0
"""Widths of coils to the widest lock of them."""


class Planted(NamedTuple):
    """Locks of one size: lines (n, m, 2), rank and width (n,), and the numbers of those that are there."""

    lines: Floats
    rank: Floats
    wide: Floats
    there: NDArray[np.intp]


class _Mass:
    """What all levels share: the comb, the light of the form, and chance."""

    def __init__(self, scene: Scene) -> None:
        self.scene, self.form = scene, scene.form
        self.field: CombField = comb_of(scene.painting, scene.part)
        albedo = srgb.decode(np.asarray(scene.local))
        form = scene.form
        linear = scene.shaded(form.normal, albedo, form.lit, form.openness, "drawing", form.extra)
        linear = scene.in_scale(linear)
        share = linear / np.maximum(albedo, 1e-3)[:, None, None]
        even = srgb.luminance(np.moveaxis(share, 0, -1)).astype(np.float32)
        self.light: Plane = np.clip(softened(even, max(form.cover.shape) * 0.008), 0.04, 1.7)
        self.albedo = albedo
        painted = scene.map("density_map")
        self.dense: Plane = form.cover if painted is None else form.cover * painted

    def at(self, plane: Plane, x: Floats, y: Floats) -> Floats:
        """A plane's values at places of the canvas (any shape)."""
        area = self.form.area
        i = np.clip(np.floor(x - area.x0).astype(np.intp), 0, area.width - 1)
        j = np.clip(np.floor(y - area.y0).astype(np.intp), 0, area.height - 1)
        found: Floats = plane[j, i]
        return found

    def planted(self, which: int) -> Planted:
        """Where the locks of one size run."""
        one, scene, area = LEVELS[which], self.scene, self.form.area
        random = scene.chance(f"level {which}")
        wide, long = self._size(one)
        wanted, whole = self._wanted(long), max(float(self.dense.sum()), 1.0)
        most = max(float(wanted.max()), 1e-3)
        often = one.often * (0.4 + 0.6 * PATTERNS[scene["pattern"]].drawn) * scene["density"] / 100
        count = int(np.clip(often * whole / (0.62 * wide * long), 1, MOST_LOCKS))
        if scene.sketch and count > SKETCHED:
            wide *= (count / SKETCHED) ** 0.8
            count = SKETCHED
        places = growing.spread(int(count * area.width * area.height * most / whole) + 1, random)
        x, y = (places * (area.width, area.height) + (area.x0, area.y0)).T
        kept = random.random(len(x)) * most < self.at(wanted, x, y)
        x, y = x[kept], y[kept]
        count = len(x)
        length = long * self.field.at(self.field.length, x, y) * np.exp(0.22 * random.standard_normal(count))
        turn = np.radians(one.mess * scene["mess"] / 100 * random.standard_normal(count))
        lines = self.blown(growing.grown(self.field, x, y, length, turn, JOINTS, 0.5), random)
        rank = self.field.at(self.field.rank, x, y) + 0.6 * random.standard_normal(count)
        widths = wide * np.exp(0.3 * random.standard_normal(count))
        lines, there = edited(lines, which, scene["edits"])
        return Planted(lines, rank, widths, np.flatnonzero(there))

    def _size(self, one: Level) -> tuple[float, float]:
        """Width and length of locks of a size, px: coiling ones are a few coils wide, and draw up."""
        pattern, wide = PATTERNS[self.scene["pattern"]], self.scene["wide"] * one.wide
        if pattern.drawn < 1:
            coil = pattern.coil_mm * self.scene["mm_px"]
            wide = min(wide, max(COILS_WIDE * coil * (0.6 + 0.4 * one.wide), 3.0))
        return wide, self.scene["length"] * one.long * pattern.drawn

    def level(self, which: int) -> tuple[Strands, Floats]:
        """The strands of one size of locks, and the rank of each."""
        found = self.planted(which)
        made: dict[int, Strands] = {}

        def one_lock(k: int) -> None:
            made[k] = self._lock(found.lines[k].astype(float), float(found.wide[k]), which, k)

        for start in range(0, len(found.there), 200):
            self.scene.look_up()
            each(found.there[start : start + 200].tolist(), one_lock)
        if not made:
            return _none(), np.empty(0)
        several = [made[int(k)] for k in found.there]
        return _joined(several), np.repeat(found.rank[found.there], [len(one.points) for one in several])

    def blown(self, lines: Floats, random: np.random.Generator) -> Floats:
        """Lines bent by the wind, the more the nearer to their tips; as long as they were."""
        wind = self.scene["wind"] / 100
        if not wind:
            return lines
        towards = np.radians(self.scene["wind_deg"])
        way = np.array((np.cos(towards), -np.sin(towards)))
        steps = np.diff(lines, axis=1)
        long = np.linalg.norm(steps, axis=2, keepdims=True)
        share = np.linspace(0, 1, steps.shape[1])[None, :, None] ** 1.3
        gusts = (0.6 + 0.8 * random.random(len(lines)))[:, None, None]
        turned = steps / np.maximum(long, 1e-6) + 2.4 * wind * gusts * share * way
        turned *= long / np.maximum(np.linalg.norm(turned, axis=2, keepdims=True), 1e-6)
        return np.concatenate((lines[:, :1], lines[:, :1] + np.cumsum(turned, axis=1)), axis=1)

    def _wanted(self, long: float) -> Plane:
        """How many roots there are to be, as a factor (h, w): more where hair begins, as none comes from further up."""
        field = self.field
        rank = np.where(field.inside > 0.5, field.rank, np.nan)
        first = float(np.nanpercentile(rank, 99)) if np.isfinite(rank).any() else 0.0
        down = np.clip(first - field.rank, 0, None) * field.cell
        more = 1 + 3.5 * np.exp(-down / max(0.22 * long, 1.0))
        shape = self.form.cover.shape
        grown: Plane = cv2.resize(more.astype(np.float32), shape[::-1], interpolation=cv2.INTER_LINEAR)
        return grown * self.dense

    def _lock(self, line: Floats, wide: float, which: int, lock_no: int) -> Strands:
        scene, random, level = self.scene, self.scene.chance(f"level {which} {lock_no}"), LEVELS[which]
        thick = max(float(scene["thick"]), 0.5 if not scene.sketch else 1.4)
        pattern = PATTERNS[scene["pattern"]]
        # Hairs that coil fill more than their own width.
        hairs = OVERLAP * wide / thick * (0.35 + 0.65 * pattern.drawn)
        kind = LockKind(
            int(np.clip(hairs, 3, MOST_STRANDS if not scene.sketch else 14)), thick,
            scene["pattern"], scene["mm_px"], CLUMPED, 0.5, scene["roots"] / 100, scene["gloss"] / 100 * self._gloss,
            0.03,
        )  # fmt: skip
        share = np.linspace(0, 1, len(line))
        # Narrow at the root, fullest before the middle, drawn out to a tip.
        half = 0.5 * wide * np.clip(0.35 + 2.2 * share, 0, 1) * np.sqrt(np.clip(1.02 - share**2.4, 0.02, 1))
        uneven = 0.20 if pattern.drawn == 1 else 0.34
        value = level.value * np.exp(uneven * random.standard_normal())
        hue = 1 + 0.05 * random.standard_normal() * np.array((0.6, 0.0, -1.0))
        colour = encoded(np.clip(self.albedo * value * hue, 0, 1)[:, None, None].astype(np.float32))[:, 0, 0]
        seed = int(random.integers(0, 2**31))
        light = (float(scene.light[0]), float(scene.light[1]), float(scene.light[2]))
        made = lock(line, half, kind, (float(colour[0]), float(colour[1]), float(colour[2])), 0.92, light, seed)
        lit = self.at(self.light, made.points[..., 0], made.points[..., 1])
        # Encoded colours are multiplied: about the square root of what light is.
        return replace(made, shade=(made.shade * lit**0.42).astype(np.float32))

    @property
    def _gloss(self) -> float:
        """Dark hair shines in narrow lights on black; pale hair scatters."""
        return float(np.interp(srgb.luminance(self.albedo), (0.01, 0.25), (1.15, 0.8)))


def lock_lines(scene: Scene) -> list[tuple[int, int, Floats, float]]:
    """Size, number, line (m, 2) and width of each lock, in the order in which they are laid."""
    mass, found = _Mass(scene), []
    for which in range(round(scene["levels"])):
        planted = mass.planted(which)
        order = planted.there[np.argsort(planted.rank[planted.there], kind="stable")]
        found += [(which, int(k), planted.lines[k], float(planted.wide[k])) for k in order]
    return found


def _none() -> Strands:
    return Strands.of(np.empty((0, 2, 2)), 1.0, np.empty((0, 3, 3)), 1.0)


def _joined(several: list[Strands], order: Floats | None = None) -> Strands:
    """All of them in an order, or as they come, each with as many joints as the one that has most."""
    joints = max(one.points.shape[1] for one in several)
    ranks = np.arange(sum(len(one.points) for one in several), dtype=float) if order is None else order
    return Strands.together([_resampled(one, joints) for one in several], ranks)


def _resampled(one: Strands, joints: int) -> Strands:
    if one.points.shape[1] == joints:
        return one
    at = np.linspace(0, one.points.shape[1] - 1, joints)
    low = np.minimum(at.astype(np.intp), one.points.shape[1] - 2)
    share = (at - low).astype(np.float32)

    def taken(plane: Floats) -> Floats:
        weight = share.reshape((1, -1) + (1,) * (plane.ndim - 2))
        found: Floats = (plane[:, low] * (1 - weight) + plane[:, low + 1] * weight).astype(np.float32)
        return found

    return Strands(taken(one.points), one.look, taken(one.shade), taken(one.wide))


def _make(scene: Scene) -> list[Sheet]:
    mass = _Mass(scene)
    levels = round(scene["levels"])
    form = scene.form
    dark = encoded(np.clip(mass.albedo[:, None, None] * mass.light * 0.22, 0, 1).astype(np.float32))
    sheets = [Sheet("Mass", "shadow", form.area, dark, form.cover)]
    every: list[tuple[Strands, Floats]] = []
    for which in range(levels):
        every.append(mass.level(which))
        scene.tell(0.1 + 0.5 * (which + 1) / levels)
    # Broad ones lie below; the rest pass over and under each other.
    finer = [(name, [one]) for name, one in zip(NAMES[3:], every[3:], strict=False)]
    for name, group in [(NAMES[0], every[:1]), (NAMES[1], every[1:3]), *finer]:
        if group:
            strands = _joined([one for one, _ in group], np.concatenate([rank for _, rank in group]))
            sheets.append(_drawn(scene, strands, name))
    if scene["strays"] > 0:
        sheets.append(_strays(mass))
    if scene["hairline"] > 0:
        sheets += _hairline(mass)
    return sheets


def _drawn(scene: Scene, strands: Strands, name: str) -> Sheet:
    """Locks as a layer that may leave the silhouette by their tips."""
    area = _around(scene, strands)
    drawn = strands.drawn(area)
    return Sheet(name, "strands", area, drawn[:3] / np.maximum(drawn[3], 1e-6), np.clip(drawn[3], 0, 1), place="over")


def _around(scene: Scene, strands: Strands) -> Rect:
    if not len(strands.points):
        return scene.form.area
    points = strands.points.reshape(-1, 2)
    (x0, y0), (x1, y1) = points.min(axis=0) - 4, points.max(axis=0) + 4
    area = Rect(int(x0), int(y0), int(x1) + 1, int(y1) + 1).intersected(scene.painting.rect)
    return scene.form.area if area.empty else area


def _strays(mass: _Mass) -> Sheet:
    """Single bright hairs that leave the mass."""
    scene, random, area = mass.scene, mass.scene.chance("strays"), mass.form.area
    count = max(int(scene["strays"] * mass.form.cover.sum() / (scene["wide"] * scene["length"]) * 0.10), 3)
    edge = cv2.distanceTransform((np.pad(mass.form.cover, 1) > 0.5).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    near = (edge > 0) & (edge < 0.8 * scene["wide"])
    rows, columns = np.nonzero(near)
    if not len(rows):
        rows, columns = np.nonzero(mass.form.cover > 0.5)
    chosen = random.integers(0, len(rows), count)
    x, y = columns[chosen] + area.x0 + 0.5, rows[chosen] + area.y0 + 0.5
    length = scene["length"] * random.uniform(0.5, 1.1, count)
    lines = growing.grown(mass.field, x, y, length, np.radians(26 * random.standard_normal(count)), 20, 0.75)
    lines = mass.blown(lines, random)
    lines = growing.waved(lines, length * 0.03, random.uniform(0.6, 2.2, count), random.uniform(0, 6.3, count))
    lit = mass.at(mass.light, lines[..., 0], lines[..., 1]) ** 0.42
    pale = encoded(np.clip(mass.albedo * 1.5, 0, 1)[:, None, None].astype(np.float32))[:, 0, 0]
    colours = np.broadcast_to(pale, (count, 3, 3))
    wide = max(float(scene["thick"]) * 0.85, 0.55)
    strands = Strands.of(lines, wide, colours, random.uniform(0.35, 0.9, count), shade=lit, tip=0.4, power=1.6)
    return replace(_drawn(scene, strands, "Strays"), role="strays")


def _hairline(mass: _Mass) -> list[Sheet]:
    """Where hair grows out of skin: short fine hairs rooted beyond the mass, fewer the further out, and the hair's
    shadow on the skin.
    """
    scene, form, random = mass.scene, mass.form, mass.scene.chance("hairline")
    reach = float(scene["hairline"])
    border, out = border_of(form.cover)
    if not len(border):
        return []
    column, row = np.rint(border).astype(int).T
    x, y = border.T + np.array(((form.area.x0,), (form.area.y0,))) + 0.5
    dx, dy = mass.field.directions(x, y)
    # Hair begins here where the comb leads into the mass.
    inward = -(dx * out[:, 0] + dy * out[:, 1])
    begins = inward > 0.15
    if not begins.any():
        return []
    roots_at = np.flatnonzero(begins)
    count = int(len(roots_at) / max(0.42 * float(scene["thick"]), 0.5))
    chosen = roots_at[random.integers(0, len(roots_at), count)]
    # Density falls off outwards evenly.
    far = reach * (1 - np.sqrt(random.random(count)))
    x, y = x[chosen] + out[chosen, 0] * far, y[chosen] + out[chosen, 1] * far
    length = (0.16 * scene["length"] + 1.2 * reach) * random.uniform(0.4, 1.2, count) * (1 - 0.6 * far / reach)
    lines = growing.grown(mass.field, x, y, length, np.radians(16 * random.standard_normal(count)), 10, 0.6)
    colour = encoded(np.clip(mass.albedo * 0.8, 0, 1)[:, None, None].astype(np.float32))[:, 0, 0]
    wide = max(float(scene["thick"]) * 0.7, 0.5)
    alpha = random.uniform(0.25, 0.8, count) * (1 - 0.55 * far / reach)
    strands = Strands.of(lines, wide, np.broadcast_to(colour, (count, 3, 3)), alpha, tip=0.35, soft=0.25, power=1.5)
    hairs = replace(_drawn(scene, strands, "Hairline"), role="strays")
    room = int(3 * reach) + 4
    area = form.area.grown(room).intersected(scene.painting.rect)
    mask = np.zeros((area.height, area.width), np.float32)
    near = np.zeros(form.cover.shape, np.float32)
    near[row[begins], column[begins]] = 1
    top, left = form.area.y0 - area.y0, form.area.x0 - area.x0
    mask[top : top + form.area.height, left : left + form.area.width] = near
    shade = np.clip(softened(mask, reach * 0.8) * reach * 1.9, 0, 1) * smoothstep(0.0, 0.5, softened(mask, reach))
    uneven = np.clip(0.85 + 0.2 * fractal(scene.chance("shade"), mask.shape, reach * 2, 3), 0.3, 1.2)
    dark = np.clip(np.asarray(scene.local) * 0.5 + 0.05, 0, 1)
    cover = np.clip(shade * uneven, 0, 1) * 0.55
    shadow = Sheet("Shadow on skin", "shadow", area, filled(mask.shape, tuple(dark)), cover, place="behind",
                   mode="Multiply")  # fmt: skip
    return [shadow, hairs]


HEAD_HAIR: Final = Maker(
    "fill with locks", ("hair",), "Locks of several sizes along the comb lines, from broad and dark to fine and light",
    (
        choice("pattern", "", tuple(PATTERNS), "How its hair is curled"),
        number("levels", "sizes", 4, 2, 5, "So many sizes of locks, from thick to thin"),
        number("length", "long", 260, 8, 3000, "Length of locks; comb lines may say more or less", unit=" px", px=True),
        number("wide", "wide", 46, 3, 600, "Width of the thickest locks", unit=" px", px=True),
        number("density", "dense", 100, 10, 250, "How often locks cover the mass", unit=" %"),
        *painted_map("density_map", "density", "A layer whose paint says where hair is dense"),
        number("thick", "hairs", 1.3, 0.3, 12, "Thickness of its hairs", unit=" px", digits=2, px=True),
        number("mm_px", "scale", 2.2, 0.1, 40, "Pixels to a millimetre, for the size of curls", unit=" px/mm", digits=2,
               px=True),
        number("roots", "dark roots", 65, 0, 100, "How dark roots and ends are", unit=" %"),
        number("gloss", "gloss", 60, 0, 200, "Strength of its light band", unit=" %"),
        number("mess", "mess", 100, 0, 400, "How far locks lie off the comb lines", unit=" %"),
        number("wind", "wind", 0, 0, 100, "How strongly free ends are blown aside", unit=" %"),
        number("wind_deg", "towards", 0, -180, 180, "Which way the wind blows: 0 to the right, 90 up", unit="°"),
        number("strays", "strays", 40, 0, 200, "Single hairs that leave it", unit=" %"),
        number("hairline", "hairline", 14, 0, 200, "How far short hairs grow beyond it, where hair begins", unit=" px",
               px=True),
        Setting("edits", "edits", "edits", (), tip="What a hand has done to single locks"),
        DEPTH,
    ),
    _make,
    combed=True,
)  # fmt: skip
