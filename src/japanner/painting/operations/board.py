"""The reference board: pictures pinned beside the painting."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar

from japanner import checks
from japanner.painting.model import Painting, Pinned
from japanner.painting.operations.base import Change
from japanner.raster.codec import data_of

__all__ = ["PinPicture", "UnpinPicture"]


@dataclass(frozen=True)
class PinPicture:
    """Pin a picture, given as PNG text (`japanner.raster.codec`), to the reference board."""

    op: ClassVar[str] = "pin picture"
    name: str
    data: str

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        pinned = Pinned(self.name, data_of(self.data))
        return replace(painting, board=(*painting.board, pinned)), Change(f"pin {self.name}")


@dataclass(frozen=True)
class UnpinPicture:
    """Take a picture off the reference board."""

    op: ClassVar[str] = "unpin picture"
    index: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        checks.integer("index", self.index, 0, len(painting.board) - 1)
        board = (*painting.board[: self.index], *painting.board[self.index + 1 :])
        return replace(painting, board=board), Change(f"unpin {painting.board[self.index].name}")
