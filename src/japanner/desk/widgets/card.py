"""What part cards, layer tiles and brush slots have in common: a frame, a lamp, and how the hand takes them."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from japanner.desk.theme import theme
from japanner.desk.widgets.painter import painter_on

__all__ = ["Card"]

LAMP_REACH = 14


class Card(QWidget):
    """Press it to choose, drag it to reorder, double-click it to rename, Enter chooses; subclasses draw it."""

    chosen = Signal()
    marked = Signal()  # pressed with Ctrl
    lamp_pressed = Signal()
    dropped = Signal(int)  # by how many places
    rename_wanted = Signal()

    def __init__(self, pitch: QPointF) -> None:
        """`pitch`: how far off the next card is, in px."""
        super().__init__()
        self._pitch = pitch
        self._pressed_at: QPointF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def name(self, kind: str, words: str, tip: str) -> None:
        """Say what it is, for readers of the screen and under the pointer."""
        self.setAccessibleName(f"{kind} {words}")
        self.setToolTip(f"{words}: {tip}")

    def lamp(self) -> QPointF | None:
        """Where its lamp is, if it has one."""
        return None

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            self.draw(painter)

    def draw(self, painter: QPainter) -> None:
        """Draw all of it."""

    def draw_frame(self, painter: QPainter, *, active: bool, marked: bool = False) -> None:
        """`active` is what is worked with, `marked` what comes next to it."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(theme["active"] if active else theme["tile"])
        edge = theme["gold"] if active else theme["hairline"] if marked else theme["edge"]
        painter.setPen(QPen(theme["text"] if self.hasFocus() else edge, 1))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3)

    def draw_lamp(self, painter: QPainter, lit: bool) -> None:
        at = self.lamp()
        if at is not None:
            painter.setPen(QPen(theme["gold"], 1))
            painter.setBrush(theme["gold"] if lit else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, 3.5, 3.5)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        lamp = self.lamp()
        if lamp is not None and (event.position() - lamp).manhattanLength() < LAMP_REACH:
            self.lamp_pressed.emit()
            return
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.marked.emit()
            return
        self._pressed_at = event.position()
        self.chosen.emit()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        start, self._pressed_at = self._pressed_at, None
        if start is not None:
            along = QPointF.dotProduct(event.position() - start, self._pitch)
            places = round(along / QPointF.dotProduct(self._pitch, self._pitch))
            if places:
                self.dropped.emit(places)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self._pressed_at = None
        self.rename_wanted.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.chosen.emit()
        else:
            super().keyPressEvent(event)
