"""Filters that look at neighbours: blur, sharpen, noise."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.color.tables import decode_table
from japanner.raster import _kernels_adjust as kernels
from japanner.raster.geometry import TILE, Rect
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster

__all__ = [
    "LARGEST_SIGMA_PX",
    "area_coarse",
    "area_sharpened",
    "area_softened",
    "area_stated",
    "blurred",
    "noisy",
    "sharpened",
]

Planes = NDArray[np.float32]

LARGEST_SIGMA_PX: Final = 400.0
BAND_PX: Final = 512
# A wide Gaussian is smooth: at a quarter of its deviation a pixel is still one of many.
COARSE_FROM_PX: Final = 8.0
# A rise of the coarse band by so much over one deviation begins to be an edge, and by twice as much it is one.
EDGE_RISE: Final = 0.07
EDGE_REACH: Final = 2.5


def blurred(raster: Raster, sigma_px: float) -> Raster:
    """The raster under a Gaussian of standard deviation `sigma_px` (0..400), mixed in linear light.

    Premultiplied throughout, so that bare canvas lends no colour; beyond the canvas there is nothing.
    """
    checks.number("sigma_px", sigma_px, 0, LARGEST_SIGMA_PX)
    if sigma_px == 0:
        return raster
    reach = int(4 * sigma_px) + 2
    return _by_bands(raster, reach, reach, lambda pixels: _encoded(_gaussian(_linear(pixels), sigma_px)))


def sharpened(raster: Raster, amount: float, sigma_px: float) -> Raster:
    """Unsharp masking: colours move away from those of their blurred surroundings by `amount` 0..5; coverage stays."""
    checks.number("amount", amount, 0, 5)
    checks.number("sigma_px", sigma_px, 0.1, LARGEST_SIGMA_PX)

    def sharpen(pixels: NDArray[np.uint16]) -> NDArray[np.uint16]:
        planes = pixels.astype(np.float32) / np.float32(65535)
        soft = _gaussian(planes, sigma_px)
        around = soft[:3] / np.maximum(soft[3], 1e-6) * planes[3]
        sharp = np.clip(planes[:3] + np.float32(amount) * (planes[:3] - around), 0, planes[3])
        return _codes(np.concatenate((sharp, planes[3:])))

    return _by_bands(raster, int(4 * sigma_px) + 2, 0, sharpen)


def noisy(raster: Raster, amount: float, seed: int) -> Raster:
    """Neutral noise of standard deviation `amount` (0..0.5 of the encoded range) on the colours; coverage stays."""
    checks.number("amount", amount, 0, 0.5)
    checks.integer("seed", seed, 0, 2**31)

    def noise(tile: NDArray[np.uint16], row: int, column: int) -> NDArray[np.uint16]:
        random = np.random.Generator(np.random.Philox(key=[seed, row << 16 | column]))
        grey = random.standard_normal((TILE, TILE), np.float32) * np.float32(amount)
        planes = tile.astype(np.float32) / np.float32(65535)
        return _codes(np.concatenate((np.clip(planes[:3] + grey * planes[3], 0, planes[3]), planes[3:])))

    tiles = dict(raster.tiles)

    def work(key: tuple[int, int]) -> None:
        tiles[key] = noise(raster.tiles[key], *key)

    each(sorted(raster.tiles), work)
    return raster.with_tiles(tiles)


def _by_bands(
    raster: Raster, reach: int, spread: int, work: Callable[[NDArray[np.uint16]], NDArray[np.uint16]]
) -> Raster:
    """Run `work` on the painted area, grown by `spread`, in bands that see `reach` px beyond themselves."""
    area = raster.bounds().grown(spread).intersected(raster.rect)
    out = np.zeros((4, area.height, area.width), np.uint16)

    def band(top: int) -> None:
        inner = Rect(area.x0, area.y0 + top, area.x1, min(area.y0 + top + BAND_PX, area.y1))
        outer = inner.grown(reach)
        made = work(raster.read(outer))
        out[:, top : top + inner.height] = made[:, reach : reach + inner.height, reach : reach + inner.width]

    if area.empty:
        return raster
    each(range(0, area.height, BAND_PX), band, worth_it=2)
    return raster.written(area.x0, area.y0, out)


def _gaussian(planes: Planes, sigma_px: float) -> Planes:
    step = 1
    while sigma_px / (2 * step) >= COARSE_FROM_PX:
        step *= 2
    if step == 1:
        return np.stack([cv2.GaussianBlur(plane, (0, 0), sigma_px) for plane in planes])
    height, width = planes.shape[1:]
    size = (-(-width // step), -(-height // step))
    result = []
    for plane in planes:
        padded = np.pad(plane, ((0, size[1] * step - height), (0, size[0] * step - width)))
        small = cv2.resize(padded, size, interpolation=cv2.INTER_AREA)
        # Taking means of `step` pixels, and going back between them, blur as well.
        rest = np.sqrt(max(sigma_px**2 / step**2 - 1 / 12 - 1 / 6, 0.1))
        soft = cv2.GaussianBlur(small, (0, 0), rest)
        result.append(cv2.resize(soft, (padded.shape[1], padded.shape[0]), interpolation=cv2.INTER_LINEAR))
    return np.stack([plane[:height, :width] for plane in result])


def _linear(pixels: NDArray[np.uint16]) -> Planes:
    """Premultiplied linear light from premultiplied encoded pixels."""
    out = np.empty(pixels.shape, np.float32)
    kernels.to_light(np.ascontiguousarray(pixels), decode_table(), out)
    return out


def _encoded(planes: Planes) -> NDArray[np.uint16]:
    out = np.empty(planes.shape, np.uint16)
    kernels.to_codes(np.ascontiguousarray(planes), out)
    return out


def _codes(planes: Any) -> NDArray[np.uint16]:
    codes: NDArray[np.uint16] = np.rint(planes * np.float32(65535)).astype(np.uint16)
    np.minimum(codes[:3], codes[3:], out=codes[:3])
    return codes


def area_softened(raster: Raster, area: Rect, sigma_px: float, *, linear: bool = True) -> Planes:
    """An area of the raster under a Gaussian, premultiplied encoded 0..1, (4, h, w); the canvas goes on at its rim.

    linear: light mixes, as in `blurred`; else encoded values do.
    """
    if not linear:
        return _in_area(raster, area, sigma_px, lambda planes: _soft(planes, sigma_px))
    around = area.grown(int(4 * sigma_px) + 2).intersected(raster.rect)
    soft = _cut(_soft(_linear(raster.read(around)), sigma_px), area, around)
    return _encoded(soft).astype(np.float32) / np.float32(65535)


def area_coarse(raster: Raster, area: Rect, sigma_px: float) -> Planes:
    """What an area holds that is coarser than `sigma_px`, premultiplied encoded, (4, h, w); edges count as coarse.

    3 G^2 - 2 G^3 of a Gaussian G parts coarse from fine more sharply than G alone, so that parting what has been parted
    changes little; where its slope tells of an edge, nothing is parted off (our choice; Burt & Adelson 1983 for the
    bands).
    """

    def coarse(planes: Planes) -> Planes:
        low = 3 * _soft(planes, sigma_px * 2**0.5) - 2 * _soft(planes, sigma_px * 3**0.5)
        slope = np.zeros(planes.shape[1:], np.float32)
        for plane in low:
            slope = np.maximum(slope, np.hypot(*np.gradient(plane)))
        t = np.clip((slope * np.float32(sigma_px) - EDGE_RISE) / np.float32(EDGE_RISE), 0, 1)
        # The step itself is fine as far from its middle as the Gaussians reach: all of that belongs to the edge.
        reach = 2 * math.ceil(EDGE_REACH * sigma_px) + 1
        around = cv2.dilate(t * t * (3 - 2 * t), cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach)))
        edge = cv2.GaussianBlur(around, (0, 0), sigma_px / 2, borderType=cv2.BORDER_REPLICATE)
        result: Planes = planes - (1 - edge) * (planes - low)
        return result

    return _in_area(raster, area, 3 * sigma_px, coarse)


def _in_area(raster: Raster, area: Rect, sigma_px: float, work: Callable[[Planes], Planes]) -> Planes:
    around = area.grown(int(4 * sigma_px) + 2).intersected(raster.rect)
    return _cut(work(raster.read(around).astype(np.float32) / np.float32(65535)), area, around)


def _cut(planes: Planes, area: Rect, around: Rect) -> Planes:
    inner = area.moved(-around.x0, -around.y0)
    return np.ascontiguousarray(planes[:, inner.y0 : inner.y1, inner.x0 : inner.x1])


def _soft(planes: Planes, sigma_px: float) -> Planes:
    return np.stack([cv2.GaussianBlur(p, (0, 0), sigma_px, borderType=cv2.BORDER_REPLICATE) for p in planes])


def area_sharpened(raster: Raster, area: Rect, amount: float, sigma_px: float) -> Planes:
    """An area of the raster sharpened as in `sharpened`, premultiplied encoded 0..1, (4, h, w)."""
    planes = raster.read(area).astype(np.float32) / np.float32(65535)
    soft = area_softened(raster, area, sigma_px, linear=False)
    around = soft[:3] / np.maximum(soft[3], 1e-6) * planes[3]
    sharp = np.clip(planes[:3] + np.float32(amount) * (planes[:3] - around), 0, planes[3])
    return np.concatenate((sharp, planes[3:]))


def area_stated(raster: Raster, area: Rect, amount: float, sigma_px: float) -> Planes:
    """The same with coverage sharpened too, so that also the edge of the paint itself comes out."""
    sharp, soft = area_sharpened(raster, area, amount, sigma_px), area_softened(raster, area, sigma_px, linear=False)
    cover = np.clip(sharp[3] + np.float32(amount) * (sharp[3] - soft[3]), 0, 1)
    return np.concatenate((sharp[:3] * (cover / np.maximum(sharp[3], 1e-6)), cover[None]))
