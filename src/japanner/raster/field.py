"""Displacement fields: where each pixel takes its paint from, so that many nudges cost one resampling."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.raster import _kernels_warp as kernels
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster

__all__ = ["Field", "Warp", "resampled"]

Shift = NDArray[np.float32]
LANCZOS_REACH: Final = 5
STEPS: Final = 512
# Blocks are resampled beside each other, each from what it alone sees.
BLOCK_PX: Final = 128


@dataclass(frozen=True, eq=False)
class Field:
    """The pixel at p shows what was at p + shift(p). Tiles are float32 (2, TILE, TILE), x then y in px; a missing
    tile means no shift.
    """

    tiles: Mapping[Key, Shift] = field(default_factory=dict)

    def read(self, area: Rect) -> Shift:
        """Shifts of an area, float32 (2, h, w)."""
        result = np.zeros((2, area.height, area.width), np.float32)
        for key, local in area.tiles():
            if key in self.tiles:
                at = local.moved(key[1] * TILE - area.x0, key[0] * TILE - area.y0)
                result[:, at.y0 : at.y1, at.x0 : at.x1] = self.tiles[key][:, local.y0 : local.y1, local.x0 : local.x1]
        return result

    def tile(self, key: Key) -> Shift:
        """A tile to write on."""
        return self.tiles[key].copy() if key in self.tiles else np.zeros((2, TILE, TILE), np.float32)

    def with_tiles(self, fresh: Mapping[Key, Shift]) -> Field:
        """The field with some tiles replaced, which are frozen."""
        for tile in fresh.values():
            tile.setflags(write=False)
        return Field({**self.tiles, **fresh})

    def written(self, area: Rect, shifts: Shift) -> Field:
        """The field with other shifts in an area."""
        tiles = dict(self.tiles)
        for key, local in area.tiles():
            tile = self.tile(key)
            at = local.moved(key[1] * TILE - area.x0, key[0] * TILE - area.y0)
            tile[:, local.y0 : local.y1, local.x0 : local.x1] = shifts[:, at.y0 : at.y1, at.x0 : at.x1]
            tile.setflags(write=False)
            tiles[key] = tile
        return Field(tiles)

    def after(self, area: Rect, shifts: Shift) -> Field:
        """The field once the picture it makes is shifted again, by `shifts` within `area`."""
        reach = int(np.ceil(np.abs(shifts).max(initial=0))) + 2
        around = area.grown(reach)
        ys, xs = np.mgrid[: area.height, : area.width].astype(np.float32)
        old = np.ascontiguousarray(self.read(around).transpose(1, 2, 0))
        seen = cv2.remap(old, xs + shifts[0] + reach, ys + shifts[1] + reach, cv2.INTER_LINEAR)
        return self.written(area, shifts + seen.transpose(2, 0, 1))


@dataclass(frozen=True, eq=False)
class Warp:
    """How `pixels` came from `origin`: good as long as a layer still has these very pixels."""

    origin: Raster
    field: Field
    pixels: Raster


def resampled(origin: Raster, shifts: Shift, area: Rect, *, quick: bool = False) -> NDArray[np.uint16]:
    """Premultiplied pixels (4, h, w) of `area`, on the canvas, of `origin` as a field's `shifts` there show them.

    By Lanczos of eight pixels (Duchon 1979); quick: linearly, a tenth of the work.
    """
    out = np.empty((4, area.height, area.width), np.uint16)
    blocks = [(y, x) for y in range(0, area.height, BLOCK_PX) for x in range(0, area.width, BLOCK_PX)]

    def fill(corner: tuple[int, int]) -> None:
        y, x = corner
        block = Rect(x, y, min(x + BLOCK_PX, area.width), min(y + BLOCK_PX, area.height))
        part = np.s_[:, block.y0 : block.y1, block.x0 : block.x1]
        out[part] = _block(origin, np.ascontiguousarray(shifts[part]), block.moved(area.x0, area.y0), quick)

    each(blocks, fill, worth_it=2)
    return out


def _block(origin: Raster, shifts: Shift, area: Rect, quick: bool) -> NDArray[np.uint16]:
    around = _seen_through(shifts, area)
    inside = around.intersected(origin.rect)
    if inside.empty:
        around = around.united(area)
        inside = around.intersected(origin.rect)
    # Channels side by side, as the kernel sums them. Beyond the canvas the paint goes on as at its border.
    image = cv2.copyMakeBorder(
        cv2.merge(list(origin.read(inside))), inside.y0 - around.y0, around.y1 - inside.y1, inside.x0 - around.x0,
        around.x1 - inside.x1, cv2.BORDER_REPLICATE,
    ).astype(np.float32)  # fmt: skip
    out = np.empty((4, area.height, area.width), np.uint16)
    kernels.warp(image, shifts, _weights(quick), out, area.y0 - around.y0, area.x0 - around.x0, 0, area.height)
    return out


def _seen_through(shifts: Shift, area: Rect) -> Rect:
    """The area that an area takes its paint from, with what Lanczos sees around it."""
    xs = shifts[0] + np.arange(area.width, dtype=np.float32)
    ys = shifts[1] + np.arange(area.height, dtype=np.float32)[:, None]
    x0, y0, x1, y1 = (int(np.floor(v)) for v in (xs.min(), ys.min(), xs.max(), ys.max()))
    return Rect(area.x0 + x0, area.y0 + y0, area.x0 + x1 + 1, area.y0 + y1 + 1).grown(LANCZOS_REACH)


@cache
def _weights(quick: bool) -> Shift:
    """Weights of the pixels around a place between two of them, float32 (STEPS + 1, taps); each row adds up to 1."""
    between = np.linspace(0, 1, STEPS + 1)[:, None]
    if quick:
        weights = 1 - np.abs(np.arange(2) - between)
    else:
        d = np.arange(-3, 5) - between
        weights = np.sinc(d) * np.sinc(d / 4)
    return np.ascontiguousarray(weights / weights.sum(axis=1, keepdims=True), np.float32)
