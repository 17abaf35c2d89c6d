"""Small rasters and brushes that tests paint with, and ways to compare."""

from __future__ import annotations

import numpy as np

from japanner.painting.model import Painting
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush

HARD = Brush("Hard", tip="round", edge=0.0, size_px=60, spacing=0.05)


def rgba(raster: Raster, x: int, y: int) -> np.ndarray:
    """One pixel, premultiplied 0..1."""
    return raster.read(Rect(x, y, x + 1, y + 1))[:, 0, 0] / 65535


def solid(width: int, height: int, colour: tuple[float, float, float], alpha: float = 1.0) -> Raster:
    """A raster of one colour."""
    codes = np.rint(np.array((*(c * alpha for c in colour), alpha)) * 65535).astype(np.uint16)
    return Raster(width, height).written(0, 0, np.broadcast_to(codes[:, None, None], (4, height, width)).copy())


def same_pixels(one: Raster, other: Raster) -> bool:
    """Equal to the last bit, whichever way the tiles are stored."""
    return one.rect == other.rect and np.array_equal(one.read(one.rect), other.read(other.rect))


def same_painting(one: Painting, other: Painting) -> bool:
    """Equal in every setting and every bit of paint."""

    def settings(painting: Painting) -> list[object]:
        parts = [(p.uid, p.name, p.material, p.strength, p.shown, p.scale) for p in painting.parts]
        layers = [
            (part.uid, la.uid, la.name, la.role, la.place, la.mode, la.strength, la.shown)
            for part, la in painting.layers()
        ]
        whole = (painting.rect, painting.ppi, painting.title, painting.ground, painting.light, painting.next_uid)
        return [whole, parts, layers]

    pairs = zip(one.layers(), other.layers(), strict=False)
    return settings(one) == settings(other) and all(same_pixels(a.pixels, b.pixels) for (_, a), (_, b) in pairs)
