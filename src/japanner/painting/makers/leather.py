"""Wet leather of a nose, and lips: a pebbled or lined relief that breaks highlights into glints."""

from __future__ import annotations

from typing import Final

import numpy as np
import scipy

from japanner.color import srgb
from japanner.light.inflate import normals_of
from japanner.light.shading import ggx
from japanner.painting.makers.base import (
    DEPTH,
    Maker,
    Plane,
    Scene,
    Sheet,
    choice,
    filled,
    fractal,
    number,
    smoothstep,
)  # fmt: skip

__all__ = ["WET_NOSE", "pebbles"]

SHADE_BUMP, GLINT_BUMP = 0.55, 1.35
"""A highlight takes far more of the relief than shading does, so that it breaks into glints (studies)."""


def pebbles(scene: Scene, shape: tuple[int, int], size: float, stretch: float) -> Plane:
    """Cushions about `size` px wide with creases between them, 0..1."""
    count = max(int(shape[0] * shape[1] / size**2 * stretch), 8)
    points = scene.random.random((count, 2)) * (shape[0], shape[1])
    ys, xs = np.mgrid[: shape[0], : shape[1]]
    wobble = fractal(scene.random, shape, size * 3, 3) * size * 0.25
    scale = np.array((1.0, stretch))
    tree = scipy.spatial.cKDTree(points * scale)
    places = np.column_stack((ys.ravel() + wobble.ravel(), xs.ravel() + wobble.ravel())) * scale
    near = np.asarray(tree.query(places, 2, workers=2)[0])
    crease = ((near[:, 1] - near[:, 0]) / (size * 0.75)).reshape(shape)
    return np.clip(np.sqrt(np.clip(crease, 0, 1)), 0, 1).astype(np.float32)


def _make(scene: Scene) -> list[Sheet]:
    form, size = scene.form, scene["pebbles"]
    shape, area, cover = form.cover.shape, form.area, form.cover
    lips = scene["kind"] == "lips"
    relief = pebbles(scene, shape, size, 3.2 if lips else 1.0)
    relief = relief + 0.45 * pebbles(scene, shape, max(size * 0.45, 1.5), 2.2 if lips else 1.0)
    relief = scipy.ndimage.gaussian_filter(relief, size * 0.07)
    deep = scene["relief"] / 100 * size
    sheets = []
    tilt = normals_of(relief * deep * SHADE_BUMP)
    bumped = np.stack((form.normal[0] + tilt[0], form.normal[1] + tilt[1], form.normal[2] * tilt[2]))
    bumped /= np.linalg.norm(bumped, axis=0)
    # Between pebbles it is darkest.
    dark = np.clip(1 - relief / 1.2, 0, 1) * 0.8
    local = np.asarray(scene.local)
    sheets.append(Sheet("Creases", "accent", area, filled(shape, tuple(local * 0.32)), dark * cover, mode="Multiply"))
    lean = scene.facing(bumped) - scene.facing(form.normal)
    grey = np.clip(0.5 + 0.6 * lean, 0, 1)
    sheets.append(Sheet("Pebbles", "texture", area, np.stack([grey] * 3), cover, mode="Overlay", strength=0.8))
    sheets.append(_glints(scene, relief * deep))
    return sheets


def _glints(scene: Scene, relief: Plane) -> Sheet:
    form = scene.form
    tilt = normals_of(relief * GLINT_BUMP)
    normal = np.stack((form.normal[0] + tilt[0], form.normal[1] + tilt[1], form.normal[2] * tilt[2]))
    normal /= np.linalg.norm(normal, axis=0)
    wet = scene["wet"] / 100
    total = np.zeros(form.cover.shape, np.float32)
    sources = ((scene.light, 1.0), (np.array((0.15, 0.95, 0.28), np.float32), 0.30))
    for towards, weight in sources:
        cosine = scene.mirroring(normal, towards)
        for alpha, share in ((0.34, 0.16), (0.11, 0.95)):
            total += np.float32(weight * share) * np.asarray(ggx(cosine, alpha) / ggx(1.0, alpha), np.float32)
    uneven = 0.8 + 0.35 * fractal(scene.random, form.cover.shape, scene["pebbles"] * 2.5, 3)
    bright = np.clip(total * uneven * wet * (0.35 + 0.65 * form.lit) * smoothstep(0.0, 0.2, form.normal[2]), 0, 1)
    key = np.asarray(scene.sources.key_colour)
    colour = srgb.encode(np.clip(bright[None] * (0.5 + 0.5 * key / key.max())[:, None, None], 0, 1))
    return Sheet("Glints", "highlight", form.area, colour, form.cover, mode="Screen")


WET_NOSE: Final = Maker(
    "wet nose", ("skin", "fur"), "Wet leather of a nose, or lips: relief that breaks the highlight into glints",
    (
        choice("kind", "", ("nose", "lips"), "Round pebbles, or fine lines across"),
        number("pebbles", "pebbles", 8, 2, 120, "Their size", unit=" px", px=True),
        number("relief", "relief", 55, 0, 200, "How high they stand", unit=" %"),
        number("wet", "wet", 80, 0, 100, "How wet it is", unit=" %"),
        DEPTH,
    ),
    _make,
)  # fmt: skip
