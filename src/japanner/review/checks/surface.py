"""Checks of surfaces: blended to nothing, texture that was there before, stripes, flats left bare."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np

from japanner.review.finding import Check, Finding, Range
from japanner.review.seen import Mask, Plane, Seen

__all__ = ["BARE", "BLENDED", "FAINT", "STRIPES", "TEXTURE", "fine_detail"]

TEXTURED: Final = ("skin", "hair", "fur", "cloth")
SMOOTH: Final = Range((0, 35), (0, 60))
KEPT: Final = Range((0, 25), (0, 50))
LINES: Final = Range((0, 6.0), (0, 12.0))
EMPTY: Final = Range((0, 40), (0, 70))
FINE_PX, BROAD_PX = 1.0, 3.2
FAINT: Final = 0.28
"""Deviation of L* below which there is no texture to be seen."""
BLOCK: Final = 96


def fine_detail(seen: Seen, values: Plane) -> Plane:
    """How much fine detail there is around every pixel: deviation of L* between two scales (h, w)."""
    band = seen.blurred(values, FINE_PX) - seen.blurred(values, BROAD_PX)
    found: Plane = np.sqrt(np.maximum(seen.blurred(band * band, 3 * BROAD_PX), 0))
    return found


def _inner(mask: Mask, px: float) -> Mask:
    """A mask without its border, where edges would count as texture."""
    size = 2 * max(round(px), 1) + 1
    result: Mask = cv2.erode(mask.astype(np.uint8), np.ones((size, size), np.uint8), borderValue=1) > 0
    return result


def _blended(seen: Seen) -> list[Finding]:
    """Share of skin, hair, fur and cloth that has no texture left, nor an edge."""
    fine, total, smooth = fine_detail(seen, seen.values), 0, 0
    where = np.zeros(fine.shape, np.float32)
    for one in seen.made_of(*TEXTURED):
        inside = _inner(one.mask, 10 * seen.px)
        # In the deepest dark nobody sees any; what nobody has painted yet is asked for elsewhere.
        inside &= (seen.values > 6) & ~seen.bare
        without = inside & (fine < FAINT)
        total, smooth = total + int(inside.sum()), smooth + int(without.sum())
        where[without] = 1
    if total < 400:
        return []
    share = 100 * smooth / total
    why = f"{share:.0f} % of skin, hair, fur and cloth is blended until nothing of its texture is left."
    if SMOOTH.word(share) == "good":
        why = "Skin, hair, fur and cloth have texture."
    return [Finding(BLENDED.name, share, "% without texture", SMOOTH, why, where=where)]


def _texture(seen: Seen) -> list[Finding]:
    """Share of the picture whose fine detail has fallen to less than half since a kept moment."""
    if seen.before is None:
        return []
    former = fine_detail(seen, seen.with_codes(seen.before).values)
    now, had = fine_detail(seen, seen.values), former > 2 * FAINT
    lost = had & (now < 0.5 * former)
    if had.sum() < 400:
        return []
    share = 100 * float(lost.sum() / had.sum())
    why = f"On {share:.0f} % of what had texture at the moment that you kept, half of it or more is gone."
    return [Finding(TEXTURE.name, share, "% lost", KEPT, why, where=lost.astype(np.float32))]


def _stripes(seen: Seen) -> list[Finding]:
    """How far one frequency stands out of its neighbours anywhere: stripes where passes overlap are one line in the
    spectrum, hair and weave are a cloud.
    """
    band = seen.values - seen.blurred(seen.values, 30.0)
    height, width = band.shape
    window = np.outer(np.hanning(BLOCK), np.hanning(BLOCK)).astype(np.float32)
    where, strongest, most = np.zeros(band.shape, np.float32), list[float](), 0.0
    radius = np.hypot(*np.meshgrid(np.fft.fftfreq(BLOCK), np.fft.rfftfreq(BLOCK), indexing="ij"))
    searched = (radius > 3.5 / BLOCK) & (radius < 0.25)
    for y in range(0, height - BLOCK + 1, BLOCK // 2):
        for x in range(0, width - BLOCK + 1, BLOCK // 2):
            piece = band[y : y + BLOCK, x : x + BLOCK]
            if float(piece.std()) < 0.4:
                continue
            power = np.abs(np.fft.rfft2(piece * window)) ** 2
            smooth = cv2.GaussianBlur(power.astype(np.float32), (0, 0), 1.0)
            # Against what lies around it, at some distance.
            around = cv2.blur(power.astype(np.float32), (13, 13))
            lines = np.where(searched, smooth / np.maximum(around, 1e-9), 0)
            share = float(
                power[searched & (smooth >= 0.3 * smooth[searched].max())].sum() / max(power[radius > 0].sum(), 1e-9)
            )
            number = float(lines.max()) * share
            strongest.append(number)
            if number > LINES.good[1]:
                where[y : y + BLOCK, x : x + BLOCK] = 1
            most = max(most, number)
    if not strongest:
        return []
    why = "Even bands run side by side, as where strokes of one width overlap."
    number = float(np.percentile(strongest, 99))
    if LINES.word(number) == "good":
        why = "Nothing repeats itself as passes that overlap do."
    return [Finding(STRIPES.name, number, "times the rest", LINES, why, where=where)]


def _bare(seen: Seen) -> list[Finding]:
    """The part of which most is still its flat as it was filled."""
    found = []
    for one in seen.parts:
        if one.part.material in ("plain", "drawing") or one.mask.sum() < 300:
            continue
        inside = _inner(one.mask, 14 * seen.px)
        if inside.sum() < 100:
            continue
        untouched = inside & seen.bare
        share = 100 * float(untouched.sum() / inside.sum())
        why = f"{one.part.name}: {share:.0f} % is one even colour, as it was filled."
        if EMPTY.word(share) == "good":
            why = "Every part has more than its flat."
        found.append(Finding(BARE.name, share, "% bare", EMPTY, why, one.part.uid, one.part.name,
                             untouched.astype(np.float32)))  # fmt: skip
    worst = max(found, key=lambda one: one.number, default=None)
    return [] if worst is None else [one for one in found if one.word != "good"] or [worst]


BLENDED: Final = Check(
    "blending", "Is texture left, or is everything blended away?", _blended,
    "Lay broken paint over it along the form", "Skin stipple",
)  # fmt: skip
TEXTURE: Final = Check(
    "texture kept", "Is the texture of the kept moment still there?", _texture,
    "Bring it back from that moment, or go on with a smudge that keeps the grain", "Grain smudge",
)  # fmt: skip
STRIPES: Final = Check(
    "stripes", "Do passes show as bands side by side?", _stripes,
    "Go across them once with a broad soft brush", "Feather",
)  # fmt: skip
BARE: Final = Check(
    "unfinished flats", "Has every part more than its flat?", _bare,
    "Lay its shadow and its light", "Part › Make › Lay-in",
)  # fmt: skip
