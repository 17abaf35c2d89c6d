"""The surroundings that metal mirrors, as a strip of values from below to above."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QLinearGradient, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from japanner.desk.theme import theme
from japanner.desk.widgets.painter import painter_on
from japanner.light.metals import Strip
from japanner.painting.picture.looks import grey_code

__all__ = ["StripPad"]

WIDTH, HEIGHT = 190, 40
NEAR_PX = 7.0


class StripPad(QWidget):
    """Stops to drag: across is where, from below (left) to above; up is their value. A click between adds one, a
    double-click takes one away.
    """

    changed = Signal(object)

    def __init__(self, stops: Strip) -> None:
        super().__init__()
        self.stops = [list(stop) for stop in stops]
        self._held: int | None = None
        self.setFixedSize(QSize(WIDTH, HEIGHT))
        self.setAccessibleName("Surroundings")

    def take(self, stops: Strip) -> None:
        """Show other stops."""
        self.stops = [list(stop) for stop in stops]
        self.update()

    def _at(self, stop: list[float]) -> QPointF:
        return QPointF(4 + stop[0] / 100 * (WIDTH - 8), HEIGHT - 5 - stop[1] / 100 * (HEIGHT - 10))

    def _values(self, at: QPointF) -> list[float]:
        place, value = (at.x() - 4) / (WIDTH - 8) * 100, (HEIGHT - 5 - at.y()) / (HEIGHT - 10) * 100
        return [round(min(max(place, 0.0), 100.0), 1), round(min(max(value, 0.0), 100.0), 1)]

    def mousePressEvent(self, event: QMouseEvent) -> None:
        near = [
            i for i, stop in enumerate(self.stops) if (self._at(stop) - event.position()).manhattanLength() < NEAR_PX
        ]
        if near:
            self._held = near[0]
        else:
            fresh = self._values(event.position())
            self.stops = sorted([*self.stops, fresh])
            self._held = self.stops.index(fresh)
        self._drag(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._drag(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._held = None
        self.changed.emit(tuple((place, value) for place, value in self.stops))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self._held is not None and 0 < self._held < len(self.stops) - 1:
            del self.stops[self._held]
            self._held = None
            self.update()

    def _drag(self, at: QPointF) -> None:
        if self._held is None:
            return
        place, value = self._values(at)
        low = self.stops[self._held - 1][0] if self._held else 0.0
        high = self.stops[self._held + 1][0] if self._held < len(self.stops) - 1 else 100.0
        self.stops[self._held] = [min(max(place, low), high), value]
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            bar = QRectF(4, 0, WIDTH - 8, HEIGHT)
            shade = QLinearGradient(bar.topLeft(), bar.topRight())
            for place, value in self.stops:
                grey = grey_code(value)
                shade.setColorAt(place / 100, QColor(grey, grey, grey))
            painter.fillRect(bar, shade)
            points = [self._at(stop) for stop in self.stops]
            for pen in (QPen(QColor(0, 0, 0, 160), 2.4), QPen(theme["gold"], 1.2)):
                painter.setPen(pen)
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawPolyline(points)
            painter.setPen(QPen(QColor(0, 0, 0, 160), 1))
            painter.setBrush(theme["gold"])
            for point in points:
                painter.drawEllipse(point, 2.6, 2.6)
