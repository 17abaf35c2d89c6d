"""The painting that the promises speak of: 4000 x 2000, twenty layers, all painted on."""

from __future__ import annotations

from functools import cache

import cv2
import numpy as np

from japanner.painting.model import Layer, Painting, Part
from japanner.raster.tiles import Raster, premultiplied

__all__ = ["large_painting"]

WIDTH, HEIGHT = 4000, 2000
MODES = ("Normal", "Multiply", "Soft Light", "Screen", "Overlay")


@cache
def large_painting() -> Painting:
    """Four parts of a flat and four layers; the flats cover a fifth to all of the canvas."""
    parts, uid = [], 1
    for number in range(4):
        layers = []
        for index in range(5):
            role, place = ("flat", "body") if index == 0 else ("light", "body" if index < 4 else "over")
            layers.append(
                Layer(uid + 1 + index, f"Layer {index}", role, _paint(uid + index, number), place, MODES[index])
            )
        parts.append(Part(uid, f"Part {number}", layers=tuple(layers)))
        uid += 6
    return Painting(WIDTH, HEIGHT, title="Large", parts=tuple(parts), next_uid=uid)


def _paint(seed: int, number: int) -> Raster:
    """Soft blots of colour with a grain of painted strokes."""
    rng = np.random.default_rng(seed)
    small = rng.random((40, 80, 4), np.float32)
    blots = cv2.resize(small, (WIDTH, HEIGHT), interpolation=cv2.INTER_CUBIC)
    blots += rng.normal(0, 0.01, (HEIGHT, WIDTH, 1)).astype(np.float32)
    if number:
        ys, xs = np.mgrid[0:HEIGHT, 0:WIDTH]
        away = np.hypot(xs - 800 * number - 400, (ys - 1000) * 1.1)
        blots[..., 3] *= np.clip((900 - away) / 40, 0, 1)
    codes = (np.clip(blots, 0, 1) * 65535).astype(np.uint16).transpose(2, 0, 1)
    return Raster(WIDTH, HEIGHT).written(0, 0, premultiplied(np.ascontiguousarray(codes)))
