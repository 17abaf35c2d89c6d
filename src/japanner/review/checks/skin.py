"""Skin: whether its shadows keep their colour, and how many undertones there are."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner.review.finding import Check, Finding, Range
from japanner.review.seen import Seen

__all__ = ["SKIN", "ashy_index"]

LIVELY: Final = Range((0.74, 9.0), (0.62, 9.0))
FEWEST: Final = 400
COLOURLESS: Final = 3.0


def ashy_index(lab: np.ndarray[tuple[int, ...], np.dtype[np.floating]]) -> float:
    """Chroma of the shadows against that of the halftones, each as a share of their lightness (L6): 1 where shadows are
    the same colour with less light, below .75 ashy. lab (n, 3) of skin.
    """
    values = lab[:, 0]
    dark, low, high = np.percentile(values, (25, 40, 60))
    chroma = np.hypot(lab[:, 1], lab[:, 2])
    shadow, middle = values < dark, (values >= low) & (values <= high)
    if not shadow.any() or not middle.any():
        return 1.0
    colour = float(np.median(chroma[shadow]) / max(np.median(chroma[middle]), 1e-3))
    light = float((np.median(values[shadow]) + 16) / (np.median(values[middle]) + 16))
    return colour / light


def _skin(seen: Seen) -> list[Finding]:
    found = []
    for one in seen.made_of("skin"):
        if one.mask.sum() < FEWEST * seen.px:
            continue
        index = ashy_index(seen.lab[one.mask])
        chroma = np.hypot(seen.lab[..., 1], seen.lab[..., 2])
        middle = float(np.median(chroma[one.mask]))
        if middle < COLOURLESS:
            continue
        dark = seen.values < np.percentile(seen.values[one.mask], 25)
        why = f"{one.part.name}: shadows have {100 * index:.0f} % of the colour that skin keeps with less light on it."
        where = (one.mask & dark).astype(np.float32)
        found.append(Finding(SKIN.name, index, "of 1", LIVELY, why, one.part.uid, one.part.name, where))
    return sorted(found, key=lambda one: one.number)[:3]


SKIN: Final = Check(
    "skin shadows", "Is there blood in the shadows of skin, or are they grey?", _skin,
    "Glaze red-brown over the shadow", "Blood glaze",
)  # fmt: skip
