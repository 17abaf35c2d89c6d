"""Rows of options for the line above the easel."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtGui import QColor
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from japanner.desk.widgets.numbers import NumberBox

__all__ = ["Options", "paint_button", "set_quietly"]


class Options(QWidget):
    """One or more rows of named choices, numbers, switches and buttons."""

    def __init__(self) -> None:
        super().__init__()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(4)
        self.row()

    def row(self) -> None:
        """Go on in a new row."""
        self._row = QHBoxLayout()
        self._row.setSpacing(6)
        self._row.addStretch(1)
        self._column.addLayout(self._row)

    @property
    def last_row(self) -> QHBoxLayout:
        return self._row

    def add(self, widget: QWidget) -> None:
        self._row.insertWidget(self._row.count() - 1, widget)

    def choice(
        self, name: str, words: Sequence[str], tip: str, changed: Callable[[str], object] = lambda _: None
    ) -> QComboBox:
        """A drop-down; `words` are its entries."""
        box = QComboBox()
        box.addItems(list(words))
        box.setToolTip(tip)
        box.setAccessibleName(name)
        box.textActivated.connect(changed)
        self._named(name)
        self.add(box)
        return box

    def number(
        self,
        name: str,
        low: float,
        high: float,
        value: float,
        tip: str,
        *,
        unit: str = "",
        digits: int = 0,
        changed: Callable[[float], object] = lambda _: None,
    ) -> NumberBox:
        """A number that is typed, or changed by wheel and arrow keys."""
        box = NumberBox()
        box.setDecimals(digits)
        box.setRange(low, high)
        box.setValue(value)
        box.setSuffix(unit)
        box.setToolTip(tip)
        box.setAccessibleName(name)
        box.setFixedWidth(44 + 7 * (digits + len(unit)))
        box.valueChanged.connect(changed)
        self._named(name)
        self.add(box)
        return box

    def switch(self, name: str, on: bool, tip: str, changed: Callable[[bool], object] = lambda _: None) -> QCheckBox:
        box = QCheckBox(name)
        box.setChecked(on)
        box.setToolTip(tip)
        box.toggled.connect(changed)
        self.add(box)
        return box

    def button(self, name: str, tip: str, pressed: Callable[[], object]) -> QPushButton:
        button = QPushButton(name)
        button.setToolTip(tip)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.clicked.connect(lambda _=False: pressed())
        self.add(button)
        return button

    def _named(self, name: str) -> None:
        if name:
            label = QLabel(name)
            label.setObjectName("quiet")
            self.add(label)


def set_quietly(box: NumberBox, value: float) -> None:
    """Show a number without a signal."""
    with QSignalBlocker(box):
        box.setValue(value)


def paint_button(button: QPushButton, colour: tuple[float, float, float]) -> None:
    """A button in the colour that it holds, with legible words."""
    shown = QColor.fromRgbF(*(min(max(float(c), 0.0), 1.0) for c in colour))
    words = "#161412" if shown.lightnessF() > 0.5 else "#f4efe6"
    button.setStyleSheet(f"background: {shown.name()}; color: {words};")
