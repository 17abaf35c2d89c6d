"""The settings of the brush in hand, and the colour it lays."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtCore import QRectF, QSignalBlocker
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from japanner.color import lab
from japanner.color.srgb import hex_from_srgb, srgb_from_hex
from japanner.color.value import TONES, srgb_from_lch
from japanner.desk.colour_field import ColourField
from japanner.desk.fader import NAME_WIDTH, Fader
from japanner.desk.theme import theme
from japanner.desk.workbench import Workbench
from japanner.errors import InputError
from japanner.stroke.brush import AIMS, LARGEST_PX, NUDGE_WAYS, PICK_FROM, SMALLEST_PX, TIPS, Response
from japanner.stroke.practice_pen import PRESSURE_FROM

__all__ = ["ColourPanel", "PracticePenPanel", "StrokePanel"]

# C*: sRGB holds none above 134, its blue; below GREY a colour has no hue to show.
MOST_CHROMA, GREY = 134.0, 1.0


class _Choice(QWidget):
    """A named drop-down as wide as a fader."""

    def __init__(self, name: str, words: tuple[str, ...], tip: str) -> None:
        super().__init__()
        self.box = QComboBox()
        self.box.addItems(list(words))
        self.box.setMinimumWidth(60)
        self.box.setToolTip(tip)
        self.box.setAccessibleName(name)
        label = QLabel(name)
        label.setObjectName("quiet")
        label.setFixedWidth(NAME_WIDTH)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 1, 0, 1)
        row.setSpacing(0)
        row.addWidget(label)
        row.addWidget(self.box, 1)


class StrokePanel(QWidget):
    """Only settings that act on the brush in hand are there."""

    def __init__(self, workbench: Workbench) -> None:
        super().__init__()
        self._bench = workbench
        self._faders: dict[str, tuple[Fader, float]] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        self._add(
            column,
            "size_px",
            Fader("size", SMALLEST_PX, LARGEST_PX, unit=" px", logarithmic=True),
            1,
            "Diameter (F, G, T)",
        )
        self._add(column, "strength", Fader("strength", 1, 100, unit=" %"), 100, "The most one stroke can do (F)")
        self._add(column, "flow", Fader("flow", 1, 100, unit=" %"), 100, "Share of the strength that each dab lays")
        self._add(column, "edge", Fader("edge", 0, 100, words=_edge_words), 100, "Hard to soft")
        self._add(column, "spacing", Fader("spacing", 1, 50, unit=" %"), 100, "Distance of dabs, share of the size")
        self._add(
            column, "stops", Fader("exposure", 0, 4, unit=" stops", digits=2), 1, "Stops of light at full strength"
        )
        self._add(
            column,
            "carry",
            Fader("carry", 0.05, 8, unit=" sizes", digits=2, logarithmic=True),
            1,
            "How far paint is dragged, in tip sizes",
        )
        self._tip = _Choice("tip", TIPS, "Shape of the tip")
        self._tone = _Choice("tones", TONES, "Which values the exposure acts on")
        self._from = _Choice("picks up", PICK_FROM, "What a smudge picks up: this layer, or all that is visible")
        self._nudge = _Choice("nudges", NUDGE_WAYS, "Push, grow, shrink, turn, or take nudges back")
        choices = {"tip": self._tip, "tone": self._tone, "pick_from": self._from, "nudge": self._nudge}
        for name, choice in choices.items():
            choice.box.textActivated.connect(lambda text, n=name: workbench.set_brush(**{n: text}))
            column.addWidget(choice)
        self._aim = _Choice("goes by", AIMS, "Stops of light, or to the next value step of the part and never past it")
        self._aim.box.textActivated.connect(lambda text: workbench.set_brush(aim=text))
        column.addWidget(self._aim)
        self._hue = QCheckBox("keeps hue and chroma")
        self._hue.setToolTip("What would leave the gamut loses chroma, instead of shifting as overexposed film does")
        self._hue.toggled.connect(lambda on: workbench.set_brush(keep_hue=on))
        column.addWidget(self._hue)
        self._touch = QCheckBox("picks up on touch")
        self._touch.setToolTip("A stroke lays the colour that it finds where it begins")
        self._touch.toggled.connect(lambda on: workbench.set_brush(pick_up=on))
        column.addWidget(self._touch)
        self._even = QCheckBox("even: passes do not add up")
        self._even.setToolTip("Even: the greatest dab counts. Off: dabs build up to the strength.")
        self._even.toggled.connect(lambda on: workbench.set_brush(even=on))
        column.addWidget(self._even)
        self._by_pen = {
            f"pressure_{name}": Fader(f"{name} by pen", 0, 100, unit=" %", name_width=90)
            for name in ("size", "strength", "flow")
        }
        for name, fader in self._by_pen.items():
            fader.setToolTip("How far the pen's pressure drives it: at 100 % no pressure means none of it")
            fader.moved.connect(partial(self._set_response, name))
            column.addWidget(fader)
        workbench.brush_changed.connect(self._refresh)
        self._refresh()

    def _set_response(self, name: str, value: float) -> None:
        response: Response = getattr(self._bench.brush, name)
        self._bench.set_brush(**{name: replace(response, amount=value / 100)})

    def _add(self, column: QVBoxLayout, name: str, fader: Fader, unit: float, tip: str) -> None:
        fader.setToolTip(tip)
        fader.moved.connect(lambda value: self._bench.set_brush(**{name: value / unit}))
        self._faders[name] = (fader, unit)
        column.addWidget(fader)

    def _refresh(self) -> None:
        brush = self._bench.brush
        for name, (fader, unit) in self._faders.items():
            fader.set_value(getattr(brush, name) * unit)
        for name, fader in self._by_pen.items():
            fader.set_value(getattr(brush, name).amount * 100)
        exposes, smudges, nudges = brush.kind in ("dodge", "burn"), brush.kind == "smudge", brush.kind == "nudge"
        self._faders["edge"][0].setVisible(brush.tip == "round" and not nudges)
        by_step = exposes and brush.aim == "step"
        self._faders["stops"][0].setVisible(exposes and not by_step)
        self._aim.setVisible(exposes)
        self._aim.box.setCurrentText(brush.aim)
        self._hue.setVisible(exposes and not by_step)
        self._touch.setVisible(brush.kind == "lay")
        for box, on in ((self._hue, brush.keep_hue), (self._touch, brush.pick_up)):
            with QSignalBlocker(box):
                box.setChecked(on)
        self._faders["carry"][0].setVisible(smudges)
        self._tone.setVisible(exposes and not by_step)
        self._from.setVisible(smudges)
        self._even.setVisible(not smudges and not nudges)
        self._nudge.setVisible(nudges)
        self._tip.setVisible(not nudges)
        self._tip.box.setCurrentText(brush.tip)
        self._tone.box.setCurrentText(brush.tone)
        self._from.box.setCurrentText(brush.pick_from)
        self._nudge.box.setCurrentText(brush.nudge)
        with QSignalBlocker(self._even):
            self._even.setChecked(brush.even)


class PracticePenPanel(QWidget):
    """Where pressure comes from when there is no pen."""

    def __init__(self, workbench: Workbench) -> None:
        super().__init__()
        self._bench = workbench
        self._source = _Choice("pressure", PRESSURE_FROM, "Fixed, less the faster the hand is, or growing at the start")
        self._source.box.textActivated.connect(lambda text: workbench.set_practice_pen(source=text))
        self._pressure = Fader("at most", 1, 100, unit=" %")
        self._pressure.setToolTip("Pressure of a mouse or finger")
        self._pressure.moved.connect(lambda value: workbench.set_practice_pen(pressure=value / 100))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        column.addWidget(self._source)
        column.addWidget(self._pressure)
        workbench.practice_pen_changed.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        self._source.box.setCurrentText(self._bench.practice_pen.source)
        self._pressure.set_value(self._bench.practice_pen.pressure * 100)


def _value_words(value: float) -> str:
    return f"L* {value:.0f}"


def _chroma_words(value: float) -> str:
    return f"C* {value:.0f}"


def _hue_words(value: float) -> str:
    return f"h {value:.0f}°"


def _edge_words(value: float) -> str:
    word = "hard" if value < 15 else "firm" if value < 50 else "soft"
    return f"{word} {value:.0f} %"


class _Swatch(QWidget):
    def __init__(self, workbench: Workbench) -> None:
        super().__init__()
        self._bench = workbench
        self.setFixedHeight(26)
        self.setToolTip("The colour in hand")

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme["edge"], 1))
        painter.setBrush(QColor.fromRgbF(*self._bench.colour))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3)


class ColourPanel(QWidget):
    """Value first; then chroma and hue at that value, and the sRGB code to type."""

    def __init__(self, workbench: Workbench) -> None:
        super().__init__()
        self._bench = workbench
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
        self._swatch = _Swatch(workbench)
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self._swatch, 1)
        row.addWidget(self._code)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        column.addLayout(row)
        column.addSpacing(3)
        column.addWidget(ColourField(workbench))
        column.addSpacing(2)
        for fader in (self._value, self._chroma, self._hue_fader):
            column.addWidget(fader)
        workbench.colour_changed.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        _, chroma, hue = (float(x) for x in lab.lch_from_srgb(self._bench.colour))
        if chroma > GREY:  # a grey has no hue: the fader keeps the last one
            self._hue = hue
        if not any(fader.hasFocus() for fader in (self._chroma, self._hue_fader)):
            self._chroma.set_value(chroma)
            self._hue_fader.set_value(self._hue)
        self._value.set_value(self._bench.value)
        self._code.setText(hex_from_srgb(self._bench.colour))
        self._swatch.update()

    def _moved(self, _: float) -> None:
        self._bench.set_colour(srgb_from_lch(self._value.value, self._chroma.value, self._hue_fader.value))

    def _typed(self) -> None:
        try:
            colour = srgb_from_hex(self._code.text().strip())
        except InputError as error:
            self._bench.told.emit(str(error))
            self._refresh()
            return
        if hex_from_srgb(self._bench.colour) != hex_from_srgb(colour):
            self._bench.set_colour(colour)
