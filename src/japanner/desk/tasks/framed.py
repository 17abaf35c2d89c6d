"""Tasks about a frame over the canvas."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QTransform

from japanner.desk.easel.frame_handles import FrameHandles
from japanner.desk.easel.task import CommitTask, Press
from japanner.desk.session.session import Session
from japanner.raster.geometry import Rect

__all__ = ["FramedTask"]


class FramedTask(CommitTask):
    """The frame is dragged by its sides, its corners, or as a whole; what that means is the task's."""

    cursor = Qt.CursorShape.SizeAllCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.handles = FrameHandles()

    @property
    def frame(self) -> Rect:
        """The frame, canvas px."""
        return self.handles.frame

    def take_frame(self, frame: Rect) -> None:
        """The hand wants the frame so."""
        raise NotImplementedError

    def press(self, press: Press) -> None:
        self.handles.press(press)

    def move(self, press: Press, *, down: bool) -> None:
        if down:
            self.take_frame(self.handles.drag(press))

    def release(self, press: Press) -> None:
        self.handles.let_go()

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        self.handles.draw(painter, to_view, self.session.painting.width, self.session.painting.height)
