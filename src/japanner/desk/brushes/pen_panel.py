"""The pen: what its pressure counts as, how the hand is steadied, and the practice pen that stands in for it."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from japanner.desk.brushes.drive_rows import CurvePicture
from japanner.desk.brushes.practice_pads import PressurePad, TiltDial
from japanner.desk.brushes.setting_rows import Choice
from japanner.desk.session.session import Session
from japanner.desk.theme import font, theme
from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.painter import painter_on
from japanner.stroke.pen.practice_pen import PRESSURE_FROM
from japanner.stroke.pen.steadying import ASSISTS, MOST_LAG_MS

__all__ = ["PenPanel"]

PEN_WORDS = ("own pressure", "practice pen")


class PenPanel(QWidget):
    """Practice pen, steadying and pressure curve."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._source = Choice("pressure", PRESSURE_FROM, "Without a pen: fixed, less for a fast hand, or growing")
        self._source.box.textActivated.connect(lambda text: session.hand.set_practice_pen(source=text))
        self._pressure = Fader("at most", 1, 100, unit=" %")
        self._pressure.setToolTip("Pressure of a mouse or finger")
        self._pressure.moved.connect(lambda value: session.hand.set_practice_pen(pressure=value / 100))
        self._device = Choice("this pen", PEN_WORDS, "")
        self._device.box.activated.connect(lambda index: session.hand.let_practise(session.hand.pen_met, bool(index)))
        self._lag = Fader("lags by", 0, MOST_LAG_MS, unit=" ms")
        self._lag.setToolTip("The brush follows the hand so much later, and more smoothly; it catches up at the end")
        self._lag.moved.connect(lambda value: session.hand.steady(lag_ms=value))
        self._assist = Choice("made", ASSISTS, "When the pen is lifted, a stroke is left as drawn, or made true")
        self._assist.box.textActivated.connect(lambda text: session.hand.steady(assist=text))
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
            fader.moved.connect(lambda value, n=name, s=scale: session.hand.set_pen_curve(**{n: value / s}))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        for row in (self._source, self._pressure):
            column.addWidget(row)
        column.addLayout(self._pads(session))
        column.addWidget(self._device)
        below: tuple[QWidget, ...] = (self._lag, self._assist, *self._bend.values(), self._curve)
        for widget in below:
            column.addWidget(widget)
        session.hand.practice_pen_changed.connect(self._refresh)
        self._refresh()

    def _pads(self, session: Session) -> QHBoxLayout:
        self._pad, self._words = PressurePad(session), _Words()
        row = QHBoxLayout()
        row.setContentsMargins(0, 3, 0, 3)
        row.setSpacing(8)
        row.addWidget(self._words, 1)
        row.addWidget(self._pad)
        row.addWidget(TiltDial(session))
        return row

    def _refresh_device(self) -> None:
        name = self._session.hand.pen_met
        self._device.setVisible(bool(name))
        self._device.box.setCurrentText(PEN_WORDS[self._session.hand.practises(name)])
        self._device.box.setToolTip(f"Whether {name or 'a pen'} counts by its own pressure, or by the practice pen")

    def _refresh(self) -> None:
        session = self._session
        self._source.box.setCurrentText(session.hand.practice_pen.source)
        self._pressure.set_value(session.hand.practice_pen.pressure * 100)
        self._words.say(f"leans {session.hand.practice_pen.tilt_deg:.0f}°", self._pad.words())
        self._refresh_device()
        self._lag.set_value(session.hand.lag_ms)
        self._assist.box.setCurrentText(session.hand.assist)
        for name, fader in self._bend.items():
            fader.set_value(getattr(session.hand.pen_curve, name) * (1 if name == "gamma" else 100))
        self._curve.show_drive(session.hand.pen_curve)


class _Words(QWidget):
    """Quiet lines."""

    def __init__(self) -> None:
        super().__init__()
        self._lines: tuple[str, ...] = ()

    def say(self, *lines: str) -> None:
        self._lines = tuple(line for line in lines if line)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setFont(font(11))
            painter.setPen(theme["quiet"])
            flags = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect(), int(flags), "\n".join(self._lines))
