"""The smear pad: a small sheet under the mixing grid to mix colours on with the brush in hand."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPointingDevice, QTabletEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from japanner.desk.easel.pen import mouse_sample, pressed_for_pick_up, tablet_sample
from japanner.desk.easel.pick_ring import PickRing
from japanner.desk.screen import screens
from japanner.desk.session.hand import Colour
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.images import shared_image
from japanner.desk.widgets.painter import painter_on
from japanner.painting.document.document import Document, new_document
from japanner.painting.live.stroke import LiveStroke
from japanner.painting.operations import AddLayer, AddPart
from japanner.painting.picture.picking import picked
from japanner.painting.picture.picture import Picture
from japanner.stroke.pen.practice_pen import PracticePen

__all__ = ["SmearPad"]

# The sheet is larger than the pad mostly is: a wider column shows more of it.
WIDTH, HEIGHT = 464, 560
LOWEST = 46
LARGEST_TIP_PX = 40.0
GREY = 0.466  # L* 50


class SmearPad(QWidget):
    """A painting of its own, so that every brush does here what it does on the easel; large tips are made smaller."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._document, self._picture = self._fresh()
        self._stroke: LiveStroke | None = None
        self._pen: PracticePen | None = None
        self.pick = PickRing(session.hand, self, self._found)
        self.setMinimumSize(60, LOWEST)
        self.setMaximumSize(WIDTH, HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setMouseTracking(True)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAccessibleName("Smear pad")
        self.setToolTip("Mix colours with the brush in hand; the right button or A picks up")

    @property
    def document(self) -> Document:
        return self._document

    def clean(self) -> None:
        """Begin with an empty pad."""
        self._document, self._picture = self._fresh()
        self.update()

    @staticmethod
    def _fresh() -> tuple[Document, Picture]:
        document = new_document(WIDTH, HEIGHT, title="Smear pad", ground=(GREY,) * 3)
        document.apply(AddPart("Pad"))
        document.apply(AddLayer(document.painting.parts[0].uid, "texture", place="over"))
        return document, Picture(document.painting)

    def _found(self, at: QPointF) -> Colour | None:
        return picked(self._document.painting, at.x(), at.y(), "visible", 0, min(self._session.looking.pick_side, 5))

    # --- strokes --------------------------------------------------------------------------------------

    def _begin(self, samples: list[tuple[float, ...]], *, wipe: bool) -> None:
        session, painting = self._session, self._document.painting
        brush = session.hand.brush.with_changes(size_px=min(session.hand.brush.size_px, LARGEST_TIP_PX))
        layer = painting.parts[0].layers[0].uid
        self._stroke = LiveStroke(painting, layer, brush, session.hand.colour, wipe=wipe or session.hand.wiping)
        self._go_on(samples)

    def _go_on(self, samples: list[tuple[float, ...]]) -> None:
        if self._stroke is not None:
            self._picture.refresh(self._stroke.preview, self._stroke.add(samples))
            self.update()

    def _end(self) -> None:
        stroke, self._stroke = self._stroke, None
        if stroke is None:
            return
        stroke.finish()
        outcome = stroke.outcome()
        if outcome is not None:
            self._document.commit(*outcome)
        if stroke.colour != self._session.hand.colour:
            self._session.hand.set_colour(stroke.colour)
        self._picture.refresh(self._document.painting, stroke.areas)
        self.update()

    # --- the hand -------------------------------------------------------------------------------------

    def tabletEvent(self, event: QTabletEvent) -> None:
        kind = event.type()
        if pressed_for_pick_up(event):
            event.ignore()  # comes again as the right button of a mouse
            return
        sample = tablet_sample(event, event.position())
        if kind == QEvent.Type.TabletPress:
            self._begin([sample], wipe=event.pointerType() == QPointingDevice.PointerType.Eraser)
        elif kind == QEvent.Type.TabletMove:
            self._go_on([sample])
        else:
            self._end()
        event.accept()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if pressed_for_pick_up(event):
            self.pick.move(event.position())
        elif event.button() == Qt.MouseButton.LeftButton and not self.pick.shown:
            self._pen = PracticePen(self._session.hand.practice_pen)
            self._begin([mouse_sample(event, event.position(), self._pen)], wipe=False)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.pick.shown:
            self.pick.move(event.position())
        elif self._pen is not None:
            self._go_on([mouse_sample(event, event.position(), self._pen)])

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if pressed_for_pick_up(event):
            self.pick.take()
        elif event.button() == Qt.MouseButton.LeftButton and self._pen is not None:
            self._pen = None
            self._end()

    def paintEvent(self, event: QPaintEvent) -> None:
        pixels = self._picture.levels[0]
        with painter_on(self) as painter:
            image = shared_image(pixels)
            painter.drawImage(0, 0, screens.image(image, self))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self.pick.draw(painter)
            painter.setPen(QPen(theme["edge"], 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
