"""Accumulators: float32 (4, TILE, TILE) on which a stack of layers is blended."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from japanner.raster import _kernels_tiles as kernels
from japanner.raster.geometry import TILE, Rect
from japanner.raster.modes import WHOLE

__all__ = [
    "blank",
    "copied",
    "filled",
    "halve",
    "loaded",
    "masked",
    "merge",
    "show",
    "stand_out",
    "store_into",
    "stored",
]

Accumulator = NDArray[np.float32]


def blank() -> Accumulator:
    """An accumulator with no paint."""
    return np.zeros((4, TILE, TILE), np.float32)


def filled(colour: tuple[float, float, float], area: Rect = WHOLE) -> Accumulator:
    """An opaque accumulator of one encoded colour 0..1; pixels outside `area` are undefined."""
    acc = np.empty((4, TILE, TILE), np.float32)
    kernels.fill_tile(acc, *(np.float32(c) for c in colour), np.float32(1), *area.rows_and_columns)
    return acc


def copied(acc: Accumulator, area: Rect = WHOLE) -> Accumulator:
    """A copy of which only `area` is defined."""
    out = np.empty_like(acc)
    kernels.copy_tile(acc, out, *area.rows_and_columns)
    return out


def loaded(tile: NDArray[np.uint16]) -> Accumulator:
    """The stored tile as an accumulator."""
    out = np.empty((4, TILE, TILE), np.float32)
    kernels.load_tile(tile, out, *WHOLE.rows_and_columns)
    return out


def stored(acc: Accumulator) -> NDArray[np.uint16]:
    """The accumulator rounded to a tile of uint16."""
    out = np.empty((4, TILE, TILE), np.uint16)
    store_into(acc, out)
    return out


def stand_out(acc: Accumulator, tile: NDArray[np.uint16], area: Rect = WHOLE) -> None:
    """Draw a tile's coverage into `area` of an opaque accumulator in the value opposite to what is there."""
    kernels.stand_out_tile(acc, tile, *area.rows_and_columns)


def store_into(acc: Accumulator, out: NDArray[np.uint16], area: Rect = WHOLE) -> None:
    """Round `area` of an accumulator into a tile of uint16."""
    kernels.store_tile(acc, out, *area.rows_and_columns)


def merge(acc: Accumulator, group: Accumulator, strength: float, area: Rect = WHOLE) -> None:
    """Lay an isolated group over `acc`, in place, at `strength` 0..1."""
    kernels.merge_tile(acc, group, np.float32(strength), *area.rows_and_columns)


def masked(tile: NDArray[np.uint16], mask: NDArray[np.uint16], ground: float) -> NDArray[np.uint16]:
    """A tile seen through a grey sheet: neutral paint `mask` (premultiplied) on a sheet of grey `ground` 0..1."""
    out = np.empty_like(tile)
    kernels.mask_tile(tile, mask, np.float32(ground), out, *WHOLE.rows_and_columns)
    return out


def show(acc: Accumulator, picture: NDArray[np.uint32], corner: tuple[int, int], area: Rect = WHOLE) -> None:
    """Write `area` of an opaque accumulator into a 0xffRRGGBB picture; `corner` is the tile's (row, column) in px."""
    kernels.show_tile(acc, picture, *corner, *area.rows_and_columns)


def halve(fine: NDArray[np.uint32], coarse: NDArray[np.uint32], area: Rect) -> None:
    """Renew `area` of `coarse` with the means of 2 x 2 pixels of `fine`; both 0xAARRGGBB, sides rounded up."""
    inside = area.intersected(Rect(0, 0, coarse.shape[1], coarse.shape[0]))
    if not inside.empty:
        kernels.halve(fine, coarse, *inside.rows_and_columns)
