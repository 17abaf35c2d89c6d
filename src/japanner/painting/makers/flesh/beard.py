"""A beard on a figure: single hairs near bare skin, denser and longer along jaw and chin, stubble under it."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import lab, srgb
from japanner.errors import InputError
from japanner.painting.makers.base import (
    DEPTH,
    Maker,
    Plane,
    Scene,
    Sheet,
    colour,
    encoded,
    filled,
    fractal,
    number,
    painted_map,
)
from japanner.painting.makers.flesh.zones import Zones
from japanner.strand import growing
from japanner.strand.strands import Strands

__all__ = ["BEARD_MAKER"]

Floats = NDArray[np.floating]

DENSE: Final = {"jaw": 0.85, "chin": 1.0, "mouth surround": 0.95, "neck": 0.0, "cheeks": 0.16, "lips": 0.0,
                "nose tip": 0.0, "nose wings": 0.0}  # fmt: skip
LONG: Final = {"chin": 1.0, "jaw": 0.75, "mouth surround": 0.5, "neck": 0.55, "cheeks": 0.35}
"""Where hairs stand and how long they get, by zone (common practice)."""
FADES: Final = 0.03
"""Over so much of the head's height a beard fades into bare skin."""
BELOW: Final = 0.055
"""So much of the head's height it goes on below the jaw, about."""
MOST: Final = 120_000
JOINTS: Final = 12
LIFT: Final = 0.28
"""How far hairs stand off the skin at their roots."""
MIDDLE: Final = 0.665
"""sRGB of a linear .4, which all light is told by."""
FALL: Final = 0.42
"""How far their weight draws them down, in their lengths."""


def _make(scene: Scene) -> list[Sheet]:
    zones = Zones(scene)
    if not zones.any:
        raise InputError("A beard grows on a figure: stand one behind the part in the maquette")
    form = scene.form
    # On the neck it ends a little below the jaw.
    near = np.clip(2.4 * (zones.soft("jaw", BELOW) + zones.soft("chin", BELOW)) - 0.25, 0, 1)
    dense = (zones.field(DENSE, 0.0, FADES) + 0.45 * zones.soft("neck", FADES) * near) * form.cover
    painted = scene.map("where_map")
    if painted is not None:
        dense = dense * painted
    patchy = np.clip(0.9 + 0.25 * fractal(scene.chance("patches"), dense.shape, 0.06 * zones.head_px, 3), 0.2, 1.2)
    dense = np.clip(dense * patchy, 0, 1)
    if float(dense.max()) < 0.05:
        raise InputError("Nothing of the figure's chin, jaw or lips is in this part")
    long = zones.field(LONG, 0.3, 0.04) * scene["length"]
    sheets = [_shade(scene, dense)]
    sheets.append(_hairs(scene, zones, dense, np.minimum(0.10 * long, 3.2 * scene["thick"]), "Stubble", 1.0))
    if scene["length"] > 4 * scene["thick"]:
        scene.tell(0.4)
        sheets.append(_hairs(scene, zones, dense**1.3, long, "Beard", 0.75))
        scene.tell(0.75)
        sheets.append(_hairs(scene, zones, dense**1.6, 1.12 * long, "Loose hairs", 0.10))
    return sheets


def _shade(scene: Scene, dense: Plane) -> Sheet:
    """The dark between hairs, and roots that show through the skin."""
    own = np.asarray(scene["hair"])
    dark = np.clip(0.55 * own + 0.25 * np.asarray(scene.local), 0, 1)
    cover = np.clip(dense * scene["many"] / 100, 0, 1) * 0.55
    return Sheet("Beard shade", "shadow", scene.form.area, filled(dense.shape, tuple(dark)), cover, mode="Multiply")


def _hairs(scene: Scene, zones: Zones, dense: Plane, long: Plane, name: str, share: float) -> Sheet:
    form, random, thick = scene.form, scene.chance(name), max(float(scene["thick"]), 0.5)
    if scene.sketch:
        thick = max(thick, 1.2)
    area = form.area
    count = int(min(share * scene["many"] / 100 * area.width * area.height / (5.2 * thick**2), MOST))
    places = growing.spread(count, random) * (area.width, area.height)
    i, j = places.T.astype(np.intp)
    kept = random.random(len(i)) < dense[j, i]
    i, j, x, y = i[kept], j[kept], places[kept, 0] + area.x0, places[kept, 1] + area.y0
    count = len(x)
    if not count:
        return Sheet(name, "strands", area, filled(dense.shape, (0, 0, 0)), np.zeros_like(dense), place="over")
    length = long[j, i] * np.exp(0.28 * random.standard_normal(count))
    way = _ways(scene, zones, i, j, random)
    s = np.linspace(0, 1, JOINTS)[None, :, None]
    down = np.array((0.0, 1.0))
    lines = np.stack((x, y), axis=1)[:, None] + length[:, None, None] * (way[:, None] * s + FALL * down * s**2)
    wave = scene["wave"] / 100
    if wave > 0 and name != "Stubble":
        lines = growing.waved(
            lines, length * 0.07 * wave, random.uniform(0.7, 2.4, count), random.uniform(0, 6.3, count)
        )
    if name == "Beard":
        middle = growing.nearest_clump(lines, 9 * thick, random)[1]
        lines = growing.clumped(lines, middle, 0.55, 7 * thick)
    strands = Strands.of(lines, thick * np.exp(0.2 * random.standard_normal(count)), _colours(scene, count, random),
                         random.uniform(0.6, 0.95, count), shade=_lit(scene, i, j, count), tip=0.5,
                         power=1.5)  # fmt: skip
    # Those above lie over those below.
    strands = Strands.together([strands], -y + 3 * thick * random.standard_normal(count))
    points = strands.points.reshape(-1, 2)
    room = int(max(float(np.abs(points - np.repeat(np.stack((x, y), 1), JOINTS, 0)).max()), 1.0)) + 3
    canvas = area.grown(min(room, 4000)).intersected(scene.painting.rect)
    drawn = strands.drawn(canvas)
    return Sheet(name, "strands", canvas, drawn[:3] / np.maximum(drawn[3], 1e-6), np.clip(drawn[3], 0, 1), place="over")


def _ways(scene: Scene, zones: Zones, i: NDArray[np.intp], j: NDArray[np.intp], random: np.random.Generator) -> Floats:
    """Which way hairs set out (n, 2), y down, as long as they are seen: down over the form, from under the nose to
    either side.
    """
    normal = scene.form.normal[:, j, i].T.astype(float)
    around = zones.share("mouth surround")
    rows, columns = np.nonzero(around > 0.5)
    pull = np.tile((0.0, -1.0, 0.0), (len(i), 1))
    if len(rows):
        middle, high = (float(columns.mean()), float(rows.mean())), max(float(np.ptp(rows)), 1.0)
        # The moustache parts in the middle and goes aside.
        upper = np.clip((middle[1] - j) / (0.3 * high), 0, 1) * around[j, i]
        aside = np.tanh((i - middle[0]) / (0.12 * high))
        pull[:, 0] += 1.5 * upper * aside
        # Beside the chin hair leans to its middle.
        pull[:, 0] -= 0.25 * (1 - upper) * np.tanh((i - middle[0]) / high)
    along = pull - normal * np.einsum("ni,ni->n", pull, normal)[:, None]
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-6)
    turn = np.radians(13) * scene["mess"] / 100 * random.standard_normal(len(i))
    way = (1 - LIFT) * along + LIFT * normal
    x, y = way[:, 0], -way[:, 1]
    return np.stack((x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)), axis=1)


def _colours(scene: Scene, count: int, random: np.random.Generator) -> Floats:
    """Encoded colours (n, 3, 3): each hair lighter or darker, some of them grey, paler to the tip."""
    own = lab.lab_from_srgb(np.asarray(scene["hair"]))
    value = own[0] * np.exp(0.22 * random.standard_normal(count))
    grey = random.random(count) < scene["grey"] / 100
    value = np.where(grey, random.uniform(62, 86, count), value)
    chroma = np.where(grey, 0.2, 1.0) * np.exp(0.15 * random.standard_normal(count))
    planes = [np.stack((value * factor, own[1] * chroma, own[2] * chroma), axis=1) for factor in (0.75, 1.0, 1.18)]
    return np.clip(lab.srgb_from_lab(np.stack(planes, axis=1)), 0, 1)


def _lit(scene: Scene, i: NDArray[np.intp], j: NDArray[np.intp], count: int) -> Floats:
    """Factor on the colour (n, m): as the light on the skin there."""
    form = scene.form
    albedo = srgb.decode(np.asarray(scene.local))
    linear = scene.shaded(form.normal, albedo, form.lit, form.openness, "drawing", form.extra)
    even = srgb.luminance(np.moveaxis(scene.in_scale(linear), 0, -1)) / max(float(srgb.luminance(albedo)), 1e-3)
    soft = cv2.GaussianBlur(np.asarray(even, np.float32), (0, 0), 2.0)
    lit = np.clip(encoded(np.clip(soft, 0, 1.6) * 0.4) / MIDDLE, 0.2, 1.3)
    found: Floats = np.broadcast_to(lit[j, i][:, None], (count, JOINTS)).astype(np.float32)
    return found


BEARD_MAKER: Final = Maker(
    "beard", ("skin", "hair"), "A beard on a figure, from stubble to long: fading into bare skin, full along the jaw",
    (
        number("length", "long", 60, 1, 800, "Length at the chin; elsewhere by zone", unit=" px", px=True),
        number("many", "many", 100, 5, 200, "How many hairs", unit=" %"),
        number("thick", "thick", 1.1, 0.3, 10, "Thickness of hairs", unit=" px", digits=2, px=True),
        *painted_map("where_map", "where", "A layer whose paint says where it grows"),
        colour("hair", "hair", (0.22, 0.15, 0.10), "Its colour"),
        number("grey", "grey", 4, 0, 100, "How many of its hairs are grey", unit=" %"),
        number("wave", "wave", 50, 0, 200, "How strongly hairs swing", unit=" %"),
        number("mess", "mess", 100, 0, 300, "How wildly they grow", unit=" %"),
        DEPTH,
    ),
    _make,
)  # fmt: skip
