"""One figure, with what it should reach."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

__all__ = ["Result", "best_seconds", "seconds_per_call", "side_by_side", "table"]


@dataclass(frozen=True)
class Result:
    """`goal`: what `value` should at least (or, `at_most`, at most) be; `beside`: more that was measured with it."""

    name: str
    value: float
    unit: str
    goal: float | None = None
    at_most: bool = False
    beside: dict[str, float] = field(default_factory=dict)

    @property
    def reached(self) -> bool | None:
        if self.goal is None:
            return None
        return self.value <= self.goal if self.at_most else self.value >= self.goal

    def record(self) -> dict[str, Any]:
        return {"name": self.name, "value": round(self.value, 4), "unit": self.unit, "goal": self.goal,
                "at_most": self.at_most, "reached": self.reached, **self.beside}  # fmt: skip


def seconds_per_call(work: Callable[[], object], least_seconds: float = 0.6) -> float:
    """The quickest of five rounds: what disturbs on a shared machine only ever adds."""
    work()
    calls, took = 1, 0.0
    while took < least_seconds / 5:
        calls *= 2
        took = _timed(work, calls)
    return min(took, *(_timed(work, calls) for _ in range(4))) / calls


def side_by_side(one: Callable[[], object], other: Callable[[], object], rounds: int = 9) -> tuple[float, float, float]:
    """Seconds per call of both, and how many times as long `other` takes: medians of rounds, both taking turns."""
    pairs = [(seconds_per_call(one, 0.15), seconds_per_call(other, 0.15)) for _ in range(rounds)]
    return (
        statistics.median(first for first, _ in pairs),
        statistics.median(second for _, second in pairs),
        statistics.median(second / first for first, second in pairs),
    )


def _timed(work: Callable[[], object], calls: int) -> float:
    began = time.perf_counter()
    for _ in range(calls):
        work()
    return time.perf_counter() - began


def table(results: list[Result]) -> str:
    """All figures as text."""
    lines = [f"{'':56}{'figure':>10} {'unit':<7} {'goal':>9}"]
    for one in results:
        goal = "" if one.goal is None else f"{'<=' if one.at_most else '>='} {one.goal:g}"
        more = "  ".join(f"{name} {value:.1f}" for name, value in one.beside.items())
        verdict = {None: "", True: "reached", False: "MISSED"}[one.reached]
        lines.append(f"{one.name:56}{one.value:>10.2f} {one.unit:<7} {goal:>9}  {verdict:8}{more}".rstrip())
    return "\n".join(lines)


def best_seconds(work: Callable[[], object], rounds: int = 1) -> float:
    """The quickest of some rounds of work."""
    best = float("inf")
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - began)
    return best
