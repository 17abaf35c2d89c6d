"""A row that goes on in the next line when there is no more room."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from PySide6.QtCore import QPoint, QRect, QSize
from PySide6.QtWidgets import QLabel, QLayout, QLayoutItem, QWidget

__all__ = ["Flow"]

# What is higher than this does not stand in a folded line.
LINE_PX: Final = 34


@dataclass
class _Item:
    item: QLayoutItem
    breaks: bool  # begins a line where there is room for several


class Flow(QLayout):
    """Lines of widgets, each as large as it wants to be; a label stays with what it names.

    folded: all that does not fit into the first line lies below it, where its owner does not show it; breaks count
    only unfolded.
    """

    def __init__(self, parent: QWidget, gap: int = 6, line_gap: int = 4) -> None:
        super().__init__(parent)
        self._items: list[_Item] = []
        self._gap, self._line_gap = gap, line_gap
        self._break_next = False
        self.folded = False
        self.setContentsMargins(0, 0, 0, 0)

    # --- what a layout has to know ----------------------------------------------------------------------

    def addItem(self, item: QLayoutItem) -> None:
        self._items.append(_Item(item, self._break_next))
        self._break_next = False

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index].item if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index).item if 0 <= index < len(self._items) else None

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._lay(width)[0]

    def sizeHint(self) -> QSize:
        return QSize(self.one_line(), self._lay(100_000)[0])

    def minimumSize(self) -> QSize:
        return QSize(max((self._width(unit) for unit, _ in self._units()), default=0), 0)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        for item, place in self._lay(rect.width())[1]:
            item.setGeometry(place.translated(rect.topLeft()))

    # --- lines --------------------------------------------------------------------------------------------

    def break_line(self) -> None:
        """Let what is added next begin a line."""
        self._break_next = True

    def since_break(self) -> int:
        """How many items the last line has."""
        if self._break_next:
            return 0
        for back, one in enumerate(reversed(self._items), 1):
            if one.breaks:
                return back
        return len(self._items)

    def one_line(self) -> int:
        """The width of all in one line."""
        widths = [self._width(unit) for unit, _ in self._units()]
        return sum(widths) + self._gap * max(len(widths) - 1, 0)

    def first_line(self, width: int) -> int:
        """The height of the first line in a width."""
        lines = self._lines(width)
        return max((item.sizeHint().height() for item in lines[0]), default=0) if lines else 0

    def fits(self, width: int) -> bool:
        """Whether all of it stands in the first line."""
        return len(self._lines(width)) <= 1

    def _units(self) -> list[tuple[list[QLayoutItem], bool]]:
        """What stands together: a label and what it names, or one widget; and whether it begins a line."""
        units: list[tuple[list[QLayoutItem], bool]] = []
        waiting: _Item | None = None
        for one in self._items:
            widget = one.item.widget()
            if widget is None or widget.isHidden():
                continue
            if waiting is not None:
                units.append(([waiting.item, one.item], waiting.breaks))
                waiting = None
            elif isinstance(widget, QLabel) and widget.buddy() is not None:
                waiting = one
            else:
                units.append(([one.item], one.breaks))
        return units

    def _width(self, unit: list[QLayoutItem]) -> int:
        return sum(item.sizeHint().width() for item in unit) + self._gap * (len(unit) - 1)

    def _lines(self, width: int) -> list[list[QLayoutItem]]:
        lines: list[list[QLayoutItem]] = []
        x = 0
        for unit, breaks in self._units():
            wide = self._width(unit)
            tall = self.folded and max(item.sizeHint().height() for item in unit) > LINE_PX
            if not lines or x + wide > width or (breaks and not self.folded) or (tall and len(lines) == 1):
                lines.append([])
                x = 0
            lines[-1].extend(unit)
            x += wide + self._gap
        return lines

    def _lay(self, width: int) -> tuple[int, list[tuple[QLayoutItem, QRect]]]:
        """The height that all of it takes in a width, and where each item goes."""
        places: list[tuple[QLayoutItem, QRect]] = []
        y = 0
        for line in self._lines(width):
            high, x = max(item.sizeHint().height() for item in line), 0
            for item in line:
                size = item.sizeHint()
                places.append((item, QRect(QPoint(x, y + (high - size.height()) // 2), size)))
                x += size.width() + self._gap
            y += high + self._line_gap
        return max(y - self._line_gap, 0), places
