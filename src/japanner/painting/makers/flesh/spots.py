"""What lies on skin in spots: freckles, age spots, the roots of a beard."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np

from japanner.color import lab
from japanner.painting.makers.base import Plane, Scene, Sheet, filled, fractal, smoothstep
from japanner.painting.makers.flesh.relief import pits
from japanner.painting.makers.flesh.zones import Zones

__all__ = ["SPOTTED", "age_spots", "beard_shadow", "freckles"]

SUN: Final = {"nose bridge": 1.0, "nose tip": 0.8, "cheeks": 0.9, "forehead": 0.55, "shoulders": 0.7, "lids": 0.3,
              "lips": 0.05, "neck": 0.12, "jaw": 0.2, "chin": 0.25, "mouth surround": 0.3, "ears": 0.3}  # fmt: skip
OLD: Final = {"forehead": 0.8, "scalp": 1.0, "cheeks": 0.6, "jaw": 0.5, "nose bridge": 0.3, "eye sockets": 0.2,
              "neck": 0.4, "shoulders": 0.5, "lips": 0.0}  # fmt: skip
BEARD: Final = {"jaw": 0.8, "chin": 1.0, "mouth surround": 1.0, "neck": 0.3, "cheeks": 0.15, "lips": 0.0}
SPOTTED: Final = frozenset((*SUN, *OLD, *BEARD))
"""Zones that are asked for."""
MOST: Final = 20000


def freckles(scene: Scene, zones: Zones, key: Plane) -> Sheet:
    """Spots of many sizes in clusters, thick where the sun comes and where a map of paint says so; on dark skin fewer
    and softer.
    """
    form, shape = scene.form, key.shape
    painted = scene.map("freckle_map")
    if painted is not None:
        density = painted
    elif zones.any:
        density = zones.field(SUN, 0.3, 0.03)
    else:
        density = 0.25 + 0.75 * smoothstep(0.1, 0.8, key)
    dark = float(smoothstep(62.0, 30.0, float(lab.lightness_from_srgb(np.asarray(scene.local)))))
    clusters = np.clip(0.5 + 0.5 * fractal(scene.chance("clusters"), shape, 14 * scene["pores"], 3), 0, 1.4)
    sheet = _spots(scene, "freckles", density * clusters, scene["freckles"] * (1 - 0.6 * dark), 0.17)
    soft = cv2.GaussianBlur(sheet, (0, 0), max(scene["pores"] * (0.10 + 0.10 * dark), 0.6))
    ragged = np.clip(soft * (1 + 0.3 * fractal(scene.chance("ragged"), shape, scene["pores"], 3)), 0, 1)
    brown = np.clip(np.asarray(scene.local) * (0.95, 0.78, 0.62), 0, 1)
    return Sheet("Freckles", "detail", form.area, filled(shape, tuple(brown)), ragged * form.cover, mode="Multiply",
                 strength=0.8 - 0.3 * dark)  # fmt: skip


def age_spots(scene: Scene, zones: Zones, key: Plane) -> Sheet:
    """Few, large, flat and ragged, on what sun has reached for decades."""
    form, shape = scene.form, key.shape
    density = zones.field(OLD, 0.3, 0.03)
    sheet = _spots(scene, "age spots", density**2, scene["age_spots"] * 0.022, 0.9)
    ragged = fractal(scene.chance("ragged spots"), shape, 2.5 * scene["pores"], 3)
    soft = cv2.GaussianBlur(sheet, (0, 0), max(scene["pores"] * 0.3, 0.6)) * (1 + 0.45 * ragged)
    brown = np.clip(np.asarray(scene.local) * (0.86, 0.70, 0.55), 0, 1)
    return Sheet("Age spots", "detail", form.area, filled(shape, tuple(brown)), np.clip(soft, 0, 1) * form.cover,
                 mode="Multiply", strength=0.7)  # fmt: skip


def beard_shadow(scene: Scene, zones: Zones, key: Plane) -> Sheet:
    """Roots of hair under skin: a cool veil, and a dot to every hair."""
    form, shape = scene.form, key.shape
    where = zones.field(BEARD, 0.0 if zones.any else 0.6, 0.025)
    patchy = np.clip(0.85 + 0.25 * fractal(scene.chance("beard"), shape, 16 * scene["pores"], 3), 0.2, 1.2)
    dots = -pits(scene.chance("stubble"), shape, 1.25 * scene["pores"], 1.6, 80.0)
    cover = where * patchy * (0.30 + 0.75 * dots) * scene["beard"] / 100
    own = lab.lab_from_srgb(np.asarray(scene.local))
    cool = np.clip(lab.srgb_from_lab((own[0] * 0.55, own[1] * 0.25, own[2] * 0.25 - 2)), 0, 1)
    return Sheet("Beard shadow", "texture", form.area, filled(shape, tuple(cool)), np.clip(cover, 0, 1) * form.cover,
                 mode="Multiply", strength=0.75)  # fmt: skip


def _spots(scene: Scene, what: str, density: Plane, many: float, size: float) -> Plane:
    """Ovals of a size in pores' distances, as dense as `density` 0..1 says."""
    random, shape = scene.chance(what), density.shape
    count = int(many * 0.00016 * scene.form.cover.sum() / max((scene["pores"] / 9) ** 2, 0.05))
    count = min(count, MOST)
    ys, xs = random.random((2, count)) * np.array(shape)[:, None]
    sizes = scene["pores"] * size * np.exp(0.42 * random.standard_normal(count))
    chance, strength = random.random(count), 0.12 + 0.6 * random.random(count) ** 2
    sheet = np.zeros(shape, np.float32)
    for x, y, wide, at, strong in zip(xs, ys, sizes, chance, strength, strict=True):
        if at < density[int(y), int(x)]:
            axes = (max(round(float(wide) * 16), 6), max(round(float(wide) * 16 * (0.6 + 0.4 * float(at))), 6))
            spot = (round(float(x) * 16), round(float(y) * 16))
            cv2.ellipse(sheet, spot, axes, float(at) * 360, 0, 360, float(strong), -1, cv2.LINE_AA, 4)
    return sheet
