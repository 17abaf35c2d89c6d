"""The bars over the easel, under each other at its head, or at its foot if they were dragged there."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Final

from PySide6.QtCore import QObject, QRect
from PySide6.QtWidgets import QWidget

from japanner.desk.settings import recall, remember
from japanner.desk.widgets.bar import Bar

__all__ = ["OverBars"]

MARGIN: Final = 8
GAP: Final = 4
FOOT_PX: Final = 24


class OverBars(QObject):
    """Places bars over `area`, a piece of `parent`; nothing under them moves."""

    def __init__(self, parent: QWidget, bars: Sequence[Bar], area: Callable[[], QRect]) -> None:
        super().__init__(parent)
        self._bars, self._area = bars, area
        self.at_foot: bool = recall("bars at foot", False)
        for bar in bars:
            bar.setParent(parent)
            bar.dragged.connect(self._drag)
            bar.resized.connect(self.place)

    def place(self) -> None:
        """Put each where it belongs now."""
        area = self._area().adjusted(MARGIN, MARGIN, -MARGIN, -MARGIN)
        if self.at_foot:
            area.setBottom(area.bottom() - FOOT_PX + MARGIN)
        y = area.bottom() + 1 if self.at_foot else area.top()
        for bar in self._bars:
            if bar.isHidden():
                continue
            wide, high = bar.fit(area.width())
            y -= high if self.at_foot else 0
            bar.setGeometry(area.left() + (area.width() - wide) // 2, y, wide, high)
            bar.raise_()
            y += -GAP if self.at_foot else high + GAP

    def _drag(self, y: int) -> None:
        at_foot = y > self._area().center().y()
        if at_foot != self.at_foot:
            self.at_foot = at_foot
            remember("bars at foot", at_foot)
            self.place()
