"""Textures made from nothing: a stand-in for the photographs of surfaces that a painter would collect.

Each is a square that joins itself on all sides, made from a seed. What they are built from is common practice: noise
of a chosen spectrum, cells around scattered points (Worley 1996, from memory), and crossed threads.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import Final

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from japanner import checks

__all__ = ["SIDE", "TEXTURES", "swatch", "texture"]

Grey = NDArray[np.float32]
Random = np.random.Generator

SIDE: Final = 512


def texture(kind: str, width: int, height: int, scale: float = 1.0, contrast: float = 1.0, seed: int = 1) -> Grey:
    """Grey 0..1, float32 (height, width), around a middle of 0.5; `scale` 0.1..20 enlarges its features."""
    checks.number("scale", scale, 0.1, 20)
    checks.number("contrast", contrast, 0, 4)
    tile = swatch(kind, seed)
    side = max(round(SIDE * scale), 8)
    if side != SIDE:
        padded = np.pad(tile, 8, mode="wrap")
        grown = round((SIDE + 16) * side / SIDE)
        how = cv2.INTER_CUBIC if side > SIDE else cv2.INTER_AREA
        margin = round(8 * side / SIDE)
        tile = cv2.resize(padded, (grown, grown), interpolation=how)[margin : margin + side, margin : margin + side]
    across, down = -(-width // side), -(-height // side)
    whole = np.tile(tile, (down, across))[:height, :width]
    return np.clip(0.5 + (whole - 0.5) * np.float32(contrast), 0, 1)


@lru_cache(maxsize=8)
def swatch(kind: str, seed: int = 1) -> Grey:
    """One square of a texture, float32 (512, 512) in 0..1 with mean 0.5; opposite sides fit each other."""
    make = TEXTURES[checks.one_of("texture", kind, TEXTURES)]
    checks.integer("seed", seed, 0, 2**31)
    raw = make(np.random.Generator(np.random.PCG64(seed)))
    low, high = np.percentile(raw, (1, 99))
    level = (raw - raw.mean()) / max(high - low, 1e-6)
    result = np.clip(0.5 + 0.8 * level, 0, 1).astype(np.float32)
    result.setflags(write=False)
    return result


def _noise(random: Random, power: float, low: float = 1.0, high: float = 256.0, stretch: float = 1.0) -> Grey:
    """Noise whose amplitude falls with frequency as f ** -power between two frequencies, in cycles a side.

    stretch: above 1, features are longer along x.
    """
    fy = np.fft.fftfreq(SIDE, 1 / SIDE)[:, None]
    fx = np.fft.rfftfreq(SIDE, 1 / SIDE)[None, :] * stretch
    f = np.hypot(fx, fy)
    with np.errstate(divide="ignore"):
        weight = np.where((f >= low) & (f <= high), f**-power, 0)
    field = np.fft.irfft2(np.fft.rfft2(random.standard_normal((SIDE, SIDE))) * weight, (SIDE, SIDE))
    return (field / max(float(field.std()), 1e-9)).astype(np.float32)


def _cells(random: Random, count: int, nearest: int = 2) -> NDArray[np.float32]:
    """Distances, in units of the mean spacing, from every pixel to its nearest of `count` points: (nearest, h, w)."""
    points = _spread(random, count)
    ys, xs = np.mgrid[:SIDE, :SIDE]
    tree = scipy.spatial.cKDTree(points, boxsize=np.array([SIDE, SIDE], float))
    found = tree.query(np.stack((xs.ravel(), ys.ravel()), 1), nearest, workers=1)[0]
    distance = np.asarray(found).reshape(SIDE, SIDE, nearest) / (SIDE / np.sqrt(count))
    return distance.transpose(2, 0, 1).astype(np.float32)


def _spread(random: Random, count: int) -> NDArray[np.float64]:
    """Points that keep some distance from each other: each is the farthest of a few candidates (Mitchell 1991)."""
    across = int(np.ceil(np.sqrt(count)))
    grid = np.stack(np.meshgrid(np.arange(across), np.arange(across)), -1).reshape(-1, 2) + 0.5
    points = (grid + random.uniform(-0.42, 0.42, grid.shape)) * (SIDE / across)
    return points % SIDE


def _plaster(random: Random) -> Grey:
    """Trowelled lime: broad swells, dragged ridges, fine sand."""
    drag = _noise(random, 1.2, 4, 90, stretch=0.35)
    ridges = -(np.abs(drag) ** 0.7)
    return 0.9 * _noise(random, 1.7, 1, 40) + 0.8 * ridges + 0.28 * _noise(random, 0.4, 60, 256)


def _pores(random: Random) -> Grey:
    """Skin: small plates between crossing lines, with pores where lines meet."""
    fine, coarse = _cells(random, 2600), _cells(random, 620)
    lines = -np.exp(-(((fine[1] - fine[0]) / 0.22) ** 2)) - 0.6 * np.exp(-(((coarse[1] - coarse[0]) / 0.14) ** 2))
    plates = scipy.ndimage.gaussian_filter(lines, 0.7, mode="wrap")
    depth = 0.7 + 0.5 * np.tanh(_noise(random, 1.2, 4, 60))  # some pores are deep, many hardly there
    pits = scipy.ndimage.gaussian_filter(-np.exp(-((coarse[0] / 0.16) ** 2)) * depth, 0.9, mode="wrap")
    return 0.75 * plates + 1.5 * pits + 0.3 * _noise(random, 1.4, 2, 40) + 0.06 * _noise(random, 0.2, 80, 256)


def _leather(random: Random) -> Grey:
    """Grain of hide: uneven cushions with dark creases."""
    cells = _cells(random, 520)
    crease = np.clip((cells[1] - cells[0]) / 0.3, 0, 1)
    cushion = crease * crease * (3 - 2 * crease)
    return 1.5 * cushion + 0.3 * _noise(random, 1.3, 2, 60) + 0.12 * _noise(random, 0.2, 60, 256)


def _felt(random: Random) -> Grey:
    """Matted fibres lying every way."""
    sheet = np.zeros((SIDE, SIDE), np.float32)
    for eighth in (0, 1, 2, 3) * 3:
        sheet += _turned(_noise(random, 0.5, 12, 200, stretch=0.08), eighth)
    return sheet / 3 + 0.6 * _noise(random, 1.4, 1, 20)


def _turned(grey: Grey, eighth: int) -> Grey:
    """A tile turned by quarter turns, and by a shear that keeps it joining itself for the eighths between."""
    out = np.rot90(grey, eighth // 2)
    if eighth % 2:
        columns = (np.arange(SIDE)[None, :] + np.arange(SIDE)[:, None]) % SIDE
        out = np.take_along_axis(out, columns, axis=1)
    return np.ascontiguousarray(out)


def _weave(random: Random) -> Grey:
    """Plain weave: threads that go over and under, of uneven thickness."""
    threads = 32
    y, x = np.mgrid[:SIDE, :SIDE] * (threads / SIDE)
    wobble = 0.12 * _noise(random, 1.6, 2, 24)
    u, v = x + wobble, y + 0.12 * _noise(random, 1.6, 2, 24)
    over = np.sin(np.pi * u) * np.sin(np.pi * v) > 0
    warp, weft = np.abs(np.sin(np.pi * u)), np.abs(np.sin(np.pi * v))
    bend_u, bend_v = np.abs(np.sin(np.pi * v)), np.abs(np.sin(np.pi * u))
    height = np.where(over, warp**0.5 * (0.55 + 0.45 * bend_u), weft**0.5 * (0.55 + 0.45 * bend_v))
    thread = 0.35 * np.where(over, _noise(random, 0.6, 4, 200, stretch=0.1), _noise(random, 0.6, 4, 200, stretch=9.0))
    return height.astype(np.float32) * 1.6 + thread + 0.3 * _noise(random, 1.5, 1, 16)


def _brushed(random: Random) -> Grey:
    """Metal brushed one way: long hairlines of many widths, a few deep ones."""
    lines = _noise(random, 0.35, 1, 250, stretch=60.0)
    deep = -np.clip(_noise(random, 0.2, 4, 250, stretch=90.0) - 1.6, 0, 2)
    return lines + 1.2 * deep + 0.25 * _noise(random, 1.5, 1, 8)


def _mottling(random: Random) -> Grey:
    """Soft blotches within blotches, as under skin or in old varnish."""
    broad, fine = _noise(random, 1.9, 1, 24), _noise(random, 1.1, 8, 90)
    veins = -np.exp(-((_noise(random, 1.5, 2, 40) / 0.25) ** 2))
    return 0.8 * np.tanh(broad) + 0.4 * fine + 0.25 * veins + 0.1 * _noise(random, 0.6, 40, 200)


def _spatter(random: Random) -> Grey:
    """Drops flicked from a stiff brush: many small, few large."""
    sheet = np.zeros((3 * SIDE, 3 * SIDE), np.float32)
    count = 1500
    sizes = 0.8 * (1 - random.random(count)) ** -0.62
    places = random.uniform(0, SIDE, (count, 2))
    for (x, y), size in zip(places, np.minimum(sizes, 9), strict=True):
        squash, turn = random.uniform(0.6, 1.0), random.uniform(0, 180)
        for dx in (0, SIDE, 2 * SIDE):
            for dy in (0, SIDE, 2 * SIDE):
                at = (round((x + dx) * 16), round((y + dy) * 16))
                axes = (max(round(size * 16), 8), max(round(size * squash * 16), 8))
                cv2.ellipse(sheet, at, axes, turn, 0, 360, 1.0, -1, cv2.LINE_AA, 4)
    middle = sheet[SIDE : 2 * SIDE, SIDE : 2 * SIDE]
    # Thin in places, as where a drop has dried from its rim.
    body = scipy.ndimage.gaussian_filter(middle, 0.6, mode="wrap") * (0.8 + 0.2 * np.tanh(_noise(random, 0.8, 10, 120)))
    return 1.5 * body + 0.06 * _noise(random, 1.0, 2, 100)


def _laid_paper(random: Random) -> Grey:
    """Paper from a mould: close lines one way, a wider line across now and then, and the fibres of the pulp."""
    y, x = np.mgrid[:SIDE, :SIDE] / SIDE
    wobble = 0.004 * _noise(random, 1.8, 1, 12)
    lines = np.sin(2 * np.pi * 64 * (y + wobble))
    chains = -np.exp(-((np.sin(np.pi * 4 * (x + wobble)) / 0.05) ** 2))
    return (0.55 * lines + 0.8 * chains + 0.5 * _noise(random, 0.7, 8, 200)).astype(np.float32)


def _sponge(random: Random) -> Grey:
    """Holes of many sizes in a soft body."""
    sheet = 0.35 * _noise(random, 1.4, 2, 60)
    for count, depth in ((90, 1.3), (420, 1.0), (1700, 0.7)):
        cells = _cells(random, count)
        sheet = sheet - depth * np.exp(-((cells[0] / 0.3) ** 2))
    return sheet.astype(np.float32)


TEXTURES: Final[dict[str, Callable[[Random], Grey]]] = {
    "plaster": _plaster,
    "pores": _pores,
    "leather": _leather,
    "felt": _felt,
    "weave": _weave,
    "brushed metal": _brushed,
    "mottling": _mottling,
    "spatter": _spatter,
    "laid paper": _laid_paper,
    "sponge": _sponge,
}
