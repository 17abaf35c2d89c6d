"""Filling from a point, and gradients along a drag."""

from __future__ import annotations

from typing import Final

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QTransform

from japanner.desk.easel.task import Press, Task, draw_handle, draw_line
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options
from japanner.painting.operations import Fill, FloodFill, Gradient
from japanner.painting.picture.reference import REFERENCES
from japanner.raster.gradient import GRADIENTS

__all__ = ["FillTask", "GradientTask"]

NO_LAYER: Final = "There is no layer to fill yet: add a part and a layer first."


class FillTask(Task):
    """A click fills what belongs together; buttons fill the silhouette, or all that the frisket lets through."""

    title = "FILL"
    hint = "click into a shape; its line bounds the fill"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        row = self.options = Options()
        self.reference = row.choice("bounds", REFERENCES, "What bounds it: all that shows, the sketch, this layer")
        self.tolerance = row.number("tolerance", 0, 100, 12, "How far a colour may be off, in hundredths of OKLab")
        self.gap = row.number("gaps", 0, 200, 12, "Openings in the line up to this wide count as closed", unit=" px")
        self.under = row.number("under", 0, 200, 3, "How far the fill reaches under the line", unit=" px")
        row.button("silhouette", "Fill the part's silhouette", lambda: self._fill("silhouette"))
        row.button("all", "Fill all that the frisket lets through, or the whole canvas", lambda: self._fill("canvas"))

    def press(self, press: Press) -> None:
        session = self.session
        if session.work.active_layer is None:
            session.told.emit(NO_LAYER)
            return
        session.apply(
            FloodFill(
                session.work.active_layer, session.hand.colour, press.at.x(), press.at.y(),
                self.reference.currentText(), self.tolerance.value(), round(self.gap.value()),
                round(self.under.value()), session.work.on,
            )
        )  # fmt: skip

    def _fill(self, what: str) -> None:
        fill(self.session, what)


def fill(session: Session, what: str) -> None:
    """Fill the silhouette, or all of the canvas that the frisket lets through, with the colour in hand."""
    if session.work.active_layer is None:
        session.told.emit(NO_LAYER)
    else:
        session.apply(Fill(session.work.active_layer, session.hand.colour, what, session.work.on))


class GradientTask(Task):
    """A drag lays a gradient from the colour in hand."""

    title = "GRADIENT"
    hint = "drag from the colour in hand to where it ends"
    ENDS: Final = {"to clear": None, "to the former colour": 1.0}

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        row = self.options = Options()
        self.kind = row.choice("", GRADIENTS, "Along the drag, or round about its beginning")
        self.end_in = row.choice("", list(self.ENDS), "What the colour in hand turns into")
        self.within = row.choice("within", ("silhouette", "canvas"), "Where it goes; a frisket limits it as well")
        self._from: QPointF | None = None
        self._to: QPointF | None = None

    def end(self) -> None:
        self._from = self._to = None

    def press(self, press: Press) -> None:
        self._from = self._to = press.at

    def move(self, press: Press, *, down: bool) -> None:
        if down and self._from is not None:
            self._to = press.at
            self.redraw.emit()

    def release(self, press: Press) -> None:
        start, self._from, self._to = self._from, None, None
        session = self.session
        self.redraw.emit()
        if start is None or (press.at - start).manhattanLength() < 2 * press.px:
            return
        if session.work.active_layer is None:
            session.told.emit(NO_LAYER)
            return
        solid = (*session.hand.colour, 1.0)
        end = (
            (*session.hand.former_colour, 1.0) if self.ENDS[self.end_in.currentText()] else (*session.hand.colour, 0.0)
        )
        points = (start.x(), start.y(), press.at.x(), press.at.y())
        within = self.within.currentText()
        session.apply(
            Gradient(session.work.active_layer, self.kind.currentText(), points, solid, end, within, session.work.on)
        )

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> bool:
        if key == Qt.Key.Key_Escape and self._from is not None:
            self.end()
            self.redraw.emit()
            return True
        return False

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        if self._from is not None and self._to is not None:
            ends = [to_view.map(self._from), to_view.map(self._to)]
            draw_line(painter, ends)
            draw_handle(painter, ends[0], hot=True)
            draw_handle(painter, ends[1])
