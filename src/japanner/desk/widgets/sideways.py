"""A row that is wider than its room."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QScrollArea

__all__ = ["Sideways"]


class Sideways(QScrollArea):
    """What is wider than the window is moved by the wheel; a bar would take the room of what lies in it."""

    def __init__(self, notch_px: int = 80) -> None:
        super().__init__()
        self._notch_px = notch_px
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def wheelEvent(self, event: QWheelEvent) -> None:
        bar = self.horizontalScrollBar()
        bar.setValue(bar.value() - round(event.angleDelta().y() / 120 * self._notch_px))
        event.accept()
