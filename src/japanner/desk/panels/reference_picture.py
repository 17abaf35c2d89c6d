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
from japanner.desk.easel.task import draw_line
from japanner.desk.screen import screens
from japanner.desk.session.hand import Colour
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.images import image_of, shared_image
from japanner.desk.widgets.menus import open_menu
from japanner.desk.widgets.painter import painter_on
from japanner.desk.widgets.questions import ask_where_from
from japanner.errors import FileFormatError, InputError
from japanner.files.pictures import PICTURE_NAMES, read_picture
from japanner.files.shelf.references import pin_of, reference_of
from japanner.painting.model import DEFAULT_SCALE, Pinned
from japanner.painting.operations import SetPart, UnpinPicture
from japanner.painting.picture.looks import look
from japanner.painting.picture.picking import mean_colour
from japanner.painting.value.grid_from_picture import grid_from_colours

__all__ = ["REFERENCE_LOOKS", "ReferencePicture", "looked_at"]

HEIGHT = 110
LARGEST_ZOOM = 16.0
CORNER = 18
OPAQUE = 200
"""Coverage from which a px of the picture has a colour worth mixing."""
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
        found = reference_of(pinned)
        self._pixels, self._lost = found.pixels, found.lost
        _, height, width = self._pixels.shape
        self._how, self._mirrored = "colour", False
        self._image = looked_at(self._pixels, "colour", ())
        self._shown_image = self._for_screen()
        screens.changed.connect(self._screen_changed)
        self._zoom, self._middle = 1.0, QPointF(width / 2, height / 2)
        self._drag: QPointF | None = None
        self._region: QRectF | None = None
        """What is being boxed for a mixing grid, in the widget's px."""
        self.pick = PickRing(session.hand, self, self._found)
        self.setMouseTracking(True)
        session.measuring.changed.connect(self.update)
        if small:
            self.setFixedHeight(HEIGHT)
        else:
            self.setMinimumSize(QSize(80, 60))
        self.setAccessibleName(f"Reference {pinned.name}")
        self.setToolTip(
            f"{self._lost or pinned.name}: wheel zooms, drag moves, right button or A picks up a colour, double-click "
            "opens it large"
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
            painter.setPen(theme["warning" if self._lost else "quiet"])
            words = painter.fontMetrics().elidedText(
                self._lost or self._name, Qt.TextElideMode.ElideRight, self.width() - 10
            )
            painter.drawText(QRectF(5, self.height() - 17, self.width() - 10, 14), Qt.AlignmentFlag.AlignLeft, words)
            painter.drawText(self._corner(), Qt.AlignmentFlag.AlignCenter, "⋯")
            self.pick.draw(painter)

    def _draw_lines(self, painter: QPainter) -> None:
        """Lines of proportion, and the grid while the hand measures."""
        measuring, painting = self._session.measuring, self._session.painting
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._region is not None:
            box = self._region.normalized()
            draw_line(painter, [box.topLeft(), box.topRight(), box.bottomRight(), box.bottomLeft()], closed=True)
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
        elif self._region is not None:
            self._region = QRectF(event.position(), event.position())
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
        elif self._region is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._region.setBottomRight(event.position())
            self.update()
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
        if self._region is not None and event.button() == Qt.MouseButton.LeftButton:
            self._grid_from(self._region.normalized())
        elif self._measures and event.button() == Qt.MouseButton.LeftButton:
            self._session.measuring.release(1 / self._scale())
        if event.button() == Qt.MouseButton.RightButton:
            self.pick.take()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.large_wanted.emit()

    def _open_menu(self, at: QPoint) -> None:
        menu = QMenu(self)
        menu.addAction("Surroundings of the part from this picture", self._surround)
        menu.addAction("Mixing grid from a region…", self.take_region)
        if self._lost:
            menu.addAction("Find the file…", self.find_file)
        menu.addAction("Take off the board", lambda: self._session.apply(UnpinPicture(self._index)))
        open_menu(menu, at)

    def take_region(self) -> None:
        """The next drag boxes the colours that a mixing grid is made of."""
        self._region = QRectF()
        self.setCursor(Qt.CursorShape.CrossCursor)
        self._session.told.emit("Drag a box over the colours that the mixing grid is to have.")

    def _grid_from(self, box: QRectF) -> None:
        self._region = None
        self.unsetCursor()
        self.update()
        part = self._session.part
        area = self.to_view().inverted()[0].mapRect(box).toAlignedRect().intersected(self._image.rect())
        if part is None:
            self._session.told.emit("A mixing grid belongs to a part: add one first.")
            return
        piece = self._pixels[:, area.y() : area.y() + area.height(), area.x() : area.x() + area.width()]
        opaque = piece[3] > OPAQUE
        try:
            grid = grid_from_colours(piece[:3, opaque].T / 255, self._name)
        except InputError as error:
            self._session.told.emit(f"{error}.")
            return
        if self._session.apply(SetPart(part.uid, {"grid": grid.to_record(), "mixed": []})):
            rows = ", ".join(name for name, _ in grid.rows)
            self._session.told.emit(f"The mixing grid of {part.name} is from {self._name}: {rows}.")

    def find_file(self) -> None:
        """Where the file is now that it is linked to."""
        self._session.rest_hand()
        path = ask_where_from(self.window(), "Find the picture", f"Pictures ({PICTURE_NAMES});;All files (*)")
        if path is None:
            return
        try:
            picture = read_picture(path)
        except FileFormatError as error:
            self._session.told.emit(str(error))
            return
        if self._session.apply(UnpinPicture(self._index)):
            self._session.apply(pin_of(picture.pixels, self._name, path))

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
