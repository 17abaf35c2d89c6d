"""Checks against the painting's light: where forms are lit from, and cast shadows."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.painting.form.forms import Form
from japanner.review.angles import apart_deg, azimuth_deg
from japanner.review.finding import Check, Finding, Range
from japanner.review.seen import Plane, Seen, SeenPart

__all__ = ["CAST", "LIGHT", "gradient_azimuth", "lit_from"]

OFF: Final = Range((0, 85), (0, 110))
DARKER: Final = Range((2.0, 100), (-1.0, 100))
SHADED: Final = ("skin", "hair", "fur", "cloth")
CLEAR: Final = ("thin cloth", "glass")
EXPLAINED: Final = 0.16
FRONTAL: Final = 0.92
LARGE: Final = 0.006
"""Share of the picture from which a part is worth asking where it is lit from."""


def lit_from(normal: Plane, luminance: NDArray[np.floating], chosen: NDArray[np.bool_]) -> tuple[float, float, float]:
    """Azimuth in degrees, counterclockwise from the right, and height above the picture's plane of the light that best
    explains luminance (h, w) on normals (3, h, w), by least squares, and the share of it explained, 0..1 (L10).
    """
    n, found = normal[:, chosen].T.astype(float), luminance[chosen].astype(float)
    rows: NDArray[np.float64] = np.column_stack((n, np.ones(len(n))))
    answer, *_ = np.linalg.lstsq(rows, found, rcond=None)
    residual = found - rows @ answer
    explained = 1 - float(residual.var() / max(found.var(), 1e-12))
    azimuth = azimuth_deg(answer)
    return azimuth, float(np.degrees(np.arctan2(answer[2], np.hypot(answer[0], answer[1])))), explained


def gradient_azimuth(luminance: NDArray[np.floating], chosen: NDArray[np.bool_], sigma: float = 2.0) -> float:
    """Azimuth in degrees of the light by the summed gradient of luminance (h, w), smoothed, within a mask (L11:
    Pentland 1982, J. Opt. Soc. Am. 72(4), 448): cruder, but it needs no form.
    """
    weight = chosen.astype(np.float32)
    soft, total = (cv2.GaussianBlur(one, (0, 0), sigma) for one in (np.float32(luminance) * weight, weight))
    even = soft / np.maximum(total, 1e-4)
    inner = cv2.erode(chosen.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    across, down = (cv2.Sobel(even, cv2.CV_32F, *way, ksize=3)[inner].sum(dtype=float) for way in ((1, 0), (0, 1)))
    return azimuth_deg((across, -down))


def _light(seen: Seen) -> list[Finding]:
    key = np.asarray(seen.painting.light.direction)
    if key[2] > FRONTAL:
        return []  # nobody could say which side it comes from
    wanted, found = azimuth_deg(key), []
    for one in seen.made_of(*SHADED):
        if one.mask.mean() < LARGE or any(layer.made and layer.made.maker in CLEAR for layer in one.part.layers):
            continue
        form = seen.form(one)
        if form is None:
            continue
        rows, columns = seen.planes_of(form)
        size = float(np.sqrt(one.mask.sum()))
        even = _even(seen, one, 0.02 * size)[rows, columns]
        # What another form keeps the light from says nothing about where it comes from.
        facing = np.einsum("i,ihw->hw", key.astype(np.float32), form.normal)
        inside = one.mask[rows, columns] & (form.normal[2] > 0.1) & ((form.lit > 0.6) | (facing < 0.05))
        inside &= ~seen.bare[rows, columns]
        if inside.sum() < 500:
            continue
        azimuth, _, explained = lit_from(form.normal, np.sqrt(np.maximum(even, 0)), inside)
        if explained < EXPLAINED:
            continue
        off = apart_deg(azimuth, wanted)
        if not form.modelled:  # normals of a silhouette that was blown up are a guess: a second opinion without them
            off = min(off, apart_deg(gradient_azimuth(even, inside), wanted))
        why = f"{one.part.name} is lit as if the key stood {off:.0f} degrees round from where it does."
        found.append(
            Finding(LIGHT.name, off, "degrees off", OFF, why, one.part.uid, one.part.name, one.mask * np.float32(1))
        )
    return sorted(found, key=lambda one: -one.number)[:3]


def _even(seen: Seen, one: SeenPart, sigma: float) -> Plane:
    """Luminance blurred within a part."""
    weight = one.mask.astype(np.float32)
    soft, total = (cv2.GaussianBlur(p, (0, 0), max(sigma, 1.0)) for p in (seen.luminance * weight, weight))
    result: Plane = soft / np.maximum(total, 1e-4)
    return result


def _cast(seen: Seen) -> list[Finding]:
    """How much darker forms are where another form stands in the light than where it falls on them as directly."""
    found = []
    for one in seen.parts:
        if one.part.material in ("glass", "metal", "eye") or one.mask.mean() < LARGE:
            continue
        form = seen.form(one)
        if form is None or not form.modelled:
            continue
        found += _cast_on(seen, one, form)
    return sorted(found, key=lambda one: one.number)[:3]


def _cast_on(seen: Seen, one: SeenPart, form: Form) -> list[Finding]:
    rows, columns = seen.planes_of(form)
    facing = np.einsum("i,ihw->hw", np.asarray(seen.painting.light.direction, np.float32), form.normal)
    inside, values = one.mask[rows, columns], seen.values[rows, columns]
    turned = inside & (facing > 0.25) & ~seen.bare[rows, columns]
    shadowed, lit = turned & (form.lit < 0.25), turned & (form.lit > 0.8)
    if shadowed.sum() < 250 or lit.sum() < 250:
        return []
    darker = []
    for low, high in ((0.25, 0.45), (0.45, 0.65), (0.65, 1.01)):
        pair = [values[which & (facing >= low) & (facing < high)] for which in (lit, shadowed)]
        if min(len(pair[0]), len(pair[1])) >= 60:
            darker.append((float(np.median(pair[0]) - np.median(pair[1])), len(pair[1])))
    if not darker:
        return []
    number = sum(value * count for value, count in darker) / sum(count for _, count in darker)
    where = np.zeros(one.mask.shape, np.float32)
    where[rows, columns][shadowed] = 1
    why = f"{one.part.name}: what another form keeps the key from is only {number:.0f} L* darker than what it falls on."
    if DARKER.word(number) == "good":
        why = f"{one.part.name}: cast shadows are {number:.0f} L* darker than what the key falls on."
    return [Finding(CAST.name, number, "L* darker", DARKER, why, one.part.uid, one.part.name, where)]


LIGHT: Final = Check(
    "light", "Do all forms take the light from where it comes?", _light,
    "Look against the light (Look menu), and dodge and burn towards it", "Look › Against the light",
    shaped=True,
)  # fmt: skip
CAST: Final = Check(
    "cast shadows", "Is it darker where one form stands in another's light?", _cast,
    "Glaze the shadow in, hard near what casts it", "Depth glaze", shaped=True,
)  # fmt: skip
