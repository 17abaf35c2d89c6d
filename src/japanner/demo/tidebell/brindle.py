"""Brindle himself: what the coat is coloured by, the coat, and all that is drawn into it by hand."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Any, Final

import numpy as np

from japanner.demo.tidebell.brushwork import Lch, Painter, Place, tapered
from japanner.demo.tidebell.sitter import coat_lies
from japanner.painting.operations import Fill, Gradient, Make, SetLayer
from japanner.scripting import lch, shipped_brush
from japanner.stroke.brush import Brush

__all__ = ["coat", "comb_lines", "eyes", "lids", "lights", "lip", "markings", "nose", "rim", "shade", "whiskers"]

Line = tuple[Place, Place, float, float]
"""From, to, size in px, strength."""

CROWN: Final[Lch] = (19.0, 12.0, 62.0)
PALE: Final[Lch] = (73.0, 19.0, 76.0)
DARK_LINES: Final[tuple[Line, ...]] = (
    ((0, 0.2, 0.12), (0, 0.18, -0.5), 210, 1), ((0.17, 0.19, 0.08), (0.35, 0.12, -0.4), 190, 1),
    ((-0.2, 0.19, 0.05), (-0.25, 0.15, -0.4), 150, 1), ((0, 0.16, 0.2), (0, 0.08, 0.42), 70, 0.7),
    ((0.46, 0.0, -0.2), (0.5, -0.35, -0.35), 170, 0.8), ((0.45, -0.5, -0.25), (0.55, -1.0, -0.2), 240, 0.9),
    ((0.6, -1.0, -0.2), (0.9, -1.6, -0.3), 330, 0.9), ((0.3, -0.9, 0.0), (0.5, -1.4, 0.05), 160, 0.5),
    ((0.13, 0.10, 0.40), (0.20, 0.035, 0.385), 34, 0.5),
)  # fmt: skip
PALE_LINES: Final[tuple[Line, ...]] = (
    ((0.1, -0.08, 0.6), (0.24, -0.11, 0.46), 120, 1), ((-0.1, -0.08, 0.6), (-0.2, -0.1, 0.46), 110, 1),
    ((0, -0.19, 0.53), (0.06, -0.25, 0.42), 90, 1), ((0.1, -0.26, 0.34), (0.26, -0.27, 0.08), 110, 0.9),
    ((0, -0.42, 0.12), (-0.02, -0.75, 0.1), 190, 0.85), ((-0.05, -0.7, 0.1), (-0.05, -1.2, 0.1), 200, 0.6),
    ((-0.3, -0.7, 0), (-0.45, -1.3, 0), 140, 0.4), ((0.1, 0.035, 0.5), (0.15, 0.06, 0.4), 46, 0.55),
    ((0.19, 0.165, 0.28), (0.27, 0.145, 0.23), 30, 0.3), ((0.17, 0.015, 0.36), (0.27, 0.02, 0.32), 36, 0.8),
    ((-0.19, 0.16, 0.28), (-0.26, 0.14, 0.23), 34, 0.7), ((-0.17, 0.02, 0.36), (-0.25, 0.03, 0.32), 34, 0.7),
    ((0.3, -0.1, 0.3), (0.42, -0.16, 0.1), 110, 0.6),
)  # fmt: skip
# The bib: pale locks between darker ones, so that the chest is no bare field.
BIB: Final[tuple[Line, ...]] = (
    ((-0.16, -0.62, 0.1), (-0.26, -0.95, 0.08), 80, 0.3), ((0.12, -0.66, 0.1), (0.16, -0.98, 0.1), 90, 0.3),
    ((-0.34, -0.95, 0.05), (-0.48, -1.3, 0.05), 100, 0.3), ((0.22, -1.0, 0.1), (0.34, -1.35, 0.1), 120, 0.4),
)  # fmt: skip
SILVER: Final[tuple[Line, ...]] = (
    ((0.12, -0.1, 0.58), (0.22, -0.12, 0.46), 130, 0.5), ((-0.1, -0.1, 0.58), (-0.18, -0.12, 0.5), 110, 0.5),
    ((0.03, -0.22, 0.48), (0.15, -0.27, 0.3), 100, 0.5), ((0.2, 0.165, 0.27), (0.29, 0.13, 0.22), 40, 0.25),
    ((0.2, 0.02, 0.35), (0.3, 0.02, 0.28), 46, 0.45), ((0.1, 0.15, 0.2), (0.3, 0.1, 0), 170, 0.16),
)  # fmt: skip
SLEEK: Final = (
    (0, 0.05, 0.5), (0.15, -0.08, 0.5), (0.2, 0.1, 0.3), (0, 0.15, 0.1), (0.3, 0.1, 0), (0.35, -0.15, 0.1),
    (0.1, -0.2, 0.4), (-0.15, 0, 0.4), (0.4, 0, -0.2), (0, 0.17, -0.3),
)  # fmt: skip
LIP_LINE: Final = (
    (0.0, -0.150, 0.60), (0.035, -0.160, 0.60), (0.08, -0.172, 0.575), (0.13, -0.186, 0.525), (0.175, -0.194, 0.46),
    (0.21, -0.192, 0.40), (0.235, -0.182, 0.345),
)  # fmt: skip


RIM_HAIRS: Final = 620
TUFTS: Final = 230
"""Of the chest."""
Lift = tuple[Place, Place, float, float, int]
"""From, to, size in px, stops, how many."""
LIFTED: Final[tuple[Lift, ...]] = (
    ((0.02, 0.19, 0.1), (0.08, 0.19, -0.3), 70, 0.75, 9), ((0.15, 0.2, 0.05), (0.25, 0.17, -0.25), 70, 0.7, 6),
    ((-0.12, 0.19, 0.1), (-0.1, 0.19, -0.2), 66, 0.7, 5), ((0.26, 0.0, 0.22), (0.36, 0.0, 0.05), 56, 0.6, 5),
    ((0.1, -0.06, 0.6), (0.2, -0.08, 0.5), 60, 0.7, 4), ((-0.1, -0.05, 0.6), (-0.16, -0.07, 0.52), 50, 0.7, 3),
    ((0.16, 0.17, 0.28), (0.27, 0.15, 0.22), 34, 0.6, 3), ((0.05, -0.205, 0.52), (0.03, -0.23, 0.47), 46, 0.6, 3),
    ((-0.1, -0.5, 0.1), (-0.05, -1.1, 0.1), 70, 0.4, 7), ((-0.3, -0.7, 0), (-0.45, -1.2, 0), 70, 0.35, 6),
    ((0.42, -0.02, -0.16), (0.46, -0.2, -0.26), 60, 0.5, 4),
)  # fmt: skip
PLANES: Final[tuple[Line, ...]] = (
    ((0.10, -0.07, 0.62), (0.2, -0.09, 0.52), 80, 0.8), ((-0.08, -0.06, 0.62), (-0.16, -0.08, 0.54), 80, 0.8),
    ((0.02, 0.06, 0.45), (0.04, 0.14, 0.2), 100, 0.9), ((0.05, 0.2, 0.05), (0.1, 0.2, -0.25), 130, 0.9),
    ((-0.15, 0.1, 0.3), (-0.15, 0.16, 0.1), 90, 0.8), ((0.17, 0.165, 0.28), (0.27, 0.15, 0.22), 40, 0.7),
    ((0.2, -0.01, 0.36), (0.3, 0.0, 0.26), 66, 0.7), ((-0.02, -0.21, 0.52), (0.06, -0.24, 0.46), 50, 0.7),
    ((0.3, 0.08, 0.12), (0.38, 0.06, -0.05), 110, 0.6), ((-0.28, -0.6, 0.05), (-0.46, -1.0, 0.0), 120, 0.3),
)  # fmt: skip
"""Stops in the last column."""


# --- under the coat ---------------------------------------------------------------------------------------


def markings(painter: Painter, part: int) -> int:
    """Dark crown, saddle and temples, pale muzzle, throat and bib, broken into each other."""
    layer = painter.script.layer(part, "undertone", name="Markings", mode="Normal", strength=1.0)
    for lines, colour, spread in ((DARK_LINES, CROWN, 2.5), (PALE_LINES, PALE, 3.0), (BIB, (30.0, 14.0, 66.0), 3.0)):
        for start, end, size, strength in lines:
            painter.broken(layer, colour, start, end, size, strength, spread)
    rng = painter.rng
    for _ in range(170):
        x, y = painter.seen((float(rng.uniform(-0.6, 0.9)), float(rng.uniform(-1.5, 0.15)), 0.05))
        way = float(rng.normal(1.35, 0.3) if y > 640 else rng.normal(0.4, 0.5))
        reach, colour = float(rng.uniform(25, 70)), (22.0, 13.0, 58.0) if rng.random() < 0.55 else (62.0, 19.0, 74.0)
        brush = tapered("Soft round", float(rng.uniform(12, 34)), float(rng.uniform(0.12, 0.32)), edge=0.9)
        dx, dy = reach * np.cos(way), reach * np.sin(way)
        painter.stroke(layer, brush, colour, [(x, y, 0.6), (x + dx / 2, y + dy / 2, 1.0), (x + dx, y + dy, 0.4)])
    return layer


def comb_lines(painter: Painter, part: int) -> None:
    """Comb the coat by the rule of `sitter.coat_lies`, all over."""
    assert painter.form is not None
    painter.script.comb(part, painter.form, coat_lies, apart_px=16)


def coat(painter: Painter, part: int) -> None:
    """A double coat over what is painted beneath, with maps for silver hairs and for tufts; sleek on the head."""
    script = painter.script
    silver = script.layer(part, "texture", name="Silver map", mode="Normal", strength=1.0)
    for start, end, size, strength in SILVER:
        painter.broken(silver, (100.0, 0.0, 0.0), start, end, size, strength)
    tufts = script.layer(part, "texture", name="Tuft map", mode="Normal", strength=1.0)
    script.do(Fill(tufts, (1, 1, 1), "silhouette"))
    for place in SLEEK:
        painter.veil(tufts, (0.0, 0.0, 0.0), place, place, 230, 0.75, wipe=True)
    for one in (tufts, silver):
        script.do(SetLayer(one, {"shown": False}))
    script.do(Make(part, "coat", {
        "coat": "double coat", "length": 27.0, "density": 66.0, "thick": 1.0, "clump": 140.0, "clump_map": tufts,
        "mess": 95.0, "pale_map": silver, "gloss": 100.0, "contrast": 126.0, "variety": 135.0,
    }, seed=5))  # fmt: skip


# --- over the coat ----------------------------------------------------------------------------------------


def shade(painter: Painter, part: int) -> int:
    """Darks laid over the coat as glazes: under jaw, pads and lids, down the body and into the dark side."""
    layer = painter.script.layer(part, "shadow", name="Shade", mode="Multiply", strength=0.85, neutral=True)
    for colour, start, end, size, strength in (
        ((60.0, 10.0, 60.0), (0.16, -0.15, 0.50), (0.22, -0.175, 0.38), 44, 0.25),
        ((50.0, 9.0, 60.0), (1120, 735), (1260, 820), 190, 0.45),
        ((50.0, 9.0, 60.0), (0.06, -0.30, 0.36), (0.22, -0.34, 0.16), 90, 0.35),
        ((45.0, 9.0, 55.0), (0.17, 0.148, 0.30), (0.29, 0.125, 0.22), 24, 0.40),
        ((50.0, 9.0, 55.0), (0.14, 0.040, 0.36), (0.26, 0.030, 0.32), 18, 0.28),
        ((45.0, 6.0, 250.0), (1570, 1010), (1604, 720), 330, 0.50),
        ((46.0, 7.0, 70.0), (660, 1215), (1500, 1215), 300, 0.55),
        ((55.0, 6.0, 250.0), (1440, 560), (1500, 760), 150, 0.30),
        ((52.0, 8.0, 60.0), (1090, 905), (1120, 1130), 120, 0.32),
        ((52.0, 8.0, 60.0), (860, 960), (800, 1150), 80, 0.25),
    ):
        painter.veil(layer, colour, start, end, size, strength)
    dark = lch(45, 7, 75)
    painter.script.do(Gradient(layer, "linear", (0.0, 560.0, 120.0, 1240.0), (*dark, 0.0), (*dark, 0.66), "silhouette"))
    return layer


def lights(painter: Painter, part: int) -> None:
    """Tufts of the coat itself lifted and deepened along the comb, then planes dodged, as far as the light rakes."""
    rng = painter.rng
    layer = next(one.uid for one in painter.script.painting.part(part).layers if one.name == "Coat")
    lift = shipped_brush("Lighten hairs").with_changes(hair_px=20.0, hair_wide=0.9, strength=0.55, hairs=26)
    for start, end, size, stops, count in LIFTED:
        a, b = np.array(start), np.array(end)
        for k in range(count):
            x, y = painter.seen(a + (b - a) * (k + 0.5) / count)
            dx, dy = (12 * rng.standard_normal(2)).tolist()
            brush = lift.with_changes(size_px=size * float(rng.uniform(0.7, 1.1)), stops=stops)
            painter.stroke(layer, brush, (100.0, 0.0, 0.0), [(x, y, 0.9), (x + dx, y + dy, 0.9)])
    # Fans of the chest: a dark tuft under each light one, smaller towards the throat.
    for _ in range(TUFTS):
        x, y = float(rng.uniform(690, 1230)), float(rng.uniform(760, 1195))
        low = (y - 760) / 435
        name, stops = ("Darken hairs", 0.75) if rng.random() < 0.52 else ("Lighten hairs", 0.62)
        brush = shipped_brush(name).with_changes(
            size_px=float(rng.uniform(16, 30)) * (0.7 + 0.6 * low), hair_px=24.0 + 10 * low, hair_wide=1.0,
            strength=float(rng.uniform(0.3, 0.6)), hairs=14, stops=stops,
        )  # fmt: skip
        painter.stroke(layer, brush, (0.0, 0.0, 0.0), [(x, y, 0.8), (x + float(rng.normal(0, 6)), y + 12, 0.8)])
    dodge = shipped_brush("Dodge").with_changes(tone="all", keep_hue=False)
    for start, end, size, stops in PLANES:
        (x, y), (tx, ty) = painter.seen(start), painter.seen(end)
        brush = dodge.with_changes(size_px=size, strength=0.6, stops=stops)
        painter.stroke(layer, brush, (0.0, 0.0, 0.0), [(x, y, 0.6), ((x + tx) / 2, (y + ty) / 2, 1.0), (tx, ty, 0.6)])


def rim(painter: Painter, part: int) -> None:
    """Cool light of the sky along the back of head and neck: short hairs at the edge, broken, lost by the shoulder."""
    assert painter.form is not None
    rng = painter.rng
    layer = painter.script.layer(part, "strays", place="over", name="Rim", mode="Normal", strength=0.85)
    ring = np.array(painter.form.outline(part=part, step=4))
    back = np.roll(ring, -int(np.argmin(ring[:, 1])), axis=0)
    back = back[: int(np.argmax((back[:, 1] > 980) | (back[:, 0] > 1590)))]
    run = np.r_[0, np.cumsum(np.hypot(*np.diff(back, axis=0).T))]
    hair = shipped_brush("Fine whisker").with_changes(size_px=1.5, flick=0.0, arch=0.12, hair_gloss=0.4)
    for _ in range(RIM_HAIRS):
        at = float(rng.uniform(0, run[-1]))
        x, y = (float(np.interp(at, run, back[:, k])) for k in (0, 1))
        ahead = [float(np.interp(min(at + 10, run[-1]), run, back[:, k])) for k in (0, 1)]
        along = np.array(ahead) - (x, y)
        along /= max(float(np.hypot(*along)), 1e-6)
        out = np.array((along[1], -along[0]))
        height = np.clip((y - 150) / 800, 0, 1)
        broken = 0.55 + 0.45 * np.sin(at / 47) * np.sin(at / 19 + 2)
        strength = float(np.clip((0.75 - 0.6 * height) * broken, 0.0, 0.8))
        if strength < 0.08:
            continue
        # At the tips of the coat, which stands out from the form.
        outward = float(rng.uniform(2, 15))
        start = np.array((x, y)) + outward * out
        way = along * float(rng.uniform(0.6, 1.0)) + out * float(rng.uniform(0.1, 0.6))
        reach = float(rng.uniform(9, 20)) * (1 + 0.5 * height)
        value = float(rng.uniform(48, 70)) - 20 * height
        painter.stroke(layer, hair.with_changes(strength=strength), (value, 7.0, 220.0),
                       [(*start, 0.9), (*(start + way * reach * 0.5), 0.8), (*(start + way * reach), 0.3)])  # fmt: skip


# --- nose, eyes, mouth ------------------------------------------------------------------------------------


def nose(painter: Painter, part: int) -> None:
    """Leather on the form: values first, then pebbles with glints."""
    painter.script.do(Make(part, "lay-in", {"way": "smooth"}, seed=2))
    painter.script.do(Make(part, "wet nose", {"pebbles": 6.5, "relief": 30.0, "wet": 60.0}, seed=3))


def eyes(painter: Painter, near: int, far: int) -> None:
    """Amber all over, no white to be seen; the far eye's nose is on its right."""
    for part, inner, seed in ((near, "left", 4), (far, "right", 5)):
        painter.script.do(Make(part, "eye", {
            "iris_mm": 11.0, "pupil_mm": 4.4, "iris": (0.17, 0.085, 0.03), "iris_inner": (0.31, 0.165, 0.05),
            "white": (0.16, 0.11, 0.08), "lid": (0.16, 0.12, 0.11), "ring": 90.0, "catch": 26.0,
            "catch_shape": "softbox", "inner": inner, "lids": False, "gaze_right": 14.0, "gaze_up": 4.0,
            "lid_shadow": 150.0,
        }, seed=seed))  # fmt: skip
        for one in painter.script.painting.part(part).layers:
            if one.name == "Red corner":
                painter.script.do(SetLayer(one.uid, {"strength": 0.12}))


def nostrils(painter: Painter, part: int) -> None:
    """Black in the bowls and along the slits, thinning out; the groove between."""
    script = painter.script
    layer = script.layer(part, "accent", name="Nostrils", mode="Normal", strength=0.95)
    brush = shipped_brush("Soft round").with_changes(edge=0.45, strength=0.95)
    slit = ((0.050, -0.012, 0.652), (0.078, -0.017, 0.642), (0.105, -0.028, 0.615), (0.122, -0.034, 0.595))
    for side in (1, -1):
        for size in (26.0, 17.0):
            painter.line(layer, brush.with_changes(size_px=size), (2.5, 1.0, 40.0),
                         [(side * x, y, z) for x, y, z in slit], (1.0, 0.9, 0.5, 0.2))  # fmt: skip
    painter.line(layer, brush.with_changes(size_px=7.0, strength=0.8), (4.0, 1.0, 40.0),
                 ((0, 0.0, 0.66), (0, -0.04, 0.665), (0, -0.075, 0.655)), (0.5, 0.8, 1.0))  # fmt: skip


def sheen(painter: Painter, part: int) -> None:
    """Broken light on the wet leather, along its upper edge."""
    layer = painter.script.layer(part, "highlight", name="Sheen", mode="Screen", strength=0.55)
    for start, end, size in (
        ((-0.09, 0.045, 0.60), (0.07, 0.052, 0.60), 26),
        ((-0.10, 0.03, 0.63), (-0.03, 0.04, 0.645), 20),
        ((0.04, 0.04, 0.645), (0.09, 0.03, 0.63), 18),
    ):
        middle = tuple((np.array(start) + np.array(end)) / 2)
        brush = shipped_brush("Soft round").with_changes(
            size_px=float(size), strength=0.5, grain="leather", grain_depth=0.85, grain_scale=0.35, edge=0.85
        )
        painter.line(layer, brush, (54.0, 5.0, 250.0), (start, middle, end), (0.6, 1.0, 0.4))


def lids(painter: Painter, part: int, rims: int) -> None:
    """Rims, folds, wet lines, tear ducts, and the short hairs that meet them."""
    layer = painter.script.layer(rims, "accent", place="over", name="Lids", mode="Normal", strength=1.0)
    for name, inner in (("Near eyeball", -1), ("Far eyeball", 1)):
        _lid(painter, layer, name, inner)


def _lid(painter: Painter, layer: int, name: str, inner: int) -> None:
    assert painter.form is not None
    rng, ring = painter.rng, np.array(painter.form.outline(name, step=1))
    left, right = int(np.argmin(ring[:, 0])), int(np.argmax(ring[:, 0]))
    runs = [np.roll(ring, -left, axis=0)[: (right - left) % len(ring) + 1],
            np.roll(ring, -right, axis=0)[: (left - right) % len(ring) + 1][::-1]]  # fmt: skip
    upper, lower = sorted(runs, key=lambda one: float(one[:, 1].mean()))
    wide = float(ring[:, 0].max() - ring[:, 0].min())
    middle = ring.mean(axis=0)

    def along(edge: Any, raised: float = 0.0, arch: float = 0.0, trim: float = 0.0) -> list[tuple[float, float]]:
        share = np.linspace(trim, 1 - trim, 14)
        at = share * (len(edge) - 1)
        xs, ys = (np.interp(at, np.arange(len(edge)), edge[:, k]) for k in (0, 1))
        return [
            (float(x), float(y + (raised + arch * np.sin(np.pi * s)) * wide))
            for x, y, s in zip(xs, ys, share, strict=True)
        ]

    swell = (0.4, 0.75, 1.0, 0.95, 0.7, 0.4)
    fine = shipped_brush("Soft round").with_changes(edge=0.5, strength=0.95)

    def soft(size: float, strength: float) -> Brush:
        return tapered("Soft round", size * wide, strength, edge=0.8, taper_in=25.0, taper_out=30.0)

    rim = (5.0, 3.0, 50.0)
    # The upper lid's weight: its shadow on the ball, its thickness, the fold over it.
    painter.line(
        layer,
        shipped_brush("Mop").with_changes(size_px=0.5 * wide, strength=0.32),
        (3.0, 3.0, 50.0),
        along(upper, 0.05),
    )
    painter.line(layer, fine.with_changes(size_px=max(0.15 * wide, 1.2)), rim, along(upper, -0.03, -0.01), swell)
    painter.line(layer, soft(0.07, 0.45), (46.0, 12.0, 66.0), along(upper, -0.12, -0.03, 0.12), swell)
    painter.line(layer, soft(0.10, 0.55), (9.0, 6.0, 55.0), along(upper, -0.19, -0.07), swell)
    painter.line(layer, soft(0.08, 0.35), (60.0, 15.0, 72.0), along(upper, -0.27, -0.08, 0.1), swell)
    # The lower one: a thin dark rim, its wet edge, the bag under it.
    painter.line(layer, fine.with_changes(size_px=max(0.085 * wide, 1.1)), rim, along(lower, 0.02), swell)
    painter.line(layer, soft(0.035, 0.6), (54.0, 8.0, 45.0), along(lower, -0.035, 0.0, 0.15), swell)
    painter.line(layer, soft(0.06, 0.35), (44.0, 12.0, 66.0), along(lower, 0.10, 0.02, 0.12), swell)
    painter.line(layer, soft(0.12, 0.35), (11.0, 7.0, 55.0), along(lower, 0.20, 0.09), swell)
    # The duct runs down towards the nose.
    corner = (upper[0] + lower[0]) / 2 if inner < 0 else (upper[-1] + lower[-1]) / 2
    duct = [corner + wide * np.array((inner * x, y)) for x, y in ((0.0, 0.0), (0.09, 0.05), (0.16, 0.13))]
    painter.line(layer, soft(0.10, 0.75), rim, duct, (1.0, 0.8, 0.4))
    lash = shipped_brush("Fine whisker").with_changes(size_px=1.3, strength=0.7, flick=0.0, arch=0.15, hair_gloss=0.4)
    for k in range(60):
        over = k % 3 > 0
        x, y = along(upper if over else lower, -0.11 if over else 0.09)[int(rng.integers(14))]
        x, y = x + float(rng.normal(0, 2.5)), y + float(rng.normal(0, 1.2))
        away = np.array((x, y)) - middle
        way = 0.75 * away / max(float(np.hypot(*away)), 1e-6) + (0.5 if inner < 0 else -0.2, 0.1)
        reach = float(rng.uniform(5, 12)) * wide / 62
        rows = [(x + way[0] * reach * t, y + way[1] * reach * t, 1.0 - 0.6 * t * t) for t in (0.0, 0.5, 1.0)]
        painter.stroke(layer, lash, (float(rng.uniform(20, 56)), 12.0, 68.0), rows)


def lip(painter: Painter, part: int) -> None:
    """The line of the mouth, drawn, then hung over with short hairs of the pads."""
    script, rng = painter.script, painter.rng
    shadow = script.layer(part, "shadow", name="Lip shadow", mode="Multiply", strength=0.75, neutral=True)
    painter.line(shadow, shipped_brush("Mop").with_changes(size_px=44.0, strength=0.55), (32.0, 12.0, 55.0),
                 [np.add(painter.seen(one), (0, 5)) for one in LIP_LINE])  # fmt: skip
    line = script.layer(part, "accent", name="Lip", mode="Normal", strength=0.9)
    point = shipped_brush("Soft round").with_changes(edge=0.85, strength=0.7)
    for size in (11.0, 8.0, 5.0):
        painter.line(
            line, point.with_changes(size_px=size), (5.0, 5.0, 45.0), LIP_LINE, (0.5, 0.8, 1, 0.9, 0.7, 0.45, 0.15), 1.4
        )
    painter.line(line, point.with_changes(size_px=9.0), (5.0, 5.0, 45.0), [(-x, y, z) for x, y, z in LIP_LINE[:5]],
                 (0.5, 0.8, 1, 0.8, 0.3), 1.0)  # fmt: skip
    painter.line(line, point.with_changes(size_px=7.0), (7.0, 5.0, 45.0),
                 ((0, -0.085, 0.645), (0, -0.115, 0.635), (0, -0.15, 0.61)), (0.9, 0.8, 0.9))  # fmt: skip
    hairs = script.layer(part, "strands", name="Lip hairs")
    fur = shipped_brush("Sleek coat").with_changes(size_px=26.0, hair_px=17.0, hair_wide=1.0, strength=0.75, hairs=14,
                                                   mess_deg=14.0, hair_depth=1.1)  # fmt: skip
    for side, points in ((1, LIP_LINE[1:7]), (-1, LIP_LINE[1:4])):
        for a, b in pairwise(points):
            for share in (0, 0.25, 0.5, 0.75):
                at = np.array(a) * (1 - share) + np.array(b) * share
                x, y = painter.seen((side * at[0], at[1] + 0.026, at[2] + 0.008))
                value = float(rng.uniform(30, 54)) - 14 * abs(at[0]) / 0.24
                x, y = x + float(rng.normal(0, 4)), y + float(rng.normal(0, 3))
                painter.stroke(hairs, fur, (value, 14.0, 72.0), [(x, y - 2, 0.9), (x + 2, y + 1, 0.9)])


# --- whiskers ---------------------------------------------------------------------------------------------


def whiskers(painter: Painter, part: int, rims: int) -> None:
    """Spots in rows, a whisker from most of them: long and short, pale, grey and dark, none like the next."""
    script, rng = painter.script, painter.rng
    spots = script.layer(part, "detail", name="Whisker spots", mode="Normal", strength=1.0)
    cast = script.layer(part, "accent", name="Whisker shadows", mode="Normal", strength=0.8)
    strays = script.layer(rims, "strays", place="over", name="Whiskers", mode="Normal", strength=1.0)
    dot = shipped_brush("Round").with_changes(strength=0.8, edge=0.5)
    for side in (1, -1):
        for row, (first, last) in enumerate(((-0.035, -0.055), (-0.07, -0.09), (-0.105, -0.125), (-0.135, -0.15))):
            for k in range(6):
                share = max((k + float(rng.uniform(-0.25, 0.25))) / 5, 0.0)
                root = (side * (0.085 + 0.16 * share), first + (last - first) * share + float(rng.normal(0, 0.006)),
                        0.635 - 0.17 * share**1.3)  # fmt: skip
                x, y = painter.seen(root)
                if side > 0 or k < 3:
                    size = float(rng.uniform(2.6, 5.0))
                    painter.stroke(
                        spots, dot.with_changes(size_px=size), (9.0, 6.0, 50.0), [(x, y, 1.0), (x + 0.5, y + 0.5, 1.0)]
                    )
                if rng.random() < (0.72 if k > 1 else 0.3):
                    way = (side * float(rng.uniform(0.8, 1.05)), 0.02 - 0.17 * row + float(rng.normal(0, 0.15)),
                           float(rng.uniform(-0.25, 0.2)))  # fmt: skip
                    reach = float(rng.uniform(0.2, 0.62)) * (0.6 + 0.5 * share) * (1.0 if side > 0 else 0.85)
                    thick = max(float(rng.uniform(1.0, 2.4)) * (0.65 + 0.5 * share), 1.0)
                    _whisker(painter, (strays, cast), root, way, reach, thick, side > 0)
        for _ in range(4 if side > 0 else 3):
            root = (side * (0.19 + 0.03 * float(rng.random())), 0.155, 0.30)
            way = (side * float(rng.uniform(0.1, 0.6)), float(rng.uniform(0.7, 1)), float(rng.uniform(-0.3, 0.2)))
            _whisker(painter, (strays, cast), root, way, float(rng.uniform(0.12, 0.22)), 1.2, False)


def _whisker(
    painter: Painter, layers: tuple[int, int], root: Sequence[float], way: Sequence[float], reach: float, thick: float,
    casts: bool,
) -> None:  # fmt: skip
    rng = painter.rng
    unit, droop = np.array(way) / np.linalg.norm(way), float(rng.uniform(0.02, 0.6))
    sway = float(rng.normal(0, 0.05))
    share = np.linspace(0, 1, 18)
    bent = [(0.0, sway * np.sin(5 * t) - droop * t * t, -0.12 * t * t) for t in share]
    places = [painter.seen(np.array(root) + reach * (unit * t + off)) for t, off in zip(share, bent, strict=True)]
    if casts and thick > 1.3:
        soft = shipped_brush("Soft round").with_changes(size_px=2.2 * thick, strength=0.28, edge=0.8)
        below = [(x + 7 + 9 * t, y + 9 + 10 * t, float(1 - t) ** 0.7) for (x, y), t in zip(places, share, strict=True)]
        painter.stroke(layers[1], soft, (6.0, 6.0, 50.0), below[:12])
    # Dark ones are short: against the coat a long one reads as a scratch.
    value = float(rng.choice((76.0, 68.0, 60.0, 50.0, 44.0, 22.0 if reach < 0.3 else 58.0)))
    hair = shipped_brush("Whisker").with_changes(size_px=thick, flick=0.0, arch=0.0, gravity=0.0, hair_depth=0.6,
                                                 hair_gloss=0.9, strength=float(rng.uniform(0.55, 0.85)))  # fmt: skip
    painter.stroke(
        layers[0], hair, (value, 6.0, 82.0), [(x, y, 1.0 - 0.6 * t) for (x, y), t in zip(places, share, strict=True)]
    )
