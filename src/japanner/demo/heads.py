"""The heads sheet: a young woman, an old man and a child, on figures of the maquette, finished by hand."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any, Final

import numpy as np
from scipy.interpolate import CubicSpline

from japanner.demo.sheets import Progress, Staging
from japanner.light.figure.people import person
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.operations import DropFrisket, Fill, Filter, FlattenPart, Make, SetFrisket, SetLight, SetPart
from japanner.painting.value.value_scale import proposed_scale
from japanner.scripting import OnForm, Script, lch, shipped_brush

__all__ = ["paint"]

SIZE: Final = (2400, 1000)
UNIT_PX: Final = 258.0
SHIPPED: Final = 2 / 3
"""Of the size in which places are given here."""
APART_PX: Final = 800.0
EYE_UNITS: Final = 26.0
RIGHT_DEG: Final = -48.0
"""Where the key comes from: from the viewer's left."""
OPERATIONS: Final = 760

Lch = tuple[float, float, float]
Rows = list[tuple[float, ...]]


@dataclass(frozen=True)
class Head:
    """Who, and how that is painted: colours as L*, C* and h, settings of makers, and how the head is turned."""

    who: str
    skin: Lch
    lips: Lch
    hair: Lch
    shirt: Lch
    eyes: dict[str, Any]
    coat: dict[str, Any]
    lashes: dict[str, Any]
    marks: dict[str, Any]
    pose: dict[str, float]
    down: float = 0.0
    size: float = 1.0
    near: float = 0.0
    bald: bool = False


HEADS: Final = (
    Head(
        "Ione Marrash", (33, 22, 52), (28, 24, 34), (12, 4, 50), (30, 14, 222),
        {"iris": (0.13, 0.08, 0.05), "iris_inner": (0.20, 0.12, 0.065)},
        {"coat": "coily", "length": 23.0, "density": 125.0},
        {"colour": (0.085, 0.06, 0.05), "brow_width": 92.0},
        {"texture": 36.0, "wet": 55.0},
        {"turn": -27.0, "nod": 3.0, "tilt": 3.0},
    ),
    Head(
        "Old Marl", (64, 21, 55), (50, 24, 38), (58, 4, 82), (22, 8, 60),
        {"iris": (0.20, 0.30, 0.38), "iris_inner": (0.36, 0.37, 0.30), "pupil_mm": 1.8, "ring": 85.0},
        {"coat": "short sleek", "length": 19.0, "density": 42.0, "thick": 0.9},
        {"colour": (0.42, 0.38, 0.34), "grey": 65.0, "wild": 80.0, "lashes": 45.0, "lower": 15.0, "lash_length": 75.0,
         "brow_length": 120.0},
        {"age_spots": 70.0, "beard": 45.0, "texture": 52.0, "blood": 70.0, "freckles": 12.0},
        {"turn": 23.0, "nod": -3.0, "gaze aside": -14.0, "lid opening": 0.45},
        near=0.4, bald=True,
    ),
    Head(
        "Lio Marrash", (43, 26, 55), (38, 27, 38), (14, 7, 52), (44, 20, 85),
        {"iris": (0.14, 0.085, 0.05), "iris_inner": (0.21, 0.13, 0.07), "pupil_mm": 2.3},
        {"coat": "curly", "length": 25.0, "density": 120.0},
        {"colour": (0.10, 0.07, 0.055), "brow_width": 80.0, "brows": 70.0, "lash_length": 110.0},
        {"texture": 20.0, "blood": 75.0, "wet": 42.0},
        {"turn": -10.0, "nod": 4.0, "gaze aside": 10.0},
        down=150.0, size=1.16, near=-0.35,
    ),
)  # fmt: skip


@dataclass(frozen=True)
class _Painted:
    """A head on the canvas: its parts by name, and the form that strokes are placed on."""

    head: Head
    number: int
    parts: dict[str, int]
    form: OnForm

    def mark(self, name: str) -> np.ndarray[Any, Any]:
        """A landmark on the canvas, script px."""
        return np.array(self.form.on(name))


def paint(progress: Progress = lambda done, words: None, watch: int = 0, scale: float = 1.0) -> Script:
    """Paint the sheet; the same seeds give the same bytes."""
    script = Script.new(*SIZE, scale=scale * SHIPPED, ppi=100.0 * scale, title="Heads sheet", ground=lch(22, 6, 240))
    stand: list[_Painted] = []

    def each(step: Callable[[Script, _Painted], None]) -> Callable[[], None]:
        def all_of_them() -> None:
            for one in stand:
                step(script, one)

        return all_of_them

    stages = (
        ("ground", lambda: _ground(script)),
        ("flats", lambda: stand.extend(_flats(script))),
        ("flesh", each(_flesh)),
        ("eyes and hair", each(_eyes_and_hair)),
        ("details", each(_by_hand)),
    )
    return Staging(script, progress, OPERATIONS, watch).run(stages)


def _ground(script: Script) -> None:
    """Broad soft strokes, lighter behind the shadow side of each head."""
    rng = np.random.default_rng(8)
    layer = script.layer(script.part("Ground", "plain"), "flat")
    script.do(Fill(layer, lch(25, 5, 235), "canvas"))
    brush = shipped_brush("Mop").with_changes(size_px=230.0, strength=0.5)
    for number in range(110):
        x, y = rng.uniform(-100, SIZE[0] + 100), rng.uniform(-60, SIZE[1] + 60)
        behind = min(abs(x - (400 + APART_PX * column) - 200) for column in range(3))
        value = 24 + 17 * np.exp(-((behind / 230) ** 2) - ((y - 400) / 380) ** 2) + rng.normal(0, 1.3)
        way = rng.normal(0.4, 0.6) + (np.pi if rng.random() < 0.5 else 0)
        reach = _px(np.cos(way), np.sin(way)) * rng.uniform(90, 260)
        colour = lch(float(value), float(rng.uniform(3, 7)), float(rng.choice((235.0, 215.0, 80.0))))
        script.stroke(layer, brush, colour, _curve(_px(x, y), _px(x, y) + reach, pressure=(0.8, 1.0, 0.6)), seed=number)


# --- form and flats ---------------------------------------------------------------------------------------


def _flats(script: Script) -> list[_Painted]:
    """Three figures before the canvas, and a flat for each of their parts."""
    script.do(SetLight(38.0, RIGHT_DEG, size_deg=9.0, sky=0.30, bounce=0.22))
    names = ("Skin", "Lips", "Shirt", "Eyes", "Lashes", "Hair")
    materials = {"Eyes": "eye", "Shirt": "cloth", "Hair": "hair", "Lashes": "hair"}
    figures, parts = [], []
    for number, head in enumerate(HEADS):
        uids = {
            name: script.part(f"{head.who.split()[0]}, {name.lower()}", materials.get(name, "skin")) for name in names
        }
        sliders = {**person(head.who), **head.pose}
        zones = {
            "left eye": "Eyes",
            "right eye": "Eyes",
            "lips": "Lips",
            **({} if head.bald else {"scalp": "Hair"}),
            "shoulders": "Shirt",
            "collar bones": "Shirt",
        }
        figures.append(Piece(
            head.who, "figure", place=((number - 1) * APART_PX / UNIT_PX, -head.down / UNIT_PX, head.near),
            part=uids["Skin"],
            size=(head.size,) * 3,
            sliders=tuple(sorted(sliders.items())), parts=tuple((zone, uids[name]) for zone, name in zones.items()),
        ))  # fmt: skip
        parts.append(uids)
    middle = (SIZE[0] / 2, 425.0)
    script.stand(Maquette(tuple(figures), middle, UNIT_PX, eye=EYE_UNITS))
    found = []
    for number, (head, uids, figure) in enumerate(zip(HEADS, parts, figures, strict=True)):
        colours = {
            "Skin": head.skin,
            "Lips": head.lips,
            "Shirt": head.shirt,
            "Eyes": (58.0, 8.0, 70.0),
            "Hair": head.hair,
        }
        alone = Maquette((replace(figure, part=1, parts=()),), middle, UNIT_PX, eye=EYE_UNITS)
        found.append(_Painted(head, number, uids, OnForm(alone, *SIZE)))
        for name, colour in colours.items():
            if name == "Hair" and head.bald:
                continue  # it comes over the skin
            flat = script.fill(uids[name], "flat", lch(*colour))
            if name == "Hair":
                script.do(Filter((flat,), "blur", {"sigma_px": 6.0 * script.scale}))
            material = materials.get(name, "skin")
            if material != "eye":
                scale = proposed_scale(colour[0], material, script.painting.light)
                script.do(SetPart(uids[name], {"scale": list(scale)}))
    return found


def _flesh(script: Script, one: _Painted) -> None:
    for name in ("Shirt", "Skin", "Lips"):
        way = "brushed" if name == "Shirt" else "smooth"
        script.do(Make(one.parts[name], "lay-in", {"way": way, "brush": 40.0, "finish": 55.0}, seed=2))
    for name in ("Skin", "Lips"):
        script.do(Make(one.parts[name], "skin", {"pores": 2.5, **one.head.marks}, seed=3 + one.number))
    script.do(Make(one.parts["Skin"], "flesh strokes", {"brush": 22.0, "strength": 42.0}, seed=5))
    for name in ("Skin", "Lips", "Shirt"):
        # From here on it is one paint to go on with by hand, and the file is smaller by a third.
        script.do(FlattenPart(one.parts[name]))


def _eyes_and_hair(script: Script, one: _Painted) -> None:
    script.do(Make(one.parts["Eyes"], "eye", {"far": 1200.0, **one.head.eyes}, seed=4))
    script.do(Make(one.parts["Lashes"], "lashes and brows", {"figure": one.number + 1, **one.head.lashes}, seed=5))
    if one.head.bald:
        _wreath(script, one)
    script.do(Make(one.parts["Hair"], "coat", one.head.coat, seed=6))


WREATH: Final = (
    (26, 14),
    (52, -18),
    (58, -62),
    (34, -108),
    (-8, -138),
    (-60, -175),
    (-170, -150),
    (-170, 130),
    (-40, 120),
    (-18, 34),
)
"""What an old man has left, from the top of his ear, px."""


def _ring(one: _Painted) -> np.ndarray[Any, Any]:
    """The outline of the hair on the canvas."""
    if not one.head.bald:
        return np.array(one.form.outline("scalp", step=2))
    side = 1.0 if one.head.pose["turn"] > 0 else -1.0
    points = one.mark(f"{_near(one)} top of the ear") + np.array(WREATH[1:5], float) * (side, 1)
    return np.concatenate([np.linspace(a, b, 12) for a, b in pairwise(points)])


def _wreath(script: Script, one: _Painted) -> None:
    """Hair at the sides and behind: from now on the scalp is its own, as far as it reaches."""
    side, hair = (1.0 if one.head.pose["turn"] > 0 else -1.0), one.parts["Hair"]
    pieces = list(script.form.maquette.pieces)
    pieces[one.number] = replace(pieces[one.number], parts=(*pieces[one.number].parts, ("scalp", hair)))
    script.stand(replace(script.form.maquette, pieces=tuple(pieces)))
    corners = one.mark(f"{_near(one)} top of the ear") + np.array(WREATH, float) * (side, 1)
    points = tuple((float(x) * script.scale, float(y) * script.scale) for x, y in corners)
    script.do(SetFrisket({"shape": "outline", "points": points}))
    flat = script.fill(hair, "flat", lch(*one.head.hair))
    script.do(DropFrisket())
    script.do(Filter((flat,), "blur", {"sigma_px": 9.0 * script.scale}))
    scale = proposed_scale(one.head.hair[0], "hair", script.painting.light)
    script.do(SetPart(hair, {"scale": list(scale)}))


# --- by hand ----------------------------------------------------------------------------------------------


def _by_hand(script: Script, one: _Painted) -> None:
    """What a painter adds: glazes, accents, lights, hairs of the hairline, strays, folds."""
    rng = np.random.default_rng(40 + one.number)
    _glazes(script, one, rng)
    _accents(script, one, rng)
    _lights(script, one, rng)
    _hairs(script, one, rng)
    _folds(script, one, rng)


def _curve(*points: Any, pressure: tuple[float, float, float] = (0.3, 1.0, 0.2)) -> Rows:
    """A stroke through places, lighter at its ends."""
    through = np.array([tuple(point) for point in points], float)
    along = np.linspace(0, 1, len(through))
    fine = np.linspace(0, 1, 14)
    course = (
        CubicSpline(along, through)(fine)
        if len(through) > 2
        else through[0] + fine[:, None] * (through[1] - through[0])
    )
    weight = np.interp(fine, (0, 0.5, 1), pressure)
    return [(float(x), float(y), float(w)) for (x, y), w in zip(course, weight, strict=True)]


def _px(x: float, y: float) -> np.ndarray[Any, Any]:
    return np.array((x, y), float)


def _near(one: _Painted) -> str:
    """The side of the face that is turned to the viewer; a figure's left is on the viewer's right."""
    return "left" if one.head.pose["turn"] < 0 else "right"


def _glazes(script: Script, one: _Painted, rng: np.random.Generator) -> None:
    """Blood in cheeks, nose, ears and chin, and cool around mouth and eyes, thin and wide."""
    skin, near = one.parts["Skin"], _near(one)
    far = "right" if near == "left" else "left"
    layer = script.layer(skin, "undertone", name="Glazes", mode="Soft Light", strength=0.55)
    brush = shipped_brush("Mop").with_changes(size_px=64.0, strength=0.1)
    red, cool = (0.74, 0.30, 0.24), (0.36, 0.38, 0.44)
    places = {f"{near} cheek": 4, f"{far} cheek": 2, "nose tip": 2, f"{near} lobe": 2, "chin": 2}
    for name, count in places.items():
        middle = one.mark(name)
        for _ in range(count):
            start, end = middle + rng.normal(0, 9, 2), middle + rng.normal(0, 13, 2) + _px(0, 6)
            wide = 0.5 if name in ("nose tip", f"{near} lobe") else 1.0
            script.stroke(layer, brush.with_changes(size_px=64.0 * wide), red, _curve(start, end), seed=1)
    for name, offset in ((f"{near} lower lid", 9), (f"{far} lower lid", 8), (f"{near} mouth corner", 10),
                         ("fold under the lip", 0), (f"{near} temple", 6)):  # fmt: skip
        for _ in range(2):
            start = one.mark(name) + _px(rng.normal(-9, 3), offset + rng.normal(0, 3))
            end = start + _px(18, rng.normal(0, 3))
            script.stroke(layer, brush.with_changes(size_px=26.0), cool, _curve(start, end), seed=2)


def _accents(script: Script, one: _Painted, rng: np.random.Generator) -> None:
    """The darkest darks: corners and middle of the mouth, lid creases, wings of the nose, the ear's bowl."""
    skin, near = one.parts["Lashes"], _near(one)
    layer = script.layer(skin, "accent", name="Accents", place="over", strength=0.7)
    value = max(one.head.skin[0] * 0.26, 7.0)
    dark = lch(value, min(one.head.skin[1] * 0.75, 16), 38)
    brush = shipped_brush("Soft round").with_changes(size_px=3.4, strength=0.55)
    mouth = one.mark("mouth")
    for side in ("left", "right"):
        corner = one.mark(f"{side} mouth corner")
        for _ in range(2):
            script.stroke(
                layer,
                brush,
                dark,
                _curve(corner + 0.2 * (mouth - corner) + rng.normal(0, 0.5, 2), corner + 0.42 * (mouth - corner)),
                seed=3,
            )
        lid, inner, outer = (
            one.mark(f"{side} {name}") for name in ("upper lid", "inner eye corner", "outer eye corner")
        )
        crease = np.array((0.0, -5.4))
        for _ in range(3):
            line = _curve(
                inner + 0.35 * (lid - inner) + 0.9 * crease, lid + crease + rng.normal(0, 0.5, 2), outer + 0.6 * crease
            )
            script.stroke(layer, brush.with_changes(strength=0.3), dark, line, seed=4)
    for _ in range(3):
        left, right = (mouth + _px(x, rng.normal(0, 0.4)) for x in (-7, 6))
        line = _curve(left, mouth + _px(0, 0.6), right)
        script.stroke(layer, brush.with_changes(strength=0.4), dark, line, seed=6)
    ear = 0.5 * (one.mark(f"{near} top of the ear") + one.mark(f"{near} lobe"))
    for _ in range(4):
        start = ear + rng.normal(0, 4, 2)
        script.stroke(
            layer,
            brush.with_changes(size_px=5.0, strength=0.25),
            dark,
            _curve(start + _px(0, -8), start + _px(0, 7)),
            seed=7,
        )


def _lights(script: Script, one: _Painted, rng: np.random.Generator) -> None:
    """Small lights where skin is wet or stretched, each in the colour of the skin's own light."""
    layer = script.layer(one.parts["Lashes"], "highlight", name="Lights", place="over", mode="Normal", strength=0.6)
    value = one.head.skin[0]
    light = lch(value + 0.52 * (100 - value), 0.6 * one.head.skin[1], 66)
    brush = shipped_brush("Soft round").with_changes(size_px=4.2, strength=0.3)
    lit = "left" if RIGHT_DEG > 0 else "right"
    tip, root = one.mark("nose tip"), one.mark("root of the nose")
    for _ in range(5):
        place = tip + _px(-3, -4) + rng.normal(0, 2.0, 2)
        script.stroke(layer, brush, light, _curve(place, place + rng.normal(0, 2.0, 2)), seed=8)
    for share in np.linspace(0.25, 0.7, 5):
        place = root + share * (tip - root) + rng.normal(0, 0.8, 2)
        script.stroke(layer, brush.with_changes(strength=0.22), light, _curve(place, place + _px(0.6, 5.0)), seed=9)
    lower, upper = one.mark("lower lip"), one.mark("upper lip")
    for number in range(8):
        place = lower + _px((number - 4) * 3.4 - 2, -9.0 + rng.normal(0, 0.7))
        script.stroke(
            layer, brush.with_changes(size_px=2.2, strength=0.35), light, _curve(place, place + _px(0.3, 3.4)), seed=10
        )
    for number in range(4):
        place = upper + _px((number - 2) * 4.0, -2.6)
        script.stroke(
            layer, brush.with_changes(size_px=2.0, strength=0.28), light, _curve(place, place + _px(3.2, 0.4)), seed=11
        )
    for side in ("left", "right"):
        low = one.mark(f"{side} lower lid")
        for _ in range(3):
            place = low + _px(rng.normal(0, 5), 0.8)
            script.stroke(
                layer,
                brush.with_changes(size_px=1.2, strength=0.5),
                light,
                _curve(place, place + _px(2.4, -0.2)),
                seed=13,
            )
        brow = one.mark(f"{side} brow, peak")
        for _ in range(3):
            place = brow + _px(rng.normal(0, 6), -9 + rng.normal(0, 1.5))
            script.stroke(
                layer, brush.with_changes(size_px=7.0, strength=0.12), light, _curve(place, place + _px(8, -1)), seed=14
            )
        bone = one.mark(f"{side} cheek bone")
        for _ in range(3 if side == lit else 1):
            place = bone + rng.normal(0, 5, 2)
            script.stroke(
                layer, brush.with_changes(size_px=8.0, strength=0.12), light, _curve(place, place + _px(9, 4)), seed=15
            )


def _hairs(script: Script, one: _Painted, rng: np.random.Generator) -> None:
    """Fine hairs over the hairline, and strays against the ground: no edge of hair is a line."""
    layer = script.layer(one.parts["Hair"], "strays", place="over")
    brush = shipped_brush("Stray hair").with_changes(size_px=1.3, strength=0.6)
    hair = one.head.hair
    ring = _ring(one)
    centre = ring.mean(axis=0) if not one.head.bald else one.mark(f"{_near(one)} lobe")
    seen = one.form.seen(2).seen
    for number in range(46 if one.head.bald else 120):
        at = int(rng.integers(len(ring)))
        place = ring[at]
        out = place - centre
        out /= max(float(np.hypot(*out)), 1e-6)
        column, row = (np.clip((place + 7 * out) / 2, 0, (seen.shape[1] - 1, seen.shape[0] - 1))).astype(int)
        over_skin = bool(seen[row, column])
        long = rng.uniform(6, 12) if over_skin else rng.uniform(5, 13)
        aside = np.array((-out[1], out[0])) * rng.normal(0, 0.6 if over_skin else 0.9)
        start = place - 5 * out
        bend = 0.5 * long * (out + aside) + rng.normal(0, 1.6, 2)
        value = float(np.clip(hair[0] + rng.normal(0, 5), 4, 90))
        script.stroke(layer, brush.with_changes(size_px=float(rng.uniform(1.0, 1.7))), lch(value, hair[1], hair[2]),
                      _curve(start, start + 4 * out + bend, start + 5 * out + long * (out + aside),
                             pressure=(1.0, 0.7, 0.1)), seed=number)  # fmt: skip


def _folds(script: Script, one: _Painted, rng: np.random.Generator) -> None:
    """Cloth: a seam at the neck, and soft folds from the shoulders."""
    shirt = one.parts["Shirt"]
    layer = script.layer(shirt, "shadow", name="Folds")
    value, chroma, hue = one.head.shirt
    brush = shipped_brush("Soft round").with_changes(size_px=20.0, strength=0.3)
    for side in ("left", "right"):
        shoulder, hollow = one.mark(f"{side} shoulder"), one.mark("neck hollow")
        for number in range(7):
            share = rng.uniform(0.2, 0.8)
            start = hollow + share * (shoulder - hollow) + _px(0, 12 + rng.uniform(0, 30))
            end = start + 0.25 * (shoulder - hollow) + _px(0, rng.uniform(40, 90))
            shade = value * (0.62 if number % 2 else 1.28)
            script.stroke(layer, brush.with_changes(size_px=float(rng.uniform(9, 24))), lch(shade, chroma, hue),
                          _curve(start, 0.5 * (start + end) + rng.normal(0, 9, 2), end), seed=number)  # fmt: skip
