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
        parts = [(p.uid, p.name, p.material, p.strength, p.shown, p.scale, p.guide, p.mixed) for p in painting.parts]
        layers = [
            (part.uid, la.uid, la.name, la.role, la.place, la.mode, la.strength, la.shown, la.hold_edges)
            + ((la.mask.ground,) if la.mask else ())
            + ((la.relief.amount, la.relief.gloss) if la.relief else ())
            + (la.made,)
            for part, la in painting.layers()
        ]
        whole = (painting.rect, painting.ppi, painting.title, painting.ground, painting.light, painting.next_uid)
        curve = painting.frisket.curve if painting.frisket else None
        return [whole, painting.board, curve, painting.maquette, parts, layers]

    if settings(one) != settings(other):
        return False
    mine, theirs = dict(one.settled().rasters()), dict(other.settled().rasters())
    return mine.keys() == theirs.keys() and all(same_pixels(mine[name], theirs[name]) for name in mine)


def analytic(width: int, height: int) -> Raster:
    """Smooth waves of colour on a soft disc: something to turn and to blur that is known everywhere."""
    y, x = np.mgrid[:height, :width] + 0.5
    far = np.hypot(x - width / 2, y - height / 2)
    alpha = np.clip((min(width, height) * 0.42 - far) / 8, 0, 1)
    waves = (0.5 + 0.3 * np.sin(x / 9) * np.cos(y / 13), 0.5 + 0.4 * np.sin((x + y) / 17), 0.5 + 0.3 * np.cos(far / 11))
    codes = np.rint(np.stack((*(wave * alpha for wave in waves), alpha)) * 65535)
    return Raster(width, height).written(0, 0, codes.astype(np.uint16))


def psnr(one: np.ndarray, other: np.ndarray) -> float:
    """Peak signal-to-noise ratio in dB of two uint16 pictures."""
    error = float(((one.astype(np.float64) - other.astype(np.float64)) ** 2).mean())
    return np.inf if error == 0 else 10 * np.log10(65535**2 / error)
