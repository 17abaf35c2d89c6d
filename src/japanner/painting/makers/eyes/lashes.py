"""Lashes on the edges of the lids, and brows on their ridge: every hair rooted in the form."""

from __future__ import annotations

from typing import Any, Final, NamedTuple

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.color import lab
from japanner.errors import InputError
from japanner.light.figure.data import figure_data
from japanner.light.figure.shape import MM_UNITS
from japanner.light.pieces import Piece
from japanner.light.rays.net import Net
from japanner.light.rays.surface import seen_places
from japanner.light.turning import turned
from japanner.painting.form.forms import seen_of
from japanner.painting.makers.base import Maker, Scene, Sheet, colour, number
from japanner.painting.makers.eyes.balls import eyeballs_of, target_of
from japanner.painting.makers.eyes.fitting import fitted
from japanner.painting.makers.eyes.paint import Eye
from japanner.raster.geometry import Rect
from japanner.strand.fringe import in_tufts
from japanner.strand.strands import Strands

__all__ = ["LASHES", "chances", "lash_roots"]

Floats = NDArray[np.float64]
JOINTS: Final = 9
ALIKE: Final = 0.02
UPPER, LOWER = 110, 62
"""Lashes of an eye (common practice, from painted studies)."""
BROW: Final = 420
NONE: Final = (
    "Lashes and brows grow on eyes of the maquette: begin from a figure, or from an animal with balls in its lids"
)


class Hairs(NamedTuple):
    """points (n, m, 2): on the canvas, from root to tip; light (n,): factors on the colour; fine (n,): 0..1."""

    points: Floats
    light: Floats
    fine: Floats


def chances(random: np.random.Generator, count: int) -> Floats:
    """Numbers (n, 3), 0..1, for length, bend and angle: no two hairs have all three within a fiftieth."""
    found = random.random((count, 3))
    for _ in range(200):
        tree = scipy.spatial.cKDTree(found)
        pairs = tree.query_pairs(ALIKE, p=np.inf, output_type="ndarray")
        if not len(pairs):
            break
        again = np.unique(pairs[:, 1])
        found[again] = random.random((len(again), 3))
    return found


# --- lashes -----------------------------------------------------------------------------------------------


def lash_roots(eye: Eye, share: Floats, upper: bool) -> Floats:
    """Places (n, 2) on a lid's edge, in mm from the ball's middle; share (n,): from 0 at the inner corner to 1."""
    columns = np.flatnonzero((eye.cover > 0.5).any(axis=0))
    edge = (eye.upper if upper else eye.lower)[0]
    x = eye.x[0].astype(float)
    first, last = x[columns[0]], x[columns[-1]]
    at = first + (last - first) * (share if eye.inner < 0 else 1 - share)
    return np.stack((at, np.interp(at, x, edge)), axis=1)


def _lashes(scene: Scene, eye: Eye, upper: bool, count: int, what: str) -> Hairs:
    random = scene.chance(what)
    share = np.sort((np.arange(count) + random.uniform(0.1, 0.9, count)) / count)
    share = 0.10 + 0.89 * share if upper else 0.22 + 0.74 * share
    roots = lash_roots(eye, share, upper)
    if not upper:
        roots[:, 1] -= 0.45  # beyond the wet edge
    dice = chances(random, count)
    # Longest towards the outer corner.
    shape = 0.55 + 0.45 * np.sin(np.pi * np.clip(0.12 + 0.80 * share, 0, 1))
    long = (3.6 + 3.8 * dice[:, 0]) * shape * (1.0 if upper else 0.5) * scene["lash_length"] / 100
    assert eye.head is not None  # it was fitted
    up, ahead = eye.head[:, 1], eye.head[:, 2]
    outer = eye.head[:, 0] * -eye.inner  # towards the outer corner
    z = np.sqrt(np.maximum(eye.globe**2 - (roots**2).sum(axis=1), 4.0))
    out = np.column_stack((roots, z))
    out /= np.linalg.norm(out, axis=1, keepdims=True)
    out = out * 0.45 + ahead * 0.55
    fan = (1.35 * (share - 0.34) + 0.5 * (dice[:, 2] - 0.5))[:, None]
    lift = (0.06 if upper else -0.46) + 0.16 * (random.random(count) - 0.5)
    start = out * 0.85 + up * lift[:, None] + outer * fan
    start /= np.linalg.norm(start, axis=1, keepdims=True)
    curl = (0.35 + 0.5 * dice[:, 1])[:, None] * (up * (1.0 if upper else -0.3) + outer * 0.3 * fan) - out * 0.2
    u = np.linspace(0, 1, JOINTS)[None, :, None]
    course = long[:, None, None] * (start[:, None] * u + curl[:, None] * u * u)
    points = roots[:, None] + course[..., :2]
    points = in_tufts(points, 0.62, random).astype(float)
    return Hairs(_on_canvas(eye, points), 0.75 + 0.5 * random.random(count), random.random(count))


def _on_canvas(eye: Eye, points: Floats) -> Floats:
    """Places in mm from a ball's middle, y up, on the canvas."""
    x, y = float(eye.x[0, 0]), float(eye.y[0, 0])
    left, top = eye.area.x0 + 0.5 - x * eye.px, eye.area.y0 + 0.5 + y * eye.px
    return np.stack((left + points[..., 0] * eye.px, top - points[..., 1] * eye.px), axis=-1)


# --- brows ------------------------------------------------------------------------------------------------


class Rooted(NamedTuple):
    """Roots (n, 3) on the form; t (n,) 0..1 from the inner end, v (n,) -1..1 across; ways along it, up and out."""

    places: Floats
    t: Floats
    v: Floats
    way: Floats
    above: Floats
    normal: Floats


def _brows(scene: Scene, piece: Piece, index: int, side: str, count: int) -> tuple[Hairs, float]:
    """Hairs of one brow; and px to a millimetre."""
    painting = scene.painting
    found = seen_of(painting)
    mm = MM_UNITS * float(np.mean(piece.size))
    net = next((one for _, one in found.shell.nets if int(one.piece[0]) == index), None) if found.shell else None
    if net is None:
        raise InputError(NONE)
    random = scene.chance(f"{side} brow")
    roots = _rooted(net, turned(piece.turn)[:, 1], side, count, random, mm * scene["brow_width"] / 100)
    points = _lying(scene, roots, random, mm)
    (x, y), away = seen_places(painting.maquette, points.reshape(-1, 3))
    canvas = np.stack((x, y), axis=-1).reshape(count, JOINTS, 2)
    seen = _seen(scene, canvas[:, 0], away.reshape(count, JOINTS)[:, 0], 2.0 * mm)
    px = mm * painting.maquette.unit_px * painting.maquette.eye / float(np.median(away))
    return Hairs(canvas[seen], (0.7 + 0.6 * random.random(count))[seen], random.random(count)[seen]), px


def _rooted(net: Net, up: Floats, side: str, count: int, random: np.random.Generator, wide: float) -> Rooted:
    """Roots around a curve over three landmarks, densest along it; wide: units for a millimetre of the brow's width."""
    tree, marks = scipy.spatial.cKDTree(net.points), figure_data().landmarks
    ends = net.points[[marks[f"{side} brow, {name}"] for name in ("inner end", "peak", "tail")]].astype(float)
    along = np.linspace(0, 1, 25)
    _, nearest = tree.query(scipy.interpolate.PchipInterpolator((0, 0.6, 1), ends)(along))
    spine = scipy.ndimage.gaussian_filter1d(net.points[nearest].astype(float), 3.0, axis=0, mode="nearest")
    t = np.sort(random.beta(1.15, 1.25, count))
    v = np.clip(random.normal(0, 0.45, count), -1, 1)
    half = 4.6 * np.interp(t, (0, 0.12, 0.6, 1), (0.85, 1.0, 0.72, 0.16)) * wide
    middle = np.stack([np.interp(t, along, spine[:, k]) for k in range(3)], 1)
    way = np.stack([np.interp(t, along, np.gradient(spine[:, k])) for k in range(3)], 1)
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    _, near = tree.query(middle)
    normal = net.normals[near].astype(float)
    above = np.cross(normal / np.linalg.norm(normal, axis=1, keepdims=True), way)
    above *= np.sign(above @ up)[:, None]
    roots = middle + above * (half * v)[:, None]
    _, near = tree.query(roots)
    normal = net.normals[near].astype(float)
    roots -= normal * ((roots - net.points[near]) * normal).sum(axis=1, keepdims=True)
    return Rooted(roots, t, v, way, above, normal)


def _lying(scene: Scene, roots: Rooted, random: np.random.Generator, mm: float) -> Floats:
    """Hairs (n, m, 3) on the form: upright by the nose, lying along the ridge at the tail; upper ones lean down, lower
    ones up, to a ridge.
    """
    t, count = roots.t, len(roots.t)
    dice = chances(random, count)
    lean = 22 * roots.v * np.interp(t, (0, 0.3), (0.2, 1))
    angle = np.interp(t, (0, 0.12, 0.45, 0.8, 1), (82, 58, 26, 2, -16)) - lean
    angle = np.radians(angle + (dice[:, 2] - 0.5) * (34 + 0.5 * scene["wild"]))
    long = (3.2 + 3.4 * dice[:, 0]) * np.interp(t, (0, 0.2, 0.7, 1), (0.75, 1.0, 1.0, 0.7)) * mm
    long *= scene["brow_length"] / 100 * (1 + (random.random(count) < scene["wild"] / 400) * 0.9)
    u = np.linspace(0, 1, JOINTS)
    turn = angle[:, None] - np.radians(10 + 42 * dice[:, 1])[:, None] * u
    steps = long[:, None] / (JOINTS - 1)
    # Every joint goes on from the one before it.
    ahead, aside = (np.cumsum(go(turn) * steps, axis=1) - go(turn[:, :1]) * steps for go in (np.cos, np.sin))
    lying = roots.way[:, None] * ahead[..., None] + roots.above[:, None] * aside[..., None]
    return roots.places[:, None] + lying + roots.normal[:, None] * ((0.10 * long)[:, None] * u**0.7)[..., None]


def _seen(scene: Scene, places: Floats, away: Floats, slack: float) -> NDArray[np.bool_]:
    """Whether places on the canvas (n, 2), so far from the viewer, are what is seen there."""
    depth = seen_of(scene.painting).depth
    column, row = np.floor(places).astype(int).T
    inside = (column >= 0) & (column < depth.shape[1]) & (row >= 0) & (row < depth.shape[0])
    there = depth[np.clip(row, 0, depth.shape[0] - 1), np.clip(column, 0, depth.shape[1] - 1)]
    return inside & (there > 0) & (np.abs(there - away) < slack)


# --- the sheets -------------------------------------------------------------------------------------------


def _sheets(scene: Scene, name: str, hairs: list[Hairs], px: float) -> list[Sheet]:
    """Pale and wide hairs first, dark and fine ones over them."""
    points = np.concatenate([one.points for one in hairs])
    light, fine = (np.concatenate([getattr(one, kind) for one in hairs]) for kind in ("light", "fine"))
    if not len(points):
        return []
    margin = int(3 * px) + 4
    area = Rect(*(int(v) for v in (*(points.min(axis=(0, 1)) - margin), *(points.max(axis=(0, 1)) + margin))))
    area = area.intersected(scene.painting.rect)
    if area.empty:
        return []
    own = lab.lab_from_srgb(np.asarray(scene["colour"]))
    random = scene.chance(f"{name}, grey")
    grey = random.random(len(points)) < scene["grey"] / 100
    shades = np.where(grey[:, None], np.array((66.0, 1.0, 4.0)), own) * np.stack((light, np.ones_like(light), light), 1)
    dark = np.clip(lab.srgb_from_lab(np.clip(shades, (2, -60, -60), (92, 60, 60))), 0, 1)
    lighter = np.clip(lab.srgb_from_lab(np.clip(shades + np.array((9.0, 0.0, 3.0)), 0, (95, 60, 60))), 0, 1)
    colours = np.stack((dark, dark, lighter), axis=1)
    pale = random.random(len(points)) < 0.6
    wide = max(0.30 * px, 0.9)
    found = [
        (f"{name}, pale", Strands.of(points[pale], 2.4 * wide, colours[pale] * 0.6 + 0.4 * lighter[pale][:, None], 0.2,
                                     tip=0.3, power=1.4)),
        (name, Strands.of(points, wide * (0.6 + 0.55 * fine), colours, 0.55 + 0.4 * fine, tip=0.55, power=1.25)),
    ]  # fmt: skip
    sheets = []
    for title, strands in found:
        drawn = strands.drawn(area)
        sheets.append(Sheet(title, "detail", area, drawn[:3] / np.maximum(drawn[3], 1e-6), drawn[3], place="over"))
    return sheets


def _make(scene: Scene) -> list[Sheet]:
    painting = scene.painting
    lashes: list[Hairs] = []
    px = 0.0
    figures = [number for number, one in enumerate(painting.maquette.pieces) if one.kind == "figure"]
    chosen = round(scene["figure"])

    def wanted(piece: int) -> bool:
        return not chosen or (chosen <= len(figures) and piece == figures[chosen - 1])

    for part in painting.parts:
        balls = [one for one in eyeballs_of(painting, part) if wanted(one.piece)]
        if not balls:
            continue
        for index, eye in enumerate(fitted(scene, part, balls, target_of(balls, 0, 0, 1000))):
            px = max(px, eye.px)
            for upper, most, share in ((True, UPPER, scene["lashes"]), (False, LOWER, scene["lower"])):
                count = round(most * share / 100)
                if count:
                    what = f"{part.uid} {index} {upper}"
                    lashes.append(_lashes(scene, eye, upper, count, what))
    brows: list[Hairs] = []
    for index, piece in enumerate(painting.maquette.pieces):
        if piece.kind == "figure" and scene["brows"] > 0 and wanted(index):
            for side in ("left", "right"):
                hairs, px = _brows(scene, piece, index, side, round(BROW * scene["brows"] / 100))
                brows.append(hairs)
    if not lashes and not brows:
        raise InputError(NONE)
    sheets: list[Sheet] = []
    for name, several in (("Brows", brows), ("Lashes", lashes)):
        sheets += _sheets(scene, name, several, px) if several else []
    return sheets


def _percent(name: str, label: str, start: float, high: float, tip: str) -> Any:
    return number(name, label, start, 0, high, tip, unit=" %")


LASHES: Final = Maker(
    "lashes and brows", (), "Lashes from the edges of the lids and brows from their ridge, every hair by itself",
    (
        _percent("lashes", "upper lashes", 100, 250, "How many"),
        _percent("lower", "lower", 60, 250, "How many lower lashes"),
        _percent("lash_length", "long", 100, 250, "How long lashes are"),
        _percent("brows", "brows", 100, 300, "How many hairs they have"),
        _percent("brow_length", "long", 100, 250, "How long hairs of the brows are"),
        _percent("brow_width", "wide", 100, 250, "How high brows are"),
        _percent("wild", "wild", 25, 100, "How far hairs go their own way, as in age"),
        _percent("grey", "grey", 0, 100, "How many hairs are grey"),
        number("figure", "figure", 0, 0, 20, "Whose, in the order of the maquette's figures; 0: everybody's"),
        colour("colour", "hair", (0.115, 0.08, 0.065), "Colour of the hairs"),
    ),
    _make,
)  # fmt: skip
