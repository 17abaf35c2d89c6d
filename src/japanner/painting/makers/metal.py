"""Metal: surroundings mirrored by the form, brushing, a bevel, patina, and hot spots over black."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
import scipy

from japanner.color import srgb
from japanner.light.inflate import PROFILES, bevel, normals_of
from japanner.light.metals import METALS, STRIPS, metal_share, mirrored, strip_light
from japanner.light.shading import ggx, lambert
from japanner.painting.makers.base import (
    DEPTH,
    Maker,
    Plane,
    Scene,
    Setting,
    Sheet,
    choice,
    filled,
    fractal,
    number,
    smoothstep,
)  # fmt: skip

__all__ = ["METAL", "polished"]

BRIGHT: Final = 1.25
TINT: Final = 0.35
SPREAD: Final = 7


def _normals(scene: Scene) -> tuple[Plane, Plane]:
    """The metal's normals (3, h, w), with its bevel and its dents, and how near the edge each place is, 0..1."""
    form = scene.form
    normal = form.normal
    if scene["body"] == "plate":
        normal = _plate(scene)
    shape = form.cover.shape
    size = max(shape) * 0.45
    dents = np.stack([fractal(scene.random, shape, size, 3) for _ in range(2)]) * (scene["dents"] / 100 * 0.10)
    hammered = np.stack([fractal(scene.random, shape, size / 9, 2) for _ in range(2)]) * (scene["dents"] / 100 * 0.02)
    tilted = np.stack((normal[0] + dents[0] + hammered[0], normal[1] + dents[1] + hammered[1], normal[2]))
    inside = scipy.ndimage.distance_transform_edt(np.pad(form.cover, 1) > 0.5)[1:-1, 1:-1]
    edge = np.exp(-inside / max(scene["bevel"], 2.0))
    return (tilted / np.linalg.norm(tilted, axis=0)).astype(np.float32), edge.astype(np.float32)


def _plate(scene: Scene) -> Plane:
    """Normals of a plate whose bevel is as little worn as metal is that has been held."""
    height = bevel(scene.form.cover, scene["bevel"], scene["profile"])
    return normals_of(cv2.GaussianBlur(height, (0, 0), max(0.10 * scene["bevel"], 1.4)))


def _streaks(scene: Scene, shape: tuple[int, int]) -> Plane:
    """Hairlines along the brushing, about -1..1."""
    angle = np.radians(scene["brushing"])
    side = int(np.hypot(*shape)) + 8
    fine = fractal(scene.random, (side, side), 5.0, 3, 0.8, stretch=(60.0, 0.35))
    turned = scipy.ndimage.rotate(fine, float(np.degrees(angle)), reshape=False, order=1, mode="reflect")
    top, left = (side - shape[0]) // 2, (side - shape[1]) // 2
    return np.clip(turned[top : top + shape[0], left : left + shape[1]] / 2.2, -1, 1).astype(np.float32)


def polished(scene: Scene, normal: Plane, straight: tuple[float, float, float], streaks: Plane) -> tuple[Plane, Plane]:
    """Linear light (3, h, w) of the mirrored surroundings, and of the key light's hot spots."""
    rough = 0.03 + 0.5 * (1 - scene["polish"] / 100) ** 1.5
    strip = scene["strip"] if scene["strip"] else STRIPS[scene["around"]]
    across = np.radians(scene["brushing"] + 90)
    lean = np.array((np.cos(across), np.sin(across)))
    # Along the brushing light stays together, across it it spreads.
    offsets = np.linspace(-1.6, 1.6, SPREAD)
    weights = np.exp(-(offsets**2) / 2)
    around = np.zeros(normal.shape[1:], np.float32)
    turn = np.arctan2(normal[0], normal[2])
    wander = 4.0 * np.sin(2.3 * turn + 0.7) + 2.5 * np.sin(5.1 * turn - 0.4) + 4 * rough * streaks
    for offset, weight in zip(offsets, weights / weights.sum(), strict=True):
        off = lean * offset * rough * 0.5
        tilted = np.stack((normal[0] + off[0], normal[1] + off[1], normal[2]))
        tilted /= np.linalg.norm(tilted, axis=0)
        around += np.float32(weight) * strip_light(mirrored(tilted), strip, wander)
    share = metal_share(straight, np.clip(normal[2], 0, 1))
    # A gloomy corner mirrors gloom: what is closed in, and the side away from the light, is darker.
    facing = scene.facing(normal)
    lean_to_light = 0.62 + 0.38 * smoothstep(-0.9, 0.8, facing)
    # What is bright round about has the key's colour, what is dim that of the ground.
    tints = [np.asarray(c, np.float32) / max(float(srgb.luminance(np.asarray(c))), 1e-4) for c in
             (scene.sources.bounce_colour, scene.sources.key_colour)]  # fmt: skip
    bright = smoothstep(0.02, 0.5, around)[None]
    tint = 1 - TINT + TINT * (tints[0][:, None, None] * (1 - bright) + tints[1][:, None, None] * bright)
    seen = BRIGHT * share * around * tint * scene.form.openness * lean_to_light
    cosine = scene.mirroring(normal)
    wide = float(np.hypot(rough, scene.sources.key_width / 2))
    peak = float(ggx(1.0, wide))
    hot = np.asarray(ggx(cosine, wide)) / peak * (1 + 0.5 * streaks) * smoothstep(-0.1, 0.25, facing)
    key = np.array(scene.sources.key_colour, np.float32)[:, None, None]
    # Painters reach for white where the light itself is mirrored.
    spots = share * key * np.clip(hot, 0, None) * (scene.form.lit if scene["body"] == "form" else 1)
    return seen.astype(np.float32), spots.astype(np.float32)


def _make(scene: Scene) -> list[Sheet]:
    form = scene.form
    shape, area, cover = form.cover.shape, form.area, form.cover
    normal, edge = _normals(scene)
    streaks = _streaks(scene, shape)
    straight = METALS[scene["metal"]]
    seen, spots = polished(scene, normal, straight, streaks * (1 - scene["polish"] / 130))
    sheets = [Sheet("Surroundings", "texture", area, srgb.encode(np.clip(seen, 0, 1)), cover)]
    amount = 1 - scene["polish"] / 100
    if amount > 0.02:
        grey = np.clip(0.5 + 0.3 * streaks, 0, 1)
        sheets.append(Sheet("Brushing", "detail", area, np.stack([grey] * 3), cover * amount, mode="Soft Light"))
    if scene["body"] == "plate":
        flat = float(scene.light[2])
        shade = lambert(np.moveaxis(_plate(scene), 0, -1), scene.light)
        grey = np.clip(0.5 + 0.55 * (shade - max(flat, 0)), 0, 1)
        sheets.append(Sheet("Bevel", "light", area, np.stack([grey] * 3), cover, mode="Hard Light", strength=0.6))
    if scene["patina"] > 0:
        sheets.append(_patina(scene, shape, edge))
    if scene["wear"] > 0:
        sheets += _wear(scene, shape, edge)
    # Nothing happens where a Color Dodge layer is black; where it is not, light burns out.
    burnt = srgb.encode(np.clip(spots * 0.95, 0, 0.92))
    sheets.append(Sheet("Hot spots", "glow", area, burnt, cover, mode="Color Dodge", strength=0.9))
    return sheets


def _patina(scene: Scene, shape: tuple[int, int], edge: Plane) -> Sheet:
    """What has settled where no hand rubs it off: in corners, below, and in spots."""
    spread = fractal(scene.random, shape, max(shape) * 0.18, 5, 0.65)
    fine = fractal(scene.random, shape, 9.0, 3, 0.8)
    closed = 1 - scene.form.openness
    where = 0.5 * spread + 0.25 * fine + 2.2 * closed + 0.5 * edge - 0.35 * scene.form.normal[1]
    wanted = scene["patina"] / 100
    cover = smoothstep(1.6 - 2.4 * wanted, 2.6 - 2.0 * wanted, where) * scene.form.cover
    green = scene["metal"] in ("brass", "copper", "gold")
    deep, pale = ((0.34, 0.27, 0.17), (0.42, 0.56, 0.48)) if green else ((0.30, 0.23, 0.19), (0.52, 0.38, 0.28))
    share = smoothstep(0.2, 1.4, spread + 0.4 * fine)[None].astype(np.float32)
    colour = filled(shape, deep) * (1 - share) + filled(shape, pale) * share
    return Sheet("Patina", "undertone", scene.form.area, colour, cover * 0.85, mode="Multiply")


def _wear(scene: Scene, shape: tuple[int, int], edge: Plane) -> list[Sheet]:
    """Small scratches, most along the edges, each with the side that faces the light lit and the other one dark."""
    random, light = scene.random, np.array((scene.light[0], -scene.light[1]))
    lit, dark = np.zeros(shape, np.float32), np.zeros(shape, np.float32)
    count = min(int(scene["wear"] * 0.00035 * scene.form.cover.sum()), 6000)
    places = random.random((count, 2)) * shape
    for y, x in places:
        if random.random() > 0.08 + 0.92 * edge[int(y), int(x)]:
            continue
        turn, length = random.uniform(0, np.pi), random.gamma(1.6, 7.0)
        way = np.array((np.cos(turn), np.sin(turn)))
        across = np.array((-way[1], way[0]))
        meets = float(across @ light)
        off = across * np.sign(meets) * 0.8
        for sheet, side in ((dark, off), (lit, -off)):
            ends = [np.rint((np.array((x, y)) + side + way * length * e) * 16).astype(int) for e in (-0.5, 0.5)]
            strength = float(0.25 + 0.75 * abs(meets)) * random.uniform(0.3, 1.0)
            cv2.line(sheet, ends[0].tolist(), ends[1].tolist(), strength, 1, cv2.LINE_AA, 4)
    area, cover = scene.form.area, scene.form.cover
    pale, deep = filled(shape, (0.98, 0.95, 0.88)), filled(shape, (0.10, 0.08, 0.07))
    return [
        Sheet("Wear, shaded", "shadow", area, deep, np.clip(dark, 0, 1) * cover * 0.45, mode="Multiply"),
        Sheet("Wear, lit", "highlight", area, pale, np.clip(lit, 0, 1) * cover * 0.42, mode="Screen"),
    ]


METAL: Final = Maker(
    "metal", ("metal",), "Polished or brushed metal that mirrors its surroundings",
    (
        choice("metal", "", tuple(METALS), "What it throws back straight on"),
        choice("body", "", ("form", "plate"), "The form of the maquette, or blown up; or a plate with a bevel"),
        choice("around", "in", tuple(STRIPS), "The surroundings that it mirrors"),
        number("polish", "polish", 70, 0, 100, "From brushed to a mirror", unit=" %"),
        number("brushing", "brushed at", 0, -90, 90, "Which way it is brushed", unit="°"),
        number("dents", "dents", 30, 0, 100, "How uneven it is", unit=" %"),
        number("bevel", "bevel", 14, 1, 400, "Width of a plate's bevel", unit=" px", px=True),
        choice("profile", "", PROFILES, "How the bevel rises"),
        number("wear", "wear", 0, 0, 100, "Scratches, most of them along its edges", unit=" %"),
        number("patina", "patina", 0, 0, 100, "What has settled on it", unit=" %"),
        DEPTH,
        Setting("strip", "strip", "strip", (), tip="Its surroundings from below to above, with their values"),
    ),
    _make,
)  # fmt: skip
