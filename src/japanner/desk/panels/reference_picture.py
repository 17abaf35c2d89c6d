"""One pinned picture: to look at in the ways the painting is looked at, and to pick up colours from."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QContextMenuEvent, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QTransform, QWheelEvent
from PySide6.QtWidgets import QMenu, QWidget

from japanner.desk.easel.measure_lines import draw_grid, draw_measures
from japanner.desk.easel.pick_ring import PickRing
from japanner.desk.screen import screens
from japanner.desk.session.hand import Colour
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.images import image_of, shared_image
from japanner.desk.widgets.menus import open_menu
from japanner.desk.widgets.painter import painter_on
from japanner.painting.model import DEFAULT_SCALE, Pinned
from japanner.painting.operations import SetPart, UnpinPicture
from japanner.painting.picture.looks import look
from japanner.painting.picture.picking import mean_colour
from japanner.raster.codec import decoded
from japanner.raster.png_data import as_8_bit

__all__ = ["REFERENCE_LOOKS", "ReferencePicture", "looked_at"]

HEIGHT = 110
LARGEST_ZOOM = 16.0
CORNER = 18
# Of larger pictures, so many rows and columns are plenty for a mean.
LONGEST_READ_PX = 1000
REFERENCE_LOOKS = ("colour", "values", "steps")


def looked_at(pixels: NDArray[np.uint8], how: str, scale: tuple[float, ...]) -> QImage:
    """A picture, uint8 (4, h, w), as a look shows it."""
    if how == "colour":
        return image_of(pixels.transpose(1, 2, 0))
    r, g, b = (pixels[i].astype(np.uint32) for i in range(3))
    packed = np.uint32(0xFF000000) | r << np.uint32(16) | g << np.uint32(8) | b
    return shared_image(look(how, np.ascontiguousarray(packed), scale)).copy()


class ReferencePicture(QWidget):
    """Wheel zooms, dragging moves it, the right button picks up a colour; a double click opens it large, the corner has
    the rest.
    """

    large_wanted = Signal()
    moved = Signal()  # it shows another piece of itself

    def __init__(self, session: Session, index: int, pinned: Pinned, *, small: bool = True) -> None:
        super().__init__()
        self._session, self._index, self._name = session, index, pinned.name
        self._pixels = as_8_bit(decoded(pinned.data))
        _, height, width = self._pixels.shape
        self._how, self._mirrored = "colour", False
        self._image = looked_at(self._pixels, "colour", ())
        self._shown_image = self._for_screen()
        screens.changed.connect(self._screen_changed)
        self._zoom, self._middle = 1.0, QPointF(width / 2, height / 2)
        self._drag: QPointF | None = None
        self.pick = PickRing(session.hand, self, self._found)
        self.setMouseTracking(True)
        session.measuring.changed.connect(self.update)
        if small:
            self.setFixedHeight(HEIGHT)
        else:
            self.setMinimumSize(QSize(80, 60))
        self.setAccessibleName(f"Reference {pinned.name}")
        self.setToolTip(
            f"{pinned.name}: wheel zooms, drag moves, right button or A picks up a colour, double-click opens it large"
        )

    def show_as(self, how: str, *, mirrored: bool) -> None:
        """In colour, in values, or in the steps of the part worked on; mirrored or not."""
        part = self._session.part
        self._how, self._mirrored = how, mirrored
        self._image = looked_at(self._pixels, how, part.scale if part is not None else DEFAULT_SCALE)
        self._shown_image = self._for_screen()
        self.update()

    def _for_screen(self) -> QImage:
        """As the screen needs it; colours are picked up from what it is."""
        return screens.image(self._image, self)

    def _screen_changed(self) -> None:
        self._shown_image = self._for_screen()
        self.update()

    @property
    def image(self) -> QImage:
        """As it is looked at just now, mirrored or not."""
        return self._image.flipped(Qt.Orientation.Horizontal) if self._mirrored else self._image

    def see(self, share_x: float, share_y: float, zoom: float) -> None:
        """Bring a place, in shares of width and height, to the middle; zoom counts from the whole picture."""
        self._zoom = min(max(zoom, 1.0), LARGEST_ZOOM)
        self._middle = QPointF(share_x * self._image.width(), share_y * self._image.height())
        self.update()

    def _scale(self) -> float:
        fit = min(self.width() / self._image.width(), self.height() / self._image.height())
        return fit * self._zoom

    def to_view(self) -> QTransform:
        """From the picture's px to the widget's."""
        made = QTransform.fromTranslate(self.width() / 2, self.height() / 2)
        made.scale(-self._scale() if self._mirrored else self._scale(), self._scale())
        return made.translate(-self._middle.x(), -self._middle.y())

    def _to_image(self, at: QPointF) -> QPointF:
        return self.to_view().inverted()[0].map(at)

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.fillRect(self.rect(), theme["lacquer"])
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.setTransform(self.to_view(), True)
            painter.drawImage(0, 0, self._shown_image)
            painter.resetTransform()
            self._draw_lines(painter)
            painter.setPen(QPen(theme["edge"], 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
            painter.setFont(font(10))
            painter.setPen(theme["quiet"])
            painter.drawText(
                QRectF(5, self.height() - 17, self.width() - 10, 14), Qt.AlignmentFlag.AlignLeft, self._name
            )
            painter.drawText(self._corner(), Qt.AlignmentFlag.AlignCenter, "⋯")
            self.pick.draw(painter)

    def _draw_lines(self, painter: QPainter) -> None:
        """Lines of proportion, and the grid while the hand measures."""
        measuring, painting = self._session.measuring, self._session.painting
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if measuring.on:
            draw_grid(painter, measuring, painting.width, painting.height, self.to_view(), self._name)
        if measuring.on or self._session.looking.guides_shown:
            draw_measures(painter, measuring, self._name, self.to_view())

    def _corner(self) -> QRectF:
        """Where the menu is."""
        return QRectF(self.width() - CORNER - 2, 2, CORNER, CORNER)

    def wheelEvent(self, event: QWheelEvent) -> None:
        before = self._to_image(event.position())
        self._zoom = min(max(self._zoom * 1.15 ** (event.angleDelta().y() / 120), 1.0), LARGEST_ZOOM)
        self._middle += before - self._to_image(event.position())
        if self._zoom == 1.0:
            self._middle = QPointF(self._image.width() / 2, self._image.height() / 2)
        self.update()
        self.moved.emit()
        event.accept()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._corner().contains(event.position()):
            self._open_menu(event.globalPosition().toPoint())
        elif event.button() == Qt.MouseButton.RightButton:
            self.pick.move(event.position())
        elif self._measures:
            at = self._to_image(event.position())
            self._session.measuring.press(self._name, at.x(), at.y(), 1 / self._scale())
        else:
            self._drag = event.position()

    @property
    def _measures(self) -> bool:
        """Whether presses draw lines on it."""
        measuring = self._session.measuring
        return measuring.on and measuring.against == self._name

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.pick.shown:
            self.pick.move(event.position())
        elif self._measures and event.buttons() & Qt.MouseButton.LeftButton:
            at, keys = self._to_image(event.position()), event.modifiers()
            self._session.measuring.move(at.x(), at.y(), snap=bool(keys & Qt.KeyboardModifier.ShiftModifier))
        elif self._drag is not None:
            self._middle += self._to_image(self._drag) - self._to_image(event.position())
            self._drag = event.position()
            self.update()
            self.moved.emit()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag = None
        if self._measures and event.button() == Qt.MouseButton.LeftButton:
            self._session.measuring.release(1 / self._scale())
        if event.button() == Qt.MouseButton.RightButton:
            self.pick.take()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.large_wanted.emit()

    def _open_menu(self, at: QPoint) -> None:
        menu = QMenu(self)
        menu.addAction("Surroundings of the part from this picture", self._surround)
        menu.addAction("Take off the board", lambda: self._session.apply(UnpinPicture(self._index)))
        open_menu(menu, at)

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
