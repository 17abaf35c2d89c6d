"""The last punch over everything: two sheets that darken and lighten to the finished picture, a vignette, and grain.

Sheets by blend modes instead of the finished picture itself: paint that is laid beneath later is seen at once, finished
nearly as it should be, until it is made anew.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np

from japanner.color import lab, oklab, srgb
from japanner.color.gamut import into_gamut, with_luminance
from japanner.painting.makers.base import (
    Maker,
    Plane,
    Scene,
    Sheet,
    choice,
    encoded,
    filled,
    fractal,
    number,
    smoothstep,
    softened,
    whitened,
)
from japanner.painting.picture.compositor import flattened
from japanner.raster.adjust import NODES, through_table
from japanner.raster.tiles import Raster
from japanner.types import Colour

__all__ = ["FINISH", "toned"]

WARM: Final = (0.008, 0.030)
"""What full warmth adds to a and b of OKLab: towards the light of a lamp; cool is the contrary."""
MOST_LOCAL: Final = 14.0
"""Local contrast moves a value by so much L* at the most, so that strong edges get no halo."""
FALL: Final = 1.0
"""Where a vignette is full, in half diagonals of the canvas."""
GRAIN: Final = ("fine", "broken")
GLANCE_NODES: Final = 25
"""For a first look."""


def toned(colours: Plane, values: dict[str, float]) -> Plane:
    """Encoded colours (n, 3) after contrast about a value, chroma, and warm lights with cool shadows.

    contrast: the slope of L* at `about` less one, in per cent; black and white stay, and the curve always rises.
    """
    linear, value = srgb.decode(colours), lab.lightness_from_srgb(colours)
    about, slope = values["about"], 1 + values["contrast"] / 100
    below = about * np.clip(value / about, 0, 1) ** slope
    above = 100 - (100 - about) * np.clip((100 - value) / (100 - about), 0, 1) ** slope
    wanted = np.where(value < about, below, above)
    moved = oklab.oklab_from_linear(with_luminance(linear, lab.luminance_from_lightness(wanted)))
    moved[:, 1:] *= 1 + values["chroma"] / 100
    lights, shadows = smoothstep(45, 85, wanted), smoothstep(50, 12, wanted)
    # Black and white have no colour to them.
    room = smoothstep(0, 8, wanted) * smoothstep(100, 94, wanted)
    turn = room * (values["warm"] * lights - values["cool"] * shadows) / 100
    moved[:, 1:] += turn[:, None] * np.array(WARM)
    found: Plane = np.asarray(srgb.encode(into_gamut(oklab.linear_from_oklab(moved))), np.float32)
    return found


def _locally(codes: Plane, amount: float, radius_px: float) -> Plane:
    """Encoded colours (3, h, w) with values driven away from those around them, within a radius."""
    linear = np.asarray(srgb.decode(codes), np.float32)
    luminance = srgb.luminance(np.moveaxis(linear, 0, -1)).astype(np.float32)
    value = lab.lightness(luminance).astype(np.float32)
    apart = value - softened(value, radius_px / 2)
    wanted = np.clip(value + MOST_LOCAL * np.tanh(amount * apart / MOST_LOCAL), 0, 100)
    share = lab.luminance_from_lightness(wanted).astype(np.float32) / np.maximum(luminance, np.float32(1e-5))
    return encoded(whitened(np.asarray(linear * share, np.float32)))


def _vignette(scene: Scene) -> Sheet:
    """A dark fall towards the corners, multiplied."""
    painting = scene.painting
    half = np.hypot(painting.width, painting.height) / 2
    xs = (np.arange(painting.width, dtype=np.float32) + 0.5 - painting.width / 2) / half
    ys = (np.arange(painting.height, dtype=np.float32) + 0.5 - painting.height / 2) / half
    begin = scene["vignette_from"] / 100 * FALL
    fall = smoothstep(begin, begin + FALL, np.hypot(xs[None], ys[:, None]))
    dark: Colour = (0.055, 0.05, 0.055)
    cover = np.asarray(fall * scene["vignette"] / 100, np.float32)
    return Sheet("Vignette", "shadow", painting.rect, filled(cover.shape, dark), cover, "over", "Multiply")


def _grain(scene: Scene) -> Sheet:
    """The same tooth all over, as a soft light: black and white stay."""
    painting, shape = scene.painting, (scene.painting.height, scene.painting.width)
    octaves = 1 if scene["tooth"] == GRAIN[0] else 3
    noise = fractal(scene.chance("grain"), shape, scene["grain_px"], octaves, falloff=0.7)
    grey = np.clip(0.5 + noise * np.float32(scene["grain"] / 100 * 0.15), 0, 1)
    whole = np.broadcast_to(grey, (3, *shape))
    return Sheet("Grain", "texture", painting.rect, whole, np.ones(shape, np.float32), "over", "Soft Light")


def _make(scene: Scene) -> list[Sheet]:
    painting, sheets = scene.painting, list[Sheet]()
    index = painting.parts.index(scene.part)
    below = flattened(replace(painting, parts=painting.parts[:index]))
    codes = _codes(below)
    values = {name: float(scene[name]) for name in ("contrast", "about", "chroma", "warm", "cool")}
    finished = codes
    if any(values[name] for name in ("contrast", "chroma", "warm", "cool")):
        nodes = GLANCE_NODES if scene.sketch else NODES
        finished = _codes(through_table(below, lambda colours: toned(colours, values), nodes))
    scene.look_up()
    if scene["local"]:
        finished = _locally(finished, scene["local"] / 100, scene["local_px"])
    if finished is not codes:
        whole, shape = np.ones(codes.shape[1:], np.float32), painting.rect
        darker = np.where(finished < codes, finished / np.maximum(codes, 1e-6), 1).astype(np.float32)
        lighter = np.where(finished > codes, 1 - (1 - finished) / np.maximum(1 - codes, 1e-6), 0).astype(np.float32)
        sheets += [
            Sheet("Darker", "shadow", shape, darker, whole, "over", "Multiply"),
            Sheet("Lighter", "light", shape, lighter, whole, "over", "Screen"),
        ]
    if scene["vignette"]:
        sheets.append(_vignette(scene))
    if scene["grain"]:
        sheets.append(_grain(scene))
    return sheets


def _codes(raster: Raster) -> Plane:
    found: Plane = raster.read(raster.rect)[:3].astype(np.float32) / np.float32(65535)
    return found


FINISH: Final = Maker(
    "finish", (), "The last adjustments over everything, in a part of their own in front", (
        number("contrast", "contrast", 12, -60, 100, "Of values, about one that stays", unit=" %"),
        number("about", "about", 45, 20, 80, "The value that contrast leaves as it is", unit=" L*"),
        number("chroma", "chroma", 8, -100, 100, "How colourful everything is", unit=" %"),
        number("warm", "warm lights", 20, -100, 100, "Towards a lamp's light; below 0 towards the sky's", unit=" %"),
        number("cool", "cool shadows", 20, -100, 100, "Towards the sky's light; below 0 towards a lamp's", unit=" %"),
        number("local", "local contrast", 15, -60, 150, "Of values against those around them", unit=" %"),
        number("local_px", "within", 60, 2, 800, "How far around is looked at", unit=" px", px=True),
        number("vignette", "vignette", 0, 0, 100, "How dark the corners are", unit=" %"),
        number("vignette_from", "from", 35, 0, 90, "Where it begins, on the way to the corners", unit=" %"),
        number("grain", "grain", 0, 0, 100, "A tooth over everything", unit=" %"),
        number("grain_px", "grain size", 2, 1, 24, "Of its coarsest grains", unit=" px", digits=1, px=True),
        choice("tooth", "tooth", GRAIN, "Even, or of several sizes"),
    ), _make, sees="behind", over_all=True,
)  # fmt: skip
