"""Fills, friskets and moving at 4000 x 2000: what has to be there before a painter notices having waited."""

from __future__ import annotations

import math
import statistics
import time
from collections.abc import Callable
from dataclasses import replace

import numpy as np
from PySide6.QtCore import QRect
from PySide6.QtGui import QImage, QPainter

from bench.result import Result
from bench.window import opened_window
from japanner.desk.easel.edge_line import EdgeLine
from japanner.desk.tasks.move import MoveTask
from japanner.painting.model import Painting
from japanner.painting.operations import Fill, Filter, FloodFill, Operation, SetFrisket, Transform
from japanner.scripting import Script
from japanner.stroke.brush import Brush

COLOUR = (0.6, 0.45, 0.35)
OVAL = {"shape": "oval", "x0": 300.0, "y0": 150.0, "x1": 3700.0, "y1": 1850.0}
BY_COLOUR = {"shape": "colour", "x": 2000.0, "y": 1000.0, "tolerance": 10.0, "reference": "visible", "layer": 0}


def measure() -> list[Result]:
    return [*_fills(), *_moving(), *_edge_line()]


def sketched() -> tuple[Painting, int]:
    """A sheet with a large line drawing that has a gap, and a part to fill; the flat's uid."""
    script = Script.new(4000, 2000)
    flat = script.layer(script.part("Flat"), "flat")
    sketch = script.layer(script.part("Drawing", "drawing"), "sketch")
    line = Brush("Line", tip="round", edge=0.2, size_px=6, spacing=0.1)
    t = np.linspace(0, 2 * math.pi - 0.012, 300)
    script.stroke(sketch, line, (0.1, 0.1, 0.1), np.stack((2000 + 1500 * np.cos(t), 1000 + 800 * np.sin(t)), axis=1))
    for x in range(500, 3600, 300):
        script.stroke(sketch, line, (0.1, 0.1, 0.1), [(x, 1700), (x + 150, 1900), (x + 260, 1750)])
    return script.painting, flat


def _seconds(operation: Operation, painting: Painting, rounds: int = 5) -> float:
    return min(_once(operation, painting) for _ in range(rounds))


def _once(operation: Operation, painting: Painting) -> float:
    began = time.perf_counter()
    operation.apply(painting)
    return time.perf_counter() - began


def _fills() -> list[Result]:
    painting, flat = sketched()
    through, _ = SetFrisket(OVAL).apply(painting)
    filled, _ = Fill(flat, COLOUR).apply(through)
    filled = replace(filled, frisket=None)
    todo: dict[str, tuple[Operation, Painting]] = {
        "fill what a frisket lets through": (Fill(flat, COLOUR), through),
        "fill a silhouette": (Fill(flat, COLOUR, "silhouette"), filled),
        "flood fill, gaps up to 20 px": (FloodFill(flat, COLOUR, 2000.0, 1000.0, "sketch", 12.0, 20, 3), painting),
        "flood fill, no gaps": (FloodFill(flat, COLOUR, 2000.0, 1000.0, "sketch", 12.0, 0, 3), painting),
        "frisket by colour, joined": (SetFrisket({**BY_COLOUR, "connected": True}), filled),
        "frisket by colour, everywhere": (SetFrisket({**BY_COLOUR, "connected": False}), filled),
        "oval frisket": (SetFrisket(OVAL), painting),
    }
    return [
        Result(f"{name}, 4000x2000", _seconds(operation, on) * 1000, "ms", 300, at_most=True)
        for name, (operation, on) in todo.items()
    ]


def _moving() -> list[Result]:
    """A handle dragged over a painting of twenty layers, and the move made to count."""
    window = opened_window()
    uid = window.session.painting.parts[2].layers[2].uid
    window.session.work.work_on_layer(uid)
    task = window.tasks.take_up("move")
    assert isinstance(task, MoveTask)
    frames = []
    for step in range(40):
        began = time.perf_counter()
        task._take(replace(task.pose, dx=3.0 * step, turn_deg=0.5 * step))
        window.easel.repaint()
        frames.append(time.perf_counter() - began)
    window.easel.leave_task()
    turn = math.radians(17)
    c, s = math.cos(turn), math.sin(turn)
    matrix = (c, -s, 2000 - c * 2000 + s * 1000, s, c, 1000 - s * 2000 - c * 1000, 0.0, 0.0, 1.0)
    commit = _seconds(Transform((uid,), matrix), window.session.painting, 3)
    blur = _seconds(Filter((uid,), "blur", {"sigma_px": 12.0}), window.session.painting, 2)
    window.session.rest_hand()
    window.session._saved_painting = window.session.painting
    window.close()
    per_second = 1 / statistics.median(frames)
    return [
        Result("move preview, one of 20 layers, 1280x800 window", per_second, "/s", 30),
        Result("turn a layer of 4000x2000 by 17 degrees", commit, "s", 1.5, at_most=True),
        Result("blur a layer of 4000x2000 by 12 px", blur, "s", None),
    ]


def _edge_line() -> list[Result]:
    """What the line costs in a frame, beyond a frame without it."""
    painting, _ = sketched()
    shapes = {"oval": OVAL, "every line of a sketch": {**BY_COLOUR, "x": 500.0, "y": 1700.0, "connected": False}}
    costs = {name: _line_cost(SetFrisket(shape).apply(painting)[0]) for name, shape in shapes.items()}
    return [Result(f"frisket line in a frame, {name}", cost * 1000, "ms", 3, True) for name, cost in costs.items()]


def _line_cost(painting: Painting) -> float:
    window = opened_window()
    to_view, size = window.easel.view.to_view(), window.easel.size()
    window.close()
    line, frame = EdgeLine(), QImage(size, QImage.Format.Format_RGB32)
    assert painting.frisket is not None
    frisket, exposed = painting.frisket, QRect(0, 0, size.width(), size.height())

    def draw() -> None:
        painter = QPainter(frame)
        line.draw(painter, [frisket.sheet], to_view, size, exposed)
        painter.end()

    draw()
    return min(_timed(draw) for _ in range(50))


def _timed(work: Callable[[], None]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began
