"""Skin's fine relief: pores by zone, the lines of lids and lips, creases of the neck."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Final, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.painting.makers.base import Plane, Scene, fractal
from japanner.painting.makers.flesh.zones import Zones
from japanner.raster.parallel import together

Places = NDArray[np.float64]
Part = tuple[tuple[slice, slice], Plane]
"""Heights of a part of the area, and which."""
ALL: Final = (slice(None), slice(None))
__all__ = ["PORES", "pits", "relief"]


class Pore(NamedTuple):
    """How pores of a zone are: apart, as a share of the setting; how deep; how much longer than wide; which way, in
    degrees from the right; and over how much of the head's height their zone ends.
    """

    apart: float
    depth: float
    stretch: float = 1.0
    way_deg: float = 0.0


REST: Final = Pore(0.9, 0.5)
PORES: Final = {
    "nose tip": Pore(1.5, 1.0), "nose wings": Pore(1.5, 1.0), "nose bridge": Pore(1.5, 0.7),
    "cheeks": Pore(1.0, 0.8, 1.35, 70.0), "chin": Pore(1.0, 0.85), "forehead": Pore(0.8, 0.5, 1.3, 0.0),
    "lids": Pore(0.9, 0.0), "lips": Pore(0.9, 0.0), "neck": Pore(0.9, 0.3), "scalp": Pore(0.8, 0.35),
}  # fmt: skip
"""By zone; common practice: largest at the nose, none on lids and lips, which have lines."""
WAVES: Final = 7
BENT: Final = 0.42
"""How far waves shear rows of pores, together."""
FINEST_PX: Final = 2.0
UNSEEN: Final = 0.08
"""How uneven pores are, as a deviation, that are nearer to each other than this."""
ASIDE: Final = 0.22
"""So far from the middle of its square a pore is at most, in its sides."""
SIZES: Final = ((0.15, 0.35), (0.21, 0.45), (0.28, 0.2))
"""Radii of pores, as shares of how far they are apart, and how many are so."""


def pits(random: np.random.Generator, shape: tuple[int, int], apart: float, stretch: float = 1.0,
         way_deg: float = 0.0) -> Plane:  # fmt: skip
    """Pores (h, w), around 0 and down to about -1: pits of several sizes and depths, one to a square of side `apart` px
    but for some, each at a place of its own in it.
    """
    if apart < FINEST_PX:
        # Nobody sees one of them.
        return fractal(random, shape, apart, 1) * np.float32(UNSEEN)
    rows, columns = (int(np.ceil(side / apart)) + 1 for side in shape)
    count = rows * columns
    y = (np.repeat(np.arange(rows), columns) + 0.5 + random.uniform(-ASIDE, ASIDE, count)) * apart
    x = (np.tile(np.arange(columns), rows) + 0.5 * (np.repeat(np.arange(rows), columns) % 2) + 0.25
         + random.uniform(-ASIDE, ASIDE, count)) * apart  # fmt: skip
    # No rows are to be seen: the whole is turned and bent, as far as pores stay as far apart.
    x, y = _bent(random, x, y, apart)
    depth = random.uniform(0.4, 1.0, count) * (random.random(count) > 0.06)
    kind = random.choice(len(SIZES), count, p=[share for _, share in SIZES])
    out = np.zeros(shape, np.float32)
    for index, (size, _) in enumerate(SIZES):
        own = kind == index
        dots = _splat(shape, x[own], y[own], depth[own])
        sigma = max(size * apart, 0.45)
        out -= _blurred(dots, sigma, stretch, way_deg) * np.float32(2 * np.pi * sigma * sigma * stretch)
    # Where pores are deep or many by chance, skin does not lie lower.
    return out - cv2.GaussianBlur(out, (0, 0), 0.33 * apart)


def _bent(random: np.random.Generator, x: Places, y: Places, apart: float) -> tuple[Places, Places]:
    """Places moved by slow waves in many directions, by a few pores' distances."""
    moved_x, moved_y = x.copy(), y.copy()
    for _ in range(WAVES):
        way, phase = random.uniform(0, 2 * np.pi, 2)
        long = apart * random.uniform(6, 16)
        wave = np.sin((x * np.cos(way) + y * np.sin(way)) * 2 * np.pi / long + phase)
        far = BENT * long / (2 * np.pi) / np.sqrt(WAVES)
        # Across the way that the wave goes, so that it shears and never crowds.
        moved_x -= far * np.sin(way) * wave
        moved_y += far * np.cos(way) * wave
    return moved_x, moved_y


def _splat(shape: tuple[int, int], x: Places, y: Places, weight: Places) -> Plane:
    """Dots shared out over the four pixels around each place."""
    height, width = shape
    out = np.zeros((height + 2) * (width + 2), np.float32)
    left, top = np.floor(x - 0.5).astype(np.int64), np.floor(y - 0.5).astype(np.int64)
    fx, fy = x - 0.5 - left, y - 0.5 - top
    for dy, dx, share in ((0, 0, (1 - fx) * (1 - fy)), (0, 1, fx * (1 - fy)), (1, 0, (1 - fx) * fy), (1, 1, fx * fy)):
        row, column = top + dy + 1, left + dx + 1
        inside = (row >= 0) & (row < height + 2) & (column >= 0) & (column < width + 2)
        np.add.at(out, row[inside] * (width + 2) + column[inside], (weight * share)[inside].astype(np.float32))
    return out.reshape(height + 2, width + 2)[1:-1, 1:-1]


def _blurred(dots: Plane, sigma: float, stretch: float, way_deg: float) -> Plane:
    if stretch == 1.0:
        return cv2.GaussianBlur(dots, (0, 0), sigma)
    reach = int(np.ceil(3 * sigma * stretch))
    ys, xs = np.mgrid[-reach : reach + 1, -reach : reach + 1].astype(np.float32)
    way = np.radians(way_deg)
    along, aside = xs * np.cos(way) - ys * np.sin(way), xs * np.sin(way) + ys * np.cos(way)
    kernel = np.exp(-((along / (sigma * stretch)) ** 2 + (aside / sigma) ** 2) / 2)
    return cv2.filter2D(dots, -1, kernel / kernel.sum(), borderType=cv2.BORDER_REFLECT)


def relief(scene: Scene, zones: Zones) -> Plane:
    """Height (h, w) in shares of a pore's depth: pores, fine lines between them, lids, lips and neck with theirs."""
    kinds = sorted(one for one in {REST, *PORES.values()} if one.depth > 0) if zones.any else [REST]
    works: list[Callable[[], Part | None]] = [partial(_of_kind, scene, zones, pore) for pore in kinds]
    works += [lambda: _lines(scene, zones) if zones.any else None, lambda: _grain(scene)]
    found = together(works)
    out = np.zeros(scene.form.cover.shape, np.float32)
    for one in found:
        if one is not None:
            part, height = one
            out[part] += height
    return out


def _of_kind(scene: Scene, zones: Zones, pore: Pore) -> Part | None:
    """The pores of one kind where it is."""
    shape, apart = scene.form.cover.shape, float(scene["pores"]) * pore.apart
    weight = np.ones(shape, np.float32)
    if zones.any:
        weight = zones.field({name: float(one == pore) for name, one in PORES.items()}, float(pore == REST), 0.012)
    part, size = _where(weight)
    if not min(size):
        return None
    random = scene.chance(f"pores {pore}")
    uneven = 1 + 0.35 * np.tanh(fractal(random, size, 9 * apart, 2))
    height = weight[part] * np.float32(pore.depth) * uneven * pits(random, size, apart, *pore[2:])
    return part, height.astype(np.float32)


def _where(weight: Plane) -> tuple[tuple[slice, slice], tuple[int, int]]:
    """The rows and columns where there is any of it, and how many these are."""
    rows, columns = (np.flatnonzero(weight.max(axis=axis) > 0.02) for axis in (1, 0))
    if not len(rows):
        return (slice(0), slice(0)), (0, 0)
    part = slice(rows[0], rows[-1] + 1), slice(columns[0], columns[-1] + 1)
    return part, (int(rows[-1] - rows[0]) + 1, int(columns[-1] - columns[0]) + 1)


def _grain(scene: Scene) -> Part:
    """Between pores the skin is not level: a soft grain finer than they are."""
    apart = float(scene["pores"])
    grain = fractal(scene.chance("grain"), scene.form.cover.shape, 0.5 * apart, 2)
    return ALL, 0.06 * (grain - cv2.GaussianBlur(grain, (0, 0), 0.33 * apart))


def _lines(scene: Scene, zones: Zones) -> Part:
    """What lids, lips and neck have instead of pores."""
    shape, high = scene.form.cover.shape, zones.head_px
    out = np.zeros(shape, np.float32)
    for name, across, along, deep, heads in (
        ("lips", 0.0050, 0.045, 0.85, 0.002), ("lids", 0.040, 0.0042, 0.4, 0.004), ("neck", 0.30, 0.020, 0.6, 0.03),
    ):  # fmt: skip
        share = zones.soft(name, heads)
        part, size = _where(share)
        if not min(size):
            continue
        cell = max(across, along) * high
        noise = fractal(scene.chance(f"lines of the {name}"), size, cell, 3, 0.6,
                        (across * high / cell, along * high / cell))  # fmt: skip
        # Folds: narrow and deep, with broad ridges between.
        out[part] += share[part] * deep * (0.35 - np.exp(-np.abs(noise) * 1.8))
    return ALL, out
