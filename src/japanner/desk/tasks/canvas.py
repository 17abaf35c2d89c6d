"""Framing the canvas: cropping and extending by handles and numbers; scaling it by numbers."""

from __future__ import annotations

from PySide6.QtCore import Qt

from japanner.desk.easel.task import CommitTask
from japanner.desk.session.session import Session
from japanner.desk.tasks.framed import FramedTask
from japanner.desk.widgets.option_row import Options, set_quietly
from japanner.painting.operations import FrameCanvas, ScaleCanvas
from japanner.raster.geometry import Rect
from japanner.raster.tiles import LONGEST_SIDE

__all__ = ["FrameTask", "ScaleTask"]


class FrameTask(FramedTask):
    """The frame that the canvas will have; it may reach beyond what is there."""

    title = "FRAME"
    hint = "drag the sides and corners of the canvas, or the whole frame; Enter: done"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
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
        self.take_frame(self.session.painting.rect)

    def done(self) -> None:
        x0, y0, _, _ = frame = self.frame
        if frame == self.session.painting.rect or self.session.apply(FrameCanvas(x0, y0, frame.width, frame.height)):
            self.finished.emit()

    def _to_frisket(self) -> None:
        frisket = self.session.painting.frisket
        if frisket is None:
            self.session.told.emit("There is no frisket to frame.")
        else:
            self.take_frame(frisket.sheet.bounds())

    def _typed(self) -> None:
        x, y, width, height = (round(box.value()) for box in self._boxes)
        self.take_frame(Rect(x, y, x + width, y + height))

    def take_frame(self, frame: Rect) -> None:
        self.handles.frame = frame
        for box, value in zip(self._boxes, (frame.x0, frame.y0, frame.width, frame.height), strict=True):
            set_quietly(box, value)
        self.redraw.emit()


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
