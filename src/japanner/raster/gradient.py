"""Gradients between two colours."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.raster import accumulate
from japanner.raster.geometry import TILE, Key
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster

__all__ = ["GRADIENTS", "gradient_tiles"]

Ends = tuple[float, float, float, float]
GRADIENTS: Final = ("linear", "round")
# Ordered noise of one 16-bit step would not be seen; a step of 8 bits is, in wide soft gradients.
NOISE: Final = 0.5 / 255


def gradient_tiles(
    base: Raster, keys: Iterable[Key], kind: str, points: tuple[float, float, float, float], start: Ends, end: Ends
) -> dict[Key, NDArray[np.uint16]]:
    """Tiles of `base` with a gradient laid over them.

    points: x, y where `start` (encoded colour and coverage) holds and x, y where `end` does; beyond either point
    the gradient goes on as it is there. "round" runs from the first point outwards. Between the two, premultiplied
    colours are mixed evenly; a fixed pattern of half an 8-bit step keeps the eye from seeing bands.
    """
    checks.one_of("kind", kind, GRADIENTS)
    x0, y0, x1, y1 = (checks.number("points", value, -1e6, 1e6) for value in points)
    length2 = (x1 - x0) ** 2 + (y1 - y0) ** 2
    if length2 < 0.25:
        raise InputError("A gradient needs a drag from one point to another")
    a, b = (np.array([*(c * e[3] for c in e[:3]), e[3]], np.float32)[:, None, None] for e in (start, end))
    tiles: dict[Key, NDArray[np.uint16]] = {}

    def work(key: Key) -> None:
        xs = np.arange(key[1] * TILE, (key[1] + 1) * TILE, dtype=np.float64) + 0.5 - x0
        ys = (np.arange(key[0] * TILE, (key[0] + 1) * TILE, dtype=np.float64) + 0.5 - y0)[:, None]
        along = (xs * (x1 - x0) + ys * (y1 - y0)) / length2
        share = along if kind == "linear" else np.hypot(xs, ys) / np.sqrt(length2)
        t = np.clip(share, 0, 1).astype(np.float32)
        paint = a + (b - a) * t
        paint[:3] = np.clip(paint[:3] + _pattern() * (paint[3] > 0), 0, paint[3])
        below = accumulate.loaded(base.tile(key))
        tiles[key] = accumulate.stored(paint + (1 - paint[3]) * below)

    each(sorted(keys), work)
    return tiles


@cache
def _pattern() -> NDArray[np.float32]:
    """Interleaved gradient noise (Jimenez 2014, from memory), centred on 0."""
    y, x = np.mgrid[:TILE, :TILE]
    noise = np.modf(52.9829189 * np.modf(0.06711056 * x + 0.00583715 * y)[0])[0] - 0.5
    return (noise * 2 * NOISE).astype(np.float32)
