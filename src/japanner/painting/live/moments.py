"""What the picture can be compared with: before the last change, as it was saved, or a moment that was kept."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from japanner.painting.model import Painting

__all__ = ["LAST_CHANGE", "LAST_SAVE", "MOST_KEPT", "Moment", "Moments"]

LAST_CHANGE: Final = "the last change"
LAST_SAVE: Final = "the last save"
MOST_KEPT: Final = 5


@dataclass(frozen=True, eq=False)
class Moment:
    """A painting as it was; it shares with the present one all that has not changed since."""

    name: str
    painting: Painting


class Moments:
    """`chosen` is LAST_CHANGE, LAST_SAVE, or the index of a kept moment, newest first."""

    def __init__(self) -> None:
        self.kept: list[Moment] = []
        self.chosen: str | int = LAST_CHANGE

    def keep(self, name: str, painting: Painting) -> None:
        """Keep a moment and choose it; of more than MOST_KEPT, the oldest is let go."""
        self.kept = [Moment(name, painting), *self.kept][:MOST_KEPT]
        self.chosen = 0

    def forget(self) -> None:
        """There is another document."""
        self.kept, self.chosen = [], LAST_CHANGE

    def name_of(self, what: str | int) -> str:
        """What a choice is called."""
        if isinstance(what, str):
            return what
        return f"kept at {self.kept[what].name}" if what < len(self.kept) else f"kept moment {what + 1}"
