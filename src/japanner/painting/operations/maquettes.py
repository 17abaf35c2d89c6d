"""The maquette of a painting."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, ClassVar

from japanner.light.maquette import Maquette
from japanner.painting.model import Painting
from japanner.painting.operations.base import Change

__all__ = ["SetMaquette"]


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
