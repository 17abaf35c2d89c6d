"""Glass: what is behind bent through it, colour by thickness, mirrored surroundings, rim, highlights and a caustic."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner.color import srgb
from japanner.light import optics
from japanner.light.metals import STRIPS, mirrored, strip_light
from japanner.light.shading import fresnel, ggx
from japanner.painting.makers.base import DEPTH, Maker, Plane, Scene, Sheet, choice, fractal, number, smoothstep
from japanner.painting.makers.behind import behind, bent
from japanner.painting.makers.windows import SHAPES, mirrored_light
from japanner.raster.geometry import Rect

__all__ = ["GLASS"]

INDEX: Final = 1.5
WALL: Final = 0.045
KINDS: Final = ("hollow", "solid", "pane")
# How far behind a thing its ground stands, in its own half widths (our choice).
BACK: Final = 0.9


def _radius(scene: Scene) -> float:
    return max(float(scene.form.height.max()), min(scene.form.cover.shape) * 0.25, 2.0)


def _shift(scene: Scene) -> tuple[Plane, Plane]:
    """How far aside each place looks, px."""
    x, y, _ = scene.form.normal
    rho = np.hypot(x, y)
    across, down = x / np.maximum(rho, 1e-4), -y / np.maximum(rho, 1e-4)
    radius = _radius(scene)
    if scene["kind"] == "pane":
        tilt = np.radians(28)
        aside = (
            radius * 0.25 * np.sin(tilt - float(optics.snell(tilt, INDEX))) / np.cos(float(optics.snell(tilt, INDEX)))
        )
        waves = [fractal(scene.random, rho.shape, max(rho.shape) * 0.3, 3) * radius * 0.012 for _ in range(2)]
        return (waves[0] + aside).astype(np.float32), (waves[1] + 0.4 * aside).astype(np.float32)
    theta = np.arcsin(np.clip(rho, 0, 0.999))
    inner = optics.snell(theta, INDEX)
    if scene["kind"] == "hollow":
        # Two thin walls shift what is behind a little, and much at the rim.
        aside = -2 * WALL * radius * np.sin(theta - inner) / np.cos(inner) * 3
    else:
        # Through the ball, out at the other side, and on to the ground behind it (towards the axis, and past it).
        turn = 2 * (theta - inner)
        out = np.sin(2 * inner - theta)
        far = np.minimum(np.tan(np.minimum(turn, 1.35)) * (1 + BACK), 3.2)
        aside = (-(rho + out) - far + out) * radius
    return (across * aside).astype(np.float32), (down * aside).astype(np.float32)


def _tint(scene: Scene, cosine: Plane) -> Plane:
    """Share (3, h, w) of light that the glass's own colour lets through: more of it the longer the way."""
    clear = np.clip(srgb.decode(np.asarray(scene.local)), 0.004, 1)
    clear = np.clip(clear / clear.max() * (0.93 - 0.25 * scene["colour"] / 100), 0.01, 0.98)
    if scene["kind"] == "hollow":
        longest = float(np.sqrt(2 / WALL - 1))
        way = 2 / np.maximum(cosine, 1 / longest) * WALL * 1.5
    elif scene["kind"] == "solid":
        way = 1.1 * np.sqrt(1 - (1 - cosine**2) / INDEX**2)
    else:
        way = np.full_like(cosine, 0.5)
    power = (scene["colour"] / 50) * way
    return np.stack([channel**power for channel in clear]).astype(np.float32)


def _make(scene: Scene) -> list[Sheet]:
    form, whole = scene.form, behind(scene.painting, scene.part)
    normal, area, cover = form.normal, form.area, form.cover
    cosine = np.clip(normal[2], 0.0, 1)
    share = np.asarray(fresnel(cosine, INDEX), np.float32)
    lost = (1 - share) ** 2
    through = bent(whole, area, _shift(scene), 0.6) * _tint(scene, cosine) * lost
    body = np.asarray(srgb.decode(np.asarray(scene.local)), np.float32)[:, None, None]
    # About a fifth of the body's own colour is kept towards the rim.
    rim = smoothstep(0.60, 0.10, cosine) * scene["rim"] / 100
    line = smoothstep(0.30, 0.16, cosine) * (1 - 0.75 * smoothstep(0.14, 0.05, cosine))
    dark = 1 - 0.62 * line * (scene["kind"] != "pane")
    through = (through * (1 - rim) + body * rim) * dark
    sheets = [Sheet("Seen through", "texture", area, srgb.encode(np.clip(through, 0, 1)), cover)]
    strip = STRIPS[scene["around"]]
    wobble = 5 * np.sin(2.1 * np.arctan2(normal[0], normal[2]) + 0.5)
    around = np.clip(share - 0.028, 0, 1) * strip_light(mirrored(normal), strip, wobble) * 0.9
    front = srgb.encode(np.clip(np.stack([around] * 3), 0, 1))
    sheets.append(Sheet("Mirrored", "light", area, front, cover, mode="Screen"))
    sheets.append(_glow(scene, body))
    spots = _lights(scene)
    key = np.asarray(scene.sources.key_colour, np.float32)[:, None, None]
    lit = srgb.encode(np.clip(spots * (0.4 + 0.6 * key / key.max()), 0, 1))
    sheets.append(Sheet("Highlights", "highlight", area, lit, cover, mode="Screen"))
    cast = _caustic(scene)
    return [*cast, *sheets] if scene["caustic"] > 0 and cast else sheets


def _lights(scene: Scene) -> Plane:
    """The key light mirrored by the front, small and upside down by the back, and along the rim on its side."""
    normal = scene.form.normal
    towards = np.asarray(scene.light, float)
    wide = float(np.degrees(2 * np.arctan(scene.sources.key_width))) + 26
    front = mirrored_light(mirrored(normal), towards, wide, scene["window"], 0.10)
    near = scene.mirroring(normal)
    glow = np.asarray(ggx(near, 0.12)) / float(ggx(1.0, 0.12))
    total = 0.62 * front + 0.16 * glow
    if scene["kind"] != "pane":
        back = np.stack((-normal[0], -normal[1], normal[2]))
        total = total + 0.26 * mirrored_light(mirrored(back), towards, wide * 0.8, scene["window"], 0.35)
        side = smoothstep(
            -0.2, 0.9, (normal[0] * towards[0] + normal[1] * towards[1]) / max(np.hypot(*towards[:2]), 0.1)
        )
        rim = smoothstep(0.30, 0.10, normal[2]) * (1 - 0.6 * smoothstep(0.08, 0.0, normal[2]))
        total = total + rim * (0.40 * side**3 + 0.14)
    return np.clip(total, 0, 1).astype(np.float32)


def _glow(scene: Scene, body: Plane) -> Sheet:
    """Light that went through gathers inside, on the side away from it."""
    normal = scene.form.normal
    away = -np.einsum("i,ihw->hw", np.array((scene.light[0], scene.light[1], -0.55), np.float32), normal)
    where = smoothstep(0.55, 1.05, away) * smoothstep(0.10, 0.5, normal[2])
    bright = body / max(float(body.max()), 1e-3)
    colour = srgb.encode(np.clip(bright * 0.8 * where * scene.sources.key_colour[1], 0, 1))
    return Sheet("Inner glow", "bounce", scene.form.area, colour, scene.form.cover, mode="Screen", strength=0.55)


def _caustic(scene: Scene) -> list[Sheet]:
    """The shadow on the ground, and the light that the glass gathers in it."""
    form, canvas = scene.form, scene.painting.rect
    light = scene.light
    flat = np.hypot(light[0], light[1])
    if flat < 0.05:
        return []
    away = np.array((-light[0], light[1])) / flat  # on the canvas: y down
    height, width = form.cover.shape
    reach = max(height, width)
    margin = int(reach * 0.9)
    area = Rect(form.area.x0 - margin, form.area.y0 - margin, form.area.x1 + margin, form.area.y1 + margin)
    area = area.intersected(canvas)
    ys, xs = np.mgrid[area.y0 : area.y1, area.x0 : area.x1].astype(np.float32)
    middle = np.array(((form.area.x0 + form.area.x1) / 2, form.area.y1 - height * 0.06))
    # On a floor seen from a little above: a long ellipse away from the light, from where the thing stands.
    u, v = (xs - middle[0]) / (width * 0.5), (ys - middle[1]) / (width * 0.16)
    long_ = 0.95
    along = u * np.sign(away[0] or 1) - 0.55
    shade = np.exp(-((along / long_) ** 2) - v**2)
    shade = smoothstep(0.15, 0.85, shade)
    spot = np.exp(-(((along - 0.2) / 0.40) ** 2) - (v / (0.16 + 0.16 * np.clip(along + 0.4, 0, 2))) ** 2)
    ring = np.exp(-(((np.hypot((along - 0.1) / 0.62, v / 0.62) - 1) / 0.13) ** 2)) * 0.28 * smoothstep(-0.2, 0.5, along)
    noise = 1 + 0.12 * fractal(scene.random, shade.shape, reach * 0.06, 3)
    dark = Sheet("Cast shadow", "shadow", area, np.zeros((3, *shade.shape), np.float32),
                 (shade * 0.55).astype(np.float32), place="behind", mode="Multiply", strength=0.8)  # fmt: skip
    tint = np.clip(srgb.decode(np.asarray(scene.local)), 0.02, 1)
    tint = tint / tint.max()
    bright = np.clip((spot + ring) * noise, 0, 1) * scene["caustic"] / 100
    colour = srgb.encode(np.clip(tint[:, None, None] * bright * 0.42, 0, 1))
    gathered = Sheet("Caustic", "glow", area, colour, np.ones_like(shade), place="behind", mode="Screen")
    return [dark, gathered]


GLASS: Final = Maker(
    "glass", ("glass",), "Clear or coloured glass through which the ground is seen",
    (
        choice("kind", "", KINDS, "A blown float, a solid ball, or a pane"),
        number("colour", "colour", 55, 0, 100, "How strongly it is coloured through", unit=" %"),
        number("rim", "rim", 20, 0, 100, "How much of its own colour the rim keeps", unit=" %"),
        choice("window", "lit by a", SHAPES, "The shape of the light that is mirrored"),
        choice("around", "in", tuple(STRIPS), "The surroundings that it mirrors"),
        number("caustic", "caustic", 70, 0, 100, "Light gathered in its shadow; 0: none, and no shadow", unit=" %"),
        DEPTH,
    ),
    _make,
)  # fmt: skip
