"""Hair: strands, the comb field, a coat, and dabs of fur as they come from the pen."""

from __future__ import annotations

import time
from dataclasses import replace

import cv2
import numpy as np

from bench.result import Result, best_seconds
from japanner.light.shipped import shipped_maquette
from japanner.painting.form.combing import comb_of
from japanner.painting.live.trial import Trial
from japanner.painting.operations import Fill, Make, SetComb, SetFrisket, SetMaquette
from japanner.painting.operations.layer_stroke import LayerStroke
from japanner.raster.geometry import Rect
from japanner.scripting import Script
from japanner.strand.comb import Guide, combed
from japanner.strand.strands import Strands
from japanner.stroke.brush import Brush

GUIDES = (Guide(((1200.0, 300.0), (600.0, 900.0))), Guide(((1200.0, 300.0), (1900.0, 1000.0)), lift=0.4))


def measure() -> list[Result]:
    return [_hairs(), _field(), _field_on_form(), _coat(), *_coat_of_a_head(), *_pen()]


def _hairs() -> Result:
    random, count = np.random.default_rng(1), 60_000
    roots, angle = random.random((count, 1, 2)) * (1200, 900), random.normal(1.2, 0.3, count)
    way = 30 * np.stack((np.cos(angle), np.sin(angle)), axis=1)[:, None]
    points = roots + way * np.linspace(0, 1, 7)[:, None]
    hairs = Strands.of(points, 1.4, random.random((count, 3, 3)), 0.8)
    seconds = best_seconds(lambda: hairs.drawn(Rect(0, 0, 1200, 900)), 3)
    return Result("hairs of 30 px a second", count / seconds, "hairs", 60_000)


def _field() -> Result:
    cover = np.zeros((1800, 2400), np.float32)
    cv2.ellipse(cover, (1200, 900), (1150, 850), 0, 0, 360, 1, -1)
    area = Rect(0, 0, 2400, 1800)
    took = best_seconds(lambda: combed(cover, area, GUIDES), 3)
    return Result("comb field of a 2400 x 1800 part", 1000 * took, "ms", 400, at_most=True)


def _field_on_form() -> Result:
    """After a further stroke on an otter: the form is known, the field is not."""
    script, part = _furred(2400, 1800)
    otter = shipped_maquette("otter")
    pieces = tuple(replace(piece, part=part) for piece in otter.pieces)
    script.do(SetMaquette(replace(otter, pieces=pieces, unit_px=900.0, middle=(1200.0, 900.0)).to_record()))
    times = []
    for number in range(4):
        script.do(SetComb(part, tuple({"points": one.scaled(1 + number / 1000).points} for one in GUIDES)))
        began = time.perf_counter()
        comb_of(script.painting, script.painting.part(part))
        times.append(time.perf_counter() - began)
    return Result("the same on a maquette", 1000 * min(times[1:]), "ms", 400, at_most=True)


def _furred(width: int, height: int, within: Rect | None = None) -> tuple[Script, int]:
    """A part of fur that fills the canvas, or an area of it."""
    script = Script.new(width, height)
    part = script.part("Pelt", "fur")
    layer = script.layer(part, "flat")
    x0, y0, x1, y1 = within or Rect(20, 20, width - 20, height - 20)
    script.do(SetFrisket({"shape": "oval", "x0": x0, "y0": y0, "x1": x1, "y1": y1}))
    script.do(Fill(layer, (0.5, 0.4, 0.3)))
    script.do(SetComb(part, ({"points": ((width / 2, 60.0), (width / 2, height - 60.0))},)))
    return script, part


def _coat() -> Result:
    """About 150 000 hairs: the area times the density times the shares of all passes (1.0)."""
    script, part = _furred(640, 560)
    operation = Make(part, "coat", {"density": 58.0})
    operation.apply(script.painting)
    took = best_seconds(lambda: operation.apply(script.painting), 2)
    return Result("coat of 150 000 hairs", took, "s", 5, at_most=True)


def _coat_of_a_head() -> list[Result]:
    """On 2400 x 1800, from the settings to the first look, to the fine one, and to the outcome."""
    script, part = _furred(2400, 1800, Rect(700, 350, 1700, 1550))
    operation = Make(part, "coat")
    began = time.perf_counter()
    fine = Trial(script.painting)
    fine.coarser().sketched(operation)
    first = time.perf_counter() - began
    fine.worked(operation)
    second = time.perf_counter() - began
    whole = best_seconds(lambda: operation.apply(script.painting))
    return [
        Result("coat of a head on 2400 x 1800: first look", first, "s", 0.5, at_most=True),
        Result("coat of a head on 2400 x 1800: fine look", second, "s"),
        Result("coat of a head on 2400 x 1800: the outcome", whole, "s", 6.0, at_most=True),
    ]


def _pen() -> list[Result]:
    script, part = _furred(2400, 1800)
    layer = script.layer(part, "strands")
    fur = Brush("Fur", kind="fur", tip="round", size_px=200, hairs=300, spacing=0.25, turn="comb", hair_px=40)
    lock = Brush("Lock", kind="lock", tip="round", size_px=70, hairs=140, spacing=0.06)
    results = []
    for words, brush, step in (("fur, a dab of 300 hairs", fur, 50.0), ("lock of 140 hairs, a sample", lock, 8.0)):
        stroke = LayerStroke(script.painting, layer, brush, (0.5, 0.4, 0.3))
        times = []
        for n in range(90):
            sample = (300.0 + step * (n % 36), 900.0 + 60 * np.sin(n / 9), 1.0)
            began = time.perf_counter()
            stroke.add([sample])
            times.append(time.perf_counter() - began)
        results.append(Result(f"{words}, p95", 1000 * float(np.percentile(times, 95)), "ms", 16, at_most=True))
    return results
