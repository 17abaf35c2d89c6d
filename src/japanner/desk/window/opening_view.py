"""The picture of a painting that is being opened, while its layers follow."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QRect, QRectF, QSizeF
from PySide6.QtGui import QImage, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from japanner.desk.easel.view_transform import ViewTransform
from japanner.desk.theme import surround_colour, theme

__all__ = ["OpeningView"]

SURROUND = 50.0


class OpeningView(QWidget):
    """Lies over the bench; the picture stands where the easel will show it, fitted."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._over = parent
        self.hide()
        self.setAccessibleName("The painting that is being opened")
        self.picture = QImage()
        self._room, self._view = QRect(), ViewTransform()

    def show_picture(self, picture: QImage, room: QRect) -> None:
        """room: where the easel is, in the parent."""
        self.picture, self._room = picture, room
        self._view.size = QSizeF(room.size())
        self._view.fit(picture.width(), picture.height())
        self.setGeometry(self._over.rect())
        self.show()
        self.raise_()
        self.setFocus()

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()  # keys are not for the painting that is on the bench still, and is not seen
            return True
        return super().event(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme["panel"])
        painter.fillRect(self._room, surround_colour(SURROUND))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        corners = self._view.to_view().mapRect(QRectF(0, 0, self.picture.width(), self.picture.height()))
        painter.drawImage(corners.translated(self._room.topLeft()), self.picture)
        painter.end()
