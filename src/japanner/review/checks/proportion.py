"""Landmarks of the painting against those of a reference."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner.errors import InputError
from japanner.review.finding import Check, Finding, Range
from japanner.review.proportion import proportion
from japanner.review.seen import Seen

__all__ = ["PROPORTION"]

TRUE: Final = Range((0, 2.0), (0, 4.0))


def _proportion(seen: Seen) -> list[Finding]:
    """Root mean square of what is left when the reference is laid on the painting, in per cent of the head (K2)."""
    own = seen.painting.landmarks_on().as_places()
    found = []
    for pinned in seen.painting.landmarks:
        if not pinned.picture:
            continue
        try:
            compared = proportion(pinned.as_places(), own)
        except InputError:
            continue
        where = np.zeros(seen.values.shape, np.float32)
        y, x = np.indices(where.shape)
        for one in compared.misfits[:5]:
            at = own[one.name]
            reach = max(0.05 * compared.head / seen.step, 2.0)
            near = np.hypot(x - at[0] / seen.step, y - at[1] / seen.step) < reach
            where[near] = np.maximum(where[near], min(one.size / 5, 1.0))
        worst = compared.misfits[0].words
        why = f"Against {pinned.picture}: {worst}, of the head's height."
        found.append(Finding(PROPORTION.name, compared.rms, "% of the head", TRUE, why, where=where))
    return sorted(found, key=lambda one: -one.number)


PROPORTION: Final = Check(
    "proportion", "Do landmarks stand to each other as on the reference?", _proportion,
    "Move to fit, or nudge the worst by hand", "Review › Proportion",
)  # fmt: skip
