"""Warping by a cage of points."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF
from PySide6.QtGui import QPainter, QTransform

from japanner.desk.easel.task import CommitTask, Press, draw_handle, draw_line
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options
from japanner.painting.operations import CageWarp
from japanner.painting.operations.moving import content_area
from japanner.painting.operations.warping import cage_points
from japanner.raster.geometry import Rect

__all__ = ["CageTask"]


class CageTask(CommitTask):
    """Points over the layer's paint, or over what the frisket lets through; each can be dragged."""

    title = "CAGE"
    hint = "drag the points; Enter: done"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        row = self.options = Options()
        self.columns = row.number("columns", 1, 12, 3, "Cells across", changed=lambda _: self.begin())
        self.rows = row.number("rows", 1, 12, 3, "Cells down", changed=lambda _: self.begin())
        row.button("at rest", "Back to where it was", self.begin)
        row.button("done", "Make it count (Enter)", self.done)
        self.area = Rect(0, 0, 0, 0)
        self.points = np.zeros((0, 0, 2))
        self._held: tuple[int, int] | None = None

    def begin(self) -> None:
        session = self.session
        layers = (session.work.active_layer,) if session.work.active_layer is not None else ()
        self.area, self._held = content_area(session.painting, layers), None
        if self.area.empty:
            session.told.emit("There is nothing to warp: no paint on this layer, or none inside the frisket.")
            self.points = np.zeros((0, 0, 2))
        else:
            self.points = cage_points(self.area, round(self.columns.value()), round(self.rows.value()))
            session.trials.begin()
        self.redraw.emit()

    def end(self) -> None:
        self.session.trials.end()

    def operation(self) -> CageWarp:
        points = tuple((float(x), float(y)) for x, y in self.points.reshape(-1, 2))
        columns, rows = self.points.shape[1] - 1, self.points.shape[0] - 1
        return CageWarp((self.session.work.active_layer or 0,), self.area, columns, rows, points)

    @property
    def at_rest(self) -> bool:
        rows, columns = self.points.shape[0] - 1, self.points.shape[1] - 1
        return bool((self.points == cage_points(self.area, columns, rows)).all())

    def done(self) -> None:
        if self.area.empty or self.at_rest:
            self.finished.emit()
        else:
            self.session.carry_out(self.operation(), self.finished.emit)

    def press(self, press: Press) -> None:
        for row, column in np.ndindex(*self.points.shape[:2]):
            if press.near(*self.points[row, column].tolist()):
                self._held = (row, column)

    def move(self, press: Press, *, down: bool) -> None:
        if down and self._held is not None:
            before = self.points[self._held].copy()
            self.points[self._held] = press.at.x(), press.at.y()
            if not self.session.trials.show(None if self.at_rest else self.operation()):
                self.points[self._held] = before
            self.redraw.emit()

    def release(self, press: Press) -> None:
        self._held = None

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        for line in (*self.points, *self.points.swapaxes(0, 1)):
            draw_line(painter, [to_view.map(QPointF(x, y)) for x, y in line.tolist()], thin=True)
        for row, column in np.ndindex(*self.points.shape[:2]):
            at = to_view.map(QPointF(*self.points[row, column].tolist()))
            draw_handle(painter, at, hot=(row, column) == self._held)
