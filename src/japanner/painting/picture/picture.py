"""The picture on the easel: 8-bit, with halved levels for zooming out, renewed only where it changed."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from japanner.painting.model import Painting
from japanner.painting.picture.compositor import Compositor, plan, shown_tile, sketch_layers
from japanner.raster import accumulate
from japanner.raster.geometry import TILE, Key, Rect, union
from japanner.raster.halving import halve
from japanner.raster.parallel import each

__all__ = ["Picture"]

SMALLEST_SIDE = 64


class Picture:
    """Levels of 0xffRRGGBB pixels, uint32 (height, width); each level is half the one before."""

    def __init__(self, painting: Painting, sketch_on_top: bool = False) -> None:
        """`sketch_on_top`: sketches are drawn once more over everything, in whichever value stands out."""
        self.painting = painting
        self.sketch_on_top = sketch_on_top
        self._compositor = Compositor()
        self.levels: list[NDArray[np.uint32]] = []
        height, width = painting.height, painting.width
        while not self.levels or min(height, width) >= SMALLEST_SIDE:
            self.levels.append(np.zeros((height, width), np.uint32))
            height, width = (height + 1) // 2, (width + 1) // 2
        self.refresh(painting, [painting.rect])

    def refresh(self, painting: Painting, areas: Iterable[Rect], active: int | None = None) -> None:
        """Compose canvas `areas` of `painting` anew; `active` is the uid of the layer being worked on."""
        self.painting = painting
        steps, picture = plan(painting), self.levels[0]
        sketches = list(sketch_layers(painting)) if self.sketch_on_top else []
        todo: dict[Key, Rect] = {}
        for area in areas:
            for key, local in area.intersected(painting.rect).tiles():
                todo[key] = todo[key].united(local) if key in todo else local

        def work(key: Key) -> None:
            acc = self._compositor.tile(painting, steps, key, todo[key], active)
            for layer in sketches:
                tile = shown_tile(layer, key)
                if tile is not None:
                    accumulate.stand_out(acc, tile, todo[key])
            accumulate.show(acc, picture, (key[0] * TILE, key[1] * TILE), todo[key])

        each(todo, work)
        changed = [local.moved(key[1] * TILE, key[0] * TILE) for key, local in todo.items()]
        whole = union(changed)
        # Pieces that lie side by side are reduced at once.
        together = whole.width * whole.height <= 1.3 * sum(one.width * one.height for one in changed)
        for area in (whole,) if together else changed:
            self._halve(area)

    def level_for(self, width: int) -> tuple[int, NDArray[np.uint32]]:
        """The finest level at most `width` px wide, or the coarsest: how often it is halved, and its pixels."""
        index = next((i for i, one in enumerate(self.levels) if one.shape[1] <= width), len(self.levels) - 1)
        return index, self.levels[index]

    def value_at(self, x: int, y: int) -> tuple[float, float, float] | None:
        """Encoded colour 0..1 under a canvas pixel, None outside."""
        if not (0 <= x < self.painting.width and 0 <= y < self.painting.height):
            return None
        pixel = int(self.levels[0][y, x])
        return (pixel >> 16 & 255) / 255, (pixel >> 8 & 255) / 255, (pixel & 255) / 255

    def _halve(self, area: Rect) -> None:
        for fine, coarse in zip(self.levels, self.levels[1:], strict=False):
            area = Rect(area.x0 // 2, area.y0 // 2, (area.x1 + 1) // 2, (area.y1 + 1) // 2)
            halve(fine, coarse, area)
