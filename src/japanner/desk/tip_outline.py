"""What follows the pointer over the easel: the outline of the tip, or the ring of a colour being picked up."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from japanner.desk.theme import theme

__all__ = ["draw_pick_ring", "draw_tip_outline"]

Colour = tuple[float, float, float]


def draw_tip_outline(painter: QPainter, at: QPointF, radius: float) -> None:
    """A circle of the tip's size on screen: a dark and a light line, so that it shows on any value."""
    radius = max(radius, 1.5)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for colour, width in ((QColor(0, 0, 0, 130), 2.2), (QColor(255, 255, 255, 220), 1.0)):
        painter.setPen(QPen(colour, width))
        painter.drawEllipse(at, radius, radius)


def draw_pick_ring(painter: QPainter, at: QPointF, new: Colour, old: Colour) -> None:
    """A ring, one half the new colour and the other the old one."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    rect = QRectF(at.x() - 34, at.y() - 34, 68, 68)
    for colour, start in ((new, 0), (old, 180)):
        pen = QPen(QColor.fromRgbF(*colour), 14)
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        painter.setPen(pen)
        painter.drawArc(rect, start * 16, 180 * 16)
    painter.setPen(QPen(theme["lacquer"], 1))
    painter.drawEllipse(at, 27, 27)
    painter.drawEllipse(at, 41, 41)
