"""A frame over the canvas that is dragged by its sides, its corners, or as a whole."""

from __future__ import annotations

from typing import Final

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPainterPath, QTransform

from japanner.desk.easel.task import Press, draw_handle, draw_line
from japanner.raster.geometry import Rect

__all__ = ["FrameHandles"]

SIDES: Final = ((0, -1), (1, 0), (0, 1), (-1, 0), (-1, -1), (1, -1), (1, 1), (-1, 1))
SHADE: Final = QColor(0, 0, 0, 140)


class FrameHandles:
    """frame: as it is dragged. ratio: width over height that it keeps; 0: any."""

    def __init__(self) -> None:
        self.frame = Rect(0, 0, 1, 1)
        self.ratio = 0.0
        self._held: tuple[int, int] | None = None
        self._grip: tuple[QPointF, Rect] | None = None

    def _handle(self, side: tuple[int, int]) -> QPointF:
        x0, y0, x1, y1 = self.frame
        return QPointF((x0 + x1 + side[0] * (x1 - x0)) / 2, (y0 + y1 + side[1] * (y1 - y0)) / 2)

    def press(self, press: Press) -> None:
        """Take hold of a side, a corner, or all of it."""
        self._held = (0, 0)
        for side in SIDES:
            at = self._handle(side)
            if press.near(at.x(), at.y()):
                self._held = side
        self._grip = (press.at, self.frame)

    def drag(self, press: Press) -> Rect:
        """The frame as the hand has it now."""
        if self._held is None or self._grip is None:
            return self.frame
        start, old = self._grip
        dx, dy = round(press.at.x() - start.x()), round(press.at.y() - start.y())
        if self._held == (0, 0):
            return old.moved(dx, dy)
        x0, y0, x1, y1 = old
        x0, x1 = (min(x0 + dx, x1 - 1), x1) if self._held[0] < 0 else (x0, x1 + dx * (self._held[0] > 0))
        y0, y1 = (min(y0 + dy, y1 - 1), y1) if self._held[1] < 0 else (y0, y1 + dy * (self._held[1] > 0))
        return self.kept(Rect(x0, y0, max(x1, x0 + 1), max(y1, y0 + 1)))

    def kept(self, frame: Rect) -> Rect:
        """The frame in the ratio that it keeps, about the side that is not dragged."""
        if not self.ratio:
            return frame
        across, down = self._held or (0, 0)
        width = frame.height * self.ratio if across == 0 and down else float(frame.width)
        height = width / self.ratio
        x0 = frame.x1 - width if across < 0 else frame.x0 if across > 0 else (frame.x0 + frame.x1 - width) / 2
        y0 = frame.y1 - height if down < 0 else frame.y0 if down > 0 else (frame.y0 + frame.y1 - height) / 2
        return Rect(round(x0), round(y0), max(round(x0 + width), round(x0) + 1), max(round(y0 + height), round(y0) + 1))

    def let_go(self) -> None:
        """The hand leaves it."""
        self._held = self._grip = None

    def draw(self, painter: QPainter, to_view: QTransform, width: int, height: int) -> None:
        """Draw it over a canvas of this size; what is beyond is dark."""
        frame, canvas = QPainterPath(), QPainterPath()
        x0, y0, x1, y1 = self.frame
        frame.addRect(QRectF(x0, y0, x1 - x0, y1 - y0))
        canvas.addRect(QRectF(0, 0, width, height))
        painter.fillPath(to_view.map(canvas.subtracted(frame)), SHADE)
        corners = [self._handle(side) for side in SIDES[4:]]
        draw_line(painter, [to_view.map(at) for at in corners], closed=True)
        for side in SIDES:
            draw_handle(painter, to_view.map(self._handle(side)), hot=side == self._held)
