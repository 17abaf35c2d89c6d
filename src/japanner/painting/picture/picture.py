"""The picture on the easel: 8-bit, with halved levels for zooming out, renewed only where it changed."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from japanner.painting.model import Painting
from japanner.painting.picture.compositor import Compositor, plan, shown_tile, sketch_layers
from japanner.raster import accumulate
from japanner.raster.accumulate import halve
from japanner.raster.geometry import TILE, Key, Rect, union
from japanner.raster.parallel import each

__all__ = ["Picture"]

SMALLEST_SIDE = 64
SHARED_PX = 50_000


class Picture:
    """Levels of 0xffRRGGBB pixels, uint32 (height, width); each level is half the one before."""

    def __init__(self, painting: Painting, sketch_on_top: bool = False) -> None:
        """`sketch_on_top`: sketches are drawn once more over everything, in whichever value stands out."""
        self.painting = painting
        self.sketch_on_top = sketch_on_top
        self._compositor, self._small_compositor = Compositor(), Compositor(most=64)
        self._stale: dict[Key, Rect] = {}  # shown at a coarser level only
        self._owed: dict[Key, Rect] = {}  # the same, while it still goes on
        self._active: int | None = None
        self._ahead = 0  # the level that a stroke is shown at, which finer ones do not have yet
        self._shown_at = 0  # the level at which what was put off is shown
        self.levels: list[NDArray[np.uint32]] = []
        height, width = painting.height, painting.width
        while not self.levels or min(height, width) >= SMALLEST_SIDE:
            self.levels.append(np.zeros((height, width), np.uint32))
            height, width = (height + 1) // 2, (width + 1) // 2
        if any(one.layer is not None and (one.layer.pixels.tiles or one.layer.relief) for one in plan(painting)):
            self.refresh(painting, [painting.rect])
        else:
            self._bare()

    def _bare(self) -> None:
        """A canvas that nothing lies on, without waiting for kernels: it is what most starts begin with."""
        r, g, b = (int(np.float32(c) * np.float32(255) + np.float32(0.5)) for c in self.painting.ground)
        for level in self.levels:
            level[:] = np.uint32(0xFF000000 | r << 16 | g << 8 | b)

    def refresh(
        self, painting: Painting, areas: Iterable[Rect], active: int | None = None, seen: Rect | None = None
    ) -> None:
        """Compose canvas `areas` of `painting` anew; `active` is the uid of the layer being worked on. seen: what of
        the canvas anybody looks at; the rest is put off.
        """
        self.painting, self._active = painting, active
        self._lag()
        todo = _by_tile(areas, painting.rect)
        if seen is not None:
            hidden = {key: todo.pop(key) for key in list(todo) if Rect.of_tile(key).intersected(seen).empty}
            if hidden:
                _unite(self._stale, hidden)
                self._shown_at = len(self.levels)  # it is shown at none
        for key in todo.keys() & self._stale.keys():
            todo[key] = todo[key].united(self._stale.pop(key))
        self._compose(painting, todo, 0, self._compositor, active)

    def show_small(self, small: Painting, areas: Iterable[Rect], level: int, active: int | None = None) -> None:
        """Compose `areas` of the painting reduced to a level there, and in the coarser ones; the finer ones are as they
        were until `put_off` and `catch_up`.
        """
        self._ahead = level
        pieces = _by_tile(areas, small.rect)
        self._compose(small, pieces, level, self._small_compositor, active)
        whole = [local.moved(key[1] * TILE, key[0] * TILE).scaled(1 << level) for key, local in pieces.items()]
        _unite(self._owed, _by_tile(whole, self.painting.rect))

    def put_off(self, painting: Painting, areas: Iterable[Rect], active: int | None = None) -> None:
        """`painting` is shown from now, but canvas `areas` of it are composed by `catch_up` only."""
        self.painting, self._active = painting, active
        self._lag()
        _unite(self._stale, _by_tile(areas, painting.rect))

    def _lag(self) -> None:
        """What went on at a coarser level is over, and has still to be composed."""
        self._shown_at, self._ahead = max(self._ahead, self._shown_at if self._stale else 0), 0
        _unite(self._stale, self._owed)
        self._owed = {}

    @property
    def ahead(self) -> int:
        """The level at which a stroke is shown that the finer ones do not have; 0 for none."""
        return self._ahead

    @property
    def behind(self) -> bool:
        """Whether something was put off that has not been composed yet."""
        return bool(self._stale)

    def settle(self, level: int = 0, within: Rect | None = None) -> None:
        """Compose what was put off as far as it is seen at a level, all of it or within a canvas area."""
        if self._stale and not self._ahead and level < self._shown_at:
            self.catch_up(len(self._stale), within)

    def catch_up(self, tiles: int, within: Rect | None = None) -> list[Rect]:
        """Compose at most so many tiles of what was put off, those `within` a canvas area only; the areas."""
        chosen = [key for key in self._stale if within is None or not Rect.of_tile(key).intersected(within).empty]
        todo = {key: self._stale.pop(key) for key in chosen[:tiles]}
        if todo:
            self._compose(self.painting, todo, 0, self._compositor, self._active)
        return [local.moved(key[1] * TILE, key[0] * TILE) for key, local in todo.items()]

    def _compose(
        self, painting: Painting, todo: dict[Key, Rect], level: int, compositor: Compositor, active: int | None
    ) -> None:
        """Compose pieces of tiles at a level, of which `painting` has the size, and reduce them for coarser ones."""
        steps, picture = plan(painting), self.levels[level]
        sketches = list(sketch_layers(painting)) if self.sketch_on_top else []

        def work(key: Key) -> None:
            acc = compositor.tile(painting, steps, key, todo[key], active)
            for layer in sketches:
                tile = shown_tile(layer, key)
                if tile is not None:
                    accumulate.stand_out(acc, tile, todo[key])
            accumulate.show(acc, picture, (key[0] * TILE, key[1] * TILE), todo[key])

        changed = [local.moved(key[1] * TILE, key[0] * TILE) for key, local in todo.items()]
        # A few tiles are worth sharing out if much of them is to be made.
        large = sum(one.width * one.height for one in changed) > SHARED_PX
        each(todo, work, worth_it=2 if large else 4)
        whole = union(changed)
        # Pieces that lie side by side are reduced at once.
        together = whole.width * whole.height <= 1.3 * sum(one.width * one.height for one in changed)
        for area in (whole,) if together else changed:
            self._halve(area, level)

    def level_for(self, width: int) -> tuple[int, NDArray[np.uint32]]:
        """The finest level at most `width` px wide, or the coarsest: how often it is halved, and its pixels."""
        index = next((i for i, one in enumerate(self.levels) if one.shape[1] <= width), len(self.levels) - 1)
        return index, self.levels[index]

    def value_at(self, x: int, y: int) -> tuple[float, float, float] | None:
        """Encoded colour 0..1 under a canvas pixel, None outside."""
        if not (0 <= x < self.painting.width and 0 <= y < self.painting.height):
            return None
        if not self._ahead:
            self.catch_up(1, Rect(x, y, x + 1, y + 1))
        pixel = int(self.levels[self._ahead][y >> self._ahead, x >> self._ahead])
        return (pixel >> 16 & 255) / 255, (pixel >> 8 & 255) / 255, (pixel & 255) / 255

    def _halve(self, area: Rect, level: int) -> None:
        for fine, coarse in zip(self.levels[level:], self.levels[level + 1 :], strict=False):
            area = Rect(area.x0 // 2, area.y0 // 2, (area.x1 + 1) // 2, (area.y1 + 1) // 2)
            halve(fine, coarse, area)


def _by_tile(areas: Iterable[Rect], whole: Rect) -> dict[Key, Rect]:
    """Pieces of tiles that hold all of some areas."""
    pieces: dict[Key, Rect] = {}
    for area in areas:
        _unite(pieces, dict(area.intersected(whole).tiles()))
    return pieces


def _unite(pieces: dict[Key, Rect], more: dict[Key, Rect]) -> None:
    for key, local in more.items():
        pieces[key] = pieces[key].united(local) if key in pieces else local
