"""Values that are meant as outcomes: on a layer that is not Normal, the hand takes the colour that comes to them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

from PySide6.QtCore import QObject, Signal

from japanner.color import lab
from japanner.color.value import exposed
from japanner.desk.session.hand import Hand
from japanner.desk.session.worked_on import WorkedOn
from japanner.painting.model import Layer, Painting
from japanner.painting.picture.picking import below
from japanner.painting.value.aim import NEAR_ENOUGH, aimed, outcomes
from japanner.painting.value.mixing_grid import local_colour
from japanner.types import Colour

__all__ = ["AIM_OVER", "Aiming"]

AIM_OVER: Final = ("flat", "pointer")
STEP_REACHED: Final = 0.5
"""A step nearer than this counts as reached, so that another stroke goes on to the next."""


class Aiming(QObject):
    """Keys, rail and grid set values through this.

    over: what the stroke is thought to be laid on, the part's flat or what is below the layer under the pointer.
    """

    changed = Signal()

    def __init__(
        self, painting: Callable[[], Painting], hand: Hand, work: WorkedOn, parent: QObject | None = None
    ) -> None:
        """`painting` gives the present one."""
        super().__init__(parent)
        self._painting, self._hand, self._work = painting, hand, work
        self.over = "flat"
        self.pointer: tuple[float, float] | None = None  # canvas position
        self.missed: tuple[float, float] | None = None  # the value that was aimed at, and what is the nearest to it

    def set_over(self, over: str) -> None:
        self.over = over
        self.changed.emit()

    @property
    def through(self) -> Layer | None:
        """The layer whose mode stands between colour and outcome; None where a colour is its own outcome."""
        layer = self._work.layer
        if layer is None or layer.mode == "Normal" or self._work.on != "paint" or self._hand.wiping:
            return None
        return layer

    @property
    def value(self) -> float:
        """L* that a full stroke of the colour in hand comes to."""
        comes_to = self.comes_to()
        return self._hand.value if comes_to is None else comes_to

    def comes_to(self, base: Colour | None = None) -> float | None:
        """L* that a full stroke comes to through the layer's mode, over `base` or what is aimed over; None if that is
        the colour's own.
        """
        layer = self.through
        if layer is None:
            return None
        found = outcomes([self._hand.colour], base or self._base(layer), layer.mode, layer.strength)
        return float(lab.lightness_from_srgb(found[0]))

    def full_pass(self, under: Colour) -> float | None:
        """L* that one full pass of the brush in hand makes of a colour; None if it does not dodge or burn."""
        brush = self._hand.brush
        sign = brush.does.exposes
        if not sign:
            return None
        value = float(lab.lightness_from_srgb(under))
        if brush.aim != "step":
            return float(lab.lightness_from_srgb(exposed(under, sign * brush.stops * brush.strength, brush.tone)))
        part = self._work.part
        further = [one for one in (part.scale if part else ()) if (one - value) * sign > STEP_REACHED]
        step = (min if sign > 0 else max)(further, default=value)
        return value + brush.strength * (step - value)

    def set_value(self, value: float) -> None:
        """Take the colour, of the hue in hand, whose stroke comes to L* `value`, or as near as the mode reaches."""
        layer, self.missed = self.through, None
        if layer is not None:
            colour, comes_to = aimed(
                min(max(value, 0.0), 100.0), self._hand.chroma, self._hand.hue_deg, self._base(layer), layer.mode,
                layer.strength,
            )  # fmt: skip
            if abs(comes_to - value) > NEAR_ENOUGH:
                self.missed = (value, comes_to)
            value = float(lab.lightness_from_srgb(colour))
        self._hand.set_value(value)

    def set_colour(self, colour: Colour) -> None:
        """Take a colour of the grid: its hue and chroma, and the value that comes to its own."""
        self._hand.set_colour(colour)
        if self.through is not None:
            self.set_value(float(lab.lightness_from_srgb(colour)))

    def _base(self, layer: Layer) -> Colour:
        painting = self._painting()
        part = self._work.part
        if self.over == "pointer" and self.pointer is not None:
            found = below(painting, layer.uid, *self.pointer)
            if found is not None:
                return found
        return (part and local_colour(painting, part)) or painting.ground
