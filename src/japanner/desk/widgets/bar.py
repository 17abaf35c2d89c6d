"""A slim bar that lies over the picture and takes no room from it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRect, QRectF, Qt, Signal
from PySide6.QtGui import QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QLabel, QPushButton, QWidget

from japanner.desk.theme import font, theme
from japanner.desk.widgets.painter import painter_on

__all__ = ["GAP", "GRIP", "PAD", "Bar"]

GRIP, GAP, PAD = 16, 8, 5


class Bar(QWidget):
    """Its left end is a grip: dragged past the middle of the easel, all bars lie at the other end of it."""

    dragged = Signal(int)  # the y of the pointer in the parent, px
    resized = Signal()  # it needs another room
    pressed = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._gripped = False
        self.setCursor(Qt.CursorShape.ArrowCursor)
        self.hide()

    def fit(self, width: int) -> tuple[int, int]:
        """Lay out for at most this width; the size that it takes, px."""
        raise NotImplementedError

    def fit_words(self, label: QLabel, buttons: Sequence[QPushButton], width: int, most: int) -> tuple[int, int]:
        """Lay out words, so wide at most and in as many lines as they need, and the buttons beside them that show."""
        shown = [(one, one.sizeHint()) for one in buttons if not one.isHidden()]
        taken = GRIP + sum(size.width() + GAP for _, size in shown) + GAP
        room = max(min(width - taken, most), 120)
        metrics = QFontMetrics(font(12))
        box = metrics.boundingRect(QRect(0, 0, room, 1000), Qt.TextFlag.TextWordWrap, label.text())
        wide, high = min(box.width() + 6, room), max(box.height(), *(size.height() for _, size in shown), 0)
        label.setGeometry(GRIP, PAD, wide, high)
        x = GRIP + wide + GAP
        for button, size in shown:
            button.setGeometry(x, PAD + (high - size.height()) // 2, size.width(), size.height())
            x += size.width() + GAP
        return x, high + 2 * PAD

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(theme["hairline"], 1))
            painter.setBrush(theme["lacquer"])
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme["faint"])
            middle = self.height() / 2
            for step in (-4, 0, 4):
                painter.drawEllipse(QRectF(GRIP / 2 - 1, middle + step - 1, 2.4, 2.4))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        # What is pressed here is never a stroke on the easel under it.
        event.accept()
        self._gripped = event.position().x() < GRIP
        if not self._gripped:
            self.pressed.emit()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._gripped:
            self.dragged.emit(round(self.mapToParent(event.position()).y()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._gripped = False
