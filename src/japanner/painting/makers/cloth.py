"""Thin cloth: folds, denser seen aslant and where it lies double, with what is behind seen through it."""

from __future__ import annotations

from typing import Final

import numpy as np
import scipy

from japanner.color import srgb
from japanner.errors import InputError
from japanner.light import optics
from japanner.light.cloth import hung
from japanner.light.inflate import normals_of
from japanner.painting.form.forms import has_pieces
from japanner.painting.makers.base import (
    DEPTH,
    Maker,
    Plane,
    Scene,
    Sheet,
    choice,
    chosen_layer,
    fractal,
    number,
    smoothstep,
)
from japanner.painting.makers.behind import behind, bent
from japanner.raster.textures import texture

__all__ = ["CLOTH"]

STROKES: Final = "along strokes"


def _folds(scene: Scene) -> Plane:
    """Heights in px of cloth that hangs from hooks along its upper edge, over the silhouette's rectangle."""
    shape = scene.form.cover.shape
    count = round(scene["folds"]) + 1
    random = scene.random
    at = np.linspace(-1, 1, count) + random.normal(0, 0.18 / count, count)
    hooks = tuple((float(x), 1.0, float(z)) for x, z in zip(at, random.normal(0, 0.02, count), strict=True))
    slack = min(0.10 + 0.35 * scene["depth_of"] / 100, 0.85)
    small = hung((1.0, 1.0), round(slack, 3), hooks).heights()
    # The sheet is larger than the silhouette, so that it can be turned.
    side = float(np.hypot(*shape)) / 2 * 1.15
    angle = np.radians(scene["fall"])
    ys, xs = np.mgrid[: shape[0], : shape[1]].astype(np.float32)
    u, v = (xs - shape[1] / 2) / side, (ys - shape[0] / 2) / side + 0.12
    across, down = u * np.cos(angle) + v * np.sin(angle), v * np.cos(angle) - u * np.sin(angle)
    rows, columns = small.shape
    place = np.stack(((down + 1) / 2 * (rows - 1), (across + 1) / 2 * (columns - 1)))
    height = scipy.ndimage.map_coordinates(small, place, order=3, mode="mirror") * side
    creases = fractal(random, shape, side * 0.22, 4, 0.6, stretch=(0.8, 1.6)) * side * 0.0012
    return scipy.ndimage.gaussian_filter(height + creases, side * 0.006).astype(np.float32)


def _stroked(scene: Scene) -> Plane:
    """Heights in px of cloth with a fold along every stroke of a layer: strong paint stands highest."""
    painted = scene.map("strokes")
    if painted is None:
        raise InputError("folds: choose the layer whose strokes are to be folds")
    side = float(np.hypot(*painted.shape)) / 2
    # A stroke is as high as it is wide, and its fold runs out softly into the cloth beside it.
    inside = scipy.ndimage.distance_transform_edt(painted > 0.5)
    ridge = np.sqrt(np.maximum(inside, 0)) * painted
    wide = max(2.0 * float(np.percentile(inside[inside > 0], 90)), 2.0) if (inside > 0).any() else 2.0
    sigma = min(0.45 * wide, side * 0.08)
    height = scipy.ndimage.gaussian_filter(ridge * np.sqrt(wide), sigma) * 1.6
    height += 0.35 * scipy.ndimage.gaussian_filter(ridge * np.sqrt(wide), 3 * sigma)
    creases = fractal(scene.chance("creases"), painted.shape, side * 0.22, 4, 0.6, stretch=(0.8, 1.6)) * side * 0.0012
    return (height * scene["depth_of"] / 60 + creases).astype(np.float32)


def _make(scene: Scene) -> list[Sheet]:
    form = scene.form
    normal, area, cover = form.normal, form.area, form.cover
    height = form.height
    if scene["folded"] == STROKES:
        height = _stroked(scene)
        normal = normals_of(height)
    elif not (has_pieces(scene.painting, scene.part) and scene["folded"] == "as the form is"):
        height = _folds(scene)
        normal = normals_of(height)
    weave = texture("weave", cover.shape[1], cover.shape[0], max(scene["weave"] / 16, 0.1), 1.0, scene.seed) - 0.5
    # Cloth lies double where a fold turns under.
    inside = scipy.ndimage.gaussian_filter(height, 2.0)
    hollow = scipy.ndimage.gaussian_laplace(inside, max(max(cover.shape) * 0.012, 2.0))
    double = smoothstep(0.12, 0.6, hollow / max(float(hollow.std()) * 2.2, 1e-6))
    straight = 1 - scene["sheer"] / 100
    opacity = np.asarray(optics.film_opacity(straight, np.clip(normal[2], 0.12, 1), 1.15), np.float32)
    opacity = 1 - (1 - opacity) ** (1 + double) * (1 - 0.10 * weave)
    edge = scipy.ndimage.distance_transform_edt(np.pad(cover, 1) > 0.5)[1:-1, 1:-1]
    hem = smoothstep(scene["hem"], scene["hem"] * 0.6, edge) if scene["hem"] >= 0.5 else 0.0
    opacity = np.clip(1 - (1 - opacity) * (1 - 0.55 * hem), 0, 1)
    albedo = srgb.decode(np.asarray(scene.local))
    closed = np.clip(1 - 0.55 * smoothstep(0.0, 1.0, scipy.ndimage.gaussian_filter(np.clip(hollow, 0, None), 2)), 0, 1)
    lit = form.lit if form.modelled else np.clip(0.15 + 0.85 * _lit(scene, height), 0, 1)
    linear = scene.shaded(normal, albedo, lit, form.openness * closed, "cloth", form.extra)
    # Some of the light comes through from behind.
    back = np.clip(-scene.facing(normal) + 0.25, 0, 1) * (1 - straight) * 0.35
    linear = (
        linear * (1 + 0.08 * weave) + back * albedo[:, None, None] * np.array(scene.sources.key_colour)[:, None, None]
    )
    linear = scene.in_scale(linear)
    whole = behind(scene.painting, scene.part)
    slope = np.stack((normal[0], -normal[1])) * 3.0
    seen = bent(whole, area, (slope[0], slope[1]), 0.7 + 2.2 * scene["sheer"] / 100 * 0.5)
    out = np.clip(linear, 0, 1) * opacity + seen * (1 - opacity)
    sheets = [Sheet("Sheer cloth", "texture", area, srgb.encode(np.clip(out, 0, 1)), cover)]
    sheen = np.clip(normal[2], 0, 1)
    ridge = smoothstep(0.25, 0.9, -hollow / max(float(hollow.std()) * 3, 1e-6)) * np.clip(lit, 0, 1)
    bright = np.stack([ridge * (0.55 + 0.45 * sheen)] * 3) * srgb.encode(np.sqrt(albedo))[:, None, None]
    sheets.append(Sheet("Fold lights", "light", area, np.clip(bright, 0, 1), cover, mode="Soft Light", strength=0.35))
    return sheets


def _lit(scene: Scene, height: Plane) -> Plane:
    """Shadow that folds cast on each other: the height towards the light, a few steps on."""
    x, y, z = (float(v) for v in scene.light)
    flat = max(float(np.hypot(x, y)), 1e-3)
    rise = z / flat
    result = np.ones_like(height)
    for step in (3, 6, 10, 16, 24):
        moved = scipy.ndimage.shift(height, (step * y / flat, -step * x / flat), order=1, mode="nearest")
        result *= 1 - 0.6 * smoothstep(0.0, 3.0, moved - height - step * rise)
    return result


CLOTH: Final = Maker(
    "thin cloth", ("cloth",), "Sheer cloth: folds, denser aslant and where it lies double",
    (
        number("sheer", "sheer", 60, 0, 98, "How much of what is behind shows straight through", unit=" %"),
        choice("folded", "folds", ("running down", "as the form is", STROKES), "Its own, the form's, or painted ones"),
        chosen_layer("strokes", "of", "The layer whose strokes are the folds"),
        number("folds", "hooks", 5, 1, 24, "From how many places it hangs"),
        number("depth_of", "deep", 60, 0, 200, "How much cloth there is to fold", unit=" %"),
        number("fall", "fall", 8, -90, 90, "Which way they run", unit="°"),
        number("hem", "hem", 10, 0, 200, "Width of its hem, where it lies double", unit=" px", px=True),
        number("weave", "weave", 8, 1, 100, "Size of its threads", unit=" px", px=True),
        DEPTH,
    ),
    _make,
)  # fmt: skip
