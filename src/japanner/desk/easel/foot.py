"""The line at the foot of the easel: how it is looked at, where strokes go, and what the task in hand asks for."""

from __future__ import annotations

from typing import Final

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter

from japanner.desk.easel.landing import place_words
from japanner.desk.easel.light_guides import AGAINST_LIGHT
from japanner.desk.easel.view_transform import ViewTransform
from japanner.desk.session.session import Session
from japanner.desk.theme import font, surround_colour

__all__ = ["FOOT", "draw_foot", "foot_words"]

FOOT: Final = 24


def foot_words(session: Session, view: ViewTransform, *, squinting: bool, against: str) -> str:
    """Zoom, turn, place and layer, and the look when it is not plain colour; against: what the light has there."""
    looking, comparing = session.looking, session.comparing
    words = [f"{view.zoom * 100:.0f} %", f"{view.turn_deg:.0f}°"]
    if view.mirrored:
        words.append("mirrored")
    words += place_words(session)
    if session.painting.frisket is not None:
        words.append("frisket on" if looking.line_shown else "frisket on, its line hidden")
    if looking.part_alone:
        words.append("this part only")
    if comparing.before_shown:
        words.append(f"BEFORE: {comparing.moments.name_of(comparing.moments.chosen)}")
    if squinting:
        words.append("SQUINT")
    if looking.look != "colour":
        words.append(f"look: {looking.look}")
    if looking.look == AGAINST_LIGHT and against:
        words.append(against)
    return "    ".join(words)


def draw_foot(painter: QPainter, size: QSize, surround: float, words: str, hint: str) -> None:
    """Draw it on a grey of L* `surround`; the hint stands at the right, as far as there is room."""
    colour, top = surround_colour(surround), size.height() - FOOT
    painter.fillRect(QRectF(0, top, size.width(), FOOT), colour)
    painter.setPen(QColor("#161412") if surround > 55 else QColor("#f4efe6"))
    painter.setFont(font(11))
    rect = QRectF(10, top, size.width() - 20, FOOT)
    painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter, words)
    if hint:
        metrics = painter.fontMetrics()
        room = round(rect.width() - metrics.horizontalAdvance(words) - 24)
        shown = metrics.elidedText(hint, Qt.TextElideMode.ElideRight, room)
        painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, shown)
