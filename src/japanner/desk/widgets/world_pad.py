"""The surroundings that things mirror, as a picture of all directions to paint on."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from japanner.desk.theme import theme
from japanner.desk.widgets.images import image_of
from japanner.desk.widgets.painter import painter_on
from japanner.raster.codec import from_text, to_text
from japanner.types import Colour

__all__ = ["WorldPad"]

SIDES: Final = (150, 75)
CELLS: Final = (64, 32)
"""Paint is kept in so many cells across and down."""
WIPING: Final = (Qt.Key.Key_Delete, Qt.Key.Key_Backspace)
DAB: Final = 3.2
"""Radius of a dab, cells."""


class WorldPad(QWidget):
    """Paints on with the colour in hand, and with the other button takes off again; Delete takes all off.

    shown: gives the surroundings without paint, encoded codes uint8 (h, w, 3). Across is the azimuth, the viewer's side
    in the middle; up is up.
    """

    changed = Signal(object)  # the paint as text, "" for none

    def __init__(self, shown: Callable[[], NDArray[np.uint8]], colour: Callable[[], Colour], paint: str) -> None:
        super().__init__()
        self._shown, self._colour = shown, colour
        self.paint = np.zeros((4, CELLS[1], CELLS[0]))
        if paint:
            found = from_text(paint)
            if found.shape == self.paint.shape:
                self.paint = found / 65535.0
        self._world = image_of(shown())
        self._last: QPointF | None = None
        self.setFixedSize(QSize(*SIDES))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Surroundings")

    def refresh(self) -> None:
        """Show other surroundings under the paint."""
        self._world = image_of(self._shown())
        self.update()

    def clear(self) -> None:
        """Take all paint off."""
        if self.paint[3].any():
            self.paint[:] = 0
            self._tell()

    def _dab(self, at: QPointF, *, wipe: bool) -> None:
        x, y = at.x() / self.width() * CELLS[0], at.y() / self.height() * CELLS[1]
        ys, xs = np.mgrid[: CELLS[1], : CELLS[0]] + 0.5
        # Round about there is no edge.
        across = np.abs(xs - x)
        away = np.hypot(np.minimum(across, CELLS[0] - across), ys - y) / DAB
        share = 0.7 * np.clip(1 - away**2, 0, 1)
        if wipe:
            self.paint[3] *= 1 - share
            return
        cover = self.paint[3]
        whole = share + cover * (1 - share)
        for plane, own in zip(self.paint, self._colour(), strict=False):
            plane[:] = np.where(whole > 0, (own * share + plane * cover * (1 - share)) / np.maximum(whole, 1e-6), 0)
        self.paint[3] = whole

    def _tell(self) -> None:
        self.update()
        codes = np.rint(np.clip(self.paint, 0, 1) * 255).astype(np.uint16) * np.uint16(257)
        self.changed.emit(to_text(codes) if codes[3].any() else "")

    def _stroke(self, to: QPointF, *, wipe: bool) -> None:
        start = self._last or to
        count = max(int((to - start).manhattanLength() / 2), 1)
        for number in range(1, count + 1):
            self._dab(start + (to - start) * (number / count), wipe=wipe)
        self._last = to
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._last = None
        self._stroke(event.position(), wipe=event.button() == Qt.MouseButton.RightButton)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._stroke(event.position(), wipe=bool(event.buttons() & Qt.MouseButton.RightButton))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._last = None
        self._tell()

    def event(self, event: QEvent) -> bool:
        """Keys that are the pad's own are no shortcuts of the window's while it has the keyboard."""
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) and event.key() in WIPING:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in WIPING:
            self.clear()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
            painter.drawImage(box, self._world)
            over = np.rint(np.clip(np.moveaxis(self.paint, 0, -1), 0, 1) * 255).astype(np.uint8)
            painter.drawImage(box, image_of(over))
            painter.setPen(QPen(theme["gold"] if self.hasFocus() else theme["hairline"], 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            # The viewer's side, straight ahead of what mirrors it.
            painter.setPen(QPen(QColor(255, 255, 255, 110), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(box.center().x(), box.top()), QPointF(box.center().x(), box.bottom()))
