"""Water on a surface: a wet film, and drops or dew that bend what is under them and gather light."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import cv2
import numpy as np

from japanner.light.inflate import normals_of, tilted_cosine
from japanner.light.metals import mirrored
from japanner.light.shading import fresnel, ggx, half_way
from japanner.painting.makers.base import (
    DEPTH,
    FRONT,
    Maker,
    Plane,
    Scene,
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
from japanner.painting.makers.behind import bent, light_of
from japanner.painting.makers.windows import SHAPES, mirrored_light
from japanner.strand.growing import spread

__all__ = ["DROPS"]

WATER: Final = 1.33
HIGH: Final = 0.62
"""Height of a drop in its radii."""
MOST: Final = 6000
SIDE: Final = 0.85
"""How much a drop bends what lies under its edge, in its radii."""


def _heights(scene: Scene, where: Plane) -> Plane:
    """Heights of all drops, px: caps, rounder the smaller they are, with their weight hanging down."""
    shape, random = where.shape, scene.chance("drops")
    size = float(scene["size"])
    tried = int(min(scene["many"] / 100 * 0.9 * shape[0] * shape[1] / (3.2 * size * size), MOST))
    places = spread(max(tried, 1), random) * (shape[1], shape[0])
    radii = 0.5 * size * np.exp(0.55 * random.standard_normal(len(places)) - 0.25)
    keep = random.random(len(places)) < where[places[:, 1].astype(int), places[:, 0].astype(int)]
    height = np.zeros(shape, np.float32)
    # Large ones first: small ones keep off them.
    for (x, y), wanted in sorted(zip(places[keep], radii[keep], strict=True), key=lambda one: -one[1]):
        radius = max(float(wanted), 0.9)
        reach = int(1.5 * radius) + 2
        top, left = int(y) - reach, int(x) - reach
        rows = slice(max(top, 0), min(top + 2 * reach + 1, shape[0]))
        columns = slice(max(left, 0), min(left + 2 * reach + 1, shape[1]))
        if height[int(y), int(x)] > 0 and random.random() > 0.1:
            continue
        ys, xs = np.mgrid[rows, columns].astype(np.float32)
        turn = np.arctan2(ys - y, xs - x)
        phase, uneven = random.uniform(0, 6.28, 2), random.normal(0, 0.05, 2)
        outline = radius * (1 + uneven[0] * np.cos(2 * turn + phase[0]) + uneven[1] * np.cos(3 * turn + phase[1]))
        hang = float(scene["hang"]) / 100
        sag = 1 + 0.16 * hang * np.sin(turn)
        away = np.hypot(xs - x, ys - y) / (outline * sag)
        # Fullest a little below its middle.
        cap = np.sqrt(np.clip(1 - away**2, 0, 1)) * radius * HIGH * (1 + 0.2 * hang * (ys - y) / radius)
        height[rows, columns] = np.maximum(height[rows, columns], cap)
    return height


def _make(scene: Scene) -> list[Sheet]:
    form, painting = scene.form, scene.painting
    area, cover = form.area, form.cover
    painted = scene.map("where_map")
    where = cover if painted is None else cover * painted
    sheets = _film(scene, where) if scene["film"] > 0 else []
    if scene["many"] <= 0:
        return sheets
    height = _heights(scene, where)
    scene.tell(0.5)
    inside = smoothstep(0.0, 0.22 * HIGH * min(float(scene["size"]), 6.0), height)
    normal = normals_of(height)
    index = painting.parts.index(scene.part)
    under = light_of(replace(painting, parts=painting.parts[: index + 1]))
    lean = SIDE * height / HIGH
    seen = bent(under, area, (-normal[0] * lean, normal[1] * lean), 0.0)
    light = np.asarray(scene.light, np.float32)
    # Light goes in on its side and comes down on the other one, which is bright; the near one is dark.
    side = np.einsum("i,ihw->hw", light[:2], normal[:2])
    steep = np.clip(1 - normal[2], 0, 1)
    gathered = np.clip(1 - 1.1 * side * smoothstep(0.02, 0.5, steep), 0.35, 2.2)
    rim = 1 - 0.35 * smoothstep(0.55, 0.9, steep)
    paint = encoded(np.clip(seen * gathered * rim, 0, 1))
    size = float(scene["size"])
    move = np.array(((1, 0, -0.20 * size * light[0]), (0, 1, 0.20 * size * light[1])), np.float32)
    shade = cv2.warpAffine(inside, move, inside.shape[::-1], flags=cv2.INTER_LINEAR)
    shade = softened(shade, 0.10 * size) * (1 - inside)
    dark = filled(cover.shape, (0.12, 0.10, 0.10))
    spot = mirrored_light(mirrored(normal), np.asarray(scene.light, float), 34.0, scene["window"], 0.3)
    sky = np.asarray(fresnel(np.clip(normal[2], 0, 1), WATER), np.float32) * smoothstep(-0.2, 0.8, normal[1])
    lights = encoded(np.clip(np.broadcast_to(0.95 * spot + 0.5 * sky, (3, *spot.shape)), 0, 1))
    return [
        *sheets,
        Sheet("Shadows of drops", "shadow", area, dark, np.clip(shade, 0, 1) * cover * 0.5, mode="Multiply"),
        Sheet("Drops", "detail", area, paint, inside * cover),
        Sheet("Lights of drops", "highlight", area, lights, inside * cover, mode="Screen"),
    ]


def _film(scene: Scene, where: Plane) -> list[Sheet]:
    """A wet surface is darker and of more colour, and mirrors the light in a narrow, broken highlight."""
    form = scene.form
    deep = np.clip(np.asarray(scene.local) * 0.75 + 0.12, 0, 1)
    strength = scene["film"] / 100
    uneven = fractal(scene.chance("film"), where.shape, max(where.shape) * 0.05, 4, 0.6)
    cosine = tilted_cosine(form.normal, uneven, 1.1, half_way(scene.light, FRONT))
    bright = 0.75 * ggx(np.maximum(cosine, 0), 0.09) / float(ggx(1.0, 0.09))
    bright = bright + 0.25 * ggx(np.maximum(cosine, 0), 0.3) / float(ggx(1.0, 0.3))
    bright = np.clip(bright * form.lit * form.openness * strength, 0, 1)
    paint = encoded(np.broadcast_to(bright, (3, *bright.shape)))
    return [
        Sheet(
            "Wet", "undertone", form.area, filled(where.shape, tuple(deep)), where * 0.55 * strength, mode="Multiply"
        ),
        Sheet("Film", "highlight", form.area, paint, where, mode="Screen"),
    ]


DROPS: Final = Maker(
    "drops", ("skin", "fur", "metal", "glass", "cloth", "plain"),
    "Water on a surface: a wet film, and drops or dew that bend what is under them",
    (
        number("size", "drops", 16, 2, 300, "Their size", unit=" px", px=True),
        number("many", "many", 40, 0, 100, "How many; 0: none", unit=" %"),
        *painted_map("where_map", "where", "A layer whose paint says where it is wet"),
        number("hang", "hang", 50, 0, 100, "How far their weight draws them down", unit=" %"),
        number("film", "film", 0, 0, 100, "How wet the surface between them is", unit=" %"),
        choice("window", "lit by a", SHAPES, "The shape of the light that they mirror"),
        DEPTH,
    ),
    _make,
    sees="behind",
)  # fmt: skip
