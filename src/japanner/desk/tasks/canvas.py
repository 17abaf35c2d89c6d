"""Framing the canvas: cropping and extending by handles and numbers; scaling it by numbers."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QTransform

from japanner.desk.easel.frame_handles import FrameHandles
from japanner.desk.easel.task import CommitTask, Press
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options, set_quietly
from japanner.painting.operations import FrameCanvas, ScaleCanvas
from japanner.raster.geometry import Rect
from japanner.raster.tiles import LONGEST_SIDE

__all__ = ["FrameTask", "ScaleTask"]


class FrameTask(CommitTask):
    """The frame that the canvas will have; it may reach beyond what is there."""

    title = "FRAME"
    hint = "drag the sides and corners of the canvas, or the whole frame; Enter: done"
    cursor = Qt.CursorShape.SizeAllCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.handles = FrameHandles()
        row = self.options = Options()
        reach = LONGEST_SIDE
        names = (("x", -reach, reach), ("y", -reach, reach), ("width", 1, reach), ("height", 1, reach))
        self._boxes = [
            row.number(name, low, high, 1, f"{name} of the new frame", unit=" px", changed=lambda _: self._typed())
            for name, low, high in names
        ]
        row.button("to the frisket", "Frame what the frisket lets through", self._to_frisket)
        row.button("done", "Make it count (Enter)", self.done)

    @property
    def frame(self) -> Rect:
        """The canvas as it will be."""
        return self.handles.frame

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
        self.handles.frame = frame
        for box, value in zip(self._boxes, (frame.x0, frame.y0, frame.width, frame.height), strict=True):
            set_quietly(box, value)
        self.redraw.emit()

    def press(self, press: Press) -> None:
        self.handles.press(press)

    def move(self, press: Press, *, down: bool) -> None:
        if down:
            self._take(self.handles.drag(press))

    def release(self, press: Press) -> None:
        self.handles.let_go()

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        self.handles.draw(painter, to_view, self.session.painting.width, self.session.painting.height)


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
