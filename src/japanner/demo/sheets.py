"""What the demo sheets share: a painted ground, and steps that are told of."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from japanner.color.value import srgb_from_value
from japanner.scripting import Script, shipped_brush

__all__ = ["Progress", "Staging", "broad_ground", "in_steps"]

Progress = Callable[[float, str], None]


@dataclass(eq=False)
class Staging:
    """A painting that comes about stage by stage: each is told of, and moments of it are kept.

    operations: how many there will be, so that progress can be told. watch: keep a moment after every so many; 0: none.
    """

    script: Script
    progress: Progress
    operations: int
    watch: int = 0

    def __post_init__(self) -> None:
        if self.watch:
            self.script.watch(self.watch)

    def told(self) -> None:
        """Say how far it is."""
        count = len(self.script.document.records)
        self.progress(min(count / self.operations, 0.99), f"Painting the {self.script.stage}: {count} strokes")

    def run(self, stages: Iterable[tuple[str, Callable[[], object]]], until: str = "") -> Script:
        """Paint the stages in their order, up to and with `until`."""
        for name, step in stages:
            self.script.stage = name
            self.told()
            step()
            if name == until:
                break
        if self.watch:
            self.script.look()
        self.progress(1.0, "Done")
        return self.script


def in_steps(
    script: Script, steps: Sequence[Callable[[Script], None]], progress: Progress, operations: int, watch: int = 0
) -> Script:  # fmt: skip
    """Paint step by step; each is a stage of its own name."""
    named = ((step.__name__.strip("_"), partial(step, script)) for step in steps)
    return Staging(script, progress, operations, watch).run(named)


def broad_ground(
    script: Script, seed: int, count: int, size_px: float, values: tuple[float, float], chroma: float,
) -> int:  # fmt: skip
    """A ground of broad soft strokes between two values; the uid of its layer."""
    rng = np.random.default_rng(seed)
    layer = script.layer(script.part("Ground", "plain"), "flat")
    broad = shipped_brush("Mop").with_changes(size_px=size_px, strength=0.55)
    width, height = script.painting.width, script.painting.height
    for number in range(count):
        x, y = rng.uniform(-200, width), rng.uniform(0, height)
        colour = srgb_from_value(rng.uniform(*values), chroma, rng.uniform(62, 110))
        way = rng.uniform(220, 560), rng.uniform(-90, 90)
        script.stroke(layer, broad, colour, [(x, y, 1.0), (x + way[0], y + way[1], 1.0)], seed=number)
    return layer
