"""The materials sheet: an eye, brass, steel, glass, sheer cloth and skin, each by its maker over a painted ground."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from japanner.color.value import srgb_from_value
from japanner.demo.sheets import Progress, broad_ground, in_steps
from japanner.light.figure.people import person
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.operations import DropFrisket, Fill, Make, SetFrisket, SetPart
from japanner.painting.value.value_scale import proposed_scale
from japanner.scripting import Script, shipped_brush

__all__ = ["paint"]

SIZE: Final = (2400, 1600)
RADIUS: Final = 300.0

OPERATIONS: Final = 178


def paint(progress: Progress = lambda done, words: None, watch: int = 0) -> Script:
    """Paint the sheet; the same seeds give the same bytes."""
    script = Script.new(*SIZE, ppi=300.0, title="Materials sheet", ground=srgb_from_value(24, 0.018, 80))
    steps = (_ground, _eye, _brass, _steel, _skin, _glass, _cloth)
    return in_steps(script, steps, progress, OPERATIONS, watch)


def _ground(script: Script) -> None:
    """Broad strokes to stand before, and reeds to be seen through glass and cloth."""
    layer = broad_ground(script, 3, 90, 230.0, (17, 36), 0.026)
    rng = np.random.default_rng(4)
    reed = shipped_brush("Round").with_changes(size_px=22.0, strength=0.8, edge=0.35)
    for number in range(46):
        x = rng.uniform(780, 2380)
        value = rng.uniform(9, 16) if number % 2 else rng.uniform(42, 62)
        lean = rng.uniform(-60, 90)
        high = rng.uniform(420, 800)
        rows = [(x + lean * t + 16 * np.sin(5 * t), 1600 - high * t, 1.0 - 0.9 * t) for t in np.linspace(0, 1, 14)]
        script.stroke(layer, reed, srgb_from_value(value, 0.045, rng.uniform(70, 105)), rows, seed=100 + number)


def _part(script: Script, name: str, material: str, shape: dict[str, Any], colour: tuple[float, float, float]) -> int:
    """A part with its flat, and the values that it is likely to need."""
    part = script.part(name, material)
    layer = script.layer(part, "flat")
    script.do(SetFrisket(shape))
    encoded = srgb_from_value(*colour)
    script.do(Fill(layer, encoded))
    script.do(DropFrisket())
    script.do(SetPart(part, {"scale": list(proposed_scale(colour[0], material, script.painting.light))}))
    return part


def _ball(x: float, y: float) -> dict[str, Any]:
    return {"shape": "oval", "x0": x - RADIUS, "y0": y - RADIUS, "x1": x + RADIUS, "y1": y + RADIUS}


def _eye(script: Script) -> None:
    part = script.part("Eye", "eye")
    script.do(Make(part, "eye", {"width": 560.0, "x": 400.0, "y": 420.0, "gaze_right": 4.0}, seed=4))


def _brass(script: Script) -> None:
    part = _part(script, "Brass", "metal", _ball(1200, 400), (50, 0.09, 85))
    script.do(Make(part, "metal", {"metal": "brass", "polish": 82.0, "patina": 25.0}, seed=2))


def _steel(script: Script) -> None:
    outline = [[1760, 190], [2240, 140], [2290, 610], [1720, 640]]
    part = _part(script, "Steel", "metal", {"shape": "outline", "points": outline}, (55, 0.01, 240))
    settings = {
        "metal": "steel",
        "body": "plate",
        "polish": 40.0,
        "bevel": 30.0,
        "around": "studio",
        "brushing": -4.0,
        "wear": 22.0,
    }
    script.do(Make(part, "metal", settings, seed=5))


def _skin(script: Script) -> None:
    part = script.part("Skin", "skin")
    layer = script.layer(part, "flat")
    # Asleep: the sheet has an eye already.
    sliders = tuple(sorted({**person("Wren Calloway"), "lids closed": 1.0}.items()))
    sleeper = Piece("Sleeper", "figure", sliders=sliders, part=part)
    script.stand(Maquette((sleeper,), (410.0, 1170.0), 300.0, (28.0, 6.0, -4.0), 9.0))
    # Only as far as the sheet's own cell.
    script.do(SetFrisket({"shape": "oval", "x0": -160.0, "y0": 700.0, "x1": 800.0, "y1": 2100.0}))
    script.do(Fill(layer, srgb_from_value(46, 0.072, 50), "maquette"))
    script.do(DropFrisket())
    script.do(SetPart(part, {"scale": list(proposed_scale(46, "skin", script.painting.light))}))
    script.do(Make(part, "lay-in", {"brush": 60.0, "finish": 100.0}, seed=3))
    script.do(Make(part, "skin", {"pores": 7.0, "freckles": 35.0, "texture": 30.0}, seed=6))


def _glass(script: Script) -> None:
    part = _part(script, "Net float", "glass", _ball(1200, 1180), (45, 0.09, 155))
    script.do(Make(part, "glass", {"kind": "hollow", "colour": 60.0}, seed=1))


def _cloth(script: Script) -> None:
    outline = [[1680, 880], [2300, 900], [2330, 1500], [2060, 1560], [1830, 1500], [1650, 1540]]
    part = _part(script, "Cape", "cloth", {"shape": "outline", "points": outline}, (58, 0.045, 258))
    script.do(Make(part, "thin cloth", {"sheer": 55.0, "hem": 16.0, "weave": 6.0}, seed=9))
