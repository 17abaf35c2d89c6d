"""Trying an operation out on a small copy of the painting, so that the picture follows the hand."""

from __future__ import annotations

from typing import Any, Protocol

from japanner.painting.model import Painting
from japanner.painting.operations import Change
from japanner.painting.picture.picture import Picture
from japanner.painting.picture.reduced import reduced
from japanner.raster.geometry import Rect

__all__ = ["LONGEST_PX", "Outcome", "Triable", "Trial"]

# About what an easel shows of a painting.
LONGEST_PX = 1300
COARSER = 4


Outcome = tuple[Painting, tuple[Rect, ...]]


class Triable(Protocol):
    """An operation that can be made smaller; `glance`, if it has one, is a quicker `apply`, `sketch` one that leaves
    out much of what is many.
    """

    def apply(self, painting: Painting) -> tuple[Painting, Change]: ...

    def scaled(self, factor: float) -> Any: ...


class Trial:
    """The painting at 1 / `step` of its size, and the picture of it with an operation tried."""

    def __init__(self, painting: Painting, active: int | None = None, step: int = 0) -> None:
        """active: the layer that changes; what lies under it is composed once. step: 0 for one at which the painting is
        about as large as an easel.
        """
        self._active = active
        self.step = step or 1
        while not step and max(painting.width, painting.height) / self.step > LONGEST_PX:
            self.step *= 2
        self._base = reduced(painting, self.step)
        self._last: tuple[Rect, ...] = ()
        self.picture = Picture(self._base)

    def show(self, operation: Triable | None) -> None:
        """Show the painting with `operation` applied, or as it is; InputError if it cannot be."""
        self.take((self._base, ()) if operation is None else self.worked(operation))

    def worked(self, operation: Triable) -> Outcome:
        """What comes of an operation, without showing it: this may take long, and may be done beside the window."""
        small = operation.scaled(1 / self.step)
        painting, change = getattr(small, "glance", small.apply)(self._base)
        return painting, change.areas

    def coarser(self) -> Trial:
        """The same at a quarter of its size: what comes of an operation is seen there much sooner."""
        coarse = Trial(self._base, self._active, COARSER)
        coarse.step *= self.step
        return coarse

    def sketched(self, operation: Triable) -> Outcome:
        """What about comes of an operation, if it can say that sooner than what does."""
        small = operation.scaled(1 / self.step)
        painting, change = getattr(small, "sketch", small.apply)(self._base)
        return painting, change.areas

    def take(self, outcome: Outcome) -> None:
        """Show what was worked out."""
        painting, areas = outcome
        self.picture.refresh(painting, dict.fromkeys((*areas, *self._last)), self._active)
        self._last = areas
