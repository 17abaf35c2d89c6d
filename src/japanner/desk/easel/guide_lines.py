"""Head guides over the easel."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QTransform

from japanner.desk.theme import theme
from japanner.painting.model.head_guide import HeadGuide, guide_lines

__all__ = ["draw_guide"]


def draw_guide(painter: QPainter, guide: HeadGuide, to_view: QTransform) -> None:
    """Draw the guide over the easel: what faces away is thin."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for line in guide_lines(guide):
        points = [to_view.map(QPointF(x, y)) for x, y in line.points.tolist()]
        strong = line.name in ("outline", "skull", "muzzle")
        painter.setPen(QPen(QColor(0, 0, 0, 60 if line.hidden else 130), 2.6 if strong else 2.0))
        painter.drawPolyline(points)
        colour = QColor(theme["gold"])
        colour.setAlpha(70 if line.hidden else 235)
        painter.setPen(QPen(colour, 1.4 if strong else 1.0))
        painter.drawPolyline(points)
