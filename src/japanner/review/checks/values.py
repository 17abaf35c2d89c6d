"""Checks of value: how much of the scale is used, what is clipped, and what flats begin with."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner.color import lab
from japanner.review.finding import Check, Finding, Range
from japanner.review.seen import Seen

__all__ = ["CLIPPED", "FLATS", "MASSES", "RANGE"]

SPAN: Final = Range((40, 100), (28, 100))
CLIP: Final = Range((0, 1.0), (0, 3.0))
PURE: Final = Range((0, 2.0), (0, 20.0))
READ: Final = Range((55, 100), (40, 100))
LEAST_CODE, MOST_CODE = 1.5 / 255, 253.5 / 255
SQUINT_PX: Final = 30.0
ROUNDS: Final = 30


def _range(seen: Seen) -> list[Finding]:
    """P98 - P2 of L* (L1)."""
    low, high = np.percentile(seen.values, (2, 98))
    why = f"Values run from L* {low:.0f} to {high:.0f}; form and depth need more of the scale between them."
    if SPAN.word(high - low) == "good":
        why = f"Values run from L* {low:.0f} to {high:.0f}."
    return [Finding(RANGE.name, float(high - low), "L*", SPAN, why)]


def _clipped(seen: Seen) -> list[Finding]:
    """Share of pixels at either end in all channels: nothing can be lighter or darker there."""
    white = (seen.codes > MOST_CODE).all(axis=-1)
    black = (seen.codes < LEAST_CODE).all(axis=-1)
    share = 100 * float((white | black).mean())
    which = "white" if white.sum() >= black.sum() else "black"
    why = f"Most of it is {which}: no form can be seen in it, and nothing is left for the brightest and darkest places."
    if CLIP.word(share) == "good":
        why = "Pure black and white are kept for the smallest places."
    return [Finding(CLIPPED.name, share, "% of the picture", CLIP, why, where=np.asarray(white | black, np.float32))]


def _flats(seen: Seen) -> list[Finding]:
    """Share of all flats whose paint is nearly black or white."""
    total, pure, where = 0, 0, np.zeros(seen.values.shape, np.float32)
    for one in seen.parts:
        for layer in one.part.flats:
            codes = layer.pixels.read(seen.painting.rect).astype(np.float32) / 65535
            there = one.mask & (codes[3] > 0.5)
            values = lab.lightness_from_srgb(np.moveaxis(codes[:3, there] / codes[3, there], 0, -1))
            wrong = (values < 2) | (values > 97)
            total, pure = total + int(there.sum()), pure + int(wrong.sum())
            where[there] = np.maximum(where[there], wrong)
    if not total:
        return []
    share = 100 * pure / total
    why = "Flats in pure black or white leave no room below or above for shadow and light."
    if PURE.word(share) == "good":
        why = "Flats are middle values of their own colours."
    return [Finding(FLATS.name, share, "% of the flats", PURE, why, where=where)]


def _masses(seen: Seen) -> list[Finding]:
    """How much of all differences of value three masses keep when the picture is squinted at."""
    soft = seen.blurred(seen.values, SQUINT_PX)
    means = np.percentile(soft, (10, 50, 90)).astype(float)
    flat = soft.ravel()[:: max(soft.size // 40_000, 1)]
    for _ in range(ROUNDS):
        which = np.abs(flat[:, None] - means).argmin(axis=1)
        means = np.array([flat[which == k].mean() if (which == k).any() else means[k] for k in range(3)])
    means.sort()
    which = np.digitize(soft, (means[1:] + means[:-1]) / 2)
    share = 100 * float(means[which].std() / max(float(seen.values.std()), 1e-3))
    why = "Most of the light and dark is in small places: squinted at, it runs into one grey."
    if READ.word(share) == "good":
        why = f"Squinted at there are three masses, at L* {means[0]:.0f}, {means[1]:.0f} and {means[2]:.0f}."
    return [Finding(MASSES.name, share, "% stays", READ, why, where=(which / 2).astype(np.float32))]


RANGE: Final = Check(
    "value range", "Is enough of the scale from dark to light in use?", _range,
    "Burn the deepest accents and dodge the highest lights by a step", "Burn",
)  # fmt: skip
CLIPPED: Final = Check(
    "clipping", "Is anything pure black or white that should have form?", _clipped,
    "Lay a dark or a light of the part's own colour over it, at half strength", "Soft round",
)  # fmt: skip
FLATS: Final = Check(
    "flats", "Are the flats middle values, without pure black and white?", _flats,
    "Fill the flat again with the halftone of its value scale", "Stroke › Fill the silhouette",
)  # fmt: skip
MASSES: Final = Check(
    "three masses", "Do light, middle and dark read as three masses at a squint?", _masses,
    "Hold S to squint, and push the middle mass away from the one it melts into", "Mop",
)  # fmt: skip
