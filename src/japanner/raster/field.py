"""Displacement fields: where each pixel takes its paint from, so that many nudges cost one resampling."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.tiles import Raster

__all__ = ["Field", "Warp", "resampled"]

Shift = NDArray[np.float32]
LANCZOS_REACH: Final = 5


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

    def written(self, area: Rect, shifts: Shift) -> Field:
        """The field with other shifts in an area."""
        tiles = dict(self.tiles)
        for key, local in area.tiles():
            tile = tiles[key].copy() if key in tiles else np.zeros((2, TILE, TILE), np.float32)
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


def resampled(origin: Raster, shifts: Shift, area: Rect) -> NDArray[np.uint16]:
    """Premultiplied pixels (4, h, w) of `area` of `origin` as a field's `shifts` there show them, by Lanczos."""
    reach = int(np.ceil(np.abs(shifts).max(initial=0))) + LANCZOS_REACH
    around = area.grown(reach)
    ys, xs = np.mgrid[: area.height, : area.width].astype(np.float32)
    image = np.ascontiguousarray(origin.read(around).transpose(1, 2, 0))
    pixels = cv2.remap(image, xs + shifts[0] + reach, ys + shifts[1] + reach, cv2.INTER_LANCZOS4)
    result = np.ascontiguousarray(pixels.transpose(2, 0, 1))
    np.minimum(result[:3], result[3:], out=result[:3])
    # Where nothing moved, not a bit changes.
    still = (shifts == 0).all(axis=0)
    result[:, still] = origin.read(area)[:, still]
    return result
