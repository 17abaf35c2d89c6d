"""Glass: what is behind bent through it, its colour by the way through it, surroundings, rim, lights, a caustic."""

from __future__ import annotations

from typing import Final, NamedTuple

import numpy as np

from japanner.color import srgb
from japanner.light import optics
from japanner.light.clear import Passage, through_ball, through_shell
from japanner.light.shading import fresnel, ggx
from japanner.painting.makers.around import AROUND, Around, mirrored_way, towards_viewer
from japanner.painting.makers.base import (
    DEPTH,
    Maker,
    Plane,
    Scene,
    Sheet,
    choice,
    colour,
    encoded,
    fractal,
    in_bands,
    number,
    smoothstep,
)  # fmt: skip
from japanner.painting.makers.behind import behind, sampled
from japanner.painting.makers.floor import on_the_floor
from japanner.painting.makers.windows import SHAPES, mirrored_light

__all__ = ["GLASS"]

INDEX: Final = 1.5
WATER: Final = 1.33
KINDS: Final = ("hollow", "solid", "pane")
BACK: Final = 0.9
"""How far behind a thing its ground stands, in its own half widths (our choice)."""
TABLE: Final = np.linspace(0, 1, 401)
"""Distances from the axis, in shares of the radius, that passages are worked out for."""
PANE_TILT_DEG: Final = 28.0


class Glass(NamedTuple):
    """Passages by `TABLE`, and the colour that is left of white light after a way of one radius."""

    passage: Passage
    clear: Plane


def _glass(scene: Scene) -> Glass:
    own = np.clip(srgb.decode(np.asarray(scene.local)), 0.004, 1)
    strength = scene["colour"] / 50
    if scene["kind"] == "solid":
        return Glass(through_ball(TABLE, INDEX), _clear(own, 0.9 * strength))
    passage = through_shell(TABLE, INDEX, scene["wall"] / 100)
    # A wall is seen through twice at least; thin ones are as strongly coloured as what they are made of.
    return Glass(passage, _clear(own, strength * 0.5 / max(2 * scene["wall"] / 100, 0.02)))


def _clear(own: Plane, strength: float) -> Plane:
    """Share of light, by channel, that a way of one radius leaves of white (Beer-Lambert)."""
    hue = np.clip(own / own.max(), 0.02, 0.985)
    result: Plane = hue ** np.float32(strength)
    return result


def _through(scene: Scene, glass: Glass, around: Around, view: Plane) -> Plane:
    """Linear light (3, h, w) that comes through."""
    form, back = scene.form, behind(scene.painting, scene.part)
    radius, area = max(around.half_width, 2.0), scene.form.area
    if scene["kind"] == "pane":
        return _through_pane(scene, back, radius)
    columns = np.arange(area.x0, area.x1, dtype=np.float32)[None] + np.float32(0.5)
    uneven = [fractal(scene.chance(f"uneven {axis}"), form.cover.shape, max(form.cover.shape) * 0.35, 3)
              * (radius * scene["uneven"] / 100 * 0.05) for axis in (0, 1)]  # fmt: skip
    passage, clear = glass

    def band(rows: slice) -> Plane:
        normal, to_viewer = form.normal[:, rows], view[:, rows]
        facing = np.clip(np.einsum("ihw,ihw->hw", normal, to_viewer), 0.0, 1)
        rho = np.sqrt(1 - facing**2)
        aside = (normal - facing * to_viewer) / np.maximum(rho, 1e-4)
        way, turn, out, kept = (np.interp(rho, TABLE, one).astype(np.float32) for one in passage)
        ray = -np.cos(turn) * to_viewer - np.sin(turn) * aside
        # From the middle of the ball that the form is here, to where the ray leaves, and on to the ground.
        ys = np.arange(area.y0, area.y1, dtype=np.float32)[rows, None] + np.float32(0.5)
        far = BACK * radius / np.maximum(-ray[2], 0.12)
        x = columns + radius * (out * aside[0] - normal[0]) + ray[0] * far + uneven[0][rows]
        y = ys - radius * (out * aside[1] - normal[1]) - ray[1] * far + uneven[1][rows]
        ground = smoothstep(-0.10, -0.45, ray[2])
        seen = sampled(back, x, y) * ground + around.world.seen(ray, 0.08) * (1 - ground)
        # What is thrown back inside comes out of the side, with more of the glass's colour.
        inside = around.world.seen(aside, 0.3) * np.clip(1 - kept - fresnel(facing, INDEX), 0, 1)
        tint = clear[:, None, None] ** way
        return seen * tint * kept + 0.5 * inside * tint**2

    return in_bands((3, *form.cover.shape), band)


def _through_pane(scene: Scene, back: Plane, radius: float) -> Plane:
    """Through a flat sheet that is turned a little: what is behind is moved, and waves as old glass does."""
    tilt = np.radians(PANE_TILT_DEG)
    inner = float(optics.snell(tilt, INDEX))
    aside = radius * 0.25 * np.sin(tilt - inner) / np.cos(inner)
    shape, area = scene.form.cover.shape, scene.form.area
    waves = [fractal(scene.chance(f"waves {axis}"), shape, max(shape) * 0.3, 3) * radius * 0.012
             * (scene["uneven"] / 30) for axis in (0, 1)]  # fmt: skip
    x = np.arange(area.x0, area.x1, dtype=np.float32)[None] + 0.5 + waves[0] + aside
    y = np.arange(area.y0, area.y1, dtype=np.float32)[:, None] + 0.5 + waves[1] + 0.4 * aside
    own = np.clip(srgb.decode(np.asarray(scene.local)), 0.004, 1)
    return sampled(back, x, y) * _clear(own, scene["colour"] / 50 * 0.7)[:, None, None] * np.float32(0.92)


def _make(scene: Scene) -> list[Sheet]:
    form = scene.form
    area, cover = form.area, form.cover
    around, view, glass = Around(scene), towards_viewer(scene), _glass(scene)
    through_ = _through(scene, glass, around, view)
    scene.tell(0.5)
    facing = np.clip(np.einsum("ihw,ihw->hw", form.normal, view), 0.0, 1)
    body = np.asarray(srgb.decode(np.asarray(scene.local)), np.float32)[:, None, None]
    # About a fifth of the body's own colour is kept towards the rim.
    rim = smoothstep(0.55, 0.05, facing) * np.float32(scene["rim"] / 100)
    kept = (0.25 + 0.75 * form.lit) * rim
    through = in_bands(through_.shape, lambda rows: through_[:, rows] * (1 - rim[rows]) + body * kept[rows])
    if scene["liquid"] > 0 and scene["kind"] != "pane":
        through = _filled(scene, through, around, view)
    sheets = [Sheet("Seen through", "texture", area, encoded(through), cover)]
    near = around.near(mirrored_way(form.normal, view), 0.12)

    def front(rows: slice) -> Plane:
        way, share = mirrored_way(form.normal[:, rows], view[:, rows]), fresnel(facing[rows], INDEX)
        return encoded(around.seen(way, 0.12, (near[0][:, rows], near[1][rows])) * share)

    sheets.append(Sheet("Mirrored", "light", area, in_bands(through.shape, front), cover, mode="Screen"))
    if scene["kind"] != "pane":
        sheets.append(_glow(scene, body))
    key = np.asarray(scene.sources.key_colour, np.float32)[:, None, None]
    lights, tint = _lights(scene, view), 0.4 + 0.6 * key / key.max()
    lit = in_bands((3, *cover.shape), lambda rows: encoded(lights[rows] * tint))
    sheets.append(Sheet("Highlights", "highlight", area, lit, cover, mode="Screen"))
    if scene["caustic"] <= 0 or scene["kind"] == "pane":
        return sheets
    # A wall that is not even gathers less.
    strength = scene["caustic"] / 100 * (0.55 if scene["kind"] == "hollow" else 1.0)
    return [*on_the_floor(scene, glass.passage, TABLE, glass.clear, strength), *sheets]


def _filled(scene: Scene, through: Plane, around: Around, view: Plane) -> Plane:
    """With liquid in it up to a level: its colour, what is behind turned round as by a ball of it, and its surface."""
    form = scene.form
    rows = np.flatnonzero(form.cover.max(axis=1) > 0.5)
    top, bottom = int(rows[0]), int(rows[-1])
    level = bottom - (bottom - top) * scene["liquid"] / 100
    ys = np.arange(form.cover.shape[0], dtype=np.float32)[:, None]
    at_level = form.cover[min(max(int(level), 0), len(form.cover) - 1)] > 0.5
    columns = np.flatnonzero(at_level)
    if not len(columns):
        return through
    middle, half = float(columns.mean()), max(len(columns) / 2, 1.0)
    xs = np.arange(form.cover.shape[1], dtype=np.float32)[None]
    # The surface is seen as a narrow oval, and climbs at the wall.
    oval = np.sqrt(np.clip(1 - ((xs - middle) / half) ** 2, 0, 1)) * half * 0.13
    below, surface = smoothstep(-1, 1, ys - level - oval), smoothstep(-1, 1, oval - np.abs(ys - level))
    own = np.clip(srgb.decode(np.asarray(scene["liquid_colour"])), 0.004, 1)
    water = Glass(through_ball(TABLE, WATER), _clear(own, 1.2))
    wet = _through(scene, water, around, view)
    sky = around.world.seen(np.stack([np.zeros_like(ys + xs), np.full_like(ys + xs, 0.9), np.full_like(ys + xs, 0.43)]))
    rim = np.exp(-(((np.abs(ys - level) - oval) / max(half * 0.012, 1.0)) ** 2)) * (oval > 0)
    out = through * (1 - below) + wet * below
    out = out * (1 - 0.65 * surface) + (0.5 * wet + 0.22 * sky) * 0.65 * surface
    result: Plane = out * (1 - 0.3 * rim) + 0.3 * rim * sky
    return result


def _lights(scene: Scene, view: Plane) -> Plane:
    """The key light mirrored by the front, small and upside down by the back, and along the rim on its side."""
    normal = scene.form.normal
    towards = np.asarray(scene.light, float)
    wide = float(np.degrees(2 * np.arctan(scene.sources.key_width))) + 26
    front = mirrored_light(mirrored_way(normal, view), towards, wide, scene["window"], 0.10)
    glow = ggx(scene.mirroring(normal), 0.12) / float(ggx(1.0, 0.12))
    total = 0.85 * front + 0.16 * glow
    if scene["kind"] != "pane":
        back = np.stack((-normal[0], -normal[1], normal[2]))
        total = total + 0.4 * mirrored_light(mirrored_way(back, view), towards, wide * 0.8, scene["window"], 0.35)
        flat = max(float(np.hypot(*towards[:2])), 0.1)
        side = smoothstep(-0.2, 0.9, (normal[0] * towards[0] + normal[1] * towards[1]) / flat)
        rim = smoothstep(0.30, 0.10, normal[2]) * (1 - 0.6 * smoothstep(0.08, 0.0, normal[2]))
        total = total + rim * 0.45 * side**3
    return np.clip(total, 0, 1).astype(np.float32)


def _glow(scene: Scene, body: Plane) -> Sheet:
    """Light that went through gathers inside, on the side away from it: in coloured glass more than in clear."""
    normal = scene.form.normal
    away = -np.einsum("i,ihw->hw", np.array((scene.light[0], scene.light[1], -0.55), np.float32), normal)
    where = smoothstep(0.1, 1.15, away) ** 2 * smoothstep(0.0, 0.45, normal[2])
    hue = (body / max(float(body.max()), 1e-3)) ** 1.6
    bright = (0.75 * where * scene.sources.key_colour[1]).astype(np.float32)
    paint = in_bands((3, *where.shape), lambda rows: encoded(hue * bright[rows]))
    strength = 0.15 + 0.45 * scene["colour"] / 100
    return Sheet("Inner glow", "bounce", scene.form.area, paint, scene.form.cover, mode="Screen", strength=strength)


GLASS: Final = Maker(
    "glass", ("glass",), "Clear or coloured glass through which the ground is seen",
    (
        choice("kind", "", KINDS, "A blown float or bottle, a solid ball, or a pane"),
        number("wall", "wall", 6, 1, 40, "How thick a hollow one's wall is, of its radius", unit=" %"),
        number("colour", "colour", 55, 0, 100, "How strongly it is coloured through", unit=" %"),
        number("rim", "rim", 20, 0, 100, "How much of its own colour the rim keeps", unit=" %"),
        number("uneven", "uneven", 30, 0, 100, "How unevenly it was blown or cast", unit=" %"),
        number("liquid", "filled", 0, 0, 100, "How full of liquid it is", unit=" %"),
        colour("liquid_colour", "with", (0.55, 0.36, 0.14), "The liquid's colour"),
        choice("window", "lit by a", SHAPES, "The shape of the light that is mirrored"),
        *AROUND,
        number("caustic", "caustic", 70, 0, 100, "Light gathered in its shadow; 0: none, and no shadow", unit=" %"),
        DEPTH,
    ),
    _make,
    sees="beside",
    whole=True,
)  # fmt: skip
