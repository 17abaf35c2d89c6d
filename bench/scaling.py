"""What a stroke costs by the size of the canvas, the number of layers, the size of the brush, the strokes before it.

CPU of all threads for a report of the pen, in the real window at one to one: the hand's own work, whatever else the
machine does. Layers share their pixels, so that what grows is what is asked about.
"""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
from PySide6.QtWidgets import QApplication

from bench.pen import PACE_MS, a_brush, strokes
from bench.result import Result
from japanner.desk.app import make_application
from japanner.desk.window.main_window import MainWindow
from japanner.painting.document.document import Document
from japanner.painting.model import Layer, Painting, Part
from japanner.raster.tiles import Raster, premultiplied
from japanner.stroke.brush import Brush

CANVASES = ((1600, 1250), (2828, 2828), (5657, 5657), (8000, 8000))
LAYERS = (1, 5, 20, 60, 200)
SIZES = (20, 50, 100, 200, 500, 1000)
BEFORE = (0, 50, 200, 400)
IDLE_S = 10.0
MODES = ("Normal", "Multiply", "Soft Light", "Screen", "Overlay")


def measure() -> list[Result]:
    results = []
    by_size = [_cost(_painting(*size, 20), 500) for size in CANVASES]
    areas = [width * height / 1e6 for width, height in CANVASES]
    results += _series("canvas, Mpx", areas, by_size)
    by_layers = [_cost(_painting(1600, 1250, count), 500) for count in LAYERS]
    results += _series("layers", LAYERS, by_layers)
    results += _series("brush, px", SIZES, [_cost(_painting(4000, 2000, 20), size) for size in SIZES])
    results += _series("strokes before", BEFORE, [_cost(_painting(4000, 2000, 20), 500, count) for count in BEFORE])
    return [
        Result("cost of a stroke, 64 : 2 Mpx", by_size[-1] / by_size[0], "x", 1.3, at_most=True),
        Result("cost of a stroke, 200 : 20 layers", by_layers[-1] / by_layers[2], "x", 2.0, at_most=True),
        Result("idle, of a core", _idle(), "%", 0.5, at_most=True),
        *results,
    ]


def _series(what: str, at: tuple[float, ...] | list[float], costs: list[float]) -> list[Result]:
    return [Result(f"lay 500 px, {what}: {x:g}", cost, "ms") for x, cost in zip(at, costs, strict=True)]


def _painting(width: int, height: int, count: int) -> Painting:
    """Parts of five layers, all painted on all over."""
    rng = np.random.default_rng(3)
    codes = (rng.random((4, height // 8 + 1, width // 8 + 1)) * 65535).astype(np.uint16)
    whole = np.ascontiguousarray(np.repeat(np.repeat(codes, 8, axis=1), 8, axis=2)[:, :height, :width])
    pixels = Raster(width, height).written(0, 0, premultiplied(whole))
    parts, uid = list[Part](), 1
    for first in range(0, count, 5):
        layers = []
        for index in range(min(5, count - first)):
            role, place = ("flat", "body") if index == 0 else ("light", "body" if index < 4 else "over")
            layers.append(Layer(uid + 1 + index, f"Layer {index}", role, pixels, place, MODES[index], 0.5))
        parts.append(Part(uid, f"Part {len(parts)}", layers=tuple(layers)))
        uid += 6
    return Painting(width, height, title="Scaling", parts=tuple(parts), next_uid=uid)


@contextmanager
def _window(painting: Painting) -> Iterator[MainWindow]:
    make_application(["bench"])
    window = MainWindow()
    window.show()
    window.session.open_document(Document(painting))
    window.show_bench()
    QApplication.processEvents()
    yield window
    window.session.rest_hand()
    window.session._saved_painting = window.session.painting
    window.close()


def _cost(painting: Painting, size: int, before: int = 0) -> float:
    """ms of CPU for a report."""
    with _window(painting) as window:
        parts = painting.parts
        window.session.work.work_on_layer(parts[len(parts) // 2].layers[-1].uid)
        session = window.session
        session.hand.brushes[session.hand.in_hand] = Brush("Mop", size_px=500, strength=0.3)
        for i in range(before):
            session.begin_stroke([(200 + 3 * i, 300, 1.0)])
            session.strokes.go_on([(1500, 1000 + i, 1.0)])
            session.strokes.end()
            QApplication.processEvents()
        brush = a_brush("lay", size)
        strokes(window, brush, 1.0, pace_ms=PACE_MS)  # what is composed once
        session.rest_hand()
        began = time.process_time()
        took = strokes(window, brush, 1.0, pace_ms=PACE_MS)
        session.rest_hand()
        return (time.process_time() - began) * 1e3 / len(took)


def _idle() -> float:
    """What a window computes with a painting on it that nobody touches, once all is shown."""
    with _window(_painting(4000, 2000, 20)) as window:
        end = time.monotonic() + 4
        while time.monotonic() < end:
            QApplication.processEvents()
            time.sleep(0.02)
        loop_end, began = time.monotonic() + IDLE_S, time.process_time()
        while time.monotonic() < loop_end:
            # Qt waits in its own way in a running program; here it is looked at ten times a second.
            QApplication.processEvents()
            time.sleep(0.1)
        del window
        return 100 * (time.process_time() - began) / IDLE_S
