"""Picking up a colour from a widget: while a button or key is held, a ring shows the new colour and the old one."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRect, QRectF
from PySide6.QtGui import QPainter, QPen, Qt
from PySide6.QtWidgets import QWidget

from japanner.desk.screen import screens
from japanner.desk.session.hand import Colour, Hand
from japanner.desk.theme import theme

__all__ = ["PickRing"]

REACH_PX = 46
RADIUS_PX, WIDTH_PX = 34, 14


class PickRing:
    """`find` gives the colour at a position of the widget, or None where there is none to pick up."""

    def __init__(self, hand: Hand, widget: QWidget, find: Callable[[QPointF], Colour | None]) -> None:
        self._hand, self._widget, self._find = hand, widget, find
        self._at = QPointF()
        self.found: Colour | None = None

    @property
    def shown(self) -> bool:
        return self.found is not None

    def move(self, at: QPointF) -> None:
        """Show what lies at a position; where there is nothing, the last colour stays."""
        self._renew()
        self._at, self.found = at, self._find(at) or self.found
        self._renew()

    def take(self) -> None:
        """Paint with what the ring shows from now on."""
        found, self.found = self.found, None
        self._renew()
        if found is not None:
            self._hand.set_colour(found)

    def leave(self) -> None:
        """Take the ring away; the colour in hand stays."""
        self.found = None
        self._renew()

    def draw(self, painter: QPainter) -> None:
        if self.found is None:
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        rect = QRectF(self._at.x() - RADIUS_PX, self._at.y() - RADIUS_PX, 2 * RADIUS_PX, 2 * RADIUS_PX)
        for colour, start in ((self.found, 0), (self._hand.colour, 180)):
            pen = QPen(screens.colour(colour, self._widget), WIDTH_PX)
            pen.setCapStyle(Qt.PenCapStyle.FlatCap)
            painter.setPen(pen)
            painter.drawArc(rect, start * 16, 180 * 16)
        painter.setPen(QPen(theme["lacquer"], 1))
        for radius in (RADIUS_PX - WIDTH_PX / 2, RADIUS_PX + WIDTH_PX / 2):
            painter.drawEllipse(self._at, radius, radius)

    def _renew(self) -> None:
        at = self._at.toPoint()
        self._widget.update(QRect(at.x() - REACH_PX, at.y() - REACH_PX, 2 * REACH_PX, 2 * REACH_PX))
