"""What the demo sheets share: a painted ground, and steps that are told of."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from japanner.color.value import srgb_from_value
from japanner.scripting import Script, shipped_brush

__all__ = ["Progress", "broad_ground", "in_steps"]

Progress = Callable[[float, str], None]


def in_steps(
    script: Script, steps: Sequence[Callable[[Script], None]], progress: Progress, watch: int = 0
) -> Script:  # fmt: skip
    """Paint step by step, each told of by its name; `watch`: keep a moment of growth after every so many operations."""
    if watch:
        script.watch(watch)
    for number, step in enumerate(steps):
        progress(number / len(steps), f"Painting {step.__name__.strip('_')}")
        script.stage = step.__name__.strip("_")
        step(script)
    if watch:
        script.look()
    progress(1.0, "Done")
    return script


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
