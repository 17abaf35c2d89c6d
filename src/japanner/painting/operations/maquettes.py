"""The maquette of a painting, and landmarks and lines on pictures."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, ClassVar

from japanner.light.maquette import Maquette
from japanner.painting.model import Landmarks, Measure, Painting
from japanner.painting.operations.base import Change

__all__ = ["SetLandmarks", "SetMaquette", "SetMeasures"]


@dataclass(frozen=True)
class SetMaquette:
    """Put a maquette in the place of the one there is; it is not seen in the picture. maquette: as JSON-ready data."""

    op: ClassVar[str] = "set maquette"
    maquette: dict[str, Any] = field(default_factory=dict)

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        return replace(painting, maquette=Maquette.from_record(self.maquette)), Change("maquette")

    def scaled(self, factor: float) -> SetMaquette:
        """The same on a painting `factor` times as large."""
        return SetMaquette(Maquette.from_record(self.maquette).scaled(factor).to_record())


@dataclass(frozen=True)
class SetLandmarks:
    """Put landmarks in the place of those that a picture, or the canvas, has; fields as in `Landmarks`."""

    op: ClassVar[str] = "set landmarks"
    picture: str = ""
    places: tuple[tuple[str, float, float], ...] = ()

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        fresh = Landmarks(self.picture, self.places)
        kept = tuple(one for one in painting.landmarks if one.picture != self.picture)
        landmarks = (*kept, fresh) if fresh.places else kept
        return replace(painting, landmarks=landmarks), Change("landmarks")

    def scaled(self, factor: float) -> SetLandmarks:
        """The same on a painting `factor` times as large."""
        fresh = Landmarks(self.picture, self.places).scaled(factor)
        return replace(self, places=fresh.places)


@dataclass(frozen=True)
class SetMeasures:
    """Put lines of proportion, on the canvas and on pinned pictures, in the place of those there are."""

    op: ClassVar[str] = "set measures"
    measures: tuple[Measure, ...] = ()

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        return replace(painting, measures=self.measures), Change("lines of proportion")

    def scaled(self, factor: float) -> SetMeasures:
        """The same on a painting `factor` times as large."""
        return SetMeasures(tuple(one.scaled(factor) for one in self.measures))
