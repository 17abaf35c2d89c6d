"""A hand over what was worked out: strokes of three sizes along the form that take up the part's own paint."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.painting.form.own_paint import own_paint
from japanner.painting.makers.base import DEPTH, Maker, Plane, Scene, Sheet, number
from japanner.painting.makers.brushed import SMALLEST_PX, brushed

__all__ = ["FLESH_STROKES"]

SIZES: Final = 0.52**2
"""The smallest of three brushes, as a share of the largest: see `passes`."""
JUMP: Final = 14.0
"""So much L* over three pixels is an edge that strokes keep off."""
TAKEN_UP: Final = 0.10
"""A brush takes up what lies under so much of its width."""


def _jumps(form_ends: NDArray[np.int64], value: Plane, size_px: float) -> Plane:
    """Where depth or light jumps (h, w), 0..1, and a little around it."""
    soft = cv2.GaussianBlur(value, (0, 0), 0.8)
    steep = np.maximum(np.abs(cv2.Sobel(soft, cv2.CV_32F, 1, 0)), np.abs(cv2.Sobel(soft, cv2.CV_32F, 0, 1))) / 8 * 3
    hard = (steep > JUMP).astype(np.uint8)
    hard[form_ends[:, 0], form_ends[:, 1]] = 1
    # Single pixels are texture, not edges.
    hard = cv2.morphologyEx(hard, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    count, labels, found, _ = cv2.connectedComponentsWithStats(hard, connectivity=8)
    large = np.flatnonzero(found[:, cv2.CC_STAT_AREA] > max(size_px, 12))
    hard = np.isin(labels, large[large > 0]).astype(np.float32) if count > 1 else hard.astype(np.float32)
    around = max(0.12 * size_px, 1.0)
    return np.clip(cv2.GaussianBlur(hard, (0, 0), around) * (2.2 * around), 0, 1)


def _evened(colours: Plane, paint: Plane, cover: Plane, size_px: float) -> Plane:
    """Strokes' colours (3, h, w), moved so that around every place they have the mean of what is under them."""
    weight = np.maximum(cv2.GaussianBlur(cover, (0, 0), size_px), 1e-4)
    off = [cv2.GaussianBlur((one - stroke) * cover, (0, 0), size_px) / weight
           for one, stroke in zip(paint, colours, strict=True)]  # fmt: skip
    return np.clip(colours + np.stack(off), 0, 1)


def _make(scene: Scene) -> list[Sheet]:
    form, size = scene.form, float(scene["brush"])
    paint = own_paint(scene.painting, scene.part, form.area)
    value = lab.lightness_from_srgb(np.moveaxis(paint, 0, -1)).astype(np.float32)
    ends = form.ends.pixels if form.ends is not None else np.empty((0, 2), np.int64)
    free = 1 - _jumps(ends, value, size)
    taken = np.stack([cv2.GaussianBlur(one, (0, 0), max(TAKEN_UP * size * SIZES, 0.5)) for one in paint])
    soft = cv2.GaussianBlur(value, (0, 0), max(TAKEN_UP * size, 0.5))
    finish = 100 * np.log(SIZES) / np.log(SMALLEST_PX / max(size, 2 * SMALLEST_PX))
    inside = (form.cover > 0.5) & (free > 0.3)
    painted = brushed(
        taken, soft, form.normal, inside, scene.random, size_px=size, finish=float(np.clip(finish, 0, 100)),
        steps=np.empty(0, np.float32), told=scene.told,
    )  # fmt: skip
    cover = painted[0, 3] * free * form.cover
    colours = _evened(painted[0, :3] / np.maximum(painted[0, 3], 1e-4), paint, cover, size)
    return [Sheet("Flesh strokes", "detail", form.area, colours, cover, strength=scene["strength"] / 100)]


FLESH_STROKES: Final = Maker(
    "flesh strokes", ("skin", "fur", "cloth", "metal", "glass", "eye"),
    "Bristle strokes along the form over what is there, in its own colours",
    (
        number("brush", "largest brush", 34, 4, 400, "Width of the largest strokes; two sizes follow", unit=" px",
               px=True),
        number("strength", "strength", 60, 1, 100, "How far they cover; the layer's own fader goes on from there",
               unit=" %"),
        DEPTH,
    ),
    _make,
    covers=True,
)  # fmt: skip
