"""A soft dab of 500 px: ours, the same as a NumPy expression, and how fast this machine copies memory."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np

from bench.result import Result, seconds_per_call, side_by_side
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush
from japanner.stroke.kinds.coverage import CoverageStroke, Paint

SIZE = 500
PIXELS = SIZE * SIZE / 1e6
ROW = np.array([[300, 300, SIZE / 2, 0.5, 1, 1, 0, 1, 0, 1, 0.9, 0.5, 0.2]], np.float32)


def measure() -> list[Result]:
    lay, numpy, ratio = side_by_side(_ours("lay"), _numpy_dab())
    copied = np.empty(32_000_000, np.float32)
    source = np.ones_like(copied)
    copy = seconds_per_call(lambda: np.copyto(copied, source))
    return [
        Result("500 px soft dab, lay", PIXELS / lay, "Mpx/s"),
        Result("500 px soft dab, dodge", PIXELS / seconds_per_call(_ours("dodge")), "Mpx/s"),
        Result("the same (lay) as a NumPy expression", PIXELS / numpy, "Mpx/s"),
        Result("lay: times as fast as NumPy", ratio, "x", 12),
        Result("memory copy", source.nbytes * 2 / copy / 1e9, "GB/s"),
    ]


def _ours(kind: str) -> Callable[[], object]:
    whole = np.full((4, 600, 600), 40000, np.uint16)
    brush = Brush("Mop", kind=kind, size_px=SIZE, strength=0.5)
    base = Raster(600, 600).written(0, 0, whole)
    stroke = CoverageStroke(base, Paint(brush, (0.9, 0.5, 0.2), base), kind)
    return partial(stroke.put, ROW)


def _numpy_dab() -> Callable[[], object]:
    base = np.full((SIZE, SIZE, 4), 0.6, np.float32)
    colour = np.array((0.9, 0.5, 0.2, 1), np.float32)
    coverage = np.zeros((SIZE, SIZE), np.float32)

    def dab() -> np.ndarray:
        ys, xs = np.mgrid[0:SIZE, 0:SIZE].astype(np.float32)
        r = np.hypot(xs + 0.5 - SIZE / 2, ys + 0.5 - SIZE / 2) / (SIZE / 2)
        alpha = np.where(r < 1, 0.5 + 0.5 * np.cos(np.float32(np.pi) * r), 0).astype(np.float32)
        np.maximum(coverage, np.float32(0.5) * alpha, out=coverage)
        a = coverage[..., None]
        return base * (1 - a) + colour * a

    return dab
