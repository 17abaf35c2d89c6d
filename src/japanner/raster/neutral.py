"""Neutral fills: the colour of a layer that, in its mode, leaves what is beneath as it is."""

from __future__ import annotations

from functools import cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.raster.geometry import TILE
from japanner.raster.tiles import Raster

__all__ = ["NEUTRAL", "is_neutral", "neutral_raster"]

BLACK, GREY, WHITE = 0, 32768, 65535
NEUTRAL: Final = {
    "Screen": BLACK,
    "Color Dodge": BLACK,
    "Plus": BLACK,
    "Lighten": BLACK,
    "Difference": BLACK,
    "Exclusion": BLACK,
    "Multiply": WHITE,
    "Color Burn": WHITE,
    "Darken": WHITE,
    "Overlay": GREY,
    "Soft Light": GREY,
    "Hard Light": GREY,
}
"""16-bit code of the neutral grey by mode; what follows from the formulas of the recommendation."""


def neutral_raster(mode: str, width: int, height: int) -> Raster:
    """A whole canvas of the mode's neutral colour; its tiles are one and the same in memory."""
    if mode not in NEUTRAL:
        raise InputError(f"{mode} has no neutral colour: whatever is on the layer shows")
    whole, tiles = _tile(NEUTRAL[mode]), dict[tuple[int, int], NDArray[np.uint16]]()
    for key, local in Raster(width, height).rect.tiles():
        tiles[key] = whole
        if (local.width, local.height) != (TILE, TILE):
            edge = np.zeros_like(whole)
            edge[:, : local.y1, : local.x1] = whole[:, : local.y1, : local.x1]
            tiles[key] = edge
    return Raster(width, height).with_tiles(tiles)


def is_neutral(tile: NDArray[np.uint16], mode: str) -> bool:
    """Whether the tile is known to leave everything as it is; costs no look at its pixels."""
    return mode in NEUTRAL and tile is _tile(NEUTRAL[mode])


@cache
def _tile(code: int) -> NDArray[np.uint16]:
    tile = np.full((4, TILE, TILE), code, np.uint16)
    tile[3] = 65535
    tile.setflags(write=False)
    return tile
