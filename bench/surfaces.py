"""What makers of surfaces take on a canvas of 2400 x 1800, and what a first look at them takes."""

from __future__ import annotations

import time
from typing import Any

from bench.result import Result
from japanner.painting.operations import DropFrisket, Fill, Make, SetComb, SetFrisket, SetPart
from japanner.scripting import Script

__all__ = ["measure"]

SIZE = (2400, 1800)
SHAPE: dict[str, Any] = {"shape": "oval", "x0": 500.0, "y0": 200.0, "x1": 1900.0, "y1": 1600.0}
SKETCHED = 8
"""A first look is worked out on so much fewer pixels a side: a quarter of what the easel shows."""
MADE: tuple[tuple[str, str, str, dict[str, Any], float], ...] = (
    ("metal, polished", "metal", "metal", {"metal": "brass"}, 3),
    ("metal, brushed", "metal", "metal", {"metal": "steel", "finish": "brushed"}, 3),
    ("glass, hollow", "glass", "glass", {}, 3),
    ("glass, solid", "glass", "glass", {"kind": "solid"}, 3),
    ("thin cloth", "cloth", "thin cloth", {}, 3),
    ("cloth, silk", "cloth", "cloth", {"kind": "silk"}, 3),
    ("coat", "fur", "coat", {"length": 40.0}, 6),
    ("fill with locks, about 400 of up to 80 hairs", "hair", "fill with locks",
     {"length": 480.0, "wide": 70.0, "thick": 2.0, "levels": 3.0, "density": 37.0}, 4),
    ("drops", "plain", "drops", {}, 3),
)  # fmt: skip


def measure() -> list[Result]:
    """The better of two runs of each, and of first looks with nothing kept but the form."""
    found = []
    for words, material, maker, settings, goal in MADE:
        script, part = _part(material, 1.0)
        operation = Make(part, maker, settings)
        found.append(Result(words, _least(lambda s=script, o=operation: o.apply(s.painting)), "s", goal, at_most=True))
        small, part = _part(material, 1 / SKETCHED)
        coarse = Make(part, maker, settings).scaled(1 / SKETCHED)
        took = _least(lambda s=small, o=coarse: o.sketch(s.painting))
        found.append(Result(f"a first look: {words}", took, "s", 0.5, at_most=True))
    return found


def _part(material: str, scale: float) -> tuple[Script, int]:
    """A part of a material over a ground, in a script of a scale."""
    script = Script.new(*SIZE, scale=scale)
    ground = script.layer(script.part("Ground"), "flat")
    script.do(Fill(ground, (0.42, 0.4, 0.36)))
    part = script.part("Part", "plain")
    layer = script.layer(part, "flat")
    script.do(SetFrisket({name: v if isinstance(v, str) else v * scale for name, v in SHAPE.items()}))
    script.do(Fill(layer, (0.45, 0.32, 0.22)))
    script.do(DropFrisket())
    script.do(SetPart(part, {"material": material}))
    if material == "hair":
        lines = [tuple((x * scale, y * scale) for y in (230.0, 900.0, 1560.0)) for x in (800.0, 1200.0, 1600.0)]
        script.do(SetComb(part, tuple({"points": line, "lift": 0.2} for line in lines)))
    return script, part


def _least(work: Any) -> float:
    took = []
    for _ in range(2):
        start = time.perf_counter()
        work()
        took.append(time.perf_counter() - start)
    return min(took)
