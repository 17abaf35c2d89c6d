"""Cloth that hangs in folds: lines of it that meander, as thin sheets under pressure do, and what is seen of them.

The angle of a line of cloth goes up and down evenly along it (a sine-generated curve: Langbein & Leopold 1966 for
rivers; near Euler's elastica); past a right angle a fold runs back under itself.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.light import _kernels_drape as kernels
from japanner.raster.parallel import each

__all__ = ["Draped", "draped", "folded_rows"]

Plane = NDArray[np.float32]

COARSE: Final = 6
"""Lines are worked out for every so many rows."""
FINE: Final = 3.0
"""Places along a line to a px of its width."""
ROOM: Final = 0.22
"""Cloth goes on so far beyond both sides."""
BAND: Final = 32
BEHIND: Final = -1e9


@dataclass(frozen=True, eq=False)
class Draped:
    """What is seen of cloth over a rectangle (h, w).

    density: cloth to a unit of what is seen: 1 flat, more aslant and where it lies several times. front, back: mean
    cosine, 0..1, with which light meets the seen and the other side. height: of the cloth in front, px, 0 in the mean.
    along: place across the cloth there, 0..1. normal: (3, h, w), x right, y up, z out.
    """

    density: Plane
    front: Plane
    back: Plane
    height: Plane
    along: Plane
    normal: Plane


def folded_rows(random: np.random.Generator, shape: tuple[int, int], folds: float, deep_deg: float,
                loose: float = 0.6) -> tuple[Plane, Plane]:  # fmt: skip
    """Lines x, z (h, m), px, of cloth over a rectangle `shape`, hung along its upper edge.

    folds: how many. deep_deg: how far the cloth turns in them, 0 to 140 degrees. loose: how much they wander, 0..1.
    """
    checks.number("deep_deg", deep_deg, 0, 140)
    height, width = shape
    rows, samples = max(-(-height // COARSE), 4), int(width * FINE) + 2
    v = np.linspace(0, 1, rows)[:, None]

    def slow(across: int, down: int) -> NDArray[np.float32]:
        coarse = random.standard_normal((down, across)).astype(np.float32)
        return cv2.resize(coarse, (samples, rows), interpolation=cv2.INTER_CUBIC)

    # Wide and narrow ones by turns, which lean, wander, part and join on their way down.
    uneven = np.exp(0.45 * slow(max(int(folds * 1.5), 4), 1)[0])
    across = np.cumsum(uneven)
    across = (across - across[0]) / (across[-1] - across[0]) * (1 + 2 * ROOM) - ROOM
    drift = 0.9 * slow(max(int(folds * 0.7), 3), 4) + 0.4 * slow(max(int(folds * 1.6), 4), 9)
    phase = 2 * np.pi * (folds * across[None] + 0.30 * loose * drift * v**0.7)
    strong = np.clip(0.72 + 0.30 * slow(max(int(folds), 3), 5), 0.12, 1.15)
    # At the top it is gathered; below, folds open as they fall.
    rise = 0.55 + 0.45 * np.sqrt(v)
    angle = np.radians(deep_deg) * strong * rise * np.cos(phase)
    angle += np.radians(deep_deg) * 0.18 * np.cos(2.6 * phase + 1.7) * strong
    x, z = np.cumsum(np.cos(angle), axis=1), np.cumsum(np.sin(angle), axis=1)
    middle = samples // 2
    x -= x[:, middle : middle + 1]
    # What it has drifted back and forth overall is no fold.
    z -= _swept(z.astype(np.float32), samples / max(folds, 1.0) * 0.8)
    span = np.maximum(x[:, -1:] - x[:, :1], 1.0) / (1 + 2 * ROOM)
    x, z = width * (0.5 + x / span), width * z / span
    crumpled = slow(max(width // 40, 6), max(height // 60, 6)) + 0.5 * slow(max(width // 16, 8), max(height // 30, 8))
    z = z + 0.0011 * max(shape) * loose * crumpled
    size = (samples, height)
    x, z = (cv2.resize(one.astype(np.float32), size, interpolation=cv2.INTER_LINEAR) for one in (x, z))
    return x, z


def _swept(lines: Plane, sigma: float) -> Plane:
    """Lines blurred along themselves, on a share of their places."""
    step = max(int(sigma / 4), 1)
    few = max(lines.shape[1] // step, 4), lines.shape[0]
    small = cv2.resize(lines, few, interpolation=cv2.INTER_AREA)
    small = cv2.GaussianBlur(small, (0, 0), sigmaX=max(sigma / step, 0.1), sigmaY=0.01)
    broad: Plane = cv2.resize(small, lines.shape[::-1], interpolation=cv2.INTER_LINEAR)
    return broad


def draped(x: Plane, z: Plane, width: int, light: ArrayLike) -> Draped:
    """What is seen of lines of cloth x, z (h, m) over `width` px, under a light from a direction (3,)."""
    height = x.shape[0]
    out = np.zeros((8, height, width), np.float32)
    out[kernels.HEIGHT] = BEHIND
    numbers = [np.float32(one) for one in np.asarray(light, float)]
    lines = np.ascontiguousarray(x), np.ascontiguousarray(z)

    def band(top: int) -> None:
        kernels.drape(*lines, *numbers, out, top, min(top + BAND, height))

    each(range(0, height, BAND), band)
    bare = out[kernels.HEIGHT] <= BEHIND / 2
    cloth = np.maximum(out[kernels.DENSITY], 1e-6)
    heights = out[kernels.HEIGHT]
    heights[bare] = 0
    normal = out[kernels.NX : kernels.NZ + 1]
    normal[2][bare] = 1
    return Draped(out[kernels.DENSITY], out[kernels.FRONT] / cloth, out[kernels.BACK] / cloth,
                  heights - np.float32(heights.mean()), out[kernels.ALONG], normal)  # fmt: skip
