"""Whether the place that the picture is about has the most to look at."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner.review.finding import Check, Finding, Range
from japanner.review.seen import Seen

__all__ = ["FOCUS", "FOCUS_NAME", "focus_of"]

DRAWN: Final = Range((1.1, 99), (0.7, 99))
FOCUS_NAME: Final = "focus"
"""The landmark on the canvas that says where it is."""
REACH: Final = 0.09
"""Of the picture's longer side, around the focus."""


def focus_of(seen: Seen) -> tuple[float, float] | None:
    """Where the picture's focus is, in its own px: the landmark of that name, else the middle of the largest eyes."""
    named = seen.painting.landmarks_on().as_places().get(FOCUS_NAME)
    if named is not None:
        return named[0] / seen.step, named[1] / seen.step
    eyes = max(seen.made_of("eye"), key=lambda one: int(one.mask.sum()), default=None)
    if eyes is None:
        return None
    y, x = np.nonzero(eyes.mask)
    return float(x.mean()), float(y.mean())


def _focus(seen: Seen) -> list[Finding]:
    at = focus_of(seen)
    if at is None:
        return []
    height, width = seen.values.shape
    soft = seen.blurred(seen.values, 2.0)
    broad = seen.blurred(soft, 14.0)
    contrast = np.sqrt(np.maximum(seen.blurred((soft - broad) ** 2, 24.0), 0))
    y, x = np.mgrid[:height, :width]
    near = np.hypot(x - at[0], y - at[1]) < REACH * max(height, width)
    if not near.any() or near.all():
        return []
    rest = ~near & ~seen.ground
    if rest.sum() < 400:
        rest = ~near
    number = float(np.percentile(contrast[near], 75) / max(float(np.percentile(contrast[rest], 75)), 1e-3))
    why = f"Around the focus there is {number:.1f} times the contrast and detail of the rest of the figure."
    where = (contrast / max(float(contrast.max()), 1e-6)).astype(np.float32)
    return [Finding(FOCUS.name, number, "times the rest", DRAWN, why, where=where)]


FOCUS: Final = Check(
    "focus", "Is most to be seen where you want to be looked at?", _focus,
    "Sharpen and add contrast there, soften elsewhere", "Find an edge",
)  # fmt: skip
