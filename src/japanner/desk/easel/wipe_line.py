"""A line across the picture: left of it is another picture of the same canvas."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

from PySide6.QtCore import QObject, QPointF, QRectF, Signal
from PySide6.QtGui import QImage, QPainter, QTransform

from japanner.desk.easel.task import HANDLE_REACH, Press, draw_line
from japanner.desk.screen import screens
from japanner.desk.session.latest import Latest
from japanner.desk.widgets.images import image_of
from japanner.painting.model import Painting
from japanner.painting.picture.picture import Picture
from japanner.painting.picture.reduced import reduced

__all__ = ["WipeLine", "step_for"]

LONGEST_PX: Final = 1600
"""What lies left of the line is as large as this at the most."""


def step_for(painting: Painting) -> int:
    """By how much a painting is reduced to be looked at beside another picture."""
    step = 1
    while max(painting.width, painting.height) / step > LONGEST_PX:
        step *= 2
    return step


def _composed(painting: Painting, deliver: Callable[[QImage], None], told: Callable[[float], None]) -> None:
    deliver(image_of(Picture(reduced(painting, step_for(painting))).levels[0]))


class WipeLine(QObject):
    """Where the line is, as a share of the canvas, and what is left of it; nothing while there is no picture."""

    redraw = Signal()

    def __init__(self, parent: QObject, failed: Callable[[str], None]) -> None:
        super().__init__(parent)
        self.at = 0.5
        self.image: QImage | None = None
        self._held = False
        self._latest = Latest(self, _composed)
        self._latest.delivered.connect(self._take)
        self._latest.failed.connect(failed)

    def _take(self, _: Painting, image: QImage) -> None:
        self.show(image)

    def show(self, image: QImage) -> None:
        """Lay a picture of the whole canvas left of the line."""
        self.image = screens.image(image)
        self.redraw.emit()

    def show_painting(self, painting: Painting) -> None:
        """Lay a painting of the same size left of the line, once it is composed beside the hand."""
        self._latest.want(painting)

    def take_off(self) -> None:
        """There is nothing left of the line any more."""
        self._latest.stop()
        self.image, self._held = None, False
        self.redraw.emit()

    def wait(self) -> None:
        """Until what was asked for is there."""
        self._latest.settle()

    def takes(self, press: Press, width: int) -> bool:
        """Whether a press takes hold of the line on a canvas so wide."""
        self._held = self.image is not None and abs(press.at.x() - self.at * width) < HANDLE_REACH * press.px
        return self._held

    def drag(self, press: Press, width: int) -> bool:
        """Take the line along, if it is held."""
        if self._held:
            self.go_to(press.at.x() / width)
        return self._held

    def let_go(self) -> None:
        """The hand leaves the line."""
        self._held = False

    def go_to(self, share: float) -> None:
        """Lay the line at a share of the canvas's width."""
        self.at = min(max(share, 0.0), 1.0)
        self.redraw.emit()

    def draw(self, painter: QPainter, to_view: QTransform, width: int, height: int) -> None:
        """Draw what is left of the line, and the line."""
        if self.image is None:
            return
        x = width * self.at
        painter.save()
        painter.setTransform(to_view, True)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setClipRect(QRectF(0, 0, x, height))
        painter.drawImage(QRectF(0, 0, width, height), self.image)
        painter.restore()
        draw_line(painter, [to_view.map(QPointF(x, 0)), to_view.map(QPointF(x, height))])
