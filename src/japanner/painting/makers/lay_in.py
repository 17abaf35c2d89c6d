"""Laying a part in: its values under the painting's light, as smooth layers or as brushed strokes."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import lab, srgb
from japanner.painting.makers.base import DEPTH, Maker, Plane, Scene, Sheet, choice, number, smoothstep
from japanner.painting.makers.brushed import brushed

__all__ = ["LAY_IN", "target"]

ROLES: Final = ("accent", "shadow", "light", "highlight")
STEPS: Final = {"accent": 0, "shadow": 1, "light": 3, "highlight": 4}


def target(scene: Scene) -> tuple[Plane, Plane]:
    """L* (h, w) and encoded colour (3, h, w) that the part's form should have under the light."""
    form = scene.form
    albedo = srgb.decode(np.asarray(scene.local))
    linear = scene.shaded(form.normal, albedo, form.lit, form.openness, extra=form.extra)
    value = scene.value_curve()(lab.lightness(np.clip(srgb.luminance(np.moveaxis(linear, 0, -1)), 0, 4)))
    return value, _coloured(scene, value)


def _coloured(scene: Scene, value: Plane) -> Plane:
    """The mixing grid's colours at these values: the first undertone, and that of the surroundings where only they
    light the form from below.
    """
    form, rows = scene.form, scene.grid
    names = list(rows)
    own = _along(scene, rows[names[0]], value)
    if "surroundings" not in rows:
        return own
    below = np.clip(-form.normal[1], 0, 1) * (1 - smoothstep(0.0, 0.4, _key(scene)))
    share = (0.6 * below * min(scene.painting.light.bounce * 2, 1)).astype(np.float32)
    result: Plane = own + share * (_along(scene, rows["surroundings"], value) - own)
    return result


def _along(scene: Scene, colours: tuple[tuple[float, float, float], ...], value: Plane) -> Plane:
    """Colours (3, h, w) between the five steps; L* is kept to what is asked for."""
    steps = np.asarray(scene.part.scale)
    channels = np.array([np.interp(value, steps, column) for column in np.asarray(colours).T])
    is_now = lab.lightness_from_srgb(np.moveaxis(channels, 0, -1))
    wanted = lab.luminance_from_lightness(value) / np.maximum(lab.luminance_from_lightness(is_now), 1e-5)
    result: Plane = srgb.encode(np.clip(srgb.decode(channels) * wanted, 0, 1)).astype(np.float32)
    return result


def _key(scene: Scene) -> Plane:
    """How much of the key each place gets, 0..1."""
    cosine = scene.facing(scene.form.normal)
    result: Plane = np.maximum(cosine, 0) * scene.form.lit
    return result


def _make(scene: Scene) -> list[Sheet]:
    value, colours = target(scene)
    if scene["way"] == "brushed":
        return _brushed(scene, value, colours)
    return _smooth(scene, value)


def _smooth(scene: Scene, value: Plane) -> list[Sheet]:
    """Four sheets that each lead from the step before to their own, and the bounce."""
    scale, area, cover = scene.part.scale, scene.form.area, scene.form.cover
    row = next(iter(scene.grid.values()))
    sheets = []
    for role, start in (("shadow", 2), ("accent", 1), ("light", 2), ("highlight", 3)):
        end = STEPS[role]
        share = np.clip((value - scale[start]) / (scale[end] - scale[start]), 0, 1)
        sheets.append(Sheet(role.capitalize(), role, area, _filled(row[end], value.shape), share * cover))
    bounce = np.clip(-scene.form.normal[1], 0, 1) * (1 - smoothstep(0.02, 0.35, _key(scene))) * scene.form.openness
    around = scene.grid.get("surroundings", row)[2]
    strength = min(scene.painting.light.bounce * 1.2, 0.8)
    sheets.insert(2, Sheet("Bounce", "bounce", area, _filled(around, value.shape), bounce * cover, strength=strength))
    return sheets


def _brushed(scene: Scene, value: Plane, colours: Plane) -> list[Sheet]:
    """Strokes from large to small, each on the layer of the step that its value is nearest to."""
    form, scale = scene.form, np.asarray(scene.part.scale)
    middles = (scale[1:] + scale[:-1]) / 2
    painted = brushed(
        colours, value, form.normal, form.cover > 0.5, scene.random, size_px=scene["brush"], finish=scene["finish"],
        steps=middles, told=scene.told,
    )  # fmt: skip
    names = ("accent", "shadow", "halftone", "light", "highlight")
    order = (2, 1, 0, 3, 4)
    sheets = []
    for index in order:
        paint, cover = painted[index, :3], painted[index, 3]
        role = "undertone" if names[index] == "halftone" else names[index]
        straight = paint / np.maximum(cover, 1e-4)
        sheets.append(Sheet(names[index].capitalize(), role, form.area, straight, cover))
    return sheets


def _filled(colour: tuple[float, float, float], shape: tuple[int, ...]) -> NDArray[np.float32]:
    return np.broadcast_to(np.asarray(colour, np.float32)[:, None, None], (3, *shape))


LAY_IN: Final = Maker(
    "lay-in", (), "The part's values under the light, in the colours of its mixing grid",
    (
        choice("way", "", ("brushed", "smooth"), "As strokes from large to small, or as even layers"),
        number("brush", "largest brush", 60, 4, 600, "Width of the largest strokes", unit=" px", px=True),
        number("finish", "finish", 60, 0, 100, "How far down to small strokes it is carried", unit=" %"),
        DEPTH,
    ),
    _make,
)  # fmt: skip
