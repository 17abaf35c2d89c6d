"""Landmarks that were set on a picture."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

from japanner import checks
from japanner.errors import InputError

__all__ = ["Landmarks"]

MOST: Final = 500


@dataclass(frozen=True)
class Landmarks:
    """places: name, x and y of each, in canvas px; or, with a name of a pinned `picture`, in px of that."""

    picture: str = ""
    places: tuple[tuple[str, float, float], ...] = ()

    def __post_init__(self) -> None:
        if self.picture:
            checks.text("picture", self.picture, 80)
        checks.integer("number of landmarks", len(self.places), 0, MOST)
        names = [name for name, _, _ in self.places]
        if len(set(names)) != len(names):
            raise InputError("landmarks: expected every name once")
        for name, x, y in self.places:
            checks.text("landmarks", name, 80)
            checks.in_range("landmarks", (x, y), -1e6, 1e6)

    def as_places(self) -> dict[str, tuple[float, float]]:
        """Where each is, by its name."""
        return {name: (x, y) for name, x, y in self.places}

    def with_place(self, name: str, at: tuple[float, float] | None) -> Landmarks:
        """One of them elsewhere, or taken away."""
        kept = tuple(one for one in self.places if one[0] != name)
        return replace(self, places=kept if at is None else (*kept, (name, round(at[0], 2), round(at[1], 2))))

    def scaled(self, factor: float, shift: tuple[float, float] = (0.0, 0.0)) -> Landmarks:
        """The same on a canvas `factor` times as large and then shifted; those of pictures stay."""
        if self.picture:
            return self
        x, y = shift
        return replace(self, places=tuple((name, a * factor + x, b * factor + y) for name, a, b in self.places))
