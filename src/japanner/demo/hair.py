"""The hair sheet: seven coats, twelve locks, a braid and a bun, lashes and a brow, whiskers."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from japanner.color.value import srgb_from_value
from japanner.demo.sheets import Progress, broad_ground, in_steps
from japanner.painting.operations import DropFrisket, Fill, Make, SetComb, SetFrisket, SetPart
from japanner.painting.value.value_scale import proposed_scale
from japanner.scripting import Script, shipped_brush

__all__ = ["paint"]

SIZE: Final = (2400, 1600)
COATS: Final = (
    ("double coat", (36, 0.045, 62), {"length": 26.0}),
    ("short sleek", (20, 0.018, 55), {"length": 24.0, "gloss": 150.0}),
    ("plush", (50, 0.085, 52), {"length": 24.0}),
    ("wiry", (52, 0.012, 80), {"length": 24.0}),
    ("curly", (70, 0.03, 85), {"length": 26.0}),
    ("coily", (22, 0.022, 50), {"length": 30.0}),
    ("long silky", (44, 0.075, 60), {"length": 24.0}),
)
LOCKS: Final = (
    ("Flat lock", (24, 0.055, 48)), ("Bodied lock", (34, 0.065, 55)), ("Soft bend", (28, 0.075, 42)),
    ("Stretched wave", (58, 0.065, 78)), ("S wave", (50, 0.060, 72)), ("Wave and spirals", (62, 0.055, 82)),
    ("Loose loops", (26, 0.045, 48)), ("Ringlets", (22, 0.035, 50)), ("Corkscrews", (24, 0.040, 45)),
    ("S coil", (15, 0.018, 50)), ("Zigzag", (14, 0.015, 50)), ("Tight coil", (16, 0.018, 45)),
)  # fmt: skip
COLUMNS: Final = (90, 196, 302, 412, 530, 664, 850, 980, 1075, 1180, 1285, 1390)
"""Where the locks hang, px."""
SKIN: Final = (0.66, 0.485, 0.405)

OPERATIONS: Final = 242


def paint(progress: Progress = lambda done, words: None, watch: int = 0) -> Script:
    """Paint the sheet; the same seeds give the same bytes."""
    script = Script.new(*SIZE, ppi=300.0, title="Hair sheet", ground=srgb_from_value(27, 0.012, 80))
    steps = (_ground, _coats, _locks, _eye, _muzzle)
    return in_steps(script, steps, progress, OPERATIONS, watch)


def _ground(script: Script) -> None:
    broad_ground(script, 8, 110, 260.0, (20, 36), 0.016)


def _pelt(script: Script, name: str, x: float, y: float, radius: float, colour: tuple[float, float, float]) -> int:
    part = script.part(name, "fur")
    layer = script.layer(part, "flat")
    script.do(SetFrisket({"shape": "oval", "x0": x - radius, "y0": y - radius, "x1": x + radius, "y1": y + radius}))
    script.do(Fill(layer, srgb_from_value(*colour)))
    script.do(DropFrisket())
    script.do(SetPart(part, {"scale": list(proposed_scale(colour[0], "fur", script.painting.light))}))
    return part


def _coats(script: Script) -> None:
    for number, (coat, colour, settings) in enumerate(COATS):
        part = _pelt(script, coat.capitalize(), 200 + 334 * number, 290, 138, colour)
        script.do(Make(part, "coat", {"coat": coat, **settings}, seed=number + 1))


def _locks(script: Script) -> None:
    part = script.part("Locks", "hair")
    layer = script.layer(part, "strands", place="over")
    for number, (name, colour) in enumerate(LOCKS):
        x, short = COLUMNS[number], number > 8
        brush = shipped_brush(name).with_changes(mm_px=2.3, size_px=58.0)
        share = np.linspace(0, 1, 24)
        sway = 16 * np.sin(3.4 * share + number)
        rows = [(x + float(a), 640 + (640 if short else 860) * float(t), 1.0 - 0.25 * float(t))
                for a, t in zip(sway, share, strict=True)]  # fmt: skip
        script.stroke(layer, brush, srgb_from_value(*colour), rows, seed=40 + number)
    braid = shipped_brush("Braid").with_changes(size_px=74.0)
    rows = [(1512 + 14 * float(np.sin(3 * t)), 620 + 900 * float(t), 1.0) for t in np.linspace(0, 1, 24)]
    script.stroke(layer, braid, srgb_from_value(38, 0.07, 55), rows, seed=61)
    script.stroke(layer, shipped_brush("Bun"), srgb_from_value(30, 0.05, 50), [(1220, 1330, 1.0), (1360, 1510, 1.0)],
                  seed=62)  # fmt: skip


def _eye(script: Script) -> None:
    skin = script.layer(script.part("Skin", "skin"), "flat")
    mop = shipped_brush("Mop").with_changes(size_px=300.0, strength=0.95)
    for number, (x, y) in enumerate(((1860, 760), (2040, 720), (2200, 790), (1900, 900), (2140, 900), (2020, 830))):
        script.stroke(skin, mop, SKIN, [(x - 40, y, 1.0), (x + 40, y + 10, 1.0)], seed=number)
    eye = script.part("Eye", "eye")
    script.do(Make(eye, "eye", {"width": 330.0, "x": 2030.0, "y": 850.0, "gaze_right": -4.0}, seed=4))
    layer = script.layer(eye, "strands", place="over")

    def bow(x0: float, x1: float, y: float, high: float) -> list[tuple[float, ...]]:
        return [(x0 + (x1 - x0) * t, y - high * np.sin(np.pi * t**0.92), 1.0) for t in np.linspace(0, 1, 24)]

    upper = shipped_brush("Upper lashes").with_changes(hair_px=52.0, hair_wide=2.1)
    script.stroke(layer, upper, (0.10, 0.07, 0.06), bow(1888, 2193, 846, 74), seed=1)
    lower = shipped_brush("Lower lashes").with_changes(hair_px=24.0, hair_wide=1.4)
    script.stroke(layer, lower, (0.13, 0.09, 0.08), bow(1950, 2178, 862, -42), seed=2)
    brow = shipped_brush("Brow").with_changes(hair_px=50.0, hair_wide=1.9, hairs=230)
    line = [(1850, 708, 1.0), (1960, 662, 1.0), (2080, 648, 1.0), (2190, 668, 1.0), (2252, 702, 1.0)]
    script.stroke(layer, brow, (0.16, 0.105, 0.08), line, seed=3)


def _muzzle(script: Script) -> None:
    """A pad of short fur, spots in rows, and whiskers root to tip."""
    x, y = 2010.0, 1290.0
    part = _pelt(script, "Muzzle", x, y, 190, (54, 0.04, 70))
    guides: list[dict[str, Any]] = [
        {"points": ((x + 60, y - 150), (x - 20, y - 60), (x - 60, y + 150)), "lift": 0.25},
        {"points": ((x + 100, y - 110), (x + 130, y), (x + 80, y + 150)), "lift": 0.2},
        {"points": ((x - 60, y - 130), (x - 150, y), (x - 150, y + 90)), "lift": 0.3},
    ]
    script.do(SetComb(part, tuple(guides)))
    script.do(Make(part, "coat", {"coat": "short sleek", "length": 40.0, "density": 70.0}, seed=11))
    rng = np.random.default_rng(5)
    spots, whiskers = script.layer(part, "detail"), script.layer(part, "strays", place="over")
    dot = shipped_brush("Round").with_changes(size_px=7.0, strength=0.75, edge=0.5)
    hair = shipped_brush("Whisker")
    for row in range(4):
        for column in range(6):
            rx = x + 70 - 34 * column + rng.uniform(-6, 6)
            ry = y - 50 + 38 * row + 5 * column + rng.uniform(-5, 5)
            script.stroke(spots, dot, (0.13, 0.09, 0.07), [(rx, ry, 1.0), (rx + 1, ry + 1, 1.0)], seed=row * 9 + column)
            if rng.random() < 0.75:
                reach, drop = rng.uniform(170, 330), rng.uniform(-30, 150) + 26 * row
                rows = [(rx - reach * t, ry + drop * t**2 - 20 * t, 1.0 - 0.5 * t) for t in np.linspace(0, 1, 14)]
                thick, value = rng.uniform(2.0, 3.4), rng.choice((90.0, 86.0, 80.0, 30.0))
                brush = hair.with_changes(size_px=float(thick))
                script.stroke(
                    whiskers, brush, srgb_from_value(float(value), 0.01, 80), rows, seed=100 + row * 9 + column
                )
