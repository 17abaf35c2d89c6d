"""The materials sheet: skin, hair, fur, an eye, brass, glass, sheer cloth and leather, each by its maker."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Final

import numpy as np

from japanner.color.value import srgb_from_value
from japanner.demo.sheets import Progress, broad_ground, in_steps
from japanner.light.figure.people import person
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.shipped import shipped_maquette
from japanner.painting.operations import DropFrisket, Fill, Make, SetComb, SetFrisket, SetPart
from japanner.painting.value.value_scale import proposed_scale
from japanner.scripting import Script, shipped_brush

__all__ = ["paint"]

SIZE: Final = (2000, 1500)
SHIPPED: Final = 0.8
"""Of that size it is painted."""
CELL: Final = 500.0
"""Four across, two down, 750 px high."""

OPERATIONS: Final = 204
Shape = dict[str, Any]


def paint(progress: Progress = lambda done, words: None, watch: int = 0) -> Script:
    """Paint the sheet; the same seeds give the same bytes."""
    script = Script.new(*SIZE, scale=SHIPPED, ppi=240.0, title="Materials sheet", ground=srgb_from_value(26, 0.018, 80))
    steps = (_ground, _skin, _hair, _fur, _eye, _brass, _glass, _sheer, _leather)
    return in_steps(script, steps, progress, OPERATIONS, watch)


def _ground(script: Script) -> None:
    """Broad strokes to stand before, and reeds to be seen through glass and cloth."""
    layer = broad_ground(script, 3, 90, 230.0, (18, 37), 0.024)
    rng = np.random.default_rng(4)
    reed = shipped_brush("Round").with_changes(size_px=16.0, strength=0.8, edge=0.35)
    for number in range(46):
        x = rng.uniform(470, 1500)
        value = rng.uniform(9, 16) if number % 2 else rng.uniform(42, 64)
        lean, high = rng.uniform(-60, 90), rng.uniform(340, 680)
        rows = [(x + lean * t + 14 * np.sin(5 * t), 1500 - high * t, 1.0 - 0.9 * t) for t in np.linspace(0, 1, 14)]
        script.stroke(layer, reed, srgb_from_value(value, 0.045, rng.uniform(70, 105)), rows, seed=100 + number)


def _part(script: Script, name: str, material: str, shape: Shape, colour: tuple[float, float, float]) -> int:
    """A part with its flat, and the values that it is likely to need."""
    part = script.part(name, material)
    layer = script.layer(part, "flat")
    script.do(SetFrisket(_scaled(shape, script.scale)))
    script.do(Fill(layer, srgb_from_value(*colour)))
    script.do(DropFrisket())
    script.do(SetPart(part, {"scale": list(proposed_scale(colour[0], material, script.painting.light))}))
    return part


def _scaled(shape: Shape, factor: float) -> Shape:
    """A frisket, or a comb line, in canvas px."""

    def one(value: Any) -> Any:
        if isinstance(value, str):
            return value
        return [one(v) for v in value] if isinstance(value, (list, tuple)) else value * factor

    return {name: value if name == "lift" else one(value) for name, value in shape.items()}


def _combed(script: Script, part: int, guides: list[Shape]) -> None:
    script.do(SetComb(part, tuple(_scaled(guide, script.scale) for guide in guides)))


def _oval(x: float, y: float, wide: float, high: float) -> Shape:
    return {"shape": "oval", "x0": x - wide, "y0": y - high, "x1": x + wide, "y1": y + high}


def _on_forms(script: Script, part: int, colour: tuple[float, float, float], material: str, cell: Shape) -> None:
    """A flat where the maquette's pieces are seen, and only within a cell."""
    layer = script.layer(part, "flat")
    script.do(SetFrisket(_scaled(cell, script.scale)))
    script.do(Fill(layer, srgb_from_value(*colour), "maquette"))
    script.do(DropFrisket())
    script.do(SetPart(part, {"scale": list(proposed_scale(colour[0], material, script.painting.light))}))


def _skin(script: Script) -> None:
    part = script.part("Skin", "skin")
    # Asleep: the sheet has an eye already.
    sliders = tuple(sorted({**person("Wren Calloway"), "lids closed": 1.0}.items()))
    sleeper = Piece("Sleeper", "figure", sliders=sliders, part=part)
    script.stand(Maquette((sleeper,), (265.0, 360.0), 225.0, (28.0, 6.0, -4.0), 9.0))
    cell = {"shape": "oval", "x0": -120.0, "y0": -160.0, "x1": 540.0, "y1": 820.0}
    _on_forms(script, part, (46, 0.072, 50), "skin", cell)
    script.do(Make(part, "lay-in", {"brush": 46.0, "finish": 100.0}, seed=3))
    script.do(Make(part, "skin", {"pores": 5.5, "freckles": 35.0, "texture": 30.0}, seed=6))
    script.do(Make(part, "flesh strokes", {"brush": 30.0, "strength": 35.0}, seed=2))


def _hair(script: Script) -> None:
    x, y, wide, high = 560.0, 70.0, 380.0, 620.0
    cap = [[x + wide * (0.5 + 0.5 * float(np.cos(t))), y + high * 0.26 * (1 - float(np.sin(t)))]
           for t in np.linspace(0, np.pi, 16)]  # fmt: skip
    hem = ((0.0, 0.7), (0.08, 0.96), (0.32, 1.0), (0.5, 0.97), (0.7, 1.0), (0.92, 0.95), (1.0, 0.7))
    outline = cap + [[x + wide * u, y + high * v] for u, v in hem]
    part = _part(script, "Hair", "hair", {"shape": "outline", "points": outline}, (27, 0.055, 52))
    crown = x + 0.42 * wide
    guides = []
    for at in (0.03, 0.15, 0.29, 0.40, 0.56, 0.70, 0.85, 0.97):
        side = -0.05 if at < 0.42 else 0.07
        bend = (x + wide * ((at + 0.42) / 2 + side), y + 0.16 * high)
        end = x + wide * (at + (0.03 if at < 0.42 else -0.03))
        line = (crown, y + 0.03 * high), bend, (x + wide * at, y + high / 2), (end, y + 0.98 * high)
        guides.append({"points": line, "lift": 0.2})
    _combed(script, part, guides)
    settings = {"pattern": "S wave", "length": 300.0, "wide": 38.0, "mm_px": 1.7, "wind": 12.0, "hairline": 0.0}
    script.do(Make(part, "fill with locks", settings, seed=3))


def _fur(script: Script) -> None:
    part = _part(script, "Fur", "fur", _oval(1250, 390, 190, 225), (44, 0.045, 70))
    guides = [
        {"points": ((1250 + 20 * side, 150.0), (1250 + 120 * side, 300.0), (1250 + 100 * side, 590.0)), "lift": 0.3}
        for side in (-1, 1)
    ]
    _combed(script, part, [*guides, {"points": ((1250.0, 145.0), (1245.0, 380.0), (1250.0, 600.0)), "lift": 0.35}])
    script.do(Make(part, "lay-in", {"way": "smooth"}, seed=5))
    script.do(Make(part, "coat", {"coat": "double coat", "length": 44.0, "density": 70.0}, seed=4))


def _eye(script: Script) -> None:
    part = script.part("Eye", "eye")
    script.do(Make(part, "eye", {"width": 400.0, "x": 1750.0, "y": 390.0, "gaze_right": 4.0}, seed=4))


def _brass(script: Script) -> None:
    part = script.part("Bell", "metal")
    bell = shipped_maquette("bell")
    pieces = tuple(replace(one, part=part) for one in bell.pieces)
    script.stand(Maquette(pieces, (255.0, 1165.0), 195.0, bell.turn, bell.eye))
    _on_forms(script, part, (52, 0.095, 86), "metal", {"shape": "box", "x0": 0, "y0": 760, "x1": 520, "y1": 1500})
    settings = {"metal": "brass", "polish": 90.0, "around": "studio", "patina": 28.0, "wear": 12.0, "dents": 25.0}
    script.do(Make(part, "metal", settings, seed=2))


def _glass(script: Script) -> None:
    bottle = [[842, 940], [842, 905], [906, 905], [906, 940], [902, 1010], [952, 1075], [962, 1130], [962, 1380],
              [945, 1400], [803, 1400], [786, 1380], [786, 1130], [796, 1075], [846, 1010]]  # fmt: skip
    part = _part(script, "Bottle", "glass", {"shape": "outline", "points": bottle}, (62, 0.03, 165))
    wine = {"kind": "hollow", "wall": 9.0, "colour": 35.0, "liquid": 62.0, "liquid_colour": (0.42, 0.05, 0.09)}
    script.do(Make(part, "glass", wine, seed=4))
    part = _part(script, "Net float", "glass", _oval(655, 1270, 140, 140), (45, 0.09, 155))
    script.do(Make(part, "glass", {"kind": "hollow", "colour": 62.0, "wall": 7.0}, seed=1))


def _sheer(script: Script) -> None:
    outline = [
        [1060, 850],
        [1250, 832],
        [1452, 858],
        [1462, 1120],
        [1448, 1400],
        [1330, 1372],
        [1190, 1412],
        [1046, 1385],
    ]
    part = _part(script, "Veil", "cloth", {"shape": "outline", "points": outline}, (66, 0.045, 258))
    settings = {"sheer": 76.0, "hem": 12.0, "weave": 3.5, "depth_of": 95.0, "folds": 5.0}
    script.do(Make(part, "thin cloth", settings, seed=9))


def _leather(script: Script) -> None:
    outline = [
        [1556, 858],
        [1750, 838],
        [1940, 866],
        [1952, 1130],
        [1930, 1392],
        [1800, 1372],
        [1660, 1404],
        [1540, 1380],
    ]
    part = _part(script, "Leather", "cloth", {"shape": "outline", "points": outline}, (30, 0.055, 48))
    settings = {"kind": "leather", "folds": 3.0, "depth_of": 75.0, "weave": 7.0, "hem": 22.0, "fall": -12.0}
    script.do(Make(part, "cloth", settings, seed=6))
