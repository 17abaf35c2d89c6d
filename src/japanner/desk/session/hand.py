"""What the painter holds: the brush in hand and the resting one, the colour, the practice pen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from PySide6.QtCore import QObject, Signal

from japanner.color import lab, oklab
from japanner.color.value import srgb_from_value
from japanner.desk.session.own_brushes import OWN, keep_own_brushes, own_brushes
from japanner.desk.settings import recall, remember
from japanner.errors import InputError
from japanner.stroke.brush import LARGEST_PX, SMALLEST_PX, Brush
from japanner.stroke.brush.drive import Drive
from japanner.stroke.brush.record import IN_PX
from japanner.stroke.brush.shipped import shipped_brushes
from japanner.stroke.pen.practice_pen import PracticePenSettings
from japanner.types import Colour

__all__ = ["Colour", "Hand"]

FIFTH_ROOT_OF_2 = 2 ** (1 / 5)
MOST_RECENT = 16
# What the sizes of shipped brushes are given for, and how far they are fitted at most.
DRAWN_FOR_PX, MOST_FITTED = 2000, 8.0
# Rolls of every material: whoever takes a brush from them goes on with the material's own.
ALWAYS_AT_HAND = ("basic", "blend")
GREY = 0.004
MOST_CHROMA = 0.5


def _kept_curve() -> tuple[float, float, float]:
    """The pressure curve that was set last, as far as it makes sense."""
    try:
        low, high, gamma = (float(value) for value in recall("pen curve", [0.0, 1.0, 1.0]))
        Drive("strength", "pressure", 1.0, low, high, gamma)
    except (TypeError, ValueError):
        return 0.0, 1.0, 1.0
    return low, high, gamma


class Hand(QObject):
    """Brushes and colour; widgets read from here and listen to its signals."""

    brush_changed = Signal()  # brush in hand or its settings
    roll_changed = Signal()  # which brushes lie in the roll, or which roll is shown
    colour_changed = Signal()
    practice_pen_changed = Signal()
    told = Signal(str)  # one sentence for the painter

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.brushes: list[Brush] = [*shipped_brushes(), *own_brushes()]
        self.roll = self.brushes[0].roll
        self.in_hand = 0
        self.resting = next(i for i, brush in enumerate(self.brushes) if brush.does.drags)
        self.wiping = False
        self.colour: Colour = (0.52, 0.43, 0.33)
        self.former_colour: Colour = (0.9, 0.86, 0.8)
        self._hue, self._chroma = 0.0, 0.0  # OKLab, of the colour that was chosen, whatever its value has become
        self.set_colour(self.colour)
        self.practice_pen = PracticePenSettings()
        self.pen_met = ""
        self._pens: dict[str, bool] = recall("practising pens", {})
        self.lag_ms, self.assist = 0.0, "free"
        low, high, gamma = _kept_curve()
        self.pen_curve = Drive("strength", "pressure", 1.0, low, high, gamma)
        self._canvas_px = DRAWN_FOR_PX
        self._fitted: dict[str, float] = {}  # by brush: the factor that fits it to the canvas
        self._sized: set[str] = set()  # brushes whose lengths the painter has set
        self.recent: list[Colour] = []  # the colours last painted with, newest first

    @property
    def brush(self) -> Brush:
        return self.brushes[self.in_hand]

    def take_brush(self, index: int) -> None:
        if index != self.in_hand:
            self.in_hand, self.resting = index, self.in_hand
        self._fit(index)
        self.wiping = False
        self.brush_changed.emit()

    def fit_canvas(self, longest_px: int) -> None:
        """The canvas is so long: shipped brushes fit it when they are taken up, unless their size was set by hand."""
        self._canvas_px = longest_px
        self._fit(self.in_hand)
        self.brush_changed.emit()

    def _fit(self, index: int) -> None:
        brush = self.brushes[index]
        factor = min(max(self._canvas_px / DRAWN_FOR_PX, 1 / MOST_FITTED), MOST_FITTED)
        now = self._fitted.get(brush.name, 1.0)
        if brush.roll != OWN and brush.name not in self._sized and factor != now:
            self.brushes[index] = brush.scaled(factor / now)
            self._fitted[brush.name] = factor

    def take_back(self, shipped: Brush) -> None:
        """Make the brush in hand what it was when it was shipped, as large as the canvas asks for."""
        self.brushes[self.in_hand] = shipped
        self._sized.discard(shipped.name)
        self._fitted.pop(shipped.name, None)
        self._fit(self.in_hand)
        self.roll_changed.emit()
        self.brush_changed.emit()

    @property
    def rolls(self) -> list[str]:
        """The names of all rolls."""
        return list(dict.fromkeys(brush.roll for brush in self.brushes))

    def show_roll(self, name: str) -> None:
        """Lay out another roll; what is in hand stays there."""
        if name in self.rolls and name != self.roll:
            self.roll = name
            self.roll_changed.emit()

    def add_brush(self, brush: Brush) -> None:
        """Put a brush into its roll, lay that out, and take the brush up."""
        self.brushes.append(brush)
        self.roll = brush.roll
        self.roll_changed.emit()
        self.take_brush(len(self.brushes) - 1)

    def keep_own(self) -> None:
        """Write the painter's own brushes to disk, as far as it lets us."""
        trouble = keep_own_brushes([brush for brush in self.brushes if brush.roll == OWN])
        if trouble:
            self.told.emit(trouble)

    def take_brush_named(self, name: str) -> None:
        """Take up the brush of that name, if there is one, and lay out its roll where that is one of a material's."""
        index = next((i for i, brush in enumerate(self.brushes) if brush.name == name), None)
        if index is None:
            return
        self.take_brush(index)
        if self.brush.roll not in ALWAYS_AT_HAND:
            self.show_roll(self.brush.roll)

    def swap_brushes(self) -> None:
        self.take_brush(self.resting)

    def set_brush(self, **changes: Any) -> None:
        """Change settings of the brush in hand."""
        if not changes.keys().isdisjoint(IN_PX):
            self._sized.add(self.brush.name)
        try:
            self.brushes[self.in_hand] = self.brush.with_changes(**changes)
        except InputError as error:
            self.told.emit(str(error))
            return
        self.brush_changed.emit()

    def drive_brush(self, setting: str, source: str, **changes: Any) -> None:
        """Change what drives a setting of the brush in hand: amount, low, high or gamma."""
        try:
            self.brushes[self.in_hand] = self.brush.driven(setting, source, **changes)
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

    def meet_pen(self, name: str, *, presses: bool) -> None:
        """A pen of this name has come to the easel; one that tells no pressure practises unless told otherwise."""
        if name != self.pen_met:
            self.pen_met = name
            self._pens.setdefault(name, not presses)
            self.practice_pen_changed.emit()

    def practises(self, pen: str) -> bool:
        """Whether a pen counts by the practice pen instead of its own pressure."""
        return bool(self._pens.get(pen, False))

    def let_practise(self, pen: str, on: bool) -> None:
        """Choose this for a pen; it is remembered."""
        self._pens[pen] = on
        remember("practising pens", self._pens)
        self.practice_pen_changed.emit()

    def steady(self, **changes: Any) -> None:
        """Change how the hand is steadied: lag_ms, assist."""
        for name, value in changes.items():
            setattr(self, name, value)
        self.practice_pen_changed.emit()

    def set_pen_curve(self, **changes: float) -> None:
        """Change what a pen's pressure counts as: low, high, gamma; it is remembered."""
        try:
            self.pen_curve = replace(self.pen_curve, **changes)  # type: ignore[arg-type]
        except InputError as error:
            self.told.emit(str(error))
        remember("pen curve", [self.pen_curve.low, self.pen_curve.high, self.pen_curve.gamma])
        self.practice_pen_changed.emit()

    def toggle_wiping(self) -> None:
        self.wiping = not self.wiping
        self.brush_changed.emit()

    def set_colour(self, colour: Sequence[float]) -> None:
        r, g, b = (min(max(float(c), 0.0), 1.0) for c in colour)
        self._hold_colour((r, g, b))
        _, self._chroma, hue = (float(v) for v in oklab.oklch_from_srgb(self.colour))
        if self._chroma > GREY:  # a grey has no hue: the last one stays
            self._hue = hue
        self.colour_changed.emit()

    def _hold_colour(self, colour: Colour) -> None:
        if self.colour != colour:
            self.former_colour = self.colour
        self.colour = colour

    def remember_colour(self) -> None:
        """The colour in hand has been painted with."""
        self.recent = [self.colour, *(one for one in self.recent if one != self.colour)][:MOST_RECENT]

    @property
    def value(self) -> float:
        """L* of the colour in hand."""
        return float(lab.lightness_from_srgb(self.colour))

    def set_value(self, value: float) -> None:
        """Move the colour to L* `value`; hue and chroma stay as far as the gamut allows.

        What the gamut takes is not lost for good: on the way back, the chroma that was chosen comes back.
        """
        value, chroma = min(max(value, 0.0), 100.0), min(self._chroma, MOST_CHROMA)
        self._hold_colour(srgb_from_value(value, chroma, self._hue))
        self.colour_changed.emit()

    @property
    def chroma(self) -> float:
        """OKLab chroma of the colour that was chosen, whatever its value has become."""
        return min(self._chroma, MOST_CHROMA)

    @property
    def hue_deg(self) -> float:
        """OKLab hue of the colour that was chosen."""
        return self._hue

    @property
    def chroma_lost(self) -> float:
        """Share 0..1 of the chosen OKLab chroma that the gamut does not hold at this value."""
        if self._chroma <= GREY:
            return 0.0
        return max(1 - float(oklab.oklch_from_srgb(self.colour)[1]) / self._chroma, 0.0)
