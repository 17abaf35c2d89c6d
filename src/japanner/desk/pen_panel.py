"""The pen: what its pressure counts as, how the hand is steadied, and the practice pen that stands in for it."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from japanner.desk.drive_rows import CurvePicture
from japanner.desk.fader import Fader
from japanner.desk.setting_rows import Choice
from japanner.desk.theme import font, theme
from japanner.desk.workbench import Workbench
from japanner.stroke.practice_pen import PRESSURE_FROM
from japanner.stroke.steadying import ASSISTS, MOST_LAG_MS

__all__ = ["PenPanel"]

DIAL_PX = 54
MOST_TILT_DEG = 60.0
STEP_DEG = 5.0


class TiltDial(QWidget):
    """How the practice pen leans: the further from the middle, the flatter, towards where the point is."""

    def __init__(self, workbench: Workbench) -> None:
        super().__init__()
        self._bench = workbench
        self.setFixedSize(DIAL_PX + 4, DIAL_PX + 4)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Tilt of the practice pen")
        self.setToolTip("Drag the point: how far the practice pen leans, and where to; arrow keys lean it by 5°")
        workbench.practice_pen_changed.connect(self.update)

    def _lean(self) -> tuple[float, float]:
        """Degrees to the right and upwards."""
        pen = self._bench.practice_pen
        turn = math.radians(pen.lean_deg)
        return pen.tilt_deg * math.cos(turn), pen.tilt_deg * math.sin(turn)

    def _set(self, right: float, up: float) -> None:
        tilt = min(math.hypot(right, up), MOST_TILT_DEG)
        lean = math.degrees(math.atan2(up, right)) if tilt else 0.0
        self._bench.set_practice_pen(tilt_deg=tilt, lean_deg=lean)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._drag(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._drag(event.position())

    def _drag(self, at: QPointF) -> None:
        offset = (at - QPointF(self.rect().center())) * (2 * MOST_TILT_DEG / DIAL_PX)
        self._set(offset.x(), -offset.y())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        step = steps.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            right, up = self._lean()
            self._set(right + STEP_DEG * step[0], up + STEP_DEG * step[1])

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        disc = QRectF(2, 2, DIAL_PX, DIAL_PX)
        painter.setBrush(theme["tile"])
        painter.setPen(QPen(theme["gold"] if self.hasFocus() else theme["edge"], 1))
        painter.drawEllipse(disc)
        right, up = self._lean()
        middle = disc.center()
        point = middle + QPointF(right, -up) * (DIAL_PX / 2 / MOST_TILT_DEG)
        painter.setPen(QPen(theme["text"], 1.5))
        painter.drawLine(middle, point)
        painter.setPen(QPen(theme["lacquer"], 1))
        painter.setBrush(theme["gold"])
        painter.drawEllipse(point, 4, 4)


class PenPanel(QWidget):
    """Practice pen, steadying and pressure curve."""

    def __init__(self, workbench: Workbench) -> None:
        super().__init__()
        self._bench = workbench
        self._source = Choice("pressure", PRESSURE_FROM, "Without a pen: fixed, less for a fast hand, or growing")
        self._source.box.textActivated.connect(lambda text: workbench.set_practice_pen(source=text))
        self._pressure = Fader("at most", 1, 100, unit=" %")
        self._pressure.setToolTip("Pressure of a mouse or finger")
        self._pressure.moved.connect(lambda value: workbench.set_practice_pen(pressure=value / 100))
        self._lag = Fader("lags by", 0, MOST_LAG_MS, unit=" ms")
        self._lag.setToolTip("The brush follows the hand so much later, and more smoothly; it catches up at the end")
        self._lag.moved.connect(lambda value: workbench.steady(lag_ms=value))
        self._assist = Choice("made", ASSISTS, "When the pen is lifted, a stroke is left as drawn, or made true")
        self._assist.box.textActivated.connect(lambda text: workbench.steady(assist=text))
        self._curve = CurvePicture()
        self._curve.setToolTip("What a pen's pressure counts as; try it on the smear pad")
        self._bend = {
            "low": Fader("pen from", 0, 60, unit=" %"),
            "high": Fader("pen up to", 40, 100, unit=" %"),
            "gamma": Fader("pen bend", 0.2, 5, digits=2, logarithmic=True),
        }
        tips = ("Lighter than this counts as nothing", "Harder than this counts as full", "Above 1: slow at first")
        for (name, fader), tip in zip(self._bend.items(), tips, strict=True):
            fader.setToolTip(f"Pressure of a real pen. {tip}")
            scale = 1 if name == "gamma" else 100
            fader.moved.connect(lambda value, n=name, s=scale: workbench.set_pen_curve(**{n: value / s}))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        for row in (self._source, self._pressure):
            column.addWidget(row)
        column.addLayout(self._tilt_row(workbench))
        below: tuple[QWidget, ...] = (self._lag, self._assist, *self._bend.values(), self._curve)
        for widget in below:
            column.addWidget(widget)
        workbench.practice_pen_changed.connect(self._refresh)
        self._refresh()

    def _tilt_row(self, workbench: Workbench) -> QHBoxLayout:
        self._words = _Words()
        row = QHBoxLayout()
        row.setContentsMargins(0, 3, 0, 3)
        row.addWidget(self._words, 1)
        row.addWidget(TiltDial(workbench))
        row.addSpacing(20)
        return row

    def _refresh(self) -> None:
        bench = self._bench
        self._source.box.setCurrentText(bench.practice_pen.source)
        self._pressure.set_value(bench.practice_pen.pressure * 100)
        self._words.say(f"leans {bench.practice_pen.tilt_deg:.0f}°")
        self._lag.set_value(bench.lag_ms)
        self._assist.box.setCurrentText(bench.assist)
        for name, fader in self._bend.items():
            fader.set_value(getattr(bench.pen_curve, name) * (1 if name == "gamma" else 100))
        self._curve.show_drive(bench.pen_curve)


class _Words(QWidget):
    """One quiet line."""

    def __init__(self) -> None:
        super().__init__()
        self._text = ""

    def say(self, text: str) -> None:
        self._text = text
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setFont(font(11))
        painter.setPen(theme["quiet"])
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter, self._text)
