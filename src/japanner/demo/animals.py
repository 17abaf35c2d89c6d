"""The animals sheet: the faces of an otter and of a cat, on maquettes, finished by hand."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner.demo.sheets import Progress, Staging
from japanner.demo.tidebell.brushwork import Painter, tapered
from japanner.demo.tidebell.sitter import coat_lies
from japanner.light.maquette import Maquette
from japanner.light.shipped import shipped_maquette
from japanner.painting.operations import Fill, FlattenPart, Make, SetLight, SetPart
from japanner.painting.value.value_scale import proposed_scale
from japanner.scripting import Comb, CombRule, OnForm, Script, lch, shipped_brush

__all__ = ["paint"]

SIZE: Final = (1600, 1000)
SHIPPED: Final = 0.8
"""Of the size in which places are given here."""
OPERATIONS: Final = 780

Lch = tuple[float, float, float]
Floats = NDArray[np.floating]
Line = tuple[tuple[float, float, float], tuple[float, float, float], float, float]
"""From, to, size in px, strength."""


def _cat_lies(point: Floats, normal: Floats, name: str) -> Comb:
    """From the nose up and back, out over the cheeks, down the neck; short on the bridge, long on cheeks and breast."""
    x, y, z = (float(one) for one in point)
    side = 1.0 if x >= 0 else -1.0
    if name.startswith("Ear"):
        return Comb((0.5 * side, 1.0, -0.2), length=0.5, lift=0.3)
    way = point - np.array((0.0, -0.06, 0.52))
    way = way / max(float(np.linalg.norm(way)), 1e-6) + np.array((0.0, 0.0, -0.55))
    cheek = float(np.clip((abs(x) - 0.14) / 0.12, 0, 1)) * float(np.clip((0.02 - y) / 0.12, 0, 1))
    way = way + cheek * np.array((0.8 * side, -0.55, -0.2))
    neck = float(np.clip((-0.30 - y) / 0.15, 0, 1))
    way = (1 - neck) * way + neck * np.array((0.5 * x, -1.0, 0.1))
    off = point - np.array((0.17 * side, 0.03, 0.27))
    far = float(np.linalg.norm(off))
    if far < 0.15:  # away from the lids
        way = way + 0.8 * (0.15 - far) / 0.15 * off / far
    front = float(np.clip((z - 0.22) / 0.2, 0, 1))
    return Comb(way, length=0.85 - 0.5 * front + 0.45 * cheek + 0.9 * neck, lift=0.16 + 0.14 * neck + 0.1 * cheek)


@dataclass(frozen=True)
class Animal:
    """A face: its maquette where it stands, what is laid flat and painted under the coat, and what makers are told."""

    name: str
    maquette: str
    middle: tuple[float, float]
    unit_px: float
    turn: tuple[float, float, float]
    fur: Lch
    nose: Lch
    nose_pieces: tuple[str, ...]
    comb: CombRule
    eye: dict[str, Any]
    coat: dict[str, Any]
    marks: tuple[tuple[Lch, tuple[Line, ...]], ...]
    pads: tuple[tuple[float, float, float], ...]
    leather: tuple[tuple[tuple[float, float, float], tuple[float, float, float], float], ...]
    """Strokes that join the leather of the nose where the maquette has fur between."""
    mouth: tuple[tuple[float, float, float], ...]
    whisker: tuple[float, float]
    """L* of most whiskers, and how long they are, px."""


OTTER: Final = Animal(
    "Otter", "otter", (420.0, 400.0), 640.0, (-24.0, -5.0, 2.0), (34, 18, 62), (13, 4, 40),
    ("Nose dome", "Nose wedge", "Nostril", "Nostril slit"), coat_lies,
    {"kind": "otter", "gaze_right": 20.0, "gaze_up": 3.0, "catch": 26.0, "catch_shape": "softbox"},
    {"coat": "double coat", "length": 22.0, "density": 76.0, "thick": 0.95, "clump": 120.0, "mess": 90.0,
     "contrast": 120.0, "variety": 130.0},
    (
        ((20, 13, 58), (((0, 0.2, 0.12), (0, 0.18, -0.5), 190, 0.9),
                        ((0.17, 0.19, 0.08), (0.35, 0.12, -0.4), 170, 0.9),
                        ((-0.2, 0.19, 0.05), (-0.25, 0.15, -0.4), 140, 0.9),
                        ((0.46, 0.0, -0.2), (0.5, -0.4, -0.3), 160, 0.8),
                        ((0, 0.12, 0.3), (0, 0.05, 0.45), 60, 0.6))),
        ((68, 19, 74), (((0.1, -0.08, 0.6), (0.24, -0.11, 0.46), 105, 0.9),
                        ((-0.1, -0.08, 0.6), (-0.2, -0.1, 0.46), 95, 0.9),
                        ((0, -0.19, 0.53), (0.06, -0.25, 0.42), 80, 0.9),
                        ((0.1, -0.26, 0.34), (0.26, -0.27, 0.08), 100, 0.8),
                        ((0, -0.42, 0.12), (-0.02, -0.9, 0.1), 180, 0.8),
                        ((0.17, 0.015, 0.36), (0.27, 0.02, 0.32), 32, 0.7),
                        ((-0.17, 0.02, 0.36), (-0.25, 0.03, 0.32), 30, 0.6))),
    ),
    ((0.14, -0.10, 0.52), (0.19, -0.13, 0.45), (0.10, -0.14, 0.55)), (),
    ((0.0, -0.150, 0.60), (0.08, -0.172, 0.575), (0.175, -0.194, 0.46), (0.235, -0.182, 0.345)), (86.0, 240.0),
)  # fmt: skip
CAT: Final = Animal(
    "Cat", "cat", (1180.0, 420.0), 640.0, (12.0, -5.0, -2.0), (46, 15, 68), (38, 16, 34),
    ("Nose", "Nose wedge", "Nostril", "Nostril slit"), _cat_lies,
    {"kind": "cat", "gaze_right": -9.0, "gaze_up": 2.0, "far": 2500.0,
     "pupil_mm": 4.4, "catch": 24.0, "catch_shape": "window"},
    {"coat": "plush", "length": 21.0, "density": 84.0, "thick": 0.85, "clump": 95.0, "mess": 80.0, "contrast": 112.0,
     "variety": 120.0},
    (
        ((18, 9, 60), (((0.03, 0.26, 0.24), (0.05, 0.36, 0.0), 30, 1),
                        ((-0.03, 0.26, 0.24), (-0.05, 0.36, 0.0), 30, 1),
                       ((0.10, 0.2, 0.26), (0.16, 0.32, 0.05), 27, 1),
                        ((-0.10, 0.2, 0.26), (-0.16, 0.32, 0.05), 27, 1),
                       ((0.0, 0.18, 0.32), (0.0, 0.34, 0.1), 21, 0.9),
                        ((0.25, 0.0, 0.2), (0.42, -0.06, -0.05), 26, 1),
                       ((0.24, -0.07, 0.22), (0.42, -0.18, -0.02), 27, 1),
                        ((-0.25, 0.0, 0.2), (-0.42, -0.06, -0.05), 26, 1),
                       ((-0.24, -0.07, 0.22), (-0.42, -0.18, -0.02), 27, 1),
                        ((0.1, -0.55, 0.2), (0.4, -0.62, 0.0), 51, 0.9),
                       ((-0.1, -0.55, 0.2), (-0.4, -0.62, 0.0), 51, 0.9),
                        ((0.0, -0.8, 0.2), (0.45, -0.9, 0.0), 60, 0.8),
                       ((0.235, 0.075, 0.25), (0.30, 0.10, 0.14), 20, 1),
                        ((-0.235, 0.075, 0.25), (-0.30, 0.10, 0.14), 20, 1))),
        ((78, 12, 78), (((0.06, -0.13, 0.46), (0.13, -0.17, 0.38), 62, 1),
                        ((-0.06, -0.13, 0.46), (-0.13, -0.17, 0.38), 62, 1),
                        ((0.0, -0.22, 0.40), (0.0, -0.32, 0.3), 66, 1),
                        ((0.0, -0.42, 0.22), (0.0, -0.72, 0.18), 110, 0.8),
                        ((0.12, 0.10, 0.30), (0.21, 0.11, 0.25), 22, 0.8),
                        ((-0.12, 0.10, 0.30), (-0.21, 0.11, 0.25), 22, 0.8),
                        ((0.12, -0.045, 0.33), (0.21, -0.03, 0.26), 24, 0.8),
                        ((-0.12, -0.045, 0.33), (-0.21, -0.03, 0.26), 24, 0.8))),
        ((52, 22, 62), (((0.0, 0.03, 0.42), (0.0, 0.14, 0.34), 46, 0.7),
                        ((0.28, 0.28, 0.0), (0.30, 0.36, -0.04), 40, 0.6))),
        ((58, 16, 42), (((0.27, 0.26, 0.0), (0.29, 0.38, -0.05), 40, 0.8),
                        ((-0.27, 0.26, 0.0), (-0.29, 0.38, -0.05), 40, 0.8))),
    ),
    ((0.06, -0.12, 0.46), (0.11, -0.15, 0.42), (0.09, -0.10, 0.44)),
    (((-0.028, -0.052, 0.50), (0.028, -0.052, 0.50), 34.0), ((-0.015, -0.075, 0.52), (0.015, -0.075, 0.52), 28.0),
     ((0.0, -0.085, 0.52), (0.0, -0.115, 0.51), 16.0)),
    ((0.0, -0.165, 0.465), (0.05, -0.205, 0.455), (0.12, -0.215, 0.40), (0.17, -0.195, 0.33)), (92.0, 250.0),
)  # fmt: skip


def paint(progress: Progress = lambda done, words: None, watch: int = 0, scale: float = 1.0) -> Script:
    """Paint the sheet; the same seeds give the same bytes."""
    script = Script.new(*SIZE, scale=scale * SHIPPED, ppi=120.0 * scale, title="Animals sheet", ground=lch(26, 5, 235))
    painter = Painter(script, rng=np.random.default_rng(11))

    def face(animal: Animal) -> Callable[[], None]:
        return lambda: _face(painter, animal)

    stages = (("ground", lambda: _ground(painter)), ("otter", face(OTTER)), ("cat", face(CAT)))
    return Staging(script, progress, OPERATIONS, watch).run(stages)


def _ground(painter: Painter) -> None:
    script, rng = painter.script, painter.rng
    script.do(SetLight(42.0, -46.0, size_deg=10.0, sky=0.34, bounce=0.2))
    layer = script.layer(script.part("Ground", "plain"), "flat")
    script.do(Fill(layer, lch(26, 5, 235), "canvas"))
    for _ in range(70):
        x, y = float(rng.uniform(-100, SIZE[0] + 100)), float(rng.uniform(-60, SIZE[1] + 60))
        value = 22 + 16 * float(np.exp(-(((y - 380) / 420) ** 2))) + float(rng.normal(0, 1.5))
        painter.veil(layer, (value, float(rng.uniform(3, 7)), float(rng.choice((235.0, 210.0, 85.0)))), (x, y),
                     (x + float(rng.uniform(-220, 220)), y + float(rng.normal(0, 60))), 240, 0.5)  # fmt: skip


def _face(painter: Painter, animal: Animal) -> None:
    """From the flats to the whiskers."""
    script = painter.script
    fur, nose, eyes, over = (script.part(f"{animal.name}, {word}", material) for word, material in
                             (("coat", "fur"), ("nose", "skin"), ("eyes", "eye"), ("over", "fur")))  # fmt: skip
    owners = {"Eyeball": eyes, **dict.fromkeys(animal.nose_pieces, nose)}
    pieces = tuple(replace(one, part=owners.get(one.name, fur)) for one in shipped_maquette(animal.maquette).pieces)
    painter.form = script.stand(Maquette(pieces, animal.middle, animal.unit_px, animal.turn, 7.0))
    script.fill(fur, "flat", lch(*animal.fur))
    leather = script.fill(nose, "flat", lch(*animal.nose))
    for start, end, size in animal.leather:
        painter.line(leather, shipped_brush("Round").with_changes(size_px=size), animal.nose, (start, end), (1.0, 1.0))
    script.fill(eyes, "flat", lch(30.0, 8.0, 60.0))
    for part, colour, material in ((fur, animal.fur, "fur"), (nose, animal.nose, "skin")):
        script.do(SetPart(part, {"scale": list(proposed_scale(colour[0], material, script.painting.light))}))
    marks = script.layer(fur, "undertone", name="Markings", mode="Normal", strength=1.0)
    for colour, lines in animal.marks:
        for start, end, size, strength in lines:
            painter.broken(marks, colour, start, end, size, strength, 3.0, dabs=7)
    script.comb(fur, painter.form, animal.comb, apart_px=14)
    script.do(Make(fur, "coat", animal.coat, seed=5))
    script.do(Make(nose, "lay-in", {"way": "smooth"}, seed=2))
    script.do(Make(nose, "wet nose", {"pebbles": 5.0, "relief": 30.0, "wet": 60.0}, seed=3))
    script.do(Make(eyes, "eye", animal.eye, seed=4))
    # One paint from here on, and a smaller file.
    for part in (fur, nose):
        script.do(FlattenPart(part))
    _shade(painter, over)
    _fine_hairs(painter, over, animal)
    _lids(painter, over)
    _nostrils(painter, over)
    _mouth(painter, over, animal)
    _whiskers(painter, over, animal)


def _shade(painter: Painter, part: int) -> None:
    """Under brows, jaw and cheeks, and down the dark side."""
    layer = painter.script.layer(part, "shadow", place="over", name="Shade", mode="Multiply", strength=0.5)
    form = painter.form
    assert form is not None
    x, y = form.on("Jaw") if any(one.name == "Jaw" for one in form.maquette.pieces) else form.on("Neck")
    for _ in range(14):
        dx, dy = float(painter.rng.normal(0, 60)), float(painter.rng.normal(90, 26))
        painter.veil(layer, (34.0, 9.0, 60.0), (x + dx, y + dy), (x + dx + 60, y + dy + 12), 80, 0.16)


def _fine_hairs(painter: Painter, part: int, animal: Animal) -> None:
    """Single hairs over muzzle, brow and cheek: light ones where the key falls, dark ones beside them."""
    rng, form = painter.rng, painter.form
    assert form is not None
    layer = painter.script.layer(part, "strands", place="over", name="Hairs", strength=0.8)
    hair = tapered("Stray hair", 1.4, 0.6)
    anchors = [np.array(start) + share * (np.array(end) - np.array(start))
               for _, lines in animal.marks for start, end, _, _ in lines for share in (0.2, 0.6)]  # fmt: skip
    for number in range(150):
        at = anchors[int(rng.integers(len(anchors)))] + 0.035 * rng.standard_normal(3)
        found = form.under(*form.at(at))
        if found is None or found[2] in ("Eyeball", *animal.nose_pieces):
            continue
        point, normal, name = found
        combed = animal.comb(point, normal, name)
        assert combed is not None
        way = np.asarray(combed.way, float)
        way /= max(float(np.linalg.norm(way)), 1e-6)
        reach = 0.035 * combed.length * float(rng.uniform(0.8, 1.6))
        aside = np.cross(normal, way) * float(rng.normal(0, 0.3))
        course = [point + normal * 0.004, point + reach * (0.5 * way + 0.3 * aside) + 0.01 * normal,
                  point + reach * (way + aside) + 0.006 * normal]  # fmt: skip
        value = float(rng.normal(74, 8)) if number % 5 < 3 else float(rng.normal(16, 4))
        painter.line(layer, hair.with_changes(size_px=float(rng.uniform(1.0, 2.0))),
                     (min(max(value, 4.0), 96.0), 10.0, 70.0), course, (0.9, 0.7, 0.1))  # fmt: skip


def _lids(painter: Painter, part: int) -> None:
    """Dark bare rims with a wet light along the lower one."""
    form = painter.form
    assert form is not None
    layer = painter.script.layer(part, "accent", place="over", name="Lids", strength=0.9)
    ring = np.array(form.outline("Eyeball", step=1))
    rings = _apart(ring, form)
    for one in rings:
        wide = float(np.ptp(one[:, 0]))
        rim = tapered("Soft round", 0.09 * wide, 0.75, edge=0.6)
        closed = np.concatenate((one, one[:2]))[:: max(len(one) // 40, 1)]
        painter.line(layer, rim, (5.0, 3.0, 50.0), closed, (0.8, 1.0, 0.9))
        painter.line(layer, rim.with_changes(size_px=max(0.05 * wide, 1.0)), (7.0, 4.0, 40.0), closed, (0.7, 1.0, 0.8))
        low = one[one[:, 1] > one[:, 1].mean()]
        low = low[np.argsort(low[:, 0])]
        for share in np.linspace(0.2, 0.7, 4):
            at = low[int(share * (len(low) - 1))] + np.array((0.0, -0.02 * wide))
            painter.line(layer, tapered("Soft round", max(0.02 * wide, 1.0), 0.6), (80.0, 4.0, 240.0),
                         [at, at + np.array((0.05 * wide, 0.3))], (0.4, 1.0))  # fmt: skip


def _apart(ring: Floats, form: OnForm) -> list[Floats]:
    """The outlines of both eyes: of the larger, and of the other."""
    rings = [ring]
    piece = form.piece("Eyeball")
    middles = [np.array(form.place("Eyeball", mirrored=mirrored)) for mirrored in (False, True)]
    own = int(np.argmin([np.hypot(*(one - ring.mean(axis=0))) for one in middles]))
    alone = replace(piece, mirror=False, place=(piece.place[0] * (-1 if own == 0 else 1), *piece.place[1:]))
    pieces = tuple(alone if one is piece else one for one in form.maquette.pieces)
    other = replace(form, maquette=replace(form.maquette, pieces=pieces))
    rings.append(np.array(other.outline("Eyeball", step=1)))
    return rings


def _nostrils(painter: Painter, part: int) -> None:
    """Deep and red-brown, never black, thinning out along the slit."""
    form = painter.form
    assert form is not None
    layer = painter.script.layer(part, "accent", place="over", name="Nostrils", strength=0.8)
    for mirrored in (False, True):
        x, y = form.place("Nostril", mirrored=mirrored)
        side = -1 if mirrored else 1
        for size in (9.0, 6.0, 4.0):
            painter.line(layer, tapered("Soft round", size, 0.5, edge=0.7), (8.0, 9.0, 32.0),
                         [(x, y), (x + 5 * side, y + 2), (x + 11 * side, y + 2)], (1.0, 0.8, 0.2))  # fmt: skip


def _mouth(painter: Painter, part: int, animal: Animal) -> None:
    """The line of the lips, dark in the middle and lost towards its ends, under hairs that cross it."""
    layer = painter.script.layer(part, "accent", place="over", name="Lips", strength=0.75)
    for side in (1, -1):
        line = [(side * x, y, z) for x, y, z in animal.mouth]
        for size, strength in ((9.0, 0.28), (5.0, 0.4), (2.6, 0.6)):
            painter.line(
                layer, tapered("Soft round", size, strength, edge=0.7), (9.0, 7.0, 38.0), line, (1.0, 0.8, 0.15), 0.8
            )
    x, y, z = animal.mouth[0]
    for _ in range(3):
        painter.line(layer, tapered("Soft round", 3.0, 0.45), (9.0, 7.0, 38.0),
                     [(x, y + 0.045, z + 0.02), (x, y + 0.02, z + 0.012), (x, y, z)], (0.4, 0.8, 1.0))  # fmt: skip


def _whiskers(painter: Painter, part: int, animal: Animal) -> None:
    """Long, tapering, in rows from the pads; a few over the eyes."""
    rng, form = painter.rng, painter.form
    assert form is not None
    script = painter.script
    dots = script.layer(part, "detail", place="over", name="Whisker dots", strength=0.6)
    layer = script.layer(part, "strays", place="over", name="Whiskers")
    whisker, dot = shipped_brush("Whisker"), tapered("Soft round", 4.0, 0.6)
    value, long = animal.whisker
    for side in (1.0, -1.0):
        for row, (px, py, pz) in enumerate(animal.pads * 3):
            root = np.array((px * side, py, pz)) + 0.016 * rng.standard_normal(3)
            x, y = form.at(root)
            painter.line(dots, dot, (12.0, 6.0, 50.0), [(x, y), (x + 1, y + 1)])
            out = side * (1.0 if form.maquette.turn[0] * side < 0 else 0.75)
            reach, drop = long * float(rng.uniform(0.6, 1.15)), float(rng.uniform(-40, 120)) - 30 * (row % 3)
            share = np.linspace(0, 1, 12)
            rows = [(x + out * reach * s, y + drop * s**2 - 26 * s, 1.0 - 0.6 * s) for s in share]
            shade = value if rng.random() < 0.8 else 24.0
            painter.stroke(layer, whisker.with_changes(size_px=float(rng.uniform(1.8, 3.0))), (shade, 4.0, 80.0), rows)
