"""What follows the pointer over the easel: the outline of the tip."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

__all__ = ["draw_tip_outline"]


def draw_tip_outline(painter: QPainter, at: QPointF, radius: float) -> None:
    """A circle of the tip's size on screen: a dark and a light line, so that it shows on any value."""
    radius = max(radius, 1.5)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for colour, width in ((QColor(0, 0, 0, 130), 2.2), (QColor(255, 255, 255, 220), 1.0)):
        painter.setPen(QPen(colour, width))
        painter.drawEllipse(at, radius, radius)
