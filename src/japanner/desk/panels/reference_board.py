"""The reference board: pinned pictures, to look at and to pick up colours from."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QContextMenuEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PySide6.QtWidgets import QMenu, QVBoxLayout, QWidget

from japanner.desk.easel.pick_ring import PickRing
from japanner.desk.session.hand import Colour
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.images import image_of
from japanner.desk.widgets.menus import open_menu
from japanner.desk.widgets.painter import painter_on
from japanner.desk.widgets.section import clear
from japanner.painting.model import Pinned
from japanner.painting.operations import SetPart, UnpinPicture
from japanner.painting.picture.picking import mean_colour
from japanner.raster.codec import as_8_bit, decoded

__all__ = ["ReferenceBoard"]

HEIGHT = 132
LARGEST_ZOOM = 16.0
# Of larger pictures, so many rows and columns are plenty for a mean.
LONGEST_READ_PX = 1000


class _Picture(QWidget):
    """One pinned picture: wheel zooms, dragging moves it, the right button picks up a colour."""

    def __init__(self, session: Session, index: int, pinned: Pinned) -> None:
        super().__init__()
        self._session, self._index, self._name = session, index, pinned.name
        self._pixels = as_8_bit(decoded(pinned.data))
        _, height, width = self._pixels.shape
        self._image = image_of(self._pixels.transpose(1, 2, 0))
        self._zoom, self._middle = 1.0, QPointF(width / 2, height / 2)
        self._drag: QPointF | None = None
        self.pick = PickRing(session.hand, self, self._found)
        self.setMouseTracking(True)
        self.setFixedHeight(HEIGHT)
        self.setAccessibleName(f"Reference {pinned.name}")
        self.setToolTip(f"{pinned.name}: wheel zooms, drag moves, right button or A picks up a colour")

    def _scale(self) -> float:
        fit = min(self.width() / self._image.width(), self.height() / self._image.height())
        return fit * self._zoom

    def _to_image(self, at: QPointF) -> QPointF:
        return self._middle + (at - QPointF(self.width() / 2, self.height() / 2)) / self._scale()

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.fillRect(self.rect(), theme["lacquer"])
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.translate(self.width() / 2, self.height() / 2)
            painter.scale(self._scale(), self._scale())
            painter.translate(-self._middle)
            painter.drawImage(0, 0, self._image)
            painter.resetTransform()
            painter.setPen(QPen(theme["edge"], 1))
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
            painter.setFont(font(10))
            painter.setPen(theme["quiet"])
            painter.drawText(
                QRectF(5, self.height() - 17, self.width() - 10, 14), Qt.AlignmentFlag.AlignLeft, self._name
            )
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self.pick.draw(painter)

    def wheelEvent(self, event: QWheelEvent) -> None:
        before = self._to_image(event.position())
        self._zoom = min(max(self._zoom * 1.15 ** (event.angleDelta().y() / 120), 1.0), LARGEST_ZOOM)
        self._middle += before - self._to_image(event.position())
        if self._zoom == 1.0:
            self._middle = QPointF(self._image.width() / 2, self._image.height() / 2)
        self.update()
        event.accept()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.RightButton:
            self.pick.move(event.position())
        else:
            self._drag = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.pick.shown:
            self.pick.move(event.position())
        elif self._drag is not None:
            self._middle -= (event.position() - self._drag) / self._scale()
            self._drag = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag = None
        if event.button() == Qt.MouseButton.RightButton:
            self.pick.take()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        menu = QMenu(self)
        menu.addAction("Surroundings of the part from this picture", self._surround)
        menu.addAction("Take off the board", lambda: self._session.apply(UnpinPicture(self._index)))
        open_menu(menu, event.globalPosition().toPoint())

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        if event.reason() == QContextMenuEvent.Reason.Keyboard:
            self._session.apply(UnpinPicture(self._index))

    def _found(self, at: QPointF) -> Colour | None:
        """The mean of as many px of the picture as are set for picking up."""
        where, side = self._to_image(at), self._session.looking.pick_side
        x, y = math.floor(where.x()), math.floor(where.y())
        if not (0 <= x < self._image.width() and 0 <= y < self._image.height()):
            return None
        top, left = max(y - side // 2, 0), max(x - side // 2, 0)
        return self._mean(slice(top, y - side // 2 + side), slice(left, x - side // 2 + side))

    def _mean(self, rows: slice, columns: slice) -> Colour | None:
        straight = self._pixels[:, rows, columns].astype(np.float64) / 255
        return mean_colour(np.concatenate((straight[:3] * straight[3], straight[3:])))

    def _surround(self) -> None:
        """Give the part worked on this picture's mean as the colour of what surrounds it."""
        step = 1 + max(self._image.width(), self._image.height()) // LONGEST_READ_PX
        part, colour = self._session.part, self._mean(slice(None, None, step), slice(None, None, step))
        if part is not None and colour is not None:
            self._session.apply(SetPart(part.uid, {"around": list(colour)}))


class ReferenceBoard(QWidget):
    """All pinned pictures, one under the other."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: tuple[Pinned, ...] = ()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(4)
        session.changed.connect(self._refresh)
        session.opened.connect(self._refresh)
        self._refresh()

    def _refresh(self, _: object = None) -> None:
        board = self._session.painting.board
        self.setVisible(bool(board))
        if board == self._shown:
            return
        self._shown = board
        clear(self._column)
        for index, pinned in enumerate(board):
            self._column.addWidget(_Picture(self._session, index, pinned))
