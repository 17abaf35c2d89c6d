"""What a face takes on a figure: eyes, lashes and brows, skin, flesh strokes, and the brushes that keep to edges."""

from __future__ import annotations

import time
from dataclasses import replace

from bench.result import Result
from japanner.light.figure.people import person
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.form.forms import contours_of, surface_of
from japanner.painting.operations import LayFace, Make, SetFrisket, SetMaquette
from japanner.painting.operations.base import Operation
from japanner.scripting import Script, lch

__all__ = ["measure"]

SIZE, UNIT_PX = (2000, 2500), 620.0
"""A head of 1240 px, whose eyes are about 180 px wide; for eyes of 400 px, more than twice as large."""


def measure() -> list[Result]:
    """Times of one run each, with the surface of the form kept: what a painter waits for after the first maker."""
    script, parts = _face(UNIT_PX)
    surface_of(script.painting)
    contours_of(script.painting)
    found = [
        _told("lay-in of a face of 2000 x 2500, smooth", script, Make(parts["Plain"], "lay-in", {"way": "smooth"}))
    ]
    skin = Make(parts["Plain"], "skin", {"pores": 5.5, "freckles": 20.0})
    found += [
        _first_look(script, skin, 0.5),
        _told("skin of 2000 x 2500", script, skin, 3),
        _told("flesh strokes of 2000 x 2500", script, Make(parts["Plain"], "flesh strokes", {"brush": 40.0}), 8),
        _told("lashes and brows", script, Make(parts["Hair"], "lashes and brows"), 0.3),
        _told("frisket by the form, reach 200 px", script,
              SetFrisket({"shape": "form", "x": 900.0, "y": 1300.0, "reach": 200.0})),
    ]  # fmt: skip
    close, eyes = _face(1380.0)
    surface_of(close.painting)
    found.append(_told("a pair of eyes in their lids, 400 px each", close, Make(eyes["Eyes"], "eye"), 0.5))
    return found


def _face(unit_px: float) -> tuple[Script, dict[str, int]]:
    script = Script.new(*SIZE)
    part = script.part("Plain", "skin")
    sliders = tuple(sorted({**person("Wren Calloway"), "turn": -22.0}.items()))
    piece = replace(Piece("Figure", "figure", sliders=sliders), part=part)
    script.do(SetMaquette(Maquette((piece,), (1000.0, 1150.0), unit_px, eye=9.0).to_record()))
    script.do(LayFace(0, lch(58, 24, 56)))
    return script, {one.name: one.uid for one in script.painting.parts}


def _told(words: str, script: Script, operation: Operation, goal: float | None = None) -> Result:
    """Seconds that an operation takes; the better of two, and the painting goes on from it."""
    took = []
    for _ in range(2):
        start = time.perf_counter()
        operation.apply(script.painting)
        took.append(time.perf_counter() - start)
    script.do(operation)
    return Result(words, min(took), "s", goal, at_most=True)


def _first_look(script: Script, operation: Make, goal: float) -> Result:
    """A first look at a maker, on a painting as coarse as the easel shows it."""
    factor = 0.32
    small = Script.new(round(SIZE[0] * factor), round(SIZE[1] * factor))
    part = small.part("Plain", "skin")
    maquette = script.painting.maquette.scaled(factor)
    pieces = tuple(replace(one, part=part, parts=()) for one in maquette.pieces)
    small.do(SetMaquette(replace(maquette, pieces=pieces).to_record()))
    small.fill(part, "flat", lch(58, 24, 56))
    surface_of(small.painting)
    coarse = replace(operation, part=part).scaled(factor)
    start = time.perf_counter()
    coarse.sketch(small.painting)
    return Result("skin, a first look at it", time.perf_counter() - start, "s", goal, at_most=True)
