"""The maquette as grey clay, rendered beside the window from coarse to fine; what is asked for last counts."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from PySide6.QtCore import QCoreApplication, QObject, QThread, Signal
from PySide6.QtGui import QImage

from japanner.color.srgb import encode
from japanner.errors import InputError
from japanner.light.planes import cut
from japanner.light.sources import SURFACES, shaded_planes
from japanner.light.surface import Surface, surface
from japanner.painting.forms import keep_surface
from japanner.painting.lighting import sources_of
from japanner.painting.model import Painting

__all__ = ["Clay", "Wish", "clay_image"]

GREY: Final = (0.36, 0.35, 0.33)
COARSE_PX: Final = 160
"""About as wide is the first picture."""
DRAGGED_PX: Final = 240


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


class _Stopped(Exception):  # noqa: N818 - not an error
    pass


class _Worker(QThread):
    rendered = Signal(object, object)  # Wish, Surface
    failed = Signal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.wish: Wish | None = None

    def run(self) -> None:
        """Render what is wished for until nothing new is."""
        done: Wish | None = None
        while self.wish is not None and self.wish is not done:
            wish = done = self.wish
            try:
                self._render(wish)
            except _Stopped:
                continue
            except InputError as error:
                self.failed.emit(str(error))

    def _render(self, wish: Wish) -> None:
        def told(_: float) -> None:
            if self.wish is not wish:
                raise _Stopped

        light = wish.painting.light
        for step in wish.steps():
            found = surface(
                wish.painting.maquette, wish.painting.rect, light.direction, light_deg=light.size_deg, step=step,
                quick=not wish.fine, told=told,
            )  # fmt: skip
            self.rendered.emit(wish, found)


class Clay(QObject):
    """Holds the finest picture that there is of what was asked for last."""

    changed = Signal()
    told = Signal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.surface: Surface | None = None
        self.image = QImage()
        self._worker = _Worker(self)
        self._worker.rendered.connect(self._rendered)
        self._worker.failed.connect(self.told)
        self._worker.finished.connect(self._again)

    def show(self, wish: Wish | None) -> None:
        """Render this from now on; None: nothing."""
        self._worker.wish = wish
        if wish is not None and not self._worker.isRunning():
            self._worker.start()

    def wait(self) -> None:
        """Until the finest picture is there."""
        while self._worker.isRunning():
            self._worker.wait(20)
            QCoreApplication.processEvents()
        QCoreApplication.processEvents()

    def stop(self) -> None:
        """Render nothing, and be still."""
        self._worker.wish = None
        self._worker.wait()

    def _again(self) -> None:
        # A wish may have come while the thread was ending.
        if self._worker.wish is not None and self._latest is not self._worker.wish:
            self._worker.start()

    _latest: Wish | None = None

    def _rendered(self, wish: Wish, found: Surface) -> None:
        if wish is not self._worker.wish:
            return
        self._latest, self.surface = wish, found
        if found.step == 1:
            keep_surface(wish.painting, found)
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
    codes = np.ascontiguousarray(np.rint(rgba * 255).astype(np.uint8))
    height, width = seen.shape
    return QImage(codes.data, width, height, width * 4, QImage.Format.Format_RGBA8888).copy()
