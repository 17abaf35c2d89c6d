"""The maquette, shading, makers and lay-in at the sizes that painters work at."""

from __future__ import annotations

from dataclasses import replace
from itertools import count
from typing import Final

import numpy as np

from bench.result import Result, best_seconds
from japanner.light.figure.people import person
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.owners import coverage
from japanner.light.rays.surface import Surface, relit, seen, surface
from japanner.light.shipped import shipped_maquette
from japanner.light.sources import SURFACES, shaded_planes
from japanner.painting.model import Light
from japanner.painting.operations import Fill, Make, SetFrisket
from japanner.painting.picture.lighting import sources_of
from japanner.raster.geometry import Rect
from japanner.scripting import Script

LIGHT = Light()


def measure() -> list[Result]:
    return [*_surfaces(), *_makers()]


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


WIDE: Final = Rect(0, 0, 2400, 1800)
LEFT_LIGHT: Final = replace(LIGHT, right_deg=40.0).direction


def figure() -> Maquette:
    """Somebody whose head is half as high as a canvas of 2400 x 1800 px."""
    sliders = tuple(sorted(person("Ione Marrash").items()))
    return Maquette((Piece("Ione", "figure", sliders=sliders),), (1200.0, 900.0), 450.0, (-25.0, 0.0, 0.0), 9.0)


def otter() -> Maquette:
    shipped = shipped_maquette("otter")
    return replace(shipped, middle=(1200.0, 900.0), unit_px=1.8 * shipped.unit_px)


def _surface(maquette: Maquette, step: int = 1, *, quick: bool = False) -> Surface:
    return surface(maquette, WIDE, LIGHT.direction, light_deg=LIGHT.size_deg, step=step, quick=quick)


_number = count(1)


def _anew(maquette: Maquette) -> Maquette:
    """One more maquette of about the same form, so that nothing that is kept of it serves."""
    larger = 1 + 1e-6 * next(_number)

    def sized(piece: Piece) -> Piece:
        a, b, c = piece.size
        return replace(piece, size=(a * larger, b * larger, c * larger))

    return replace(maquette, pieces=tuple(map(sized, maquette.pieces)))


def _surfaces() -> list[Result]:
    sitters = (("figure", figure()), ("otter", otter()), ("30 pieces", thirty_pieces().scaled(1.875)))
    return [result for name, maquette in sitters for result in _of(name, maquette)] + [_shading(figure())]


def _of(name: str, maquette: Maquette) -> list[Result]:
    whole, turns = _surface(maquette), count(1)

    def turn() -> object:
        return _surface(replace(maquette, turn=(float(next(turns)), 0.0, 0.0)), 4, quick=True)

    anew = best_seconds(lambda: _surface(_anew(maquette)), 2)
    lit = best_seconds(lambda: relit(whole, maquette, LEFT_LIGHT), 2)
    flat = best_seconds(lambda: _flat(_anew(maquette)), 2)
    changed = best_seconds(lambda: _surface(_anew(maquette), 4, quick=True), 4)
    return [
        Result(f"{name}, surface of 2400 x 1800, nothing kept", anew, "s", 6, at_most=True),
        Result(f"{name}, a turned key", lit, "s", 2, at_most=True),
        Result(f"{name}, laid flat, nothing kept", flat, "s", 1.5, at_most=True),
        Result(f"{name}, turned, at a quarter", 1000 * best_seconds(turn, 6), "ms", 66, at_most=True),
        Result(f"{name}, changed, at a quarter", 1000 * changed, "ms", 66, at_most=True),
    ]


def _shading(maquette: Maquette) -> Result:
    whole = _surface(maquette)
    kind = np.where(whole.seen, 0, -1).astype(np.int32)
    row = (SURFACES["plain"].row((0.4, 0.4, 0.4)),)

    def shade() -> object:
        return shaded_planes(whole.normal, kind, row, sources_of(LIGHT), whole.lit, whole.openness)

    return Result("shading kept buffers, 2400 x 1800", 1000 * best_seconds(shade, 3), "ms", 300, at_most=True)


def _flat(maquette: Maquette) -> object:
    return coverage(seen(maquette, WIDE), maquette, 0)


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
