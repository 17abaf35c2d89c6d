"""Skin: whether its shadows keep their colour, and how far its undertones are spread."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner.review.finding import GOOD, Check, Finding, Range
from japanner.review.seen import Seen

__all__ = ["SKIN", "UNDERTONES", "ashy_index", "hue_spread"]

LIVELY: Final = Range((0.74, 9.0), (0.62, 9.0))
FEWEST: Final = 400
SPREAD: Final = Range((2.2, 32), (1.2, 48))
PALE: Final = 6.0
"""Of a skin with less chroma than this, undertones say little."""
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


def hue_spread(lab: np.ndarray[tuple[int, ...], np.dtype[np.floating]]) -> tuple[float, float, float]:
    """Mean hue in degrees, concentration R (0..1) and circular standard deviation in degrees of Lab colours (n, 3),
    weighted by chroma, without what has hardly any (L5: Mardia & Jupp 2000, Directional Statistics, 2.3).
    """
    chroma = np.hypot(lab[:, 1], lab[:, 2])
    coloured = chroma >= COLOURLESS
    if not coloured.any():
        return 0.0, 1.0, 0.0
    towards = lab[coloured, 1] + 1j * lab[coloured, 2]
    mean = complex(towards.sum() / chroma[coloured].sum())
    length = min(abs(mean), 1.0)
    return float(np.degrees(np.angle(mean))), length, float(np.degrees(np.sqrt(-2 * np.log(max(length, 1e-12)))))


def _undertones(seen: Seen) -> list[Finding]:
    """How far the hues of each skin are spread: one hue all over is paint, not blood, bone and sky."""
    found = []
    for one in seen.made_of("skin"):
        mask = one.mask & ~seen.bare
        if mask.sum() < FEWEST * seen.px or np.median(np.hypot(*seen.lab[mask, 1:].T)) < PALE:
            continue
        mean, _, spread = hue_spread(seen.lab[mask])
        why = f"{one.part.name}: hues lie {spread:.1f} degrees about {mean:.0f} in the mean (circular deviation)."
        where = mask.astype(np.float32)
        found.append(
            Finding(UNDERTONES.name, spread, "degrees of hue", SPREAD, why, one.part.uid, one.part.name, where)
        )
    return sorted(found, key=lambda one: (one.word == GOOD, one.number))[:3]


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
UNDERTONES: Final = Check(
    "undertones", "Are there several undertones in skin, or is it of one hue all over?", _undertones,
    "Glaze red where blood is near, yellow over bone, blue or green where it is thin", "Blood glaze",
)  # fmt: skip
