"""What follows the pointer over the easel: the outline of the tip."""

from __future__ import annotations

from functools import lru_cache
from typing import Final

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen

__all__ = ["draw_tip_outline"]

DRAWN_TO: Final = 12.0
KEPT_TO: Final = 700.0
LINES: Final = ((QColor(0, 0, 0, 130), 2.2), (QColor(255, 255, 255, 220), 1.0))


def draw_tip_outline(painter: QPainter, at: QPointF, radius: float) -> None:
    """A circle of the tip's size on screen: a dark and a light line, so that it shows on any value."""
    radius = max(radius, 1.5)
    if not DRAWN_TO < radius <= KEPT_TO:
        _draw(painter, at, radius)
        return
    # Lines of a large circle take milliseconds; a picture of them takes a tenth. It stands on whole pixels, which at
    # this size nobody sees.
    ratio = painter.device().devicePixelRatioF()
    image = _pictured(round(radius * 4) / 4, ratio)
    side = image.width() / ratio
    painter.drawImage(QPoint(round(at.x() - side / 2), round(at.y() - side / 2)), image)


@lru_cache(maxsize=4)
def _pictured(radius: float, ratio: float) -> QImage:
    side = 2 * int(radius + 4)
    image = QImage(round(side * ratio), round(side * ratio), QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(ratio)
    image.fill(0)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _draw(painter, QPointF(side / 2, side / 2), radius)
    painter.end()
    return image


def _draw(painter: QPainter, at: QPointF, radius: float) -> None:
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for colour, width in LINES:
        painter.setPen(QPen(colour, width))
        painter.drawEllipse(at, radius, radius)
