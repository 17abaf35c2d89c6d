"""The maquette, shading, makers and lay-in at the sizes that painters work at."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from bench.result import Result, best_seconds
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.surface import Surface, relit, surface
from japanner.light.shipped import shipped_maquette
from japanner.light.sources import SURFACES, shaded_planes
from japanner.painting.model import Light
from japanner.painting.operations import Fill, Make, SetFrisket
from japanner.painting.picture.lighting import sources_of
from japanner.raster.geometry import Rect
from japanner.scripting import Script

LIGHT = Light()


def measure() -> list[Result]:
    return [*_marching(), *_makers()]


def thirty_pieces() -> Maquette:
    """Balls, eggs, tubes and boxes through each other, a third of them in pairs, on a table."""
    random = np.random.default_rng(1)
    pieces = [Piece("Table", "slab", place=(0.0, -1.2, 0.0))]
    for number in range(29):
        kind = ("ball", "egg", "tube", "box")[number % 4]
        place, turn = (tuple(float(v) for v in random.uniform(-r, r, 3)) for r in (1.0, 90.0))
        a, b = (float(v) for v in random.uniform(0.1, 0.3, 2))
        join = "carve" if number % 9 == 8 else "add"
        pieces.append(
            Piece(f"Piece {number}", kind, place, turn, (a, b, 0.5), 0.05, join, 0.1, number % 3 == 0)  # type: ignore[arg-type]
        )
    return Maquette(tuple(pieces), (640.0, 480.0), 300.0, (20.0, -10.0, 0.0), 8.0)


def _marched(maquette: Maquette, area: Rect, step: int = 1, *, quick: bool = False) -> Surface:
    return surface(maquette, area, LIGHT.direction, light_deg=LIGHT.size_deg, step=step, quick=quick)


def _marching() -> list[Result]:
    maquette, area = thirty_pieces(), Rect(0, 0, 1280, 960)
    large, wide = maquette.scaled(1.875), Rect(0, 0, 2400, 1800)
    whole = _marched(large, wide)
    kind = np.where(whole.seen, 0, -1).astype(np.int32)
    row = (SURFACES["plain"].row((0.4, 0.4, 0.4)),)

    def shade() -> object:
        return shaded_planes(whole.normal, kind, row, sources_of(LIGHT), whole.lit, whole.openness)

    turned = replace(LIGHT, right_deg=40.0).direction
    head = replace(shipped_maquette("head"), middle=(640.0, 430.0), unit_px=290.0)
    return [
        Result("30 pieces, first picture (1/8)", 1000 * best_seconds(lambda: _marched(maquette, area, 8), 3), "ms"),
        Result("30 pieces, drag at quarter size",
               1000 * best_seconds(lambda: _marched(maquette, area, 4, quick=True), 3), "ms", 150, at_most=True),
        Result("30 pieces, 1280 x 960", best_seconds(lambda: _marched(maquette, area)), "s", 15, at_most=True),
        Result("30 pieces, 2400 x 1800", best_seconds(lambda: _marched(large, wide)), "s", 50, at_most=True),
        Result("head, 1280 x 960", best_seconds(lambda: _marched(head, area)), "s"),
        Result("shading kept buffers, 2400 x 1800", 1000 * best_seconds(shade, 3), "ms", 300, at_most=True),
        Result("shadows of a turned light, every 8 px, 2400 x 1800",
               1000 * best_seconds(lambda: relit(whole, large, turned, skip=8), 2), "ms", 300, at_most=True),
    ]  # fmt: skip


def _makers() -> list[Result]:
    script = Script.new(1280, 960)
    eye = script.part("Eye", "eye")
    results = [_made("eye, 600 px wide", script, Make(eye, "eye", {"width": 600.0}), 300)]
    for maker, material in (("metal", "metal"), ("glass", "glass"), ("thin cloth", "cloth"), ("skin", "skin")):
        part = script.part(maker, material)
        layer = script.layer(part, "flat")
        script.do(SetFrisket({"shape": "oval", "x0": 340.0, "y0": 180.0, "x1": 940.0, "y1": 780.0}))
        script.do(Fill(layer, (0.5, 0.45, 0.4)))
        results.append(_made(f"{maker}, 600 px wide", script, Make(part, maker)))
    sheet = Script.new(2400, 1800)
    part = sheet.part("Form", "plain")
    layer = sheet.layer(part, "flat")
    sheet.do(SetFrisket({"shape": "oval", "x0": 200.0, "y0": 100.0, "x1": 2200.0, "y1": 1700.0}))
    sheet.do(Fill(layer, (0.5, 0.45, 0.4)))
    operation = Make(part, "lay-in", {"brush": 90.0, "finish": 100.0})
    results.append(
        Result(
            "brushed lay-in, 2000 x 1600 px",
            best_seconds(lambda: operation.apply(sheet.painting)),
            "s",
            25,
            at_most=True,
        )
    )
    return results


def _made(words: str, script: Script, operation: Make, goal: float | None = None) -> Result:
    operation.apply(script.painting)
    return Result(words, 1000 * best_seconds(lambda: operation.apply(script.painting), 3), "ms", goal, at_most=True)
