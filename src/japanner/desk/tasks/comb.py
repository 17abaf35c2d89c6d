"""Combing a part: drags are guide strokes, from root to tip."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Final

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QTransform
from shapely import LineString

from japanner.desk.easel.task import Press, Task, draw_handle, draw_line
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options
from japanner.errors import InputError
from japanner.painting.form.combing import comb_of
from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.operations import SetComb
from japanner.strand.comb import Guide
from japanner.strand.guides import crossed, mirrored, parted, smoothed, thinned, whorl

__all__ = ["CombTask"]

COMBS: Final = "combs"
PARTS: Final = "parts the hair"
CROWN: Final = "makes a crown"
TAKES: Final = "takes strokes away"
REACH_PX: Final = 8


class CombTask(Task):
    """Drag along the hair, from root to tip; the rest of the part follows."""

    title = "COMB"
    hint = "drag from root to tip; the rest follows · R shows the lines while painting"

    shows_comb = True

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        row = self.options = Options()
        self.doing = row.choice(
            "a drag",
            (COMBS, PARTS, CROWN, TAKES),
            "Lay comb strokes; a parting; a crown as far out as the drag; take strokes away",
        )
        self.length = row.number("long", 5, 1000, 100, "Length of the hair there", unit=" %")
        self.lift = row.number("lift", 0, 100, 20, "How far it stands off, 0 flat to 100 upright", unit=" %")
        self.curl = row.number("curl", 0, 100, 0, "How far it curls", unit=" %")
        self.both = row.switch("both sides", False, "The same stroke on the other side of the part's middle")
        row.button("smooth", "Take the tremor out of all strokes", self.smooth)
        row.button("all off", "Take all strokes away: hair lies outward and down", lambda: self._set(()))
        self._rows: list[tuple[float, float]] = []

    @property
    def guides(self) -> tuple[Guide, ...]:
        part = self.session.part
        return part.comb if part is not None else ()

    def begin(self) -> None:
        part = self.session.part
        try:
            if part is None:
                raise InputError("Hair is combed on a part: add one first")
            comb_of(self.session.painting, part)
        except InputError as error:
            self.session.told.emit(str(error))

    def _set(self, guides: tuple[Guide, ...]) -> None:
        if self.session.part is not None:
            self.session.apply(SetComb(self.session.part.uid, tuple(asdict(one) for one in guides)))
        self.redraw.emit()

    def smooth(self) -> None:
        """Take the tremor of the hand out of all strokes."""
        if self.guides:
            self._set(smoothed(self.guides))

    def press(self, press: Press) -> None:
        self._rows = [(press.at.x(), press.at.y())]
        self._take_away(press)

    def move(self, press: Press, *, down: bool) -> None:
        if down and self._rows:
            self._rows.append((press.at.x(), press.at.y()))
            self._take_away(press)
            self.redraw.emit()

    def _take_away(self, press: Press) -> None:
        if self.doing.currentText() == TAKES:
            passed = crossed(self.guides, self._rows[-2:], REACH_PX * press.px)
            if passed:
                self._set(tuple(one for index, one in enumerate(self.guides) if index not in passed))

    def release(self, press: Press) -> None:
        rows, self._rows = self._rows, []
        points = thinned(rows)
        if not points or self.doing.currentText() == TAKES:
            return
        one = Guide(points, self.length.value() / 100, self.lift.value() / 100, self.curl.value() / 100)
        doing = self.doing.currentText()
        if doing == COMBS:
            fresh: tuple[Guide, ...] = (one, *self._other_side(one))
        elif doing == PARTS:
            fresh = parted(one.points, 0.35 * LineString(one.points).length, one)
        else:
            fresh = whorl(one.points[0], math.dist(one.points[0], one.points[-1]), one)
        self._set((*self.guides, *fresh))

    def _other_side(self, one: Guide) -> tuple[Guide, ...]:
        part = self.session.part
        if part is None or not self.both.isChecked() or not part.flats:
            return ()
        area = silhouette_sheet(self.session.painting, part).bounds()
        return (mirrored(one, (area.x0 + area.x1) / 2),)

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier) -> bool:
        if key == Qt.Key.Key_Backspace and self.guides:
            self._set(self.guides[:-1])
            return True
        return False

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        for guide in self.guides:
            points = [to_view.map(QPointF(*at)) for at in guide.points]
            draw_line(painter, points)
            draw_handle(painter, points[0])
        if len(self._rows) > 1 and self.doing.currentText() != TAKES:
            draw_line(painter, [to_view.map(QPointF(*at)) for at in self._rows])
