"""Metal: its surroundings mirrored by the form, a finish, a bevel, wear, tarnish, and hot spots with their bloom."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np

from japanner.light.inflate import PROFILES, bevel, normals_of
from japanner.light.metals import METALS, metal_share
from japanner.light.shading import ggx, lambert
from japanner.painting.makers.around import AROUND, Around, mirrored_way, towards_viewer
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
    painted_map,
    smoothstep,
    softened,
    whitened,
)  # fmt: skip
from japanner.raster.geometry import Rect

__all__ = ["METAL", "polished"]

FINISHES: Final = ("polished", "brushed", "spun", "hammered", "cast")
SPREAD: Final = 3
"""So many ways across the brushing are mirrored at once."""
BRUSHED: Final = 0.30
"""How much further a brushed surface spreads light across its lines than along them, radians."""
TWICE: Final = 0.4
"""How much more of the metal's colour what is dim has."""
GLOOM: Final = 0.6
"""So much of its surroundings a closed-in corner does not mirror."""


def _normals(scene: Scene) -> tuple[Plane, Plane]:
    """The metal's normals (3, h, w), with its bevel and dents, and how near the edge each place is, 0..1."""
    form = scene.form
    shape, size = form.cover.shape, max(form.cover.shape) * 0.45
    normal = _plate(scene) if scene["body"] == "plate" else form.normal
    deep = scene["dents"] / 100
    tilt = [fractal(scene.chance(f"dents {axis}"), shape, size, 3) * (deep * 0.07) for axis in (0, 1)]
    if scene["finish"] == "hammered":
        tilt = [one + two for one, two in zip(tilt, normals_of(_blows(scene, size / 4.5))[:2], strict=True)]
    if scene["finish"] == "cast":
        grain = fractal(scene.chance("grain"), shape, max(size / 30, 5.0), 4, 0.75) * (size / 30)
        tilt = [one + two for one, two in zip(tilt, normals_of(0.055 * grain)[:2], strict=True)]
    tilted = np.stack((normal[0] + tilt[0], normal[1] + tilt[1], normal[2]))
    inside = cv2.distanceTransform((np.pad(form.cover, 1) > 0.5).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    edge = np.exp(-inside / max(scene["bevel"] * 0.5, 2.0))
    return (tilted / np.linalg.norm(tilted, axis=0)).astype(np.float32), edge.astype(np.float32)


def _blows(scene: Scene, size: float) -> Plane:
    """Heights in px of a surface that a round hammer has struck all over: each place belongs to the nearest blow, a
    shallow bowl.
    """
    shape, random = scene.form.cover.shape, scene.chance("blows")
    step = 0.62 * size
    rows, columns = (int(side / step) + 2 for side in shape)
    y = (np.repeat(np.arange(rows), columns) + random.uniform(-0.4, 0.4, rows * columns)) * step
    x = (np.tile(np.arange(columns), rows) + random.uniform(-0.4, 0.4, rows * columns)) * step
    inside = (y >= 0) & (y < shape[0]) & (x >= 0) & (x < shape[1])
    free = np.ones(shape, np.uint8)
    free[y[inside].astype(int), x[inside].astype(int)] = 0
    far, label = cv2.distanceTransformWithLabels(free, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    deep = random.uniform(0.45, 1.0, int(label.max()) + 1).astype(np.float32)[label]
    bowls = deep * far**2 * np.float32(0.16 / size)
    return cv2.GaussianBlur(bowls, (0, 0), max(0.05 * size, 1.0))


def _plate(scene: Scene) -> Plane:
    """Normals of a flat slab with a bevel, whose edges are as little worn as metal is that has been held."""
    height = bevel(scene.form.cover, scene["bevel"], scene["profile"])
    return normals_of(cv2.GaussianBlur(height, (0, 0), max(0.045 * scene["bevel"], 1.0)))


def _lines(scene: Scene) -> tuple[Plane, Plane]:
    """Fine lines of the finish (h, w), about -1..1, and the way across them (2, h, w), x right, y up."""
    shape = scene.form.cover.shape
    if scene["finish"] == "spun":
        ys, xs = np.mgrid[: shape[0], : shape[1]].astype(np.float32)
        x, y = xs - shape[1] / 2, ys - shape[0] / 2
        far, turn = np.hypot(x, y), np.arctan2(y, x)
        # Rings that break off: along them noise changes slowly.
        side = int(np.hypot(*shape) / 2) + 8
        rings = fractal(scene.chance("rings"), (side, 512), 1.6, 2, 0.7, stretch=(26.0, 1.0))
        at = ((turn / (2 * np.pi) + 0.5) * 511).astype(np.float32), far.astype(np.float32)
        lines = cv2.remap(rings, *at, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
        return np.clip(lines / 2.2, -1, 1), np.stack((x, -y)) / np.maximum(far, 1.0)
    angle = np.radians(scene["brushing"])
    side = int(np.hypot(*shape)) + 8
    # Hairlines overlap, begin and end: long ones and short ones, none of them all across.
    fine = fractal(scene.chance("hairlines"), (side, side), 1.5, 2, 0.8, stretch=(46.0, 1.0))
    fine += 0.6 * fractal(scene.chance("scuffs"), (side, side), 2.6, 2, 0.8, stretch=(14.0, 1.0))
    turn = cv2.getRotationMatrix2D((side / 2, side / 2), float(np.degrees(angle)), 1.0)
    turned = cv2.warpAffine(fine, turn, (side, side), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
    top, left = (side - shape[0]) // 2, (side - shape[1]) // 2
    lines = turned[top : top + shape[0], left : left + shape[1]]
    across = np.array((-np.sin(angle), np.cos(angle)), np.float32)
    return np.clip(lines / 2.4, -1, 1), np.broadcast_to(across[:, None, None], (2, *shape))


def _rough(scene: Scene) -> Plane | float:
    """How far, in radians, what is mirrored is blurred: by the polish, and by a map of it."""
    base = 0.45 * (1 - scene["polish"] / 100) ** 1.6
    if scene["finish"] == "cast":
        base = max(base, 0.12)
    painted = scene.map("rough_map")
    if painted is None:
        return float(base)
    return (base + painted * (0.45 - base)).astype(np.float32)


def polished(scene: Scene, normal: Plane, straight: tuple[float, float, float]) -> tuple[Plane, Plane, Plane]:
    """Linear light (3, h, w) of the mirrored surroundings, that of the key light's hot spots, and the finish's lines
    (h, w), about -1..1.
    """
    view, around, rough = towards_viewer(scene), Around(scene), _rough(scene)
    lined = scene["finish"] in ("brushed", "spun")
    lines, across = _lines(scene) if lined else (np.zeros(normal.shape[1:], np.float32), None)
    # Along the lines light stays together, across them it spreads.
    wide = BRUSHED * (0.15 + 0.85 * (1 - scene["polish"] / 100)) if lined else 0.0
    narrow = np.maximum(np.asarray(rough, np.float32) * 0.5, 0.09) if lined else np.asarray(rough, np.float32)
    near = around.near(mirrored_way(normal, view), float(narrow.mean()) + 0.5 * wide)
    offsets = np.linspace(-1.2, 1.2, SPREAD)
    weights = np.exp(-(offsets**2) / 2)

    def band(rows: slice) -> Plane:
        own, before = normal[:, rows], view[:, rows]
        blur = narrow[rows] if narrow.ndim else float(narrow)
        nearby = near[0][:, rows], near[1][rows]
        if across is None:
            seen = around.seen(mirrored_way(own, before), blur, nearby)
        else:
            seen = np.zeros_like(own)
            for offset, weight in zip(offsets, weights / weights.sum(), strict=True):
                # Each line leans a little to one side.
                lean = (0.5 * wide * (offset + 0.4 * lines[rows])).astype(np.float32)
                tilted = np.stack((own[0] + across[0, rows] * lean, own[1] + across[1, rows] * lean, own[2]))
                tilted /= np.linalg.norm(tilted, axis=0)
                seen += np.float32(weight) * around.seen(mirrored_way(tilted, before), blur, nearby)
        share = metal_share(straight, np.clip(np.einsum("ihw,ihw->hw", own, before), 0, 1))
        seen = seen * (1 - GLOOM * (1 - scene.form.openness[rows]))
        # What is dim has mostly been mirrored more than once on its way, and has more of the metal's colour.
        seen = seen * share ** (1 + TWICE * smoothstep(0.35, 0.02, seen.mean(axis=0)))
        spots = _hot_spots(scene, own, before, lines[rows], rough, rows)
        # Painters reach for white where the light itself is mirrored.
        return np.concatenate((seen, spots * (share + (1 - share) * 0.75 * np.clip(spots, 0, 1))))

    both = in_bands((6, *normal.shape[1:]), band)
    return both[:3], both[3:], lines


def _hot_spots(scene: Scene, normal: Plane, view: Plane, lines: Plane, rough: Plane | float, rows: slice) -> Plane:
    """The key light itself as some rows of the metal mirror it (3, h, w), 1 where it is whole."""
    half = view + np.asarray(scene.light, np.float32)[:, None, None]
    half /= np.maximum(np.linalg.norm(half, axis=0), 1e-6)
    cosine = np.clip(np.einsum("ihw,ihw->hw", half, normal), 0, 1)
    wide = float(np.hypot(0.6 * float(np.mean(rough)) + 0.015, scene.sources.key_width / 2))
    hot = ggx(cosine, wide) / float(ggx(1.0, wide)) * (1 + 0.6 * lines)
    reached = smoothstep(-0.1, 0.25, scene.facing(normal))
    if scene["body"] == "form":
        reached = reached * scene.form.lit[rows]
    key = np.array(scene.sources.key_colour, np.float32)[:, None, None]
    spots: Plane = key * np.clip(hot * reached, 0, None)
    return spots


def _make(scene: Scene) -> list[Sheet]:
    form = scene.form
    area, cover = form.area, form.cover
    normal, edge = _normals(scene)
    scene.tell(0.2)
    seen, spots, lines = polished(scene, normal, METALS[scene["metal"]])
    scene.tell(0.7)
    sheets = [Sheet("Surroundings", "texture", area, encoded(whitened(seen)), cover)]
    if lines.any():
        grey = np.clip(0.5 + 0.11 * lines * (1.2 - scene["polish"] / 100), 0, 1)
        sheets.append(Sheet("Finish", "detail", area, np.broadcast_to(grey, (3, *grey.shape)), cover,
                            mode="Soft Light"))  # fmt: skip
    if scene["body"] == "plate":
        sheets.append(_bevel_light(scene))
    if scene["patina"] > 0:
        sheets.append(_tarnish(scene, edge))
    if scene["wear"] > 0:
        sheets += _wear(scene, edge)
    # Nothing happens where a Color Dodge layer is black; where it is not, light burns out.
    burnt = encoded(np.clip(spots * (1 - 0.8 * smoothstep(0.4, 1.0, seen.mean(axis=0))), 0, 0.92))
    sheets.append(Sheet("Hot spots", "glow", area, burnt, cover, mode="Color Dodge", strength=0.9))
    if scene["bloom"] > 0:
        sheets += _bloom(scene, seen, spots)
    return sheets


def _bevel_light(scene: Scene) -> Sheet:
    """The slab's sides by Lambert's law: besides what they mirror, they stand in more or less light."""
    flat = max(float(scene.light[2]), 0)
    shade = lambert(np.moveaxis(_plate(scene), 0, -1), scene.light)
    grey = np.clip(0.5 + 0.4 * (shade - flat), 0, 1).astype(np.float32)
    return Sheet("Bevel", "light", scene.form.area, np.broadcast_to(grey, (3, *grey.shape)), scene.form.cover,
                 mode="Hard Light", strength=0.55)  # fmt: skip


def _bloom(scene: Scene, seen: Plane, spots: Plane) -> list[Sheet]:
    """Light that is too bright to stay in its place, also around the metal."""
    form = scene.form
    over = np.clip(seen - 0.85, 0, 0.5) + 0.55 * np.clip(spots, 0, 1)
    # Glare is whiter than the metal.
    over = (0.35 * over + 0.65 * over.mean(axis=0)) * form.cover
    if float(over.max()) < 0.02:
        return []
    size = max(form.cover.shape) * 0.02
    room = round(size * 7)
    area = Rect(form.area.x0 - room, form.area.y0 - room, form.area.x1 + room, form.area.y1 + room)
    inside = area.intersected(scene.painting.rect)
    wide = np.pad(over, ((0, 0), (room, room), (room, room)))
    pixels = np.ascontiguousarray(np.moveaxis(wide, 0, -1))
    soft = np.moveaxis(0.6 * softened(pixels, size) + 0.5 * softened(pixels, 3 * size), -1, 0)
    soft = soft[:, inside.y0 - area.y0 : inside.y1 - area.y0, inside.x0 - area.x0 : inside.x1 - area.x0]
    paint = encoded(np.clip(soft * scene["bloom"] / 60, 0, 0.8))
    return [Sheet("Bloom", "glow", inside, paint, np.ones(paint.shape[1:], np.float32), place="over", mode="Screen")]


def _tarnish(scene: Scene, edge: Plane) -> Sheet:
    """What has settled where no hand rubs it off: in hollows and corners, below, and in spots."""
    form, shape = scene.form, scene.form.cover.shape
    spread = fractal(scene.chance("tarnish"), shape, max(shape) * 0.18, 5, 0.65)
    fine = fractal(scene.chance("tarnish, fine"), shape, 9.0, 3, 0.8)
    closed = 1 - form.openness
    hollow = softened(form.height, max(shape) * 0.02) - form.height
    hollow = np.clip(hollow / max(max(shape) * 0.02, 1.0), 0, 1.0)
    rubbed = np.clip(form.normal[2], 0, 1) * (1 - edge)
    where = 0.5 * spread + 0.22 * fine + 2.2 * closed + 1.2 * hollow - 0.35 * form.normal[1] - 0.25 * rubbed
    wanted = scene["patina"] / 100
    cover = smoothstep(1.6 - 2.4 * wanted, 2.6 - 2.0 * wanted, where) * form.cover
    green = scene["metal"] in ("brass", "copper", "gold")
    deep, pale = ((0.34, 0.27, 0.17), (0.42, 0.56, 0.48)) if green else ((0.30, 0.23, 0.19), (0.52, 0.38, 0.28))
    share = smoothstep(0.2, 1.4, spread + 0.4 * fine)[None].astype(np.float32)
    colour = filled(shape, deep) * (1 - share) + filled(shape, pale) * share
    return Sheet("Tarnish", "undertone", form.area, colour, cover * 0.85, mode="Multiply")


def _wear(scene: Scene, edge: Plane) -> list[Sheet]:
    """Scratches, most along the edges, some right across, each with the side that faces the light lit and the other one
    dark; and edges rubbed bright.
    """
    shape, random = edge.shape, scene.chance("wear")
    light = np.array((scene.light[0], -scene.light[1]))
    lit, dark = np.zeros(shape, np.float32), np.zeros(shape, np.float32)
    scale = max(shape) / 600
    count = min(round(scene["wear"] * 14), 1600)
    for y, x in random.random((count, 2)) * shape:
        near = edge[int(y), int(x)]
        long_one = random.random() < 0.10
        if not long_one and random.random() > 0.25 + 0.75 * near:
            continue
        turn = random.uniform(0, np.pi) if not long_one else random.normal(np.radians(scene["brushing"] + 35), 0.5)
        length = random.gamma(2.0, 7.0 * scale) * (5 if long_one else 1)
        way = np.array((np.cos(turn), np.sin(turn)))
        across = np.array((-way[1], way[0]))
        meets = float(across @ light)
        bend = random.normal(0, 0.03) * length
        ts = np.linspace(-0.5, 0.5, 7)
        line = np.array((x, y)) + np.outer(ts, way * length) + np.outer((ts * 2) ** 2, across * bend)
        wide = max(round(scale * random.uniform(0.6, 1.5)), 1)
        off = across * np.sign(meets or 1) * 0.75 * wide
        strength = float(0.3 + 0.7 * abs(meets)) * random.uniform(0.3, 1.0)
        for sheet, side in ((dark, off), (lit, -off)):
            cv2.polylines(sheet, [np.rint((line + side) * 16).astype(np.int32)], False, strength, wide, cv2.LINE_AA, 4)
    area, cover = scene.form.area, scene.form.cover
    broken = smoothstep(-0.2, 1.2, fractal(scene.chance("rubbed"), shape, 26 * scale, 4, 0.7))
    rubbed = smoothstep(0.45, 0.95, edge) * broken * scene["wear"] / 60
    pale, deep = filled(shape, (0.98, 0.95, 0.88)), filled(shape, (0.10, 0.08, 0.07))
    return [
        Sheet("Wear, shaded", "shadow", area, deep, np.clip(dark, 0, 1) * cover * 0.5, mode="Multiply"),
        Sheet(
            "Wear, lit", "highlight", area, pale, np.clip(lit * 0.45 + rubbed * 0.4, 0, 1) * cover, mode="Soft Light"
        ),
    ]


METAL: Final = Maker(
    "metal", ("metal",), "Polished, brushed, spun, hammered or cast metal that mirrors its surroundings",
    (
        choice("metal", "", tuple(METALS), "What it throws back straight on"),
        choice("body", "", ("form", "plate"), "The form of the maquette, or blown up; or a slab with a bevel"),
        choice("finish", "", FINISHES, "How its surface was worked"),
        *AROUND,
        number("polish", "polish", 80, 0, 100, "From dull to a mirror", unit=" %"),
        *painted_map("rough_map", "dulled", "A layer whose paint says where it is dull"),
        number("brushing", "brushed at", 0, -90, 90, "Which way it is brushed", unit="°"),
        number("dents", "dents", 30, 0, 100, "How uneven it is", unit=" %"),
        number("bevel", "bevel", 14, 1, 400, "Width of a slab's bevel", unit=" px", px=True),
        choice("profile", "", ("flat", *(one for one in PROFILES if one != "flat")), "How the bevel rises"),
        number("wear", "wear", 0, 0, 100, "Scratches, most along its edges, and edges rubbed bright", unit=" %"),
        number("patina", "tarnish", 0, 0, 100, "What has settled on it, in hollows first", unit=" %"),
        number("bloom", "bloom", 35, 0, 100, "How far light that is too bright spreads", unit=" %"),
        DEPTH,
    ),
    _make,
    sees="beside",
)  # fmt: skip
