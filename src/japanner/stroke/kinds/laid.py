"""Hair that fur strokes have laid, told apart from what is under it: a later stroke can go under it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.raster.geometry import Key
from japanner.raster.tiles import Raster
from japanner.types import Tile

__all__ = ["RANK_CODES", "LaidHair", "rank_codes"]

RANK_CODES: Final = 16
"""Codes to a rank: ranks fall by one for each cell of a comb field."""


def rank_codes(ranks: NDArray[np.floating]) -> NDArray[np.float32]:
    """Ranks as whole codes, 1 to 65535."""
    result: NDArray[np.float32] = np.clip(np.rint(ranks * RANK_CODES), 1, 65535).astype(np.float32)
    return result


@dataclass(frozen=True, eq=False)
class LaidHair:
    """Hair in the paint of a layer.

    of: the pixels that it is in; where they have changed since, it counts as hair no longer. paint: the hairs alone.
    ranks: black paint whose coverage is the code of the highest rank there.
    """

    of: Raster
    paint: Raster
    ranks: Raster

    @staticmethod
    def none(pixels: Raster) -> LaidHair:
        empty = Raster(pixels.width, pixels.height)
        return LaidHair(pixels, empty, empty)

    def tile(self, key: Key, pixels: Raster) -> tuple[Tile, Tile] | None:
        """Hair paint and ranks, both (4, TILE, TILE), as far as they are still in `pixels`; None without any."""
        paint, ranks = self.paint.tile(key), self.ranks.tile(key)
        if paint is self.paint.EMPTY and ranks is self.ranks.EMPTY:
            return None
        now, then = pixels.tile(key), self.of.tile(key)
        if now is then:
            return paint, ranks
        same = (now == then).all(axis=0)
        return np.where(same, paint, 0).astype(np.uint16), np.where(same, ranks, 0).astype(np.uint16)

    def settled(self, pixels: Raster) -> LaidHair | None:
        """What of it is in `pixels`; None if there is none."""
        if self.of is pixels:
            return self
        found = {key: self.tile(key, pixels) for key in self.paint.tiles.keys() | self.ranks.tiles.keys()}
        paint, ranks = (
            {key: two[which] for key, two in found.items() if two is not None and two[which][-1].any()}
            for which in (0, 1)
        )
        if not paint:
            return None
        empty = Raster(pixels.width, pixels.height)
        return LaidHair(pixels, empty.with_tiles(paint), empty.with_tiles(ranks))

    def remade(self, before: Raster, after: Raster, remake: Callable[[Raster], Raster]) -> LaidHair | None:
        """The hair in `after`, which `remake` has made of `before`."""
        here = self.settled(before)
        return here and replace(here, of=after, paint=remake(here.paint), ranks=remake(here.ranks))
