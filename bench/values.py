"""What it costs to look at values: the whole canvas, switching looks, the rail's figures."""

from __future__ import annotations

import time
from collections.abc import Callable

from bench.large import large_painting
from bench.result import Result
from bench.window import opened_window
from japanner.painting.looks import look


def measure() -> list[Result]:
    window = opened_window()
    bench, whole = window.bench, window.bench.picture.levels[0]
    bench.work_on_part(large_painting().parts[2].uid)

    def switch(name: str) -> Callable[[], None]:
        def run() -> None:
            bench.set_look(name)
            window.easel.repaint()

        return run

    results = [Result("L* of 4000x2000", _best(lambda: look("values", whole)) * 1000, "ms", 60, at_most=True)]
    for name in ("values", "steps", "colour"):
        results.append(Result(f"switch to {name}, whole canvas", _best(switch(name)) * 1000, "ms", 50, at_most=True))
    results.append(Result("rail: part, ground, separation", _best(window.rail.measure) * 1000, "ms", 100, at_most=True))
    views = [view.grab for view in window.second_look.views]
    results.append(
        Result("second look, both", _best(lambda: [draw() for draw in views]) * 1000, "ms", 100, at_most=True)
    )
    bench._saved_painting = bench.painting
    window.close()
    return results


def _best(work: Callable[[], object], rounds: int = 7) -> float:
    took = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        took.append(time.perf_counter() - began)
    return min(took)
