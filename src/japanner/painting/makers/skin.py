"""Skin: blood under it, red-brown where it is dark, pores, freckles, and small wet highlights."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

import cv2
import numpy as np
import scipy

from japanner.color import lab, srgb
from japanner.light.faces import points_of
from japanner.light.figure.data import figure_data
from japanner.light.figure.shape import HEAD_UNITS
from japanner.light.inflate import normals_of
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.owners import zone
from japanner.light.rays.surface import seen_at
from japanner.light.shading import ggx
from japanner.light.turning import turned
from japanner.painting.form.forms import Form, seen_of
from japanner.painting.makers.base import (
    DEPTH,
    Maker,
    Plane,
    Scene,
    Sheet,
    filled,
    fractal,
    number,
    painted_map,
    smoothstep,
)  # fmt: skip
from japanner.raster.textures import texture

__all__ = ["SKIN", "warmth"]

# Where blood is near, by what landmarks of a head call it: strength, and reach in head heights (common practice).
WARM: Final = {"cheek": (1.0, 0.11), "nose tip": (0.9, 0.07), "nose wing": (0.7, 0.05), "ear": (0.8, 0.09),
               "knuckle": (0.8, 0.05), "chin": (0.35, 0.07), "lip": (0.5, 0.05)}  # fmt: skip

WARM_ZONES: Final = {"nose tip": (0.9, 0.02), "nose wings": (0.7, 0.02), "ears": (0.8, 0.015), "chin": (0.35, 0.03),
                     "lips": (0.5, 0.006), "lids": (0.35, 0.01), "nostrils": (0.6, 0.008)}  # fmt: skip
"""The same by zones of a figure: strength, and over what share of the head's height they end."""


def warmth(scene: Scene) -> Plane:
    """How near blood is, 0..1: as painted, or by the maquette's heads and figures, or else where the form stands out
    and where it is thin.
    """
    painted = scene.map("blood_map")
    if painted is not None:
        return painted
    form = scene.form
    found = np.zeros(form.cover.shape, np.float32)
    for name, strength, reach_px, places in _blooms(scene):
        if name:
            found = np.maximum(found, strength * _zone(scene, name, reach_px))
        for x, y in places:
            far = _squares(form, x, y) / (2 * reach_px**2)
            found = np.maximum(found, strength * np.exp(-far))
    if not found.any():
        out = form.height / max(float(form.height.max()), 1e-6)
        thin = np.exp(
            -scipy.ndimage.distance_transform_edt(np.pad(form.cover, 1) > 0.5)[1:-1, 1:-1] / (0.06 * max(found.shape))
        )
        found = np.clip(0.75 * smoothstep(0.72, 1.0, out) + 0.6 * thin, 0, 1)
    patchy = 0.75 + 0.25 * np.tanh(fractal(scene.random, form.cover.shape, max(found.shape) * 0.12, 4))
    return np.clip(found * patchy, 0, 1).astype(np.float32)


Bloom = tuple[str, float, float, list[tuple[float, float]]]
"""A zone or "", how strong, how far in px, and places on the canvas."""


def _blooms(scene: Scene) -> Iterator[Bloom]:
    """Where blood is near by the maquette's heads and figures."""
    maquette = scene.painting.maquette
    for piece in maquette.pieces:
        if scene.part.uid not in piece.owners:
            continue
        if piece.kind == "head":
            yield from _of_head(maquette, piece)
        elif piece.kind == "figure":
            high = HEAD_UNITS * piece.size[1] * maquette.unit_px
            for name, (strength, reach) in WARM_ZONES.items():
                yield name, strength, reach * high, []
            marks, points = figure_data().landmarks, points_of(piece)
            for side in ("left cheek", "right cheek"):
                x, y, z = turned(piece.turn) @ (points[marks[side]] * piece.size) + piece.place
                yield "", WARM["cheek"][0], WARM["cheek"][1] * high, [seen_at(maquette, (float(x), float(y), float(z)))]


def _of_head(maquette: Maquette, piece: Piece) -> Iterator[Bloom]:
    high = 2 * max(abs(point[1]) for point in piece.points) * piece.size[1] * maquette.unit_px
    for name, point in zip(piece.names, piece.points, strict=True):
        strength, reach = next((v for key, v in WARM.items() if name.startswith(key)), (0.0, 1.0))
        places = []
        for side in (1, -1) if strength else ():
            x, y, z = np.array((side * point[0], point[1], point[2])) * piece.size + piece.place
            places.append(seen_at(maquette, (float(x), float(y), float(z))))
        yield "", strength, reach * high, places


def _squares(form: Form, x: float, y: float) -> Plane:
    """Squares of the distance of every pixel to a place of the canvas."""
    ys, xs = np.mgrid[form.area.y0 : form.area.y1, form.area.x0 : form.area.x1].astype(np.float32)
    return (xs - x) ** 2 + (ys - y) ** 2


def _zone(scene: Scene, name: str, reach_px: float) -> Plane:
    """A zone of figures over the form's area, softened over `reach_px`."""
    area = scene.form.area
    found = zone(seen_of(scene.painting), name)[area.y0 : area.y1, area.x0 : area.x1]
    return cv2.GaussianBlur(np.ascontiguousarray(found), (0, 0), max(reach_px, 0.5))


def _make(scene: Scene) -> list[Sheet]:
    form = scene.form
    area, cover, shape = form.area, form.cover, form.cover.shape
    blood = warmth(scene) * scene["blood"] / 100
    key = np.clip(scene.facing(form.normal), 0, 1) * form.lit
    local = np.asarray(scene.local)
    light = float(lab.lightness_from_srgb(local))
    red = np.array((0.78, 0.30, 0.25)) if light > 45 else np.array((0.52, 0.16, 0.12))
    sheets = [Sheet("Blood", "undertone", area, filled(shape, tuple(red)), blood * cover * 0.55, mode="Soft Light")]
    # Where light hardly comes, what is left of it has been through blood: red-brown, not grey.
    deep = smoothstep(0.25, 0.0, key) * (1 - 0.55 * form.openness) * scene["deep"] / 100
    brown = np.clip(local * (0.62, 0.34, 0.27), 0, 1)
    sheets.append(
        Sheet("Deep red-brown", "shadow", area, filled(shape, tuple(brown)), deep * cover * 1.1, mode="Multiply")
    )
    edge = np.exp(-((key - 0.10) ** 2) / 0.006) * smoothstep(0.02, 0.3, form.openness)
    warm = np.clip(local * (1.06, 0.66, 0.52), 0, 1)
    sheets.append(
        Sheet("Shadow edge", "bounce", area, filled(shape, tuple(warm)), edge * cover * 0.2, mode="Soft Light")
    )
    pores = _pores(scene, shape)
    sheets.append(_pore_sheet(scene, pores))
    if scene["freckles"] > 0:
        sheets.append(_freckles(scene, key))
    sheets.append(_wet(scene, pores, blood))
    return sheets


def _pores(scene: Scene, shape: tuple[int, int]) -> Plane:
    """Relief of the skin about 0, of pores and the net of lines between them."""
    scale = max(scene["pores"] / 9, 0.1)
    return (texture("pores", shape[1], shape[0], scale, 1.0, scene.seed % 100 + 1) - 0.5).astype(np.float32)


def _pore_sheet(scene: Scene, pores: Plane) -> Sheet:
    """Pores lit as the skin is, most where light meets dark."""
    form = scene.form
    tilt = normals_of(pores * scene["pores"] * 0.4)
    x, y = float(scene.light[0]), float(scene.light[1])
    lit = tilt[0] * x + tilt[1] * y
    mottle = 0.06 * fractal(scene.random, pores.shape, max(pores.shape) * 0.05, 4)
    grey = np.clip(0.5 + 0.20 * lit + 0.10 * pores + mottle, 0, 1)
    key = np.clip(scene.facing(form.normal), 0, 1)
    where = 0.35 + 0.65 * smoothstep(0.05, 0.3, key) * smoothstep(1.0, 0.6, key)
    return Sheet("Pores", "texture", form.area, np.stack([grey] * 3), where * form.cover, mode="Soft Light",
                 strength=min(0.35 + scene["texture"] / 140, 1.0))  # fmt: skip


def _freckles(scene: Scene, key: Plane) -> Sheet:
    """Spots of many sizes, thick where the sun comes and where a map of paint says so."""
    form, shape = scene.form, scene.form.cover.shape
    painted = scene.map("freckle_map")
    density = 0.25 + 0.75 * smoothstep(0.1, 0.8, key) if painted is None else painted
    density = density * (0.6 + 0.4 * np.tanh(fractal(scene.random, shape, max(shape) * 0.2, 3)))
    count = int(scene["freckles"] * 0.00016 * form.cover.sum() / max((scene["pores"] / 9) ** 2, 0.05))
    count = min(count, 20000)
    ys, xs = scene.random.random((2, count)) * np.array(shape)[:, None]
    sizes = scene["pores"] * 0.17 * np.exp(0.42 * scene.random.standard_normal(count))
    chance, strength = scene.random.random(count), 0.12 + 0.6 * scene.random.random(count) ** 2
    sheet = np.zeros(shape, np.float32)
    for x, y, size, at, strong in zip(xs, ys, sizes, chance, strength, strict=True):
        if at < density[int(y), int(x)]:
            axes = (max(round(float(size) * 16), 6), max(round(float(size) * 16 * (0.6 + 0.4 * float(at))), 6))
            spot = (round(float(x) * 16), round(float(y) * 16))
            cv2.ellipse(sheet, spot, axes, float(at) * 360, 0, 360, float(strong), -1, cv2.LINE_AA, 4)
    soft = scipy.ndimage.gaussian_filter(sheet, max(scene["pores"] * 0.10, 0.6))
    ragged = np.clip(soft * (1 + 0.3 * fractal(scene.random, shape, scene["pores"], 3)), 0, 1)
    brown = np.clip(np.asarray(scene.local) * (0.95, 0.78, 0.62), 0, 1)
    return Sheet("Freckles", "detail", form.area, filled(shape, tuple(brown)), ragged * form.cover, mode="Multiply",
                 strength=0.8)  # fmt: skip


def _wet(scene: Scene, pores: Plane, blood: Plane) -> Sheet:
    """The key light mirrored by a thin wet film: broad and narrow together, broken up by pores."""
    form = scene.form
    tilt = normals_of(pores * scene["pores"] * 0.26)
    normal = np.stack((form.normal[0] + 0.5 * tilt[0], form.normal[1] + 0.5 * tilt[1], form.normal[2]))
    normal /= np.linalg.norm(normal, axis=0)
    cosine = scene.mirroring(normal)
    lobes = sum(weight * np.asarray(ggx(cosine, alpha)) / float(ggx(1.0, alpha))
                for alpha, weight in ((0.30, 0.42), (0.15, 0.75)))  # fmt: skip
    gloss = (0.7 + 0.5 * blood) * (1 + 0.7 * pores) * form.lit * form.openness
    bright = np.clip(lobes * gloss * scene["wet"] / 100 * 0.8, 0, 1)
    key = np.asarray(scene.sources.key_colour)
    colour = srgb.encode(np.clip(bright[None] * (0.35 + 0.65 * key / key.max())[:, None, None], 0, 1))
    return Sheet("Wet highlights", "highlight", form.area, colour, form.cover, mode="Screen", strength=0.8)


SKIN: Final = Maker(
    "skin", ("skin",), "What makes skin alive: blood, red-brown depth, pores, freckles, wet highlights",
    (
        number("blood", "blood", 60, 0, 100, "How near blood is: cheeks, nose, ears, knuckles", unit=" %"),
        *painted_map("blood_map", "where", "A layer whose paint says where blood is near"),
        number("deep", "deep", 55, 0, 100, "Red-brown where it is dark", unit=" %"),
        number("pores", "pores", 9, 1, 120, "Distance between pores", unit=" px", px=True),
        number("texture", "texture", 40, 0, 100, "How much the pores show", unit=" %"),
        number("freckles", "freckles", 0, 0, 100, "How many", unit=" %"),
        *painted_map("freckle_map", "where", "A layer whose paint says where they are dense"),
        number("wet", "wet", 45, 0, 100, "Small highlights of a wet film", unit=" %"),
        DEPTH,
    ),
    _make,
)  # fmt: skip
