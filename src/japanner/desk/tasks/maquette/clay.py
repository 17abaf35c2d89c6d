"""The maquette as grey clay, rendered beside the window from coarse to fine; what is asked for last counts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from japanner.color.srgb import encode
from japanner.desk.session.latest import Latest
from japanner.desk.widgets.images import image_of
from japanner.light.planes import cut
from japanner.light.rays.surface import Surface, surface
from japanner.light.sources import SURFACES, shaded_planes
from japanner.painting.form.forms import surface_of
from japanner.painting.model import Painting
from japanner.painting.picture.lighting import sources_of

__all__ = ["Clay", "Wish", "clay_image"]

GREY: Final = (0.36, 0.35, 0.33)
COARSE_PX: Final = 160
"""About as wide is the first picture."""
DRAGGED_PX: Final = 240
COARSE: Final = 8
"""From so many canvas px to a pixel on, a first look comes as quickly as while something is dragged."""


@dataclass(frozen=True)
class Wish:
    """A painting's maquette to render, cut into `planes` facets unless 0; `fine`: down to the canvas's own px."""

    painting: Painting
    planes: int = 0
    fine: bool = True

    def steps(self) -> list[int]:
        """Canvas px to a pixel, picture by picture."""
        first = 1
        while self.painting.width / first > (COARSE_PX if self.fine else DRAGGED_PX):
            first *= 2
        steps = [first]
        while self.fine and steps[-1] > 1:
            steps.append(max(steps[-1] // 4, 1))
        return steps


def _render(wish: Wish, deliver: Callable[[Surface], None], told: Callable[[float], None]) -> None:
    light = wish.painting.light
    for step in wish.steps():
        if step == 1:
            # Others will ask for what is seen at the canvas's own px.
            deliver(surface_of(wish.painting, told=told))
            continue
        deliver(
            surface(
                wish.painting.maquette, wish.painting.rect, light.direction, light_deg=light.size_deg, step=step,
                quick=not wish.fine or step >= COARSE, told=told,
            )
        )  # fmt: skip


class Clay(QObject):
    """Holds the finest picture that there is of what was asked for last."""

    changed = Signal()
    told = Signal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.surface: Surface | None = None
        self.image = QImage()
        self._latest = Latest(self, _render)
        self._latest.delivered.connect(self._rendered)
        self._latest.failed.connect(self.told)

    def show(self, wish: Wish | None) -> None:
        """Render this from now on; None: nothing."""
        self._latest.want(wish)

    def wait(self) -> None:
        """Until the finest picture is there."""
        self._latest.settle()

    def stop(self) -> None:
        """Render nothing, and be still."""
        self._latest.stop()

    def _rendered(self, wish: Wish, found: Surface) -> None:
        if wish is not self._latest.wish:
            return
        self.surface = found
        self.image = clay_image(wish, found)
        self.changed.emit()


def clay_image(wish: Wish, found: Surface) -> QImage:
    """The surface in grey clay under the painting's light, as a picture with coverage."""
    seen, normal = found.seen, found.normal
    openness, lit = found.openness, found.lit
    if wish.planes and seen.sum() > wish.planes:
        planes = cut(normal, seen, wish.planes)
        normal = planes.flat()
        table = np.append(np.bincount(planes.facet[seen], lit[seen]) / np.bincount(planes.facet[seen]), 0)
        lit, openness = table[planes.facet].astype(np.float32), np.full_like(openness, 0.9)
    kind = np.where(seen, 0, -1).astype(np.int32)
    rows = (SURFACES["plain"].row(GREY),)
    linear = shaded_planes(np.ascontiguousarray(normal), kind, rows, sources_of(wish.painting.light), lit, openness)
    rgba = np.dstack((*encode(np.clip(linear, 0, 1)), seen))
    return image_of(np.rint(rgba * 255).astype(np.uint8))
