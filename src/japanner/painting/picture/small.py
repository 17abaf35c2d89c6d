"""The painting at a fraction of its size, kept up with what changes: what is shown reduced is painted there first."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future
from typing import Final, TypeVar

from japanner.painting.model import Painting
from japanner.painting.picture.reduced import reduced, shrunk
from japanner.raster import _kernels_tiles as kernels
from japanner.raster.geometry import TILE, Key
from japanner.raster.parallel import ASIDE
from japanner.raster.tiles import Raster
from japanner.types import Tile

__all__ = ["Small", "SmallKeeper"]

AnyRaster = TypeVar("AnyRaster", bound=Raster)
MOST_BYTES: Final = 400 << 20
"""A small painting that needs more is not kept."""
ANEW_FROM: Final = 0.5
"""From this share of changed tiles on a raster is reduced as a whole."""


class Small:
    """A painting with every pixel the mean of `step` x `step`; only tiles that have changed are reduced anew."""

    def __init__(self, step: int) -> None:
        self.step = step
        self._kept: dict[tuple[int, int], tuple[Raster, Raster]] = {}
        self._last: tuple[Painting, Painting] | None = None

    def of(self, painting: Painting) -> Painting:
        """The small painting, as `japanner.painting.picture.reduced` gives it."""
        if self._last is None or self._last[0] is not painting:
            former, self._kept = self._kept, {}
            small = reduced(painting, self.step, lambda owner: self._remake(owner, former))
            self._last = painting, small
        return self._last[1]

    def knows(self, painting: Painting) -> bool:
        """Whether it is at hand already."""
        return self._last is not None and self._last[0] is painting

    def _remake(self, owner: int, former: dict[tuple[int, int], tuple[Raster, Raster]]) -> Callable[[Raster], Raster]:
        """Reduces the rasters of a layer, which always come in the same order."""
        count = 0

        def remake(raster: Raster) -> Raster:
            nonlocal count
            slot, count = (owner, count), count + 1
            small = self._renewed(raster, *former.get(slot, (None, None)))
            self._kept[slot] = raster, small
            return small

        return remake

    def _renewed(self, raster: AnyRaster, before: Raster | None, small: Raster | None) -> AnyRaster:
        if before is None or small is None or type(before) is not type(raster) or before.rect != raster.rect:
            return shrunk(raster, self.step)
        keys = before.tiles.keys() | raster.tiles.keys()
        changed = [key for key in keys if before.tiles.get(key) is not raster.tiles.get(key)]
        if not changed:
            return small  # type: ignore[return-value]
        if len(changed) > ANEW_FROM * len(keys):
            return shrunk(raster, self.step)
        side, fresh = TILE // self.step, dict[Key, Tile]()
        for key in changed:
            there = key[0] // self.step, key[1] // self.step
            if there not in fresh:
                fresh[there] = small.tile(there).copy()
            top, left = key[0] % self.step * side, key[1] % self.step * side
            kernels.shrink_tile(raster.tile(key), fresh[there], self.step, top, left)
        return small.with_tiles(fresh)  # type: ignore[return-value]


class SmallKeeper:
    """Has a small painting at hand for the level that the picture is shown at; the first is made behind."""

    def __init__(self) -> None:
        self._small: Small | None = None
        self._coming: Future[Small] | None = None
        self._wanted = 1

    def prepare(self, painting: Painting, step: int) -> None:
        """Have one at `step` soon."""
        if step == self._wanted and (self._small is not None or self._coming is not None):
            return
        self._small, self._coming, self._wanted = None, None, step
        if step > 1 and _bytes(painting) <= MOST_BYTES * step * step:
            self._coming = ASIDE.submit(_made, painting, step)

    def ready(self, step: int) -> Small | None:
        """The one at `step`, if it is there by now."""
        if self._coming is not None and self._coming.done():
            coming, self._coming = self._coming, None
            self._small = None if coming.exception() is not None else coming.result()
        return self._small if self._small is not None and self._small.step == step else None

    def forget(self) -> None:
        """There is another painting."""
        self._small, self._coming, self._wanted = None, None, 1

    def wait(self) -> None:
        """Until what was asked for is there."""
        if self._coming is not None:
            self._coming.exception()


def _made(painting: Painting, step: int) -> Small:
    small = Small(step)
    small.of(painting)
    return small


def _bytes(painting: Painting) -> int:
    return sum(raster.byte_count for _, layer in painting.layers() for _, raster in layer.rasters())
