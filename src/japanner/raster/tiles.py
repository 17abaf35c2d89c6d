"""Sparse planar pixels that share their tiles between versions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import ClassVar, Final, Self

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.raster import _kernels_tiles as kernels
from japanner.raster.geometry import TILE, Key, Rect
from japanner.types import Tile

__all__ = ["EMPTY_TILE", "LONGEST_SIDE", "TILE_BYTES", "Raster", "Sheet", "paint_codes", "premultiplied", "straight"]


LONGEST_SIDE: Final = 32768
TILE_BYTES: Final = 4 * TILE * TILE * 2

EMPTY_TILE: Final[Tile] = np.zeros((4, TILE, TILE), np.uint16)
EMPTY_TILE.setflags(write=False)
EMPTY_SHEET_TILE: Final[Tile] = EMPTY_TILE[3:]


@dataclass(frozen=True, eq=False)
class Raster:
    """Premultiplied sRGB-encoded R, G, B and coverage in 0..65535, as tiles of uint16 (4, TILE, TILE).

    A value: tiles are never written to after they are in a raster, so versions share them freely.
    A tile that is missing is empty; pixels of edge tiles beyond the canvas are always empty.
    """

    PLANES: ClassVar[int] = 4
    EMPTY: ClassVar[Tile] = EMPTY_TILE

    width: int
    height: int
    tiles: Mapping[Key, Tile] = field(default_factory=dict)

    def __post_init__(self) -> None:
        checks.integer("width", self.width, 1, LONGEST_SIDE)
        checks.integer("height", self.height, 1, LONGEST_SIDE)

    @property
    def rect(self) -> Rect:
        return Rect(0, 0, self.width, self.height)

    @property
    def byte_count(self) -> int:
        return len(self.tiles) * TILE_BYTES * self.PLANES // 4

    def tile(self, key: Key) -> Tile:
        return self.tiles.get(key, self.EMPTY)

    def bounds(self) -> Rect:
        """The smallest rectangle of canvas pixels that holds all paint."""
        found = Rect(0, 0, 0, 0)
        for key, tile in self.tiles.items():
            rows, columns = tile[-1].any(axis=1).nonzero()[0], tile[-1].any(axis=0).nonzero()[0]
            if rows.size:
                local = Rect(int(columns[0]), int(rows[0]), int(columns[-1]) + 1, int(rows[-1]) + 1)
                found = found.united(local.moved(key[1] * TILE, key[0] * TILE))
        return found.intersected(self.rect)

    def read(self, area: Rect) -> NDArray[np.uint16]:
        """Pixels of `area` as uint16 (planes, height, width); what lies outside the canvas reads as empty."""
        result = np.zeros((self.PLANES, area.height, area.width), np.uint16)
        for key, local in area.tiles():
            tile = self.tiles.get(key)
            if tile is not None:
                target = local.moved(key[1] * TILE - area.x0, key[0] * TILE - area.y0)
                result[:, target.y0 : target.y1, target.x0 : target.x1] = tile[
                    :, local.y0 : local.y1, local.x0 : local.x1
                ]
        return result

    def written(self, x: int, y: int, pixels: NDArray[np.uint16]) -> Self:
        """The raster with uint16 (planes, h, w) `pixels` in place of what was at (x, y); the canvas clips them."""
        if pixels.ndim != 3 or pixels.shape[0] != self.PLANES or pixels.dtype != np.uint16:
            raise InputError(
                f"pixels: expected uint16 of shape ({self.PLANES}, h, w), got {pixels.dtype} {pixels.shape}"
            )
        if (pixels[:-1] > pixels[-1]).any():
            raise InputError("pixels: expected premultiplied colour, got a channel above its coverage")
        area = Rect(x, y, x + pixels.shape[2], y + pixels.shape[1]).intersected(self.rect)
        fresh: dict[Key, Tile] = {}
        for key, local in area.tiles():
            tile = self.tile(key).copy()
            source = local.moved(key[1] * TILE - x, key[0] * TILE - y)
            tile[:, local.y0 : local.y1, local.x0 : local.x1] = pixels[:, source.y0 : source.y1, source.x0 : source.x1]
            fresh[key] = tile
        return self.with_tiles(fresh)

    def with_tiles(self, fresh: Mapping[Key, Tile]) -> Self:
        """The raster with some tiles replaced; empty ones are dropped, and the rest is frozen."""
        tiles = dict(self.tiles)
        for key, tile in fresh.items():
            if tile[-1].any():
                tile.setflags(write=False)
                tiles[key] = tile
            else:
                tiles.pop(key, None)
        return replace(self, tiles=tiles)


@dataclass(frozen=True, eq=False)
class Sheet(Raster):
    """Coverage alone, in 0..65535, as tiles of uint16 (1, TILE, TILE): what a frisket lets through."""

    PLANES: ClassVar[int] = 1
    EMPTY: ClassVar[Tile] = EMPTY_SHEET_TILE

    @staticmethod
    def of(coverage: NDArray[np.floating], x: int, y: int, width: int, height: int) -> Sheet:
        """A sheet of `width` x `height` with coverage 0..1 (h, w) at (x, y) and none elsewhere."""
        codes = np.rint(np.clip(coverage, 0, 1) * np.float32(65535)).astype(np.uint16)
        return Sheet(width, height).written(x, y, codes[None])

    @staticmethod
    def of_codes(codes: NDArray[np.uint8], area: Rect, width: int, height: int) -> Sheet:
        """A sheet of `width` x `height` with coverage 0..255 in `area` and none elsewhere."""
        return Sheet(width, height).written(area.x0, area.y0, codes[None].astype(np.uint16) * np.uint16(257))

    def coverage(self, area: Rect) -> NDArray[np.float32]:
        """Coverage 0..1 of `area`, float32 (h, w)."""
        return self.read(area)[0].astype(np.float32) / np.float32(65535)


def straight(pixels: NDArray[np.uint16]) -> NDArray[np.uint16]:
    """Straight (4, h, w) from premultiplied (4, h, w), both uint16, rounded; empty pixels become 0.

    `premultiplied` undoes it exactly: rounding moves a straight channel by at most 1/2, which is less
    than 1/2 after multiplying by a coverage below 1, so the second rounding finds the old number.
    """
    result = np.empty(pixels.shape, np.uint16)
    kernels.straighten(np.ascontiguousarray(pixels), result)
    return result


def premultiplied(pixels: NDArray[np.uint16]) -> NDArray[np.uint16]:
    """Premultiplied (4, h, w) from straight (4, h, w), both uint16, rounded."""
    result = np.empty(pixels.shape, np.uint16)
    kernels.premultiply(np.ascontiguousarray(pixels), result)
    return result


def paint_codes(colour: NDArray[np.float32], cover: NDArray[np.float32]) -> NDArray[np.uint16]:
    """Premultiplied codes (4, h, w) of straight encoded colour (3, h, w) and coverage (h, w), both held to 0..1; what
    is no number comes to nothing. A colour that is one all over may be broadcast.
    """
    one = colour[:, :1, :1] if colour.strides[1:] == (0, 0) else colour
    out = np.empty((4, *cover.shape), np.uint16)
    planes = (np.ascontiguousarray(part, np.float32) for part in (one, cover))
    kernels.paint_codes(*planes, out, 0, cover.shape[0])
    return out
