"""Measure on the easel: lines, dividers, plumb, level and a grid, on the painting and on a pinned picture alike."""

from __future__ import annotations

from typing import Final

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QTransform

from japanner.desk.easel.measure_lines import draw_grid, draw_measures
from japanner.desk.easel.task import Press, Task
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options, refill
from japanner.painting.model import MEASURES

__all__ = ["MeasureTask"]

MOST_TOLD: Final = 6
WORDS_PX: Final = 620
NOTHING: Final = "no picture"
MOST_CELLS: Final = 40


class MeasureTask(Task):
    """Lines are no paint, are saved, and stay in sight with the guides."""

    title = "MEASURE"
    hint = (
        "drag a line on the painting or on a pinned picture; its ends can be dragged, Shift keeps to steps of 15° · "
        "Backspace takes away the line touched last"
    )
    unfolds = True

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.measuring = measuring = session.measuring
        self.row = row = Options()
        self.options = row
        self.kind = row.choice(
            "draw", MEASURES, "A line; a divider, which steps by the length of the line touched last; plumb, level",
            lambda kind: measuring.set(kind=kind),
        )  # fmt: skip
        self.against = row.choice("against", [""], "A pinned picture", self._take_picture)
        self.both = row.switch("on both", True, "A new line is laid on the other picture, too; drag it there to where "
                               "it belongs", lambda on: measuring.set(both=on))  # fmt: skip
        self.cells = row.number("grid", 0, MOST_CELLS, 0, "Squares along the longer side of the canvas; on the picture "
                                "where it is laid", changed=lambda n: measuring.set(cells=round(n)))  # fmt: skip
        row.button("take away", "Take away the line touched last (Backspace)", measuring.take_away)
        row.button("clear", "Take away all lines", measuring.clear)
        row.row()
        self.words = row.words(WORDS_PX)
        measuring.changed.connect(self._changed)
        session.changed.connect(self._changed)

    def begin(self) -> None:
        names = [one.name for one in self.session.painting.board]
        self.against.setCurrentText(self.measuring.against)
        refill(self.against, [*names, NOTHING])
        self.measuring.set(
            on=True, chosen=0, kind=self.kind.currentText(), both=self.both.isChecked(), cells=round(self.cells.value())
        )
        self._take_picture(self.against.currentText())

    def end(self) -> None:
        self.measuring.set(on=False)

    def _take_picture(self, name: str) -> None:
        self.measuring.set(against="" if name == NOTHING else name)

    def _changed(self, *_: object) -> None:
        if self.measuring.on:
            words = self._told()
            if words != self.words.text():
                self.words.setText(words)
                self.row.refilled.emit()
            self.redraw.emit()

    def _told(self) -> str:
        found = sorted(self.measuring.compared(), key=lambda one: one.number != self.measuring.chosen)
        if found:
            more = f" · and {len(found) - MOST_TOLD} more" if len(found) > MOST_TOLD else ""
            return " · ".join(one.words for one in found[:MOST_TOLD]) + more
        if self.measuring.against:
            return f"Lines that lie on {self.measuring.against} as well are compared here."
        return "Pin a picture to measure against it; lines on the painting tell angle and length."

    # --- the hand, and what is seen -----------------------------------------------------------------------

    def press(self, press: Press) -> None:
        self.measuring.press("", press.at.x(), press.at.y(), press.px)

    def move(self, press: Press, *, down: bool) -> None:
        if down:
            self.measuring.move(press.at.x(), press.at.y(), snap=press.shift)

    def release(self, press: Press) -> None:
        self.measuring.release(press.px)

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> bool:
        if key in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete):
            self.measuring.take_away()
            return True
        return False

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        painting = self.session.painting
        draw_grid(painter, self.measuring, painting.width, painting.height, to_view)
        draw_measures(painter, self.measuring, "", to_view)
