"""The settings of the brush in hand, and the colour it lays."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from japanner.color import lab
from japanner.color.srgb import hex_from_srgb, srgb_from_hex
from japanner.color.value import srgb_from_lch
from japanner.desk.brushes.setting_rows import SettingRows
from japanner.desk.brushes.settings import SETTINGS
from japanner.desk.panels.colour_field import ColourField
from japanner.desk.screen import screens
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.painter import painter_on
from japanner.errors import InputError

__all__ = ["ColourPanel", "StrokePanel"]

# C*: sRGB holds none above 134, its blue; below GREY a colour has no hue to show.
MOST_CHROMA, GREY = 134.0, 1.0


class StrokePanel(QWidget):
    """The few settings of the brush in hand that change all day; the brush sheet has all of them."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.settings = SettingRows(session, [setting for setting in SETTINGS if setting.own])
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        column.addWidget(self.settings)
        self._by_pen = {
            name: Fader(f"{name} by pen", 0, 100, unit=" %", name_width=90) for name in ("size", "strength", "flow")
        }
        for name, fader in self._by_pen.items():
            fader.setToolTip("How far the pen's pressure drives it: at 100 % no pressure means none of it")
            fader.moved.connect(partial(self._drive, name))
            column.addWidget(fader)
        session.hand.brush_changed.connect(self._refresh)
        self._refresh()

    def _drive(self, name: str, value: float) -> None:
        self._session.hand.drive_brush(name, "pressure", amount=value / 100)

    def _refresh(self) -> None:
        for name, fader in self._by_pen.items():
            fader.set_value(self._session.hand.brush.drive(name).amount * 100)


def _value_words(value: float) -> str:
    return f"L* {value:.0f}"


def _chroma_words(value: float) -> str:
    return f"C* {value:.0f}"


def _hue_words(value: float) -> str:
    return f"h {value:.0f}°"


class _Swatch(QWidget):
    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setFixedHeight(26)
        self.setToolTip("The colour in hand")

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(theme["edge"], 1))
            painter.setBrush(screens.colour(self._session.hand.colour, self))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3)


class ColourPanel(QWidget):
    """Value first; then chroma and hue at that value, and the sRGB code to type."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._hue = 60.0
        self._value = Fader("value", 0, 100, digits=0, words=_value_words)
        self._chroma = Fader("chroma", 0, MOST_CHROMA, words=_chroma_words)
        self._hue_fader = Fader("hue", 0, 360, words=_hue_words)
        self._value.setToolTip("L*: hue and chroma stay as far as the gamut allows (E and D lift and lower by a step)")
        self._chroma.setToolTip("C*, strength of colour; what no screen shows at this value is brought in")
        self._hue_fader.setToolTip("h, hue in degrees: 0 red, 90 yellow, 180 green, 270 blue")
        for fader in (self._value, self._chroma, self._hue_fader):
            fader.moved.connect(self._moved)
        self._code = QLineEdit()
        self._code.setFixedWidth(72)
        self._code.setToolTip("sRGB code, #rrggbb")
        self._code.setAccessibleName("sRGB code")
        self._code.editingFinished.connect(self._typed)
        self._swatch = _Swatch(session)
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self._swatch, 1)
        row.addWidget(self._code)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        column.addLayout(row)
        column.addSpacing(3)
        column.addWidget(ColourField(session))
        column.addSpacing(2)
        for fader in (self._value, self._chroma, self._hue_fader):
            column.addWidget(fader)
        session.hand.colour_changed.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        _, chroma, hue = (float(x) for x in lab.lch_from_srgb(self._session.hand.colour))
        if chroma > GREY:  # a grey has no hue: the fader keeps the last one
            self._hue = hue
        if not any(fader.hasFocus() for fader in (self._chroma, self._hue_fader)):
            self._chroma.set_value(chroma)
            self._hue_fader.set_value(self._hue)
        self._value.set_value(self._session.hand.value)
        self._code.setText(hex_from_srgb(self._session.hand.colour))
        self._swatch.update()

    def _moved(self, _: float) -> None:
        self._session.hand.set_colour(srgb_from_lch(self._value.value, self._chroma.value, self._hue_fader.value))

    def _typed(self) -> None:
        try:
            colour = srgb_from_hex(self._code.text().strip())
        except InputError as error:
            self._session.told.emit(str(error))
            self._refresh()
            return
        if hex_from_srgb(self._session.hand.colour) != hex_from_srgb(colour):
            self._session.hand.set_colour(colour)
