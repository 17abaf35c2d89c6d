"""What the painter holds: the brush in hand and the resting one, the colour, the practice pen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from PySide6.QtCore import QObject, Signal

from japanner.color import lab
from japanner.color.value import with_value
from japanner.errors import InputError
from japanner.stroke.brush import LARGEST_PX, SMALLEST_PX, Brush
from japanner.stroke.practice_pen import PracticePenSettings
from japanner.stroke.shipped import shipped_brushes

__all__ = ["Colour", "Hand"]

Colour = tuple[float, float, float]
FIFTH_ROOT_OF_2 = 2 ** (1 / 5)
MOST_RECENT = 16


class Hand(QObject):
    """Brushes and colour; widgets read from here and listen to its signals."""

    brush_changed = Signal()  # brush in hand or its settings
    roll_changed = Signal()  # which brushes lie in the roll
    colour_changed = Signal()
    practice_pen_changed = Signal()
    told = Signal(str)  # one sentence for the painter

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.brushes: list[Brush] = list(shipped_brushes())
        self.in_hand = 0
        self.resting = next(i for i, brush in enumerate(self.brushes) if brush.kind == "smudge")
        self.wiping = False
        self.colour: Colour = (0.52, 0.43, 0.33)
        self.former_colour: Colour = (0.9, 0.86, 0.8)
        self.practice_pen = PracticePenSettings()
        self.recent: list[Colour] = []  # the colours last painted with, newest first

    @property
    def brush(self) -> Brush:
        return self.brushes[self.in_hand]

    def take_brush(self, index: int) -> None:
        if index != self.in_hand:
            self.in_hand, self.resting = index, self.in_hand
        self.wiping = False
        self.brush_changed.emit()

    def add_brush(self, brush: Brush) -> None:
        """Put a brush into the roll, and take it up."""
        self.brushes.append(brush)
        self.roll_changed.emit()
        self.take_brush(len(self.brushes) - 1)

    def take_brush_named(self, name: str) -> None:
        """Take up the brush of that name, if it lies in the roll."""
        index = next((i for i, brush in enumerate(self.brushes) if brush.name == name), None)
        if index is not None:
            self.take_brush(index)

    def swap_brushes(self) -> None:
        self.take_brush(self.resting)

    def set_brush(self, **changes: Any) -> None:
        """Change settings of the brush in hand."""
        try:
            self.brushes[self.in_hand] = self.brush.with_changes(**changes)
        except InputError as error:
            self.told.emit(str(error))
            return
        self.brush_changed.emit()

    def resize_brush(self, steps: int) -> None:
        """Make the tip smaller or larger by steps of a fifth root of 2."""
        size = self.brush.size_px * FIFTH_ROOT_OF_2**steps
        self.set_brush(size_px=min(max(size, SMALLEST_PX), LARGEST_PX))

    def set_practice_pen(self, **changes: Any) -> None:
        """Change where pressure comes from when there is no pen."""
        self.practice_pen = replace(self.practice_pen, **changes)
        self.practice_pen_changed.emit()

    def toggle_wiping(self) -> None:
        self.wiping = not self.wiping
        self.brush_changed.emit()

    def set_colour(self, colour: Sequence[float]) -> None:
        r, g, b = (min(max(float(c), 0.0), 1.0) for c in colour)
        if self.colour != (r, g, b):
            self.former_colour = self.colour
        self.colour = (r, g, b)
        self.colour_changed.emit()

    def remember_colour(self) -> None:
        """The colour in hand has been painted with."""
        self.recent = [self.colour, *(one for one in self.recent if one != self.colour)][:MOST_RECENT]

    @property
    def value(self) -> float:
        """L* of the colour in hand."""
        return float(lab.lightness_from_srgb(self.colour))

    def set_value(self, value: float) -> None:
        """Move the colour to L* `value`; hue and chroma stay as far as the gamut allows."""
        self.set_colour(with_value(self.colour, min(max(value, 0.0), 100.0)))
