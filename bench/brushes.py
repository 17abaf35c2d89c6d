"""Some shipped brushes in the real window; smudge against lay; replay; previews."""

from __future__ import annotations

import time
from functools import partial

import numpy as np

from bench.large import large_painting
from bench.pen import PACE_MS, strokes
from bench.result import Result
from bench.window import opened_window
from japanner.desk.brushes.preview import patch_image, preview_image
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush
from japanner.stroke.brush.shipped import shipped_brushes
from japanner.stroke.engine import StrokeInProgress
from japanner.stroke.pen.traces import trace


def measure() -> list[Result]:
    return [*_pen_to_picture(), *_throughput(), _replay(), *_previews()]


def _pen_to_picture() -> list[Result]:
    window = opened_window()
    window.session.work.work_on_layer(large_painting().parts[2].layers[2].uid)
    results = []
    for name in ("Lock flat", "Palette knife", "Wet flesh", "Skin lay-in", "Pigment smudge"):
        brush = next(one for one in shipped_brushes() if one.name == name)
        took = strokes(window, brush, None, pace_ms=PACE_MS)
        results.append(Result(f"pen to picture, {name} {brush.size_px:.0f} px, p95", _p95(took), "ms"))
    window.session.rest_hand()
    window.session._saved_painting = window.session.painting
    window.close()
    return results


def _p95(took: list[float]) -> float:
    return float(np.percentile(took, 95))


def _painted() -> Raster:
    return Raster(3000, 1200).written(0, 0, np.full((4, 1200, 3000), 40000, np.uint16))


def _seconds(brush: Brush) -> float:
    """A pen sample of a stroke, 50 px on from the one before; the best of three strokes."""
    base, best = _painted(), float("inf")
    for _ in range(3):
        stroke = StrokeInProgress(base, brush, (0.5, 0.4, 0.3))
        stroke.add([(500, 600, 0.8)])
        began = time.perf_counter()
        for i in range(1, 41):
            stroke.add([(500 + 50 * i, 600, 0.8)])
        best = min(best, (time.perf_counter() - began) / 40)
    return best


def _throughput() -> list[Result]:
    results = []
    for size in (100, 300, 500):
        brush = Brush("Any", tip="round", edge=0.7, size_px=size, strength=0.4, spacing=0.08)
        lay, smudge = (_seconds(brush.with_changes(kind=kind)) for kind in ("lay", "smudge"))
        results.append(Result(f"smudge {size} px: times the speed of lay", lay / smudge, "x", 0.5))
    return results


def _replay() -> Result:
    """A slow S in the time that the hand took, over the time that replaying it takes."""
    samples, base = trace("slow S"), _painted()
    rows = [(1500 + 1400 * s.x, 600 + 1400 * s.y, *s[2:]) for s in samples]
    brush = next(one for one in shipped_brushes() if one.name == "Skin lay-in")
    began = time.perf_counter()
    stroke = StrokeInProgress(base, brush, (0.5, 0.4, 0.3))
    stroke.add(rows)
    stroke.finish()
    took = (time.perf_counter() - began) * 1e3
    return Result("replay of a bristle stroke: times real time", samples[-1].time_ms / took, "x", 5)


def _previews() -> list[Result]:
    slot: list[float] = []
    patch: list[float] = []
    for brush in shipped_brushes():
        for made, work in (
            (slot, partial(preview_image, width=69, height=26, ink=(0.9, 0.9, 0.9))),
            (patch, partial(patch_image, width=500, height=132, colour=(0.7, 0.4, 0.3))),
        ):
            work(brush)  # textures and bristles are made once in a run
            began = time.perf_counter()
            work(brush)
            made.append((time.perf_counter() - began) * 1e3)
    return [
        Result("preview of a brush in the roll, redrawn, p95", _p95(slot), "ms", 30, at_most=True),
        Result("test patch of the brush sheet, redrawn, p95", _p95(patch), "ms", 30, at_most=True),
    ]
