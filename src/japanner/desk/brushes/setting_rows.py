"""Controls for settings of the brush in hand, made from the table of settings."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLabel, QSizePolicy, QVBoxLayout, QWidget

from japanner.desk.brushes.settings import Setting
from japanner.desk.session.session import Session
from japanner.desk.widgets.calm_wheel import calm
from japanner.desk.widgets.fader import NAME_WIDTH, Fader

__all__ = ["Choice", "SettingRows"]

NONE = "none"


class Choice(QWidget):
    """A named drop-down as wide as a fader."""

    def __init__(self, name: str, words: tuple[str, ...], tip: str, name_width: int = NAME_WIDTH) -> None:
        super().__init__()
        self.box = QComboBox()
        self.box.addItems([word or NONE for word in words])
        self.box.setMinimumWidth(40)
        self.box.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.box.setToolTip(tip)
        self.box.setAccessibleName(name)
        calm(self.box)
        label = QLabel(name)
        label.setObjectName("quiet")
        label.setFixedWidth(name_width)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 1, 0, 1)
        row.setSpacing(0)
        row.addWidget(label)
        row.addWidget(self.box, 1)


class SettingRows(QWidget):
    """One row for each setting; rows that mean nothing to the brush in hand are not there."""

    def __init__(self, session: Session, settings: Iterable[Setting], name_width: int = NAME_WIDTH) -> None:
        super().__init__()
        self._session = session
        self.rows: dict[str, QWidget] = {}
        self._settings = tuple(settings)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        for setting in self._settings:
            self.rows[setting.name] = self._row(setting, name_width)
            column.addWidget(self.rows[setting.name])
        session.hand.brush_changed.connect(self.refresh)
        self.refresh()

    def _row(self, setting: Setting, name_width: int) -> QWidget:
        session, name = self._session, setting.name
        if setting.words:
            choice = Choice(setting.label, setting.words, setting.tip, name_width)
            choice.box.textActivated.connect(
                lambda text: session.hand.set_brush(**{name: "" if text == NONE else text})
            )
            return choice
        if setting.high == setting.low:
            box = QCheckBox(setting.label)
            box.setToolTip(setting.tip)
            box.toggled.connect(lambda on: session.hand.set_brush(**{name: on}))
            return box
        fader = Fader(setting.label, setting.low, setting.high, unit=setting.unit, digits=setting.digits,
                      logarithmic=setting.logarithmic, name_width=name_width)  # fmt: skip
        fader.setToolTip(setting.tip)
        fader.moved.connect(lambda value: self._set(setting, value))
        return fader

    def _set(self, setting: Setting, value: float) -> None:
        held = getattr(self._session.hand.brush, setting.name)
        value /= setting.scale
        self._session.hand.set_brush(**{setting.name: round(value) if isinstance(held, int) else value})

    def refresh(self) -> None:
        """Show the brush in hand."""
        brush = self._session.hand.brush
        for setting in self._settings:
            row, value = self.rows[setting.name], getattr(brush, setting.name)
            row.setVisible(setting.applies(brush))
            if isinstance(row, Fader):
                row.set_value(value * setting.scale)
            elif isinstance(row, Choice):
                row.box.setCurrentText(value or NONE)
            elif isinstance(row, QCheckBox):
                with QSignalBlocker(row):
                    row.setChecked(value)
