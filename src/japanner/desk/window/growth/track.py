"""The track along the way of a painting: its stages, parts and saves, and how far it has come."""

from __future__ import annotations

from typing import Final

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QHelpEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QToolTip, QWidget

from japanner.desk.theme import theme
from japanner.desk.widgets.painter import painter_on
from japanner.painting.document.way import Way

__all__ = ["Track"]

TRACK_PX: Final = 34
LINE_PX: Final = 4
MARK_PX: Final = 10
SAVE_PX: Final = 3.5
NEAR_PX: Final = 6


class Track(QWidget):
    """A press or a drag goes there. Stages are named; parts are short lines above, saves lozenges; both tell their
    names to whoever points at them.
    """

    sought = Signal(float)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(TRACK_PX)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName("Growth")
        self.setToolTip("Press or drag to go there")
        self.way = Way(1, (), (), (0, 0))
        self.at = 0.0
        self.held: float | None = None
        """Where the moment is that is held to compare with."""

    def show_way(self, way: Way) -> None:
        """Another painting's way."""
        self.way = way
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._seek(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._seek(event)

    def _seek(self, event: QMouseEvent) -> None:
        self.sought.emit(min(max(event.position().x() / max(self.width(), 1), 0.0), 1.0))

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            QToolTip.showText(event.globalPos(), self.words_at(event.pos().x()) or self.toolTip(), self)
            return True
        return super().event(event)

    def words_at(self, x: float) -> str:
        """What is marked under the pointer."""
        near = [one for one in self.way.marks if abs(self.width() * self.way.share_of(one.at) - x) <= NEAR_PX]
        return ", ".join(dict.fromkeys(one.name if one.kind == "save" else f"{one.name} is added" for one in near))

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            top, wide = MARK_PX + 1, self.width()
            painter.fillRect(QRectF(0, top, wide, LINE_PX), theme["edge"])
            painter.fillRect(QRectF(0, top, wide * self.at, LINE_PX), theme["gold"])
            self._draw_marks(painter, top)
            self._draw_stages(painter, top)
            if self.held is not None:
                painter.fillRect(QRectF(wide * self.held - 1, top - 4, 2, LINE_PX + 8), theme["cinnabar"])

    def _draw_marks(self, painter: QPainter, top: int) -> None:
        for one in self.way.marks:
            x = self.width() * self.way.share_of(one.at)
            if one.kind == "part":
                painter.fillRect(QRectF(x, 1, 1, MARK_PX - 3), theme["quiet"])
                continue
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme["gold"])
            middle, away = QPointF(x, top - SAVE_PX - 1), SAVE_PX
            painter.drawPolygon(
                [middle + QPointF(*off) for off in ((0, -away), (away, 0), (0, away), (-away, 0))],
            )

    def _draw_stages(self, painter: QPainter, top: int) -> None:
        """The names of stages; where there are none, those of parts."""
        names = painter.font()
        names.setPixelSize(11)
        painter.setFont(names)
        named = list(self.way.stages) or [(one.at, one.name) for one in self.way.marks if one.kind == "part"]
        begins = [self.way.share_of(first - 1) for first, _ in named]
        for (_, name), begin, end in zip(named, begins, [*begins, 1.0][1:], strict=True):
            here = begin <= self.at < end or (end == 1.0 and self.at == 1.0)
            x = self.width() * begin
            painter.fillRect(QRectF(x, top, 1, MARK_PX), theme["gold"] if begin <= self.at else theme["quiet"])
            painter.setPen(theme["text"] if here else theme["quiet"])
            room = int(self.width() * (end - begin)) - 6
            words = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, room)
            if len(words) > 1:
                painter.drawText(int(x) + 4, TRACK_PX - 5, words)
