"""Framing the canvas: cropping and extending by handles and numbers; scaling it by numbers."""

from __future__ import annotations

from typing import Final

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QTransform

from japanner.desk.easel.task import CommitTask, Press, draw_handle, draw_line
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options, set_quietly
from japanner.painting.operations import FrameCanvas, ScaleCanvas
from japanner.raster.geometry import Rect
from japanner.raster.tiles import LONGEST_SIDE

__all__ = ["FrameTask", "ScaleTask"]

SIDES: Final = ((0, -1), (1, 0), (0, 1), (-1, 0), (-1, -1), (1, -1), (1, 1), (-1, 1))


class FrameTask(CommitTask):
    """The frame that the canvas will have; it may reach beyond what is there."""

    title = "FRAME"
    hint = "drag the sides and corners of the canvas, or the whole frame; Enter: done"
    cursor = Qt.CursorShape.SizeAllCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.frame = Rect(0, 0, 1, 1)
        self._held: tuple[int, int] | None = None
        self._grip: tuple[QPointF, Rect] | None = None
        row = self.options = Options()
        reach = LONGEST_SIDE
        names = (("x", -reach, reach), ("y", -reach, reach), ("width", 1, reach), ("height", 1, reach))
        self._boxes = [
            row.number(name, low, high, 1, f"{name} of the new frame", unit=" px", changed=lambda _: self._typed())
            for name, low, high in names
        ]
        row.button("to the frisket", "Frame what the frisket lets through", self._to_frisket)
        row.button("done", "Make it count (Enter)", self.done)

    def begin(self) -> None:
        self._take(self.session.painting.rect)

    def done(self) -> None:
        x0, y0, _, _ = frame = self.frame
        if frame == self.session.painting.rect or self.session.apply(FrameCanvas(x0, y0, frame.width, frame.height)):
            self.finished.emit()

    def _to_frisket(self) -> None:
        frisket = self.session.painting.frisket
        if frisket is None:
            self.session.told.emit("There is no frisket to frame.")
        else:
            self._take(frisket.sheet.bounds())

    def _typed(self) -> None:
        x, y, width, height = (round(box.value()) for box in self._boxes)
        self._take(Rect(x, y, x + width, y + height))

    def _take(self, frame: Rect) -> None:
        self.frame = frame
        for box, value in zip(self._boxes, (frame.x0, frame.y0, frame.width, frame.height), strict=True):
            set_quietly(box, value)
        self.redraw.emit()

    def _handle(self, side: tuple[int, int]) -> QPointF:
        x0, y0, x1, y1 = self.frame
        return QPointF((x0 + x1 + side[0] * (x1 - x0)) / 2, (y0 + y1 + side[1] * (y1 - y0)) / 2)

    def press(self, press: Press) -> None:
        self._held = (0, 0)
        for side in SIDES:
            at = self._handle(side)
            if press.near(at.x(), at.y()):
                self._held = side
        self._grip = (press.at, self.frame)

    def move(self, press: Press, *, down: bool) -> None:
        if not down or self._held is None or self._grip is None:
            return
        start, old = self._grip
        dx, dy = round(press.at.x() - start.x()), round(press.at.y() - start.y())
        x0, y0, x1, y1 = old
        if self._held == (0, 0):
            self._take(old.moved(dx, dy))
            return
        x0, x1 = (min(x0 + dx, x1 - 1), x1) if self._held[0] < 0 else (x0, x1 + dx * (self._held[0] > 0))
        y0, y1 = (min(y0 + dy, y1 - 1), y1) if self._held[1] < 0 else (y0, y1 + dy * (self._held[1] > 0))
        self._take(Rect(x0, y0, max(x1, x0 + 1), max(y1, y0 + 1)))

    def release(self, press: Press) -> None:
        self._held = self._grip = None

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        frame, canvas = QPainterPath(), QPainterPath()
        x0, y0, x1, y1 = self.frame
        frame.addRect(QRectF(x0, y0, x1 - x0, y1 - y0))
        canvas.addRect(QRectF(0, 0, self.session.painting.width, self.session.painting.height))
        painter.fillPath(to_view.map(canvas.subtracted(frame)), QColor(0, 0, 0, 140))
        corners = [self._handle(side) for side in SIDES[4:]]
        draw_line(painter, [to_view.map(at) for at in corners], closed=True)
        for side in SIDES:
            draw_handle(painter, to_view.map(self._handle(side)), hot=side == self._held)


class ScaleTask(CommitTask):
    """Scale the whole picture to another number of pixels."""

    title = "SCALE"
    hint = "type the new size; Enter in the easel or done makes it count"
    cursor = Qt.CursorShape.ArrowCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        row = self.options = Options()
        most = LONGEST_SIDE
        self.width = row.number("width", 1, most, 1, "New width", unit=" px", changed=lambda v: self._typed(width=v))
        self.height = row.number(
            "height", 1, most, 1, "New height", unit=" px", changed=lambda v: self._typed(height=v)
        )
        self.share = row.number("or", 1, 1000, 100, "Share of the present size", unit=" %", digits=1,
                                changed=lambda v: self._typed(share=v))  # fmt: skip
        self.ppi = row.number("at", 1, 10000, 300, "Pixels per inch in print", unit=" ppi")
        row.button("done", "Make it count (Enter)", self.done)

    def begin(self) -> None:
        painting = self.session.painting
        for box, value in ((self.width, painting.width), (self.height, painting.height), (self.share, 100)):
            set_quietly(box, value)
        set_quietly(self.ppi, painting.ppi)

    def _typed(self, width: float = 0, height: float = 0, share: float = 0) -> None:
        """Keep the shape: one number gives the others."""
        painting = self.session.painting
        factor = share / 100 or width / painting.width or height / painting.height
        if not width:
            set_quietly(self.width, max(round(painting.width * factor), 1))
        if not height:
            set_quietly(self.height, max(round(painting.height * factor), 1))
        if not share:
            set_quietly(self.share, factor * 100)

    def done(self) -> None:
        width, height = round(self.width.value()), round(self.height.value())
        self.session.carry_out(ScaleCanvas(width, height, self.ppi.value()), self.finished.emit)
