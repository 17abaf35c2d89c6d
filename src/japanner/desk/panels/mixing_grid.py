"""The mixing grid of the part worked on: its five value steps by its undertones."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRectF, Qt
from PySide6.QtGui import QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from japanner.desk.screen import screens
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.painter import painter_on
from japanner.painting.model import STEP_NAMES
from japanner.painting.model.kept_grid import Row
from japanner.painting.operations import SetPart
from japanner.painting.value.mixing_grid import mixing_grid, row_of
from japanner.types import Colour

__all__ = ["MixingGrid"]

CELL_HEIGHT, GAP, FOOT = 17, 3, 15
# Wide enough for the names of the rows beside them; else the foot says which is in use.
NAMES_FROM_PX, NAMES_PX, MARK_PX = 164, 58, 5
SHORT = {"halftone": "half", "highlight": "high"}
SHORTER = ("acc.", "shad.", "half", "light", "high")
NEAR = 0.004


class MixingGrid(QWidget):
    """Click a cell to paint with it; the right button puts the colour in hand there, the middle one takes it back.

    Until the part has a flat, the grid is worked out from the colour in hand.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._rows: tuple[Row, ...] = ()
        self.setAccessibleName("Mixing grid")
        for signal in (session.hand.colour_changed, session.work.active_changed, session.changed, session.opened):
            signal.connect(self._renew)
        self._renew()

    def colours(self) -> list[tuple[Colour, ...]]:
        """The cells by undertone and step, with those that the painter has set."""
        return [colours for _, colours in self._rows]

    def cell(self, row: int, step: int) -> QRectF:
        """Where a cell lies."""
        left = NAMES_PX if self.named else MARK_PX
        width = (self.width() - left - 4 * GAP) / 5
        return QRectF(left + step * (width + GAP), row * (CELL_HEIGHT + GAP) + 1, width, CELL_HEIGHT)

    @property
    def named(self) -> bool:
        """Whether there is room for the names of the rows."""
        return self.width() >= NAMES_FROM_PX

    @property
    def row_in_use(self) -> int | None:
        """The row that the colour in hand was taken from, or is nearest to in hue."""
        return row_of(self._rows, self._session.hand.colour)

    def _renew(self, *_: object) -> None:
        self._rows = mixing_grid(self._session.painting, self._session.part, self._session.hand.colour)
        self.setFixedHeight(len(self._rows) * (CELL_HEIGHT + GAP) + FOOT)
        self.update()

    def _at(self, at: QPoint) -> tuple[int, int] | None:
        for row in range(len(self._rows)):
            for step in range(5):
                if self.cell(row, step).adjusted(-1, -1, 1, 1).contains(at):
                    return row, step
        return None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found, part = self._at(event.position().toPoint()), self._session.part
        if found is None:
            return
        row, step = found
        if event.button() == Qt.MouseButton.LeftButton:
            self._session.aiming.set_colour(self._rows[row][1][step])
        elif part is not None:
            kept = [one for one in part.mixed if one[:2] != (row, step)]
            if event.button() == Qt.MouseButton.RightButton:
                kept.append((row, step, *self._session.hand.colour))
            self._session.apply(SetPart(part.uid, {"mixed": kept}))

    def event(self, event: object) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QHelpEvent.Type.ToolTip:
            found, part = self._at(event.pos()), self._session.part
            if found is not None:
                text = f"{self._rows[found[0]][0]}, {STEP_NAMES[found[1]]}: click to paint with it"
                text += "" if part is None else "; right button sets, middle takes back"
                QToolTip.showText(event.globalPos(), text, self)
                return True
        return super().event(event)  # type: ignore[arg-type]

    def paintEvent(self, event: QPaintEvent) -> None:
        part = self._session.part
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            own = {one[:2] for one in part.mixed} if part else set()
            for row, (_, colours) in enumerate(self._rows):
                for step, colour in enumerate(colours):
                    near = max(abs(a - b) for a, b in zip(colour, self._session.hand.colour, strict=True)) < NEAR
                    painter.setBrush(screens.colour(colour, self))
                    edge = theme["gold"] if near else theme["hairline"] if (row, step) in own else theme["edge"]
                    painter.setPen(QPen(edge, 1.5 if near else 1))
                    painter.drawRoundedRect(self.cell(row, step), 2, 2)
            self._draw_words(painter)

    def _draw_words(self, painter: QPainter) -> None:
        """The names of rows and steps; the row in use is marked."""
        used, metrics_room = self.row_in_use, NAMES_PX - 10
        painter.setFont(font(10))
        metrics = painter.fontMetrics()
        for row, (name, _) in enumerate(self._rows):
            cell = self.cell(row, 0)
            if row == used:
                painter.fillRect(QRectF(0, cell.y(), 2, cell.height()), theme["gold"])
            if self.named:
                painter.setPen(theme["text"] if row == used else theme["quiet"])
                words = metrics.elidedText(name, Qt.TextElideMode.ElideRight, metrics_room)
                painter.drawText(QRectF(6, cell.y(), NAMES_PX, cell.height()), Qt.AlignmentFlag.AlignVCenter, words)
        painter.setPen(theme["quiet"])
        foot = self.cell(len(self._rows), 0).y() - 2
        if not self.named:
            words = "" if used is None else self._rows[used][0]
            painter.drawText(QRectF(MARK_PX, foot, self.width(), 14), Qt.AlignmentFlag.AlignLeft, words)
            return
        for step, name in enumerate(STEP_NAMES):
            cell = self.cell(len(self._rows), step)
            words = SHORT.get(name, name) if cell.width() > 32 else SHORTER[step]
            painter.drawText(QRectF(cell.x() - 4, foot, cell.width() + 8, 14), Qt.AlignmentFlag.AlignCenter, words)
