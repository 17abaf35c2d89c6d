"""What it costs to look at values: the whole canvas, switching looks, the rail's figures."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QEvent, QObject

from bench.large import large_painting
from bench.pen import a_brush, strokes
from bench.result import Result
from bench.window import opened_window
from japanner.desk.session.session import Session
from japanner.desk.window.main_window import MainWindow
from japanner.painting.picture.looks import look


def measure() -> list[Result]:
    window = opened_window()
    session, whole = window.session, window.session.picture.levels[0]
    session.work.work_on_part(large_painting().parts[2].uid)

    def switch(name: str) -> Callable[[], None]:
        def run() -> None:
            session.looking.set_look(name)
            window.easel.repaint()

        return run

    results = [Result("L* of 4000x2000", _best(lambda: look("values", whole)) * 1000, "ms", 60, at_most=True)]
    for name in ("values", "steps", "colour"):
        results.append(Result(f"switch to {name}, whole canvas", _best(switch(name)) * 1000, "ms", 50, at_most=True))
    results.append(Result("rail: part, ground, separation", _best(window.rail.measure) * 1000, "ms", 100, at_most=True))
    views = [view.grab for view in window.right.second_look.views]
    results.append(
        Result("second look, both", _best(lambda: [draw() for draw in views]) * 1000, "ms", 300, at_most=True)
    )
    results += _following(window)
    window.session._saved_painting = session.painting
    window.close()
    return results


class _Delays(QObject):
    """How long after a change of the picture something shows it."""

    def __init__(self, bench: Session) -> None:
        super().__init__()
        self._waiting: float | None = None
        self.took: list[float] = []
        bench.shown.connect(self._changed)

    def _changed(self, _: object) -> None:
        if self._waiting is None:
            self._waiting = time.perf_counter()

    def shown(self, *_: object) -> None:
        if self._waiting is not None:
            self.took.append((time.perf_counter() - self._waiting) * 1e3)
            self._waiting = None

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Paint:
            self.shown()
        return False


def _following(window: MainWindow) -> list[Result]:
    """What the rail and the second look lag behind a stroke of a pen that reports every 8 ms."""
    rail, second = _Delays(window.session), _Delays(window.session)
    window.rail.measured.connect(rail.shown)
    window.right.second_look.views[1].installEventFilter(second)
    for size in (20, 100):
        strokes(window, a_brush("lay", size), None, pace_ms=8.0)
    return [
        Result(f"{name} behind the pen, p95", float(np.percentile(one.took, 95)), "ms", 300, at_most=True)
        for name, one in (("rail", rail), ("second look", second))
    ]


def _best(work: Callable[[], object], rounds: int = 7) -> float:
    took = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        took.append(time.perf_counter() - began)
    return min(took)
