"""The chooser: with the value decided on the rail, a field of hue and chroma."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from japanner.color import oklab
from japanner.color.field import hue_chroma_field
from japanner.color.value import srgb_from_value
from japanner.desk.screen import screens
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.images import image_of
from japanner.desk.widgets.painter import painter_on
from japanner.painting.model import DEFAULT_SCALE
from japanner.painting.picture.looks import nearest_step
from japanner.painting.value.mixing_grid import mixing_grid

__all__ = ["MOST_CHROMA", "ColourField"]

MOST_CHROMA = 0.26
COLUMNS, ROWS = 120, 48
HATCH_PX = 5


class ColourField(QWidget):
    """Hue from left to right, chroma upwards, all at the value in hand; hatched is what no screen can show there.

    Marked are the part's mixing grid and the colours last painted with; a click chooses.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setFixedHeight(84)
        self.setMinimumWidth(120)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setAccessibleName("Hue and chroma at the value in hand")
        self.setToolTip(
            "Hue from left to right, chroma upwards, at the value on the rail; hatched cannot be shown\n"
            "Squares: the mixing grid at this value; rings: the last sixteen colours"
        )
        for signal in (session.hand.colour_changed, session.changed, session.work.active_changed, session.opened):
            signal.connect(self.update)

    def place_of(self, colour: tuple[float, float, float]) -> QPointF:
        """Where a colour's hue and chroma lie."""
        _, chroma, hue = (float(v) for v in oklab.oklch_from_srgb(colour))
        share = min(chroma / MOST_CHROMA, 1.0)
        return QPointF(hue / 360 * self.width(), self.height() * (1 - share))

    def colour_at(self, at: QPointF) -> tuple[float, float, float]:
        """The colour of the value in hand at a place; outside the gamut the nearest chroma."""
        hue = min(max(at.x() / max(self.width(), 1), 0.0), 1.0) * 360
        chroma = min(max(1 - at.y() / self.height(), 0.0), 1.0) * MOST_CHROMA
        return srgb_from_value(min(max(self._session.hand.value, 0.0), 100.0), chroma, hue)

    def _mark_grid(self, painter: QPainter) -> None:
        """The part's mixing grid: squares for the step nearest the value in hand, points for the others."""
        session = self._session
        scale = session.part.scale if session.part is not None else DEFAULT_SCALE
        near = nearest_step(scale, session.hand.value)
        painter.save()
        for _, colours in mixing_grid(session.painting, session.part, session.hand.colour):
            for step, colour in enumerate(colours):
                at, reach = self.place_of(colour), 3.0 if step == near else 1.2
                painter.setPen(QPen(QColor(255, 255, 255, 230), 1) if step == near else Qt.PenStyle.NoPen)
                painter.setBrush(screens.colour(colour, self) if step == near else QColor(255, 255, 255, 130))
                painter.drawRect(QRectF(at.x() - reach, at.y() - reach, 2 * reach, 2 * reach))
        painter.restore()

    def _field(self) -> QImage:
        return image_of(screens.codes_through(_field_codes(round(self._session.hand.value)), self))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._session.hand.set_colour(self.colour_at(event.position()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._session.hand.set_colour(self.colour_at(event.position()))

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawImage(QRectF(self.rect()), self._field())
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for colour in self._session.hand.recent:
                painter.setPen(QPen(QColor(0, 0, 0, 160), 1))
                painter.drawEllipse(self.place_of(colour), 2.5, 2.5)
            self._mark_grid(painter)
            at = self.place_of(self._session.hand.colour)
            for pen in (QPen(QColor(0, 0, 0, 200), 3), QPen(QColor(255, 255, 255), 1.4)):
                painter.setPen(pen)
                painter.drawEllipse(at, 5, 5)
            painter.setPen(QPen(theme["edge"], 1))
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))


@lru_cache(maxsize=101)
def _field_codes(value: int) -> NDArray[np.uint8]:
    hues = (np.arange(COLUMNS) + 0.5) * (360 / COLUMNS)
    chromas = (1 - (np.arange(ROWS) + 0.5) / ROWS) * MOST_CHROMA
    colours, inside = hue_chroma_field(float(value), hues, chromas)
    y, x = np.mgrid[:ROWS, :COLUMNS]
    hatch = np.where((x + y) % HATCH_PX < 1, 0.26, 0.15)[..., None]
    codes: NDArray[np.uint8] = np.rint(np.where(inside[..., None], colours, hatch) * 255).astype(np.uint8)
    return codes
