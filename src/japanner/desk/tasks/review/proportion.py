"""Proportion over the easel: landmarks of the canvas against those of a pinned picture, and a cage to move to fit."""

from __future__ import annotations

from typing import Final

import numpy as np
from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPen, QTransform

from japanner.desk.easel.task import CommitTask, draw_word
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.option_row import Options, refill
from japanner.errors import InputError
from japanner.painting.operations import CageWarp, SetLandmarks
from japanner.painting.operations.warping import cage_points
from japanner.raster.geometry import Rect
from japanner.review.fitting import CELLS, cage_moves, moved_places
from japanner.review.proportion import Proportion, proportion

__all__ = ["ProportionTask"]

TOLD: Final = 4
WORDS_PX: Final = 620
NAMED: Final = 0.8
"""Per cent of the head's height from which a landmark's name stands beside its arrow."""


class ProportionTask(CommitTask):
    """Arrows lead from where landmarks are to where the reference has them."""

    title = "PROPORTION"
    hint = (
        "arrows lead to where the reference has them; set landmarks on the pinned picture and on the canvas first · "
        "move to fit: seen first, Enter makes it count"
    )
    unfolds = True
    cursor = Qt.CursorShape.ArrowCursor
    landmarks_wanted = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.compared: Proportion | None = None
        self.row = row = Options()
        self.options = row
        self.against = row.choice("against", [""], "A pinned picture that has landmarks", lambda _: self._compare())
        self.shown = row.switch("move to fit", False, "See what is off moved to where it belongs", self._toggle)
        self.strength = row.number("strength", 0, 100, 100, "How far", unit=" %", changed=lambda _: self._try())
        self.softness = row.number("softness", 3, 100, 15, "How far landmarks pull along what is around them, in heads",
                                   unit=" %", changed=lambda _: self._try())  # fmt: skip
        self.done_button = row.button("done", "Make it count (Enter)", self.done)
        row.button("landmarks", "Set landmarks", self.landmarks_wanted.emit)
        row.row()
        self.words = row.words(WORDS_PX)
        session.changed.connect(self._changed)

    def begin(self) -> None:
        names = [one.picture for one in self.session.painting.landmarks if one.picture]
        refill(self.against, names or [""])
        self.shown.setChecked(False)
        self._compare()

    def end(self) -> None:
        self.session.trials.end()

    def _changed(self, *_: object) -> None:
        if self.row.isVisible() and not self.shown.isChecked():
            self._compare()

    def _compare(self) -> None:
        painting, name = self.session.painting, self.against.currentText()
        self.compared = None
        if not name:
            words = "No pinned picture has landmarks yet: lay one over the canvas, and set them."
        else:
            try:
                places = painting.landmarks_on(name).as_places()
                self.compared = proportion(places, painting.landmarks_on().as_places())
                words = self._told(self.compared)
            except InputError as error:
                words = str(error)
        self.words.setText(words)
        self.row.refilled.emit()
        self.redraw.emit()

    @staticmethod
    def _told(compared: Proportion) -> str:
        found = [one.words for one in compared.misfits[:TOLD] if one.size >= 0.5]
        lines = [one.words for one in compared.lines[:2] if abs(one.turn_deg) >= 1]
        off = f"Off by {compared.rms:.1f} % of the head's height. "
        return off + ("; ".join((*found, *lines)) if found or lines else "Everything is where it belongs.")

    # --- move to fit ------------------------------------------------------------------------------------

    def operation(self) -> CageWarp | None:
        """The cage that moves all paint to fit; None where there is nothing to move."""
        painting, compared = self.session.painting, self.compared
        layers = tuple(layer.uid for _, layer in painting.layers() if layer.pixels.tiles)
        if compared is None or not layers or not self.strength.value():
            return None
        area = Rect(0, 0, painting.width, painting.height)
        rest = cage_points(area, CELLS, CELLS)
        own = painting.landmarks_on().as_places()
        moves = cage_moves(compared, own, rest, self.strength.value() / 100, self.softness.value() / 100)
        if float(np.abs(moves).max()) < 0.05:
            return None
        points = tuple((float(x), float(y)) for x, y in (rest + moves).reshape(-1, 2))
        return CageWarp(layers, (area.x0, area.y0, area.x1, area.y1), CELLS, CELLS, points)

    def _toggle(self, on: bool) -> None:
        if on:
            self.session.trials.begin()
            self._try()
        else:
            self.session.trials.end()
            self.redraw.emit()

    def _try(self) -> None:
        if self.shown.isChecked():
            self.session.trials.show(self.operation())

    def done(self) -> None:
        """Move all paint, and the landmarks with it."""
        operation, compared = self.operation(), self.compared
        if operation is None or compared is None:
            self.session.told.emit("There is nothing to move: set landmarks on both, and strength above 0.")
            return
        self.shown.setChecked(False)
        own = self.session.painting.landmarks_on().as_places()
        places = np.array(list(own.values()), float)
        moves = cage_moves(compared, own, places, self.strength.value() / 100, self.softness.value() / 100)
        shifts = {name: (float(x), float(y)) for name, (x, y) in zip(own, moves, strict=True)}
        fresh = SetLandmarks("", moved_places(own, shifts))

        def landmarks_follow() -> None:
            self.session.apply(fresh)

        self.session.carry_out(operation, landmarks_follow)

    # --- what is seen -----------------------------------------------------------------------------------

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        if self.compared is None or self.shown.isChecked():
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        own = self.session.painting.landmarks_on().as_places()
        for one in self.compared.misfits:
            x, y = own[one.name]
            here, there = to_view.map(QPointF(x, y)), to_view.map(QPointF(x - one.dx, y - one.dy))
            for colour, wide in ((QColor(0, 0, 0, 160), 3.2), (theme["warning"], 1.6)):
                painter.setPen(QPen(colour, wide))
                painter.drawLine(here, there)
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(there, 4.0, 4.0)
            painter.setPen(QColor(0, 0, 0, 180))
            painter.setBrush(theme["gold"])
            painter.drawEllipse(here, 3.0, 3.0)
            if one.size >= NAMED:
                draw_word(painter, here + QPointF(8, -6), f"{one.name} {one.size:.1f} %")
