"""The fader: a name, a thin line to drag on, and a number with its unit that can be typed."""

from __future__ import annotations

import math
from collections.abc import Callable

from PySide6.QtCore import QRectF, QSignalBlocker, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QLineEdit, QSizePolicy, QWidget

from japanner.desk.theme import font, theme
from japanner.desk.widgets.calm_wheel import calm
from japanner.desk.widgets.numbers import number_in, say_beside
from japanner.desk.widgets.painter import painter_on
from japanner.errors import InputError

__all__ = ["Fader"]

NAME_WIDTH = 62
FIGURE_WIDTH = 66
# Px of the line; in a narrow column, name and figure give up to this share of their width.
SHORTEST = 24
NARROWED = 0.7


class Fader(QWidget):
    """Drag, wheel, arrow keys, or type a number (Enter or double click opens the field).

    `moved` is sent while a drag lasts, `settled` when the value is meant to stay.
    """

    moved = Signal(float)
    settled = Signal(float)

    def __init__(
        self,
        name: str,
        low: float,
        high: float,
        *,
        unit: str = "",
        logarithmic: bool = False,
        digits: int = 0,
        name_width: int = NAME_WIDTH,
        figure_width: int = FIGURE_WIDTH,
        words: Callable[[float], str] | None = None,
    ) -> None:
        super().__init__()
        self._name, self._low, self._high = name, low, high
        self._unit, self._log, self._digits = unit, logarithmic, digits
        self.name_width, self._figure_width = name_width, figure_width
        self._words = words
        self._value = low
        self._field = QLineEdit(self)
        self._field.hide()
        self._field.editingFinished.connect(self._typed)
        self._field.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        calm(self)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(name)

    def sizeHint(self) -> QSize:
        return QSize(self.name_width + self._figure_width + 80, 19)

    def minimumSizeHint(self) -> QSize:
        return QSize(round((self.name_width + self._figure_width + SHORTEST) * NARROWED), 19)

    def _widths(self) -> tuple[int, int]:
        """Of name and figure: both give way a little in a narrow column."""
        wanted = self.name_width + self._figure_width + SHORTEST
        share = min(max(self.width() / wanted, NARROWED), 1.0)
        return round(self.name_width * share), round(self._figure_width * share)

    @property
    def value(self) -> float:
        return self._value

    def set_value(self, value: float) -> None:
        """Show a value without sending signals."""
        self._value = min(max(value, self._low), self._high)
        self.update()

    def text(self) -> str:
        """The figure as shown."""
        return self._words(self._value) if self._words else f"{self._value:.{self._digits}f}{self._unit}"

    # --- geometry -------------------------------------------------------------------------------------

    def _track(self) -> QRectF:
        return QRectF(
            self.name_width, self.height() / 2, max(self.width() - self.name_width - self._figure_width, 20), 1
        )

    def _share(self) -> float:
        if self._log:
            return math.log(self._value / self._low) / math.log(self._high / self._low)
        return (self._value - self._low) / (self._high - self._low)

    def _at_share(self, share: float) -> float:
        share = min(max(share, 0.0), 1.0)
        if self._log:
            return float(self._low * (self._high / self._low) ** share)
        return self._low + share * (self._high - self._low)

    # --- input ----------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._drag(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._drag(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and not self._field.isVisible():
            self.settled.emit(self._value)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self._open_field()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._nudge(1 if event.angleDelta().y() > 0 else -1)
        event.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        keys = {Qt.Key.Key_Right: 1, Qt.Key.Key_Up: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Down: -1}
        if Qt.Key(event.key()) in keys:
            self._nudge(keys[Qt.Key(event.key())])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._open_field()
        else:
            super().keyPressEvent(event)

    def _drag(self, event: QMouseEvent) -> None:
        track = self._track()
        if event.position().x() < track.left() - 8 or event.position().x() > track.right() + 8:
            return
        self.set_value(self._at_share((event.position().x() - track.left()) / track.width()))
        self.moved.emit(self._value)

    def _nudge(self, steps: int) -> None:
        self.set_value(self._at_share(self._share() + steps / 50))
        self.moved.emit(self._value)
        self.settled.emit(self._value)

    def _open_field(self) -> None:
        self._field.setText(f"{self._value:.{self._digits}f}")
        self._field.show()
        self._field.setFocus()
        self._field.selectAll()

    def _typed(self) -> None:
        if not self._field.isVisible():
            return  # it loses the focus because the window goes
        with QSignalBlocker(self._field):
            self._field.hide()
        try:
            number = number_in(self._field.text(), self._unit)
        except InputError as error:
            say_beside(self, str(error))
            return
        self.set_value(number)
        self.moved.emit(self._value)
        self.settled.emit(self._value)

    # --- looks ----------------------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent) -> None:
        figure = self._widths()[1]
        self._field.setGeometry(self.width() - figure + 2, 0, figure - 2, self.height())

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setFont(font(11))
            painter.setPen(theme["gold"] if self.hasFocus() else theme["quiet"])
            if self.name_width:
                name = QRectF(0, 0, self._widths()[0] - 2, self.height())
                words = painter.fontMetrics().elidedText(self._name, Qt.TextElideMode.ElideRight, int(name.width()))
                painter.drawText(name, Qt.AlignmentFlag.AlignVCenter, words)
            track = self._track()
            painter.fillRect(track, theme["faint"])
            filled = QRectF(track.left(), track.top() - 0.5, track.width() * self._share(), 2)
            painter.fillRect(filled, theme["gold"])
            painter.fillRect(QRectF(filled.right() - 1, track.top() - 4, 2, 9), theme["gold"])
            painter.setPen(theme["text"])
            figure = QRectF(track.right() + 8, 0, self.width() - track.right() - 8, self.height())
            painter.drawText(figure, Qt.AlignmentFlag.AlignVCenter, self.text())
