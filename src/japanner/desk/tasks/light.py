"""Taking the light from a ball in a picture, and scratching with the light of the painting."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QTransform

from japanner.desk.easel.task import CommitTask, Press, Task, draw_handle, draw_line
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options
from japanner.errors import InputError
from japanner.light.solve import angles_of, light_from_ball
from japanner.painting.operations import Scratch, SetLight

__all__ = ["LightFromBallTask", "ScratchTask"]

ASKS = ("ball", "highlight", "shadow edge")


class LightFromBallTask(CommitTask):
    """A ring round a ball, a click where it shines, clicks where its shadow begins: the light that does that."""

    title = "LIGHT"
    hint = "drag a ring round a ball; click where it shines; click along where its shadow begins; Enter takes the light"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        row = self.options = Options()
        self.asks = row.choice("mark its", ASKS, "What the next drag or click marks")
        row.button("begin again", "Take all marks away", self._clear)
        row.button("done", "Take the light of the ball (Enter)", self.done)
        self._clear()

    def _clear(self) -> None:
        self.middle: tuple[float, float] | None = None
        self.radius = 0.0
        self.highlight: tuple[float, float] | None = None
        self.edge: list[tuple[float, float]] = []
        self._from: QPointF | None = None
        self.asks.setCurrentText("ball")
        self.redraw.emit()

    def press(self, press: Press) -> None:
        at, what = (press.at.x(), press.at.y()), self.asks.currentText()
        if what == "ball":
            self._from = press.at
        elif what == "highlight":
            self.highlight = at
            self.asks.setCurrentText("shadow edge")
        else:
            self.edge.append(at)
        self.redraw.emit()

    def move(self, press: Press, *, down: bool) -> None:
        if down and self._from is not None:
            across, along = press.at.x() - self._from.x(), press.at.y() - self._from.y()
            self.radius = (abs(across) + abs(along)) / 4
            self.middle = (self._from.x() + across / 2, self._from.y() + along / 2)
            self.redraw.emit()

    def release(self, press: Press) -> None:
        if self._from is not None and self.radius > 2 * press.px:
            self.asks.setCurrentText("highlight")
        self._from = None

    def done(self) -> None:
        """Take the light."""
        try:
            if self.middle is None:
                raise InputError("Drag a ring round a ball first")
            up, right = angles_of(light_from_ball(self.middle, self.radius, self.highlight, self.edge))
        except InputError as error:
            self.session.told.emit(str(error))
            return
        light = replace(self.session.painting.light, up_deg=round(up, 1), right_deg=round(right, 1))
        self.session.apply(SetLight.of(light))
        self.finished.emit()

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        if self.middle is not None:
            middle, reach = to_view.map(QPointF(*self.middle)), self.radius * abs(to_view.m11() + 1j * to_view.m12())
            for pen_colour in (Qt.GlobalColor.black, Qt.GlobalColor.white):
                painter.setPen(pen_colour)
                grown = reach + (1 if pen_colour == Qt.GlobalColor.black else 0)
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(middle, grown, grown)
        if self.highlight is not None:
            draw_handle(painter, to_view.map(QPointF(*self.highlight)), hot=True)
        for at in self.edge:
            draw_handle(painter, to_view.map(QPointF(*at)))


class ScratchTask(Task):
    """Every drag is a scratch with a lit and a shaded side."""

    title = "SCRATCH"
    hint = "drag a scratch into the part; its sides are lit by the key light"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        row = self.options = Options()
        self.width = row.number("width", 0.5, 200, 3, "From side to side", unit=" px", digits=1)
        self.depth = row.number("depth", 0, 100, 80, "How strongly its sides show", unit=" %")
        self._rows: list[tuple[float, ...]] = []

    def press(self, press: Press) -> None:
        self._rows = [(press.at.x(), press.at.y(), 1.0)]

    def move(self, press: Press, *, down: bool) -> None:
        if down and self._rows:
            self._rows.append((press.at.x(), press.at.y(), 1.0))
            self.redraw.emit()

    def release(self, press: Press) -> None:
        rows, self._rows = self._rows, []
        if len(rows) < 2:
            return
        part = self.session.part
        if part is None:
            self.session.told.emit("A scratch goes into a part: add one first.")
            return
        seed = len(self.session.document.records)
        self.session.apply(Scratch(part.uid, tuple(rows), self.width.value(), self.depth.value() / 100, seed))

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        if len(self._rows) > 1:
            draw_line(painter, [to_view.map(QPointF(x, y)) for x, y, *_ in self._rows], thin=True)
