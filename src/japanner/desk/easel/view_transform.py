"""Where the canvas lies on the easel: zoom, turn, mirror, and move."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSizeF
from PySide6.QtGui import QTransform

__all__ = ["ViewTransform"]

SMALLEST_ZOOM, LARGEST_ZOOM = 0.02, 32.0


class ViewTransform:
    """Maps canvas px to easel px. `centre` is the canvas point in the middle of the easel."""

    def __init__(self) -> None:
        self.zoom = 1.0
        self.turn_deg = 0.0
        self.mirrored = False
        self.centre = QPointF(0, 0)
        self.size = QSizeF(1, 1)

    def to_view(self) -> QTransform:
        result = QTransform()
        result.translate(self.size.width() / 2, self.size.height() / 2)
        result.scale(-1 if self.mirrored else 1, 1)
        result.rotate(self.turn_deg)
        result.scale(self.zoom, self.zoom)
        result.translate(-self.centre.x(), -self.centre.y())
        return result

    def to_canvas(self) -> QTransform:
        return self.to_view().inverted()[0]

    def fit(self, width: float, height: float, margin: float = 26) -> None:
        """Show the whole canvas, upright."""
        self.turn_deg = 0.0
        room = QSizeF(max(self.size.width() - 2 * margin, 10), max(self.size.height() - 2 * margin, 10))
        self.zoom = self._allowed(min(room.width() / width, room.height() / height))
        self.centre = QPointF(width / 2, height / 2)

    def zoom_at(self, view_point: QPointF, factor: float) -> None:
        """Zoom so that the canvas point under `view_point` stays there."""
        self._keep(view_point, zoom=self._allowed(self.zoom * factor))

    def zoom_to(self, zoom: float) -> None:
        """Zoom about the middle."""
        self.zoom = self._allowed(zoom)

    def turn_about_middle(self, degrees: float) -> None:
        self.turn_deg = (self.turn_deg + degrees + 180) % 360 - 180

    def move(self, by: QPointF) -> None:
        """Move the canvas by easel px."""
        inverse = self.to_canvas()
        self.centre -= inverse.map(by) - inverse.map(QPointF(0, 0))

    def mirror(self) -> None:
        """Flip left and right about the middle of the easel."""
        self.mirrored = not self.mirrored

    def view_rect(self, canvas: QRectF) -> QRectF:
        """The easel rectangle around a canvas rectangle."""
        return self.to_view().mapRect(canvas)

    def _keep(self, view_point: QPointF, *, zoom: float) -> None:
        before = self.to_canvas().map(view_point)
        self.zoom = zoom
        after = self.to_canvas().map(view_point)
        self.centre += before - after

    @staticmethod
    def _allowed(zoom: float) -> float:
        return min(max(zoom, SMALLEST_ZOOM), LARGEST_ZOOM)
