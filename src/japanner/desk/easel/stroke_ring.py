"""The stroke ring: size and strength set on the canvas while a key is held."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen

from japanner.desk.brushes.preview import dab_image
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.stroke.brush import LARGEST_PX, SMALLEST_PX

__all__ = ["StrokeRing"]

# Easel px of drag that double the size, and that go through all strengths.
DOUBLING_PX, STRENGTH_PX = 120.0, 240.0
TURN_DEG = 5.0
# A hand that taps a key does not hold quite still.
STILL_PX = 4.0
LARGEST_DAB_PX = 400


class StrokeRing:
    """Drag right or left for size, up or down for strength; the wheel turns the tip; digits set an exact strength."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._at: QPointF | None = None
        self._zoom = 1.0
        self._start = (0.0, 0.0)
        self._typed = ""
        self.used = False  # something was set with it
        self._shown: tuple[object, QImage] | None = None

    def begin(self, at: QPointF | None, zoom: float) -> None:
        """Put it up at a place of the view; with the pointer elsewhere, digits alone set what it sets."""
        self._at, self._zoom, self._typed, self.used = None if at is None else QPointF(at), zoom, "", False
        self._start = (self._session.hand.brush.size_px, self._session.hand.brush.strength)

    def end(self) -> None:
        self._at = None

    def drag(self, position: QPointF) -> None:
        if self._at is None:
            return
        offset = position - self._at
        self.used = self.used or offset.manhattanLength() > STILL_PX
        if not self.used:
            return
        size = self._start[0] * 2 ** (offset.x() / DOUBLING_PX)
        strength = self._start[1] if self._typed else self._start[1] - offset.y() / STRENGTH_PX
        self._session.hand.set_brush(
            size_px=min(max(size, SMALLEST_PX), LARGEST_PX), strength=min(max(strength, 0.01), 1.0)
        )

    def turn(self, notches: float) -> None:
        """Turn the tip by so many notches of the wheel."""
        self.used = True
        turned = (self._session.hand.brush.turn_deg + TURN_DEG * notches + 180) % 360 - 180
        self._session.hand.set_brush(turn_deg=turned)

    def digit(self, digit: int) -> None:
        self.used = True
        self._typed = (self._typed + str(digit))[-3:]
        strength = min(max(int(self._typed), 1), 100) / 100
        self._start = (self._start[0], strength)
        self._session.hand.set_brush(strength=strength)

    def draw(self, painter: QPainter) -> None:
        if self._at is None:
            return
        brush = self._session.hand.brush
        radius = max(brush.size_px * self._zoom / 2, 2.0)
        ring = max(radius + 9, 24.0)
        picture = self._dab(round(radius * 2))
        painter.drawImage(QRectF(self._at.x() - radius, self._at.y() - radius, 2 * radius, 2 * radius), picture)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(255, 255, 255, 220), 1))
        painter.drawEllipse(self._at, radius, radius)
        rect = QRectF(self._at.x() - ring, self._at.y() - ring, 2 * ring, 2 * ring)
        painter.setPen(QPen(theme["lacquer"], 5))
        painter.drawEllipse(rect)
        painter.setPen(QPen(theme["gold"], 3))
        painter.drawArc(rect, 90 * 16, -round(brush.strength * 360 * 16))
        label = QRectF(self._at.x() - 70, self._at.y() - 12, 140, 24)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(25, 23, 22, 200))
        painter.drawRoundedRect(label.adjusted(16, 1, -16, -1), 3, 3)
        painter.setPen(theme["text"])
        painter.setFont(font(12))
        painter.drawText(label, Qt.AlignmentFlag.AlignCenter, self.words())

    def words(self) -> str:
        """Size and strength, and the turn of a tip that has one."""
        brush = self._session.hand.brush
        turn = "" if brush.tip in ("mop", "round") and brush.roundness == 1 else f" · {brush.turn_deg:.0f}°"
        return f"{brush.size_px:.0f} px · {brush.strength * 100:.0f} %{turn}"

    def _dab(self, side: int) -> QImage:
        """One dab of the brush in hand in its colour, as it would be laid."""
        side = min(max(side, 4), LARGEST_DAB_PX)
        key = (self._session.hand.brush, self._session.hand.colour, side)
        if self._shown is None or self._shown[0] != key:
            self._shown = (key, dab_image(self._session.hand.brush, side, self._session.hand.colour))
        return self._shown[1]
