"""The eye maker: a ball between lids with a lit iris behind a wet cornea, as the layers of an eye part."""

from __future__ import annotations

from functools import reduce
from typing import Any, Final

import numpy as np

from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.makers.base import Maker, Scene, Sheet, choice, colour, number, switch
from japanner.painting.makers.eyes.balls import GAZE, Eyeball, eyeballs_of, target_of
from japanner.painting.makers.eyes.fitting import fitted
from japanner.painting.makers.eyes.form import MM
from japanner.painting.makers.eyes.paint import PUPILS, Eye, lid_sheets, opening_sheets
from japanner.painting.makers.windows import SHAPES
from japanner.raster.parallel import beside

__all__ = ["EYE"]


def _eye_sheets(whole: Eye, own_flat: bool) -> list[Sheet]:
    inner, lids = beside(
        lambda: opening_sheets(whole.opened(), own_flat), lambda: lid_sheets(whole) if whole.scene["lids"] else []
    )
    return [*lids[:1], *inner, *lids[1:]]


def _make(scene: Scene) -> list[Sheet]:
    x = scene["x"] or scene.painting.width / 2
    y = scene["y"] or scene.painting.height / 2
    inner = -1.0 if scene["inner"] == "left" else 1.0
    drawn = any(layer.pixels.tiles for layer in scene.part.flats)
    balls = eyeballs_of(scene.painting, scene.part)
    if balls:
        return _in_their_lids(scene, balls, drawn)
    if drawn:
        sheet = silhouette_sheet(scene.painting, scene.part)
        area = sheet.bounds()
        scene.values = {**scene.values, "width": float(area.width), "lids": False}
        middle = (area.x0 + area.x1) / 2, (area.y0 + area.y1) / 2
        wide = area.grown(8).intersected(scene.painting.rect)
        return _eye_sheets(Eye.at(scene, *middle, inner, sheet.coverage(wide), wide), own_flat=False)
    if not scene["pair"]:
        return _eye_sheets(Eye.at(scene, x, y, inner), own_flat=True)
    apart = scene["apart"] * scene["width"] / 30.0 / 2
    return _as_one([_eye_sheets(Eye.at(scene, x + side * apart, y, -side), own_flat=True) for side in (-1.0, 1.0)])


def _in_their_lids(scene: Scene, balls: list[Eyeball], drawn: bool) -> list[Sheet]:
    """Every ball of the maquette's that is seen, where its opening is; all look at one place."""
    scene.values = {**scene.values, "lids": False}
    target = target_of(balls, scene["gaze_right"], scene["gaze_up"], scene["far"])
    return _as_one([_eye_sheets(one, own_flat=not drawn) for one in fitted(scene, scene.part, balls, target)])


def _as_one(eyes: list[list[Sheet]]) -> list[Sheet]:
    """The sheets of several eyes, name by name."""
    return [reduce(_joined, same) for same in zip(*eyes, strict=True)]


def _joined(one: Sheet, other: Sheet) -> Sheet:
    """Two sheets of a pair as one; their areas hardly overlap, and what does is the one that covers more."""
    area = one.area.united(other.area)
    colour_ = np.zeros((3, area.height, area.width), np.float32)
    cover = np.zeros(colour_.shape[1:], np.float32)
    for sheet in (one, other):
        rows = slice(sheet.area.y0 - area.y0, sheet.area.y1 - area.y0)
        columns = slice(sheet.area.x0 - area.x0, sheet.area.x1 - area.x0)
        more = sheet.cover > cover[rows, columns]
        colour_[:, rows, columns] = np.where(more, sheet.colour, colour_[:, rows, columns])
        cover[rows, columns] = np.maximum(cover[rows, columns], sheet.cover)
    return Sheet(one.name, one.role, area, colour_, cover, one.place, one.mode, one.strength)


# An animal's iris fills the opening, hardly any white is seen, and that is brown; lids are dark and bare (common
# practice; a cat's, a horse's and a bird's from memory).
_ANIMAL: Final = {
    "iris_mm": 10.5, "pupil_mm": 4.2, "ring": 96.0, "iris": (0.20, 0.115, 0.05), "iris_inner": (0.34, 0.20, 0.09),
    "white": (0.24, 0.185, 0.15), "lid": (0.085, 0.07, 0.065), "lid_shadow": 140.0, "open": 118.0,
    "duct": (0.20, 0.13, 0.12),
}  # fmt: skip
_HUMAN: Final[dict[str, Any]] = {
    "iris_mm": MM["iris"], "pupil_mm": 1.9, "pupil": "round", "ring": 72.0, "iris": (0.33, 0.235, 0.15),
    "iris_inner": (0.43, 0.295, 0.155), "white": (0.80, 0.755, 0.72), "lid": (0.70, 0.50, 0.42), "lid_shadow": 100.0,
    "open": 100.0, "duct": (0.66, 0.43, 0.39),
}  # fmt: skip
KINDS: Final[dict[str, dict[str, Any]]] = {
    "human": _HUMAN,
    "otter": _ANIMAL,
    "cat": {**_ANIMAL, "pupil": "slit", "pupil_mm": 3.6, "iris": (0.42, 0.40, 0.14), "iris_inner": (0.62, 0.52, 0.20),
            "ring": 60.0, "iris_mm": 11.5},
    "dog": {**_ANIMAL, "iris": (0.26, 0.14, 0.05), "iris_inner": (0.42, 0.25, 0.10), "pupil_mm": 3.6, "iris_mm": 9.5},
    "horse": {**_ANIMAL, "pupil": "oblong", "iris": (0.15, 0.09, 0.05), "iris_inner": (0.24, 0.15, 0.08),
              "pupil_mm": 4.6, "iris_mm": 11.5},
    "bird": {**_ANIMAL, "iris": (0.56, 0.33, 0.06), "iris_inner": (0.70, 0.50, 0.12), "ring": 40.0, "pupil_mm": 5.4,
             "iris_mm": 11.8, "lid_shadow": 60.0, "duct": (0.10, 0.09, 0.09)},
}  # fmt: skip
"""What an eye of each animal begins with."""

EYE: Final = Maker(
    "eye", ("eye",), "An eye: ball, iris lit through the cornea, pupil, catch light, wet edges, lids",
    (
        choice("kind", "", tuple(KINDS), "Whose eye: what the other settings begin with"),
        number("width", "width", 300, 20, 4000, "Width of the opening, which is about 30 mm", unit=" px", px=True),
        number("x", "at", 0, 0, 32768, "Its middle; 0: in the middle of the canvas", unit=" px", px=True),
        number("y", "", 0, 0, 32768, "Its middle, down", unit=" px", px=True),
        number("gaze_right", "looks", 0, -45, 45, "To the right", unit="°"),
        number("gaze_up", "", 0, -35, 35, "Up", unit="°"),
        number("far", "at", 900, 60, 20000, "How far what both look at is, for eyes of the maquette", unit=" mm"),
        number("open", "open", 100, 10, 180, "How far the lids are open", unit=" %"),
        number("tilt", "tilt", 4, -30, 30, "How far the outer corner is raised", unit="°"),
        number("iris_mm", "iris", _HUMAN["iris_mm"], 3, 12, "Its radius", unit=" mm", digits=1),
        number("pupil_mm", "pupil", _HUMAN["pupil_mm"], 0.5, 6, "Its radius", unit=" mm", digits=1),
        choice("pupil", "", PUPILS, "Round, or as some animals have it"),
        colour("iris", "iris", _HUMAN["iris"], "Colour of the iris"),
        colour("iris_inner", "within", _HUMAN["iris_inner"], "Its colour towards the pupil"),
        colour("white", "white", _HUMAN["white"], "The white of the eye, which is never white"),
        colour("lid", "lids", _HUMAN["lid"], "Colour of the lids"),
        colour("duct", "corner", _HUMAN["duct"], "The small lump in the corner by the nose"),
        number("ring", "ring", _HUMAN["ring"], 0, 100, "How dark the ring round the iris is", unit=" %"),
        number("lid_shadow", "lid shadow", 100, 0, 200, "How far the upper lid's shadow falls", unit=" %"),
        choice("catch_shape", "catch light", SHAPES, "The shape of the light that is mirrored"),
        number("catch", "", 30, 2, 90, "How wide that light is seen", unit="°"),
        choice("inner", "nose on the", ("left", "right"), "Where the inner corner is"),
        switch("pair", "pair", False, "Both eyes, which share light and gaze"),
        number("apart", "apart", 63, 40, 120, "How far the pupils are apart", unit=" mm"),
        switch("lids", "lids", True, "Skin of the lids and the line of lashes"),
    ),
    _make,
    {"fur": {"kind": "otter"}},
    KINDS,
    GAZE,
)  # fmt: skip
