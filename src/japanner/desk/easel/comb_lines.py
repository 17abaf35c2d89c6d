"""The comb field over the picture, as short lines that flow from root to tip."""

from __future__ import annotations

import math
from typing import Final

import numpy as np
from PySide6.QtCore import QObject, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QTransform

from japanner.desk.session.session import Session
from japanner.errors import InputError
from japanner.painting.form.combing import comb_of
from japanner.strand.comb import CombField
from japanner.strand.growing import grown

__all__ = ["CombLines"]

APART_PX: Final = 22
LONG_PX: Final = 30
JOINTS: Final = 7
MOST_LINES: Final = 6000
LIGHT: Final = QColor(236, 230, 218, 210)
DARK: Final = QColor(0, 0, 0, 120)


class CombLines(QObject):
    """Draws the field of the part worked on, as long as it is wanted."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self._key: tuple[CombField, float] | None = None
        self._roots, self._whole = QPainterPath(), QPainterPath()
        self.shown = False
        self.asked = False
        """By a task, whether or not the painter wants them."""

    def show(self, on: bool) -> None:
        """Draw the lines, or no longer."""
        self.shown = on
        self._session.looking.look_changed.emit()

    def field(self) -> CombField | None:
        """The field as it is now; None without a silhouette."""
        part = self._session.part
        if part is None:
            return None
        try:
            return comb_of(self._session.painting, part)
        except InputError:
            return None

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        """Draw the lines in easel px."""
        if not (self.shown or self.asked):
            return
        field = self.field()
        zoom = math.hypot(to_view.m11(), to_view.m12())
        # A few sizes only, so that they stay while the easel moves.
        apart = APART_PX / 2 ** (round(2 * math.log2(zoom)) / 2)
        if field is None:
            return
        if self._key != (field, apart):
            self._key = field, apart
            self._roots, self._whole = _paths(field, apart)
        painter.save()
        painter.setTransform(to_view, combine=True)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, wider in ((DARK, 1.2), (LIGHT, 0.0)):
            # The thicker half is the root's.
            for path, width in ((self._whole, 0.7), (self._roots, 1.6)):
                pen = QPen(colour, width + wider)
                pen.setCosmetic(True)
                painter.setPen(pen)
                painter.drawPath(path)
        painter.restore()


def _paths(field: CombField, apart: float) -> tuple[QPainterPath, QPainterPath]:
    """Root halves and wholes of lines about `apart` canvas px from each other."""
    area = field.area
    apart = max(apart, math.sqrt(area.width * area.height / MOST_LINES))
    ys, xs = np.mgrid[area.y0 + apart / 2 : area.y1 : apart, area.x0 + apart / 2 : area.x1 : apart]
    xs[1::2] += apart / 2
    shake = np.random.default_rng(1).uniform(-0.3, 0.3, (2, *xs.shape)) * apart
    x, y = (xs + shake[0]).ravel().astype(np.float32), (ys + shake[1]).ravel().astype(np.float32)
    inside = field.at(field.inside, x, y) > 0.5
    x, y = x[inside], y[inside]
    length = apart * LONG_PX / APART_PX * np.clip(field.at(field.length, x, y), 0.4, 2)
    lines = grown(field, x, y, length, np.zeros_like(x), JOINTS).astype(float)
    roots, whole = QPainterPath(), QPainterPath()
    for line in lines.tolist():
        roots.moveTo(*line[0])
        whole.moveTo(*line[0])
        for index, at in enumerate(line[1:], 1):
            whole.lineTo(*at)
            if index <= JOINTS // 2:
                roots.lineTo(*at)
    return roots, whole
