"""Options for the line over the easel."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtGui import QColor
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QLabel,
    QPushButton,
    QWidget,
)

from japanner.desk.widgets.flow import Flow
from japanner.desk.widgets.numbers import NumberBox

__all__ = ["Options", "paint_button", "refill", "set_quietly"]


class Options(QWidget):
    """Named choices, numbers, switches and buttons, in as many lines as they need."""

    refilled = Signal()  # it needs another room now

    def __init__(self) -> None:
        super().__init__()
        self.flow = Flow(self)

    def row(self) -> None:
        """Go on in a new line, where there is room for several."""
        self.flow.break_line()

    def add(self, widget: QWidget) -> None:
        self.flow.addWidget(widget)

    def clear(self, *, last_row: bool = False) -> None:
        """Take all out, or what stands in the last row."""
        for _ in range(self.flow.since_break() if last_row else self.flow.count()):
            item = self.flow.takeAt(self.flow.count() - 1)
            if item is not None and (widget := item.widget()):
                widget.hide()
                widget.setParent(None)
                widget.deleteLater()
        if last_row:
            self.row()

    def choice(
        self, name: str, words: Sequence[str], tip: str, changed: Callable[[str], object] = lambda _: None
    ) -> QComboBox:
        """A drop-down; `words` are its entries."""
        box = QComboBox()
        box.addItems(list(words))
        box.setToolTip(tip)
        box.setAccessibleName(name)
        box.textActivated.connect(changed)
        self._named(name, box)
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
        self._named(name, box)
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

    def words(self, width_px: int) -> QLabel:
        """What is told among them, in as many lines as it needs in a width."""
        label = QLabel("")
        label.setWordWrap(True)
        label.setFixedWidth(width_px)
        self.add(label)
        return label

    def _named(self, name: str, box: QWidget) -> None:
        if name:
            label = QLabel(name)
            label.setObjectName("quiet")
            label.setBuddy(box)
            self.add(label)


def set_quietly(box: NumberBox, value: float) -> None:
    """Show a number without a signal."""
    with QSignalBlocker(box):
        box.setValue(value)


def refill(box: QComboBox, names: Sequence[str], chosen: str = "") -> None:
    """Other entries in a drop-down, without a signal: what was chosen stays where it is among them, else `chosen`, or
    the first.
    """
    kept = box.currentText()
    with QSignalBlocker(box):
        box.clear()
        box.addItems(list(names))
        box.setCurrentText(kept if kept in names else chosen if chosen in names else next(iter(names), ""))


def paint_button(button: QPushButton, colour: tuple[float, float, float]) -> None:
    """A button in the colour that it holds, with legible words."""
    shown = QColor.fromRgbF(*(min(max(float(c), 0.0), 1.0) for c in colour))
    words = "#161412" if shown.lightnessF() > 0.5 else "#f4efe6"
    button.setStyleSheet(f"background: {shown.name()}; color: {words};")
