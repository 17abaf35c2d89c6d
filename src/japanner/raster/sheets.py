"""Arithmetic of sheets: joining, turning inside out, growing and softening coverage."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

import cv2
import numpy as np

from japanner import checks
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.outwards import outwards
from japanner.raster.tiles import Sheet
from japanner.types import Tile

__all__ = ["JOINS", "LARGEST_STEP_PX", "full", "grown", "inverted", "joined", "shrunk", "softened"]


LARGEST_STEP_PX: Final = 500.0
FULL: Final = np.uint16(65535)

JOINS: Final[dict[str, Callable[[Tile, Tile], Tile]]] = {
    "new": lambda old, fresh: fresh,
    "add": np.maximum,
    "take": lambda old, fresh: np.minimum(old, FULL - fresh),
    "meet": np.minimum,
}
"""How a fresh shape joins what is there: in its place, both, without it, only where both are."""


def full(width: int, height: int) -> Sheet:
    """A sheet that lets everything through."""
    return inverted(Sheet(width, height))


def joined(old: Sheet, fresh: Sheet, how: str) -> Sheet:
    """Two sheets as one, by a rule of `JOINS`."""
    rule = JOINS[checks.one_of("how", how, JOINS)]
    keys = old.tiles.keys() | fresh.tiles.keys()
    return Sheet(old.width, old.height).with_tiles({key: rule(old.tile(key), fresh.tile(key)) for key in keys})


def inverted(sheet: Sheet) -> Sheet:
    """What a sheet keeps out, let through, and the other way round."""

    def turned(key: Key, local: Rect) -> Tile:
        tile = np.zeros((1, TILE, TILE), np.uint16)
        tile[:, : local.y1, : local.x1] = FULL - sheet.tile(key)[:, : local.y1, : local.x1]
        return tile

    tiles = {key: turned(key, local) for key, local in sheet.rect.tiles()}
    return Sheet(sheet.width, sheet.height).with_tiles(tiles)


def grown(sheet: Sheet, px: float) -> Sheet:
    """The sheet wider by `px` (0..500) all around, with an anti-aliased edge at half coverage."""
    checks.number("px", px, 0, LARGEST_STEP_PX)
    area = sheet.bounds().grown(int(px) + 2).intersected(sheet.rect)
    if area.empty or px == 0:
        return sheet
    coverage = sheet.coverage(area)
    outside = (coverage < 0.5).astype(np.uint8)
    distance = cv2.distanceTransform(outside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    # The edge lies beyond the centre of the nearest pixel inside by what of that pixel is covered past its middle.
    (nearest,) = outwards(outside == 0, coverage)
    wider = np.maximum(np.clip(np.float32(px) + nearest - distance, 0, 1), coverage)
    return Sheet.of(wider, area.x0, area.y0, sheet.width, sheet.height)


def shrunk(sheet: Sheet, px: float) -> Sheet:
    """The sheet narrower by `px` (0..500) all around; the border of the canvas is no edge."""
    return inverted(grown(inverted(sheet), px))


def softened(sheet: Sheet, px: float) -> Sheet:
    """The sheet blurred by a Gaussian of standard deviation `px` (0..500); the canvas goes on beyond its border."""
    checks.number("px", px, 0, LARGEST_STEP_PX)
    area = sheet.bounds().grown(int(4 * px) + 2).intersected(sheet.rect)
    if area.empty or px == 0:
        return sheet
    soft = cv2.GaussianBlur(sheet.coverage(area), (0, 0), px, borderType=cv2.BORDER_REPLICATE)
    return Sheet.of(soft, area.x0, area.y0, sheet.width, sheet.height)
