"""What the practice pen is held by: a pad for pressure, and a dial for tilt."""

from __future__ import annotations

import math
from typing import Final

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.painter import painter_on

__all__ = ["PressurePad", "TiltDial"]

SIDE_PX: Final = 54
MOST_TILT_DEG: Final = 60.0
STEP_DEG: Final = 5.0
STEP_SHARE: Final = 0.05
# What the width of the pad stands for, by where pressure comes from.
SPREADS: Final = {"taper": ("taper_px", 10.0, 1000.0, "grows over {:.0f} px"),
                  "speed": ("fast_px_ms", 1.0, 30.0, "light at {:.1f} px/ms")}  # fmt: skip


class _Pad(QWidget):
    """A small square, worked by dragging or by arrow keys."""

    def __init__(self, session: Session, name: str, tip: str) -> None:
        super().__init__()
        self._session = session
        self.setFixedSize(SIDE_PX + 4, SIDE_PX + 4)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(name)
        self.setToolTip(tip)
        session.hand.practice_pen_changed.connect(self.update)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._drag(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._drag(event.position())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        step = steps.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self._step(*step)

    def _drag(self, at: QPointF) -> None:
        raise NotImplementedError

    def _step(self, right: int, up: int) -> None:
        raise NotImplementedError

    def _edge(self) -> QPen:
        return QPen(theme["gold"] if self.hasFocus() else theme["edge"], 1)


class PressurePad(_Pad):
    """Pressure by height; by width, over what way it grows or what speed counts as fast, if it comes from these."""

    def __init__(self, session: Session) -> None:
        super().__init__(
            session, "Pressure of the practice pen",
            "Up and down: pressure. Across: over what way it grows, or what hand is fast and light; arrow keys step",
        )  # fmt: skip

    def _square(self) -> QRectF:
        return QRectF(2, 2, SIDE_PX, SIDE_PX)

    def _spread(self) -> float | None:
        """How far across the point lies, 0..1; None if the width means nothing."""
        found = SPREADS.get(self._session.hand.practice_pen.source)
        if found is None:
            return None
        name, low, high, _ = found
        return math.log(getattr(self._session.hand.practice_pen, name) / low) / math.log(high / low)

    def words(self) -> str:
        """What the width stands for now."""
        found = SPREADS.get(self._session.hand.practice_pen.source)
        return "" if found is None else found[3].format(getattr(self._session.hand.practice_pen, found[0]))

    def _set(self, pressure: float, spread: float | None) -> None:
        changes = {"pressure": min(max(pressure, 0.01), 1.0)}
        found = SPREADS.get(self._session.hand.practice_pen.source)
        if found is not None and spread is not None:
            name, low, high, _ = found
            changes[name] = low * (high / low) ** min(max(spread, 0.0), 1.0)
        self._session.hand.set_practice_pen(**changes)

    def _drag(self, at: QPointF) -> None:
        square = self._square()
        self._set((square.bottom() - at.y()) / square.height(), (at.x() - square.left()) / square.width())

    def _step(self, right: int, up: int) -> None:
        spread = self._spread()
        self._set(
            self._session.hand.practice_pen.pressure + up * STEP_SHARE,
            None if spread is None else spread + right * STEP_SHARE,
        )

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            square, spread = self._square(), self._spread()
            painter.setBrush(theme["tile"])
            painter.setPen(self._edge())
            painter.drawRect(square)
            y = square.bottom() - self._session.hand.practice_pen.pressure * square.height()
            x = square.center().x() if spread is None else square.left() + min(max(spread, 0), 1) * square.width()
            # A stroke as it would swell: from the left edge to the point, and on at full width.
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme["edge"])
            rise = QPointF(square.left() if spread is None else x, y)
            painter.drawPolygon([square.bottomLeft(), rise, QPointF(square.right(), y), square.bottomRight()])
            painter.setPen(QPen(theme["lacquer"], 1))
            painter.setBrush(theme["gold"])
            painter.drawEllipse(QPointF(x, y), 4, 4)


class TiltDial(_Pad):
    """How the practice pen leans: the further from the middle, the flatter, towards where the point is."""

    def __init__(self, session: Session) -> None:
        super().__init__(
            session, "Tilt of the practice pen",
            "Drag the point: how far the practice pen leans, and where to; arrow keys lean it by 5°",
        )  # fmt: skip

    def _lean(self) -> tuple[float, float]:
        """Degrees to the right and upwards."""
        pen = self._session.hand.practice_pen
        turn = math.radians(pen.lean_deg)
        return pen.tilt_deg * math.cos(turn), pen.tilt_deg * math.sin(turn)

    def _set(self, right: float, up: float) -> None:
        tilt = min(math.hypot(right, up), MOST_TILT_DEG)
        lean = math.degrees(math.atan2(up, right)) if tilt else 0.0
        self._session.hand.set_practice_pen(tilt_deg=tilt, lean_deg=lean)

    def _drag(self, at: QPointF) -> None:
        offset = (at - QPointF(self.rect().center())) * (2 * MOST_TILT_DEG / SIDE_PX)
        self._set(offset.x(), -offset.y())

    def _step(self, right: int, up: int) -> None:
        now_right, now_up = self._lean()
        self._set(now_right + STEP_DEG * right, now_up + STEP_DEG * up)

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            disc = QRectF(2, 2, SIDE_PX, SIDE_PX)
            painter.setBrush(theme["tile"])
            painter.setPen(self._edge())
            painter.drawEllipse(disc)
            right, up = self._lean()
            middle = disc.center()
            point = middle + QPointF(right, -up) * (SIDE_PX / 2 / MOST_TILT_DEG)
            painter.setPen(QPen(theme["text"], 1.5))
            painter.drawLine(middle, point)
            painter.setPen(QPen(theme["lacquer"], 1))
            painter.setBrush(theme["gold"])
            painter.drawEllipse(point, 4, 4)
