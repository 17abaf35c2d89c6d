"""What every kind of stroke offers the engine."""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from japanner.raster.field import Warp
from japanner.raster.geometry import Key, Rect
from japanner.raster.limit import Limit
from japanner.raster.tiles import Raster
from japanner.stroke.kinds.dabs import DabRows
from japanner.stroke.kinds.laid import LaidHair

__all__ = ["WorkingStroke"]


class WorkingStroke(ABC):
    """A stroke at work on the paint of a layer.

    tiles: its own copies of the tiles that it has changed so far. BATCH: the most dabs that it takes at once.
    """

    BATCH: ClassVar[int]
    tiles: dict[Key, NDArray[np.uint16]]
    px: float = 1.0
    """How many px of the canvas that the hand is on one here stands for."""
    unseen: bool = False
    """Nobody looks before the stroke ends: what would be drawn anew by then need not be drawn."""

    @abstractmethod
    def put(self, rows: DabRows) -> list[Rect]:
        """Work along dabs; the changed canvas areas, all made anew from the paint that was there."""

    def end(self, pace: float) -> list[Rect]:
        """The pen is lifted, moving at `pace` px/ms; the changed canvas areas."""
        return []

    def warp(self, result: Raster) -> Warp | None:
        """How the paint came from nudges, once `result` is it; None if it does not."""
        return None

    def laid(self, result: Raster, limit: Limit) -> LaidHair | None:
        """The hair in the paint, once `result` is it; None if this stroke does not tell it apart."""
        return None
