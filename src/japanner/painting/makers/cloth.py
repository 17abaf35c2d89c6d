"""Cloth: sheer, which shows what is behind it, the less the more of it lies there; and linen, wool, silk, leather."""

from __future__ import annotations

from typing import Final, NamedTuple

import cv2
import numpy as np

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
    encoded,
    filled,
    fractal,
    in_bands,
    number,
    smoothstep,
    softened,
    whitened,
)  # fmt: skip
from japanner.painting.makers.behind import behind, bent
from japanner.painting.makers.folds import FOLDS, Folds, folds_of, threads
from japanner.painting.makers.leather import pebbles
from japanner.painting.makers.nap import nap

__all__ = ["CLOTH", "SHEER"]


class Kind(NamedTuple):
    """How a cloth looks: rough: what light it throws back at a grazing angle, as fuzz. gloss, alpha: strength of its
    sheen, and how wide that is (GGX) across its folds. weave: how much threads show. nap: length of hairs at its edge,
    in threads. dim: how dark its hollows are.
    """

    rough: float
    gloss: float
    alpha: float
    weave: float
    nap: float
    dim: float


KINDS: Final = {
    "linen": Kind(0.10, 0.03, 0.6, 1.0, 0.5, 0.75),
    "wool": Kind(0.30, 0.0, 0.8, 0.75, 1.3, 0.75),
    "silk": Kind(0.04, 0.8, 0.24, 0.2, 0.0, 0.85),
    "leather": Kind(0.02, 0.45, 0.22, 0.0, 0.0, 0.75),
}
HEM_TURNS: Final = 2.0
"""So many more times cloth lies at its hem."""
SOFT_PX: Final = 0.6
THROUGH: Final = 0.75
"""Share of light that a sheer thread lets through to its other side, of what it throws back."""


def _hem(scene: Scene) -> Plane:
    """Where the hem is (h, w), 0..1: along the silhouette."""
    cover = scene.form.cover
    wide = float(scene["hem"])
    if wide < 0.5:
        return np.zeros_like(cover)
    edge = cv2.distanceTransform((np.pad(cover, 1) > 0.5).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    hem: Plane = smoothstep(wide + 0.7, wide - 0.7, edge)
    return hem


def _seam(scene: Scene, place: Plane) -> Plane:
    """Stitches along the inner edge of the hem, 0..1."""
    wide, size = float(scene["hem"]), float(scene["weave"])
    if wide < 2:
        return np.zeros_like(scene.form.cover)
    cover = scene.form.cover
    edge = cv2.distanceTransform((np.pad(cover, 1) > 0.5).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    line = np.exp(-(((edge - 0.8 * wide) / max(0.06 * wide, 0.7)) ** 2))
    at = (place[0] + place[1]) / max(1.6 * size, 3.0)
    stitches: Plane = line * smoothstep(0.30, 0.45, np.abs(at % 1.0 - 0.5) * 2)
    return stitches


def _sheer(scene: Scene) -> list[Sheet]:
    form, folds = scene.form, folds_of(scene)
    area, cover = form.area, form.cover
    scene.tell(0.4)
    hem = _hem(scene)
    weave = threads(scene, folds.place, scene["weave"])
    # So much light each layer of it stops straight on; more of it lies there the more it is turned or folded.
    straight = np.clip(1 - scene["sheer"] / 100, 0.02, 0.98)
    amount = folds.density * (1 + HEM_TURNS * hem) * (1 + 0.22 * weave)
    opacity = 1 - (1 - straight) ** np.clip(amount, 0.3, 14)
    albedo = srgb.decode(np.asarray(scene.local)).astype(np.float32)[:, None, None]
    key = np.asarray(scene.sources.key_colour, np.float32)[:, None, None]
    sky = np.asarray(scene.sources.sky_colour, np.float32)[:, None, None]
    # Threads throw light back from the side that is lit, and let it through from the other one.
    reached = form.lit if form.modelled else 0.4 + 0.6 * folds.lit
    light = (folds.front + THROUGH * folds.back) * reached
    linear = albedo * (key * light + sky + 0.10) + _sheen(scene, folds, 0.10, 0.35) * key
    linear = scene.in_scale(linear)
    slope = np.stack((folds.normal[0], -folds.normal[1])) * 2.0
    seen = bent(behind(scene.painting, scene.part), area, (slope[0], slope[1]), SOFT_PX + 1.2 * straight)
    # Light that comes through takes on some of its colour.
    missing = 0.35 * (1 - albedo / max(float(albedo.max()), 1e-3))

    def both(rows: slice) -> Plane:
        own, beyond = opacity[rows], seen[:, rows]
        beyond = beyond * (1 - missing * own)
        return np.clip(linear[:, rows], 0, 1.5) * own + beyond * (1 - own)

    out = whitened(in_bands(linear.shape, both))
    sheets = [Sheet("Sheer cloth", "texture", area, encoded(out), cover)]
    bright = np.clip((folds.density - 1.6) / 3, 0, 1) * np.clip(light, 0, 1)
    paint = encoded(bright * albedo**0.5 * 0.35)
    sheets.append(Sheet("Fold lights", "light", area, paint, cover, mode="Screen", strength=0.7))
    stitches = _seam(scene, folds.place)
    if stitches.any():
        thread = np.clip(np.asarray(scene.local) * 1.25, 0, 1)
        sheets.append(Sheet("Stitches", "detail", area, filled(cover.shape, tuple(thread)), stitches * cover * 0.6))
    return sheets


def _sheen(scene: Scene, folds: Folds, alpha: float, strength: float) -> Plane:
    """The key light mirrored by threads: narrow across the folds, long along them (h, w)."""
    normal = folds.normal
    half = np.asarray(scene.light, np.float32) + np.array((0, 0, 1), np.float32)
    half /= np.linalg.norm(half)
    # Threads that run down mirror light whatever their lean is that way.
    across = np.hypot(normal[0], normal[2])
    cosine = np.clip(
        (normal[0] * half[0] + normal[2] * half[2]) / np.maximum(across * np.hypot(half[0], half[2]), 1e-4), 0, 1
    )
    whole = np.clip(np.einsum("i,ihw->hw", half, normal), 0, 1)
    mixed = 0.65 * cosine + 0.35 * whole
    found: Plane = ggx(mixed, alpha) / float(ggx(1.0, alpha)) * strength
    return found


def _opaque(scene: Scene) -> list[Sheet]:
    kind, form, folds = KINDS[scene["kind"]], scene.form, folds_of(scene)
    area, cover, shape = form.area, form.cover, form.cover.shape
    scene.tell(0.4)
    weave = threads(scene, folds.place, scene["weave"]) if kind.weave else np.zeros(shape, np.float32)
    grain = _grain(scene, weave, kind)
    tilt = normals_of(grain)
    normal = np.stack((folds.normal[0] + tilt[0], folds.normal[1] + tilt[1], folds.normal[2]))
    normal /= np.maximum(np.linalg.norm(normal, axis=0), 1e-6)
    albedo = srgb.decode(np.asarray(scene.local))
    # Between folds little light comes in from around.
    around = max(shape) / max(float(scene["folds"]), 1.0) * 0.22
    low = softened(folds.height, around) - folds.height
    closed = 1 - kind.dim * smoothstep(0.0, 0.8, np.clip(low, 0, None) / max(around, 1.0))
    lit = form.lit * folds.lit if form.modelled else folds.lit
    linear = scene.shaded(normal, albedo, lit, form.openness * closed, "cloth", form.extra)
    linear = scene.in_scale(linear)
    key = np.asarray(scene.sources.key_colour, np.float32)[:, None, None]
    facing = np.clip(folds.normal[2], 0, 1)
    fuzz = kind.rough * (1 - facing) ** 2.2 * (0.35 + 0.65 * lit) * closed
    tint = albedo.astype(np.float32)[:, None, None]
    linear = linear + fuzz * (0.5 * tint + 0.12) * key
    sheets = [Sheet("Cloth", "texture", area, encoded(whitened(linear)), cover)]
    if kind.weave:
        grey = np.clip(
            0.5 + 0.20 * kind.weave * weave * (0.45 + 0.55 * smoothstep(0.0, 0.6, scene.facing(folds.normal))), 0, 1
        )
        sheets.append(Sheet("Threads", "detail", area, np.broadcast_to(grey, (3, *shape)), cover, mode="Soft Light"))
    if kind.gloss:
        bent_ = Folds(folds.density, folds.front, folds.back, folds.height, normal, folds.lit, folds.place)
        sheen = _sheen(scene, bent_, kind.alpha, kind.gloss) * lit * closed * (1 + 0.25 * weave)
        own = 0.35 * np.ones_like(tint) + 0.65 * tint / max(float(tint.max()), 1e-3)
        sheets.append(Sheet("Sheen", "highlight", area, encoded(np.clip(sheen, 0, 1) * own * key / key.max()), cover,
                            mode="Screen", strength=0.8))  # fmt: skip
    stitches = _seam(scene, folds.place)
    if stitches.any():
        dark = np.clip(np.asarray(scene.local) * 0.5, 0, 1)
        sheets.append(
            Sheet("Stitches", "detail", area, filled(shape, tuple(dark)), stitches * cover * 0.7, mode="Multiply")
        )
    if kind.nap > 0 and scene["nap"] > 0:
        sheets += nap(scene, folds.lit, kind.nap * float(scene["weave"]), scene["nap"] / 100)
    return sheets


def _grain(scene: Scene, weave: Plane, kind: Kind) -> Plane:
    """Heights in px of what is finer than folds: threads, or leather's pebbles and creases."""
    size, shape = float(scene["weave"]), scene.form.cover.shape
    if scene["kind"] == "leather":
        creases = fractal(scene.chance("creases"), shape, 9 * size, 3, 0.6)
        return (0.22 * size * pebbles(scene, shape, size, 1.0) - 0.16 * size * np.exp(-np.abs(creases) * 5)).astype(
            np.float32
        )
    felt = fractal(scene.chance("felt"), shape, 2.2 * size, 3, 0.7) if scene["kind"] == "wool" else 0.0
    return (0.10 * size * kind.weave * (weave + 0.8 * felt)).astype(np.float32)


SHEER: Final = Maker(
    "thin cloth", ("cloth",), "Sheer cloth: folds that turn light, denser aslant and where it lies double",
    (
        number("sheer", "sheer", 70, 0, 98, "How much of what is behind shows straight through", unit=" %"),
        *FOLDS,
        number("hem", "hem", 10, 0, 200, "Width of its hem, where it lies threefold", unit=" px", px=True),
        number("weave", "weave", 4, 1, 100, "Size of its threads", unit=" px", px=True),
        DEPTH,
    ),
    _sheer,
    sees="behind",
    whole=True,
)  # fmt: skip
CLOTH: Final = Maker(
    "cloth", ("cloth",), "Linen, wool, silk or leather in folds, with threads that follow them and a nap at the edge",
    (
        choice("kind", "", tuple(KINDS), "What it is"),
        *FOLDS,
        number("weave", "weave", 5, 1, 100, "Size of its threads, or of leather's pebbles", unit=" px", px=True),
        number("nap", "nap", 60, 0, 100, "Short hairs that stand out over its edge", unit=" %"),
        number("hem", "hem", 0, 0, 200, "Width of a stitched hem", unit=" px", px=True),
        DEPTH,
    ),
    _opaque,
    kinds={"linen": {"folds": 7.0, "depth_of": 75.0}, "wool": {"folds": 4.0, "depth_of": 70.0, "weave": 7.0},
           "silk": {"folds": 8.0, "depth_of": 95.0}, "leather": {"folds": 3.0, "depth_of": 60.0, "weave": 7.0}},
)  # fmt: skip
