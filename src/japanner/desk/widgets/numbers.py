"""Numbers as people type them: with a point or a comma before the fraction, whatever the language of the desktop."""

from __future__ import annotations

import math
import re

from PySide6.QtGui import QValidator
from PySide6.QtWidgets import QDoubleSpinBox, QToolTip, QWidget

from japanner.checks import shown
from japanner.desk.widgets.calm_wheel import calm
from japanner.errors import InputError

__all__ = ["NumberBox", "number_in", "say_beside"]

WHOLE = re.compile(r"[+-]?(\d+([.,]\d*)?|[.,]\d+)")
GROUPED = re.compile(r"[+-]?\d+([.,' \u00a0\u202f]\d+)+")


def number_in(text: str, unit: str = "") -> float:
    """The number in a text, which may carry its unit; InputError with a word on what is wrong.

    A sign between groups of digits would be the fraction's in another language, so it is refused.
    """
    plain, unit = text.strip().replace("\u2212", "-"), unit.strip()
    while unit and plain.endswith(unit):  # the field has it already, and somebody types it as well
        plain = plain.removesuffix(unit).strip()
    if WHOLE.fullmatch(plain):
        number = float(plain.replace(",", "."))
        if math.isfinite(number):
            return number
    if GROUPED.fullmatch(plain):
        raise InputError(f"{plain:.30}: write it without signs between the groups, such as 1234.5")
    raise InputError(f"{shown(plain)} is no number")


def say_beside(widget: QWidget, words: str) -> None:
    """A word at the field that it is about."""
    QToolTip.showText(widget.mapToGlobal(widget.rect().bottomLeft()), words, widget)


class NumberBox(QDoubleSpinBox):
    """A number with a unit; what is typed is read by `number_in`, and counts when the painter is done with it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setKeyboardTracking(False)
        calm(self)

    def textFromValue(self, value: float) -> str:
        return f"{value:.{self.decimals()}f}"

    def valueFromText(self, text: str) -> float:
        try:
            return number_in(text, self.suffix())
        except InputError:
            return self.value()

    def validate(self, text: str, place: int) -> tuple[QValidator.State, str, int]:
        try:
            number = number_in(text, self.suffix())
        except InputError:
            return QValidator.State.Intermediate, text, place  # it may become one; `fixup` says what is wrong
        fits = self.minimum() <= number <= self.maximum()
        return (QValidator.State.Acceptable if fits else QValidator.State.Intermediate), text, place

    def fixup(self, text: str) -> str:
        """The painter is done with a text that is no number, or none that can be."""
        try:
            number = number_in(text, self.suffix())
        except InputError as error:
            say_beside(self, str(error))
            return self.textFromValue(self.value())
        return self.textFromValue(min(max(number, self.minimum()), self.maximum()))
