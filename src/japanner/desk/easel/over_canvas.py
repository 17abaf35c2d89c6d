"""A reference laid over the canvas: it is never paint."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from PySide6.QtCore import QObject, QPointF, Signal
from PySide6.QtGui import QImage, QPainter, QTransform

from japanner.desk.screen import screens

__all__ = ["Laid", "OverCanvas"]


@dataclass(frozen=True)
class Laid:
    """Where the picture's middle lies, canvas px; scale: canvas px of one of its own; strength 0..1."""

    image: QImage
    name: str
    x: float
    y: float
    scale: float
    turn_deg: float = 0.0
    strength: float = 0.5
    mirrored: bool = False

    def to_canvas(self) -> QTransform:
        """From its own pixels, about its middle, to the canvas."""
        made = QTransform()
        made.translate(self.x, self.y)
        made.rotate(self.turn_deg)
        made.scale(-self.scale if self.mirrored else self.scale, self.scale)
        return made


class OverCanvas(QObject):
    """What is laid over the canvas just now, or nothing."""

    changed = Signal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.laid: Laid | None = None

    def lay(self, image: QImage, name: str, width: int, height: int) -> None:
        """Fit a picture over a canvas of this size."""
        scale = min(width / image.width(), height / image.height())
        self.laid = Laid(screens.image(image), name, width / 2, height / 2, scale)
        self.changed.emit()

    def change(self, **changes: Any) -> None:
        """Move, turn, size, strengthen or mirror it."""
        if self.laid is not None:
            self.laid = replace(self.laid, **changes)
            self.changed.emit()

    def take_off(self) -> None:
        """There is nothing over the canvas."""
        self.laid = None
        self.changed.emit()

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        """Draw it over the picture."""
        laid = self.laid
        if laid is None:
            return
        painter.save()
        painter.setTransform(laid.to_canvas() * to_view)
        painter.setOpacity(laid.strength)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(QPointF(-laid.image.width() / 2, -laid.image.height() / 2), laid.image)
        painter.restore()
