"""The sliders of a figure in hand, a chapter at a time."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from typing import Final

from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.option_row import Options
from japanner.light.figure.sliders import CHAPTERS, Slider, sliders

__all__ = ["FigurePage"]

FADER_PX: Final = 176
NAME_PX: Final = 92
FIGURE_PX: Final = 38
HUNDREDTHS: Final = 100.0


class FigurePage:
    """Shows a chapter of sliders in the last row of some options; says what is slid: name, value, whether it stays."""

    def __init__(self, options: Options, slid: Callable[[str, float, bool], None]) -> None:
        self._options, self._slid = options, slid
        self._values: Mapping[str, float] | None = None
        self.chapter, self.seldom = CHAPTERS[0], False
        self.faders: dict[str, Fader] = {}

    @property
    def shown(self) -> bool:
        return self._values is not None

    def show(self, values: Mapping[str, float] | None) -> None:
        """Show these values; None: no figure is in hand."""
        if (values is None) != (self._values is None):
            self._values = values
            self._fill()
        self._values = values
        for name, fader in self.faders.items():
            fader.set_value(self._shown(sliders()[name]))

    def turn_to(self, chapter: str, *, seldom: bool | None = None) -> None:
        """Another chapter; `seldom`: with the sliders that are wanted seldom."""
        self.chapter = chapter
        self.seldom = self.seldom if seldom is None else seldom
        self._fill()

    def _shown(self, slider: Slider) -> float:
        value = (self._values or {}).get(slider.name, slider.rest)
        return value * _scale(slider)

    def _fill(self) -> None:
        options = self._options
        options.clear(last_row=True)
        self.faders = {}
        if self._values is not None:
            for slider in sliders().values():
                if slider.chapter == self.chapter and (self.seldom or not slider.seldom):
                    self.faders[slider.name] = self._fader(slider)
                    options.add(self.faders[slider.name])
                    self.faders[slider.name].show()
        options.refilled.emit()

    def _fader(self, slider: Slider) -> Fader:
        scale = _scale(slider)
        unit = " y" if slider.unit == "years" else slider.unit
        fader = Fader(slider.name, slider.low * scale, slider.high * scale, unit=unit, name_width=NAME_PX,
                      figure_width=FIGURE_PX)  # fmt: skip
        fader.setFixedWidth(FADER_PX)
        fader.set_value(self._shown(slider))
        fader.setToolTip(f"{slider.name.capitalize()}: {_words(slider)}")
        fader.moved.connect(partial(self._told, slider, stays=False))
        fader.settled.connect(partial(self._told, slider, stays=True))
        return fader

    def _told(self, slider: Slider, value: float, *, stays: bool) -> None:
        self._slid(slider.name, round(value / _scale(slider), 4), stays)


def _scale(slider: Slider) -> float:
    """Shares are shown in hundredths."""
    return 1.0 if slider.unit else HUNDREDTHS


def _words(slider: Slider) -> str:
    if slider.unit:
        return f"{slider.low:g} to {slider.high:g} {slider.unit}"
    return "none to all of it" if slider.low >= 0 else "less to the left, more to the right"
