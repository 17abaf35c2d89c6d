"""Where a stroke lands: on the layer in hand, or, for what belongs beyond the silhouette, on one over it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from japanner.painting.model import Layer, Painting, Part
from japanner.painting.operations import AddLayer
from japanner.stroke.brush import Brush

__all__ = ["Landing", "landing", "over_role"]

STRAYS: Final = ("hair", "fur")


@dataclass(frozen=True)
class Landing:
    """layer: its uid, or None if `make` has to make one first."""

    layer: int | None
    make: AddLayer | None = None


def landing(painting: Painting, layer: int, brush: Brush, *, wipes: bool = False, on: str = "paint") -> Landing:
    """Where a stroke of `brush` goes that begins with `layer` in hand.

    Lashes, whiskers, strays reach past the silhouette; inside it they would be cut off. So they go on a layer over,
    the last one of their role that shows, or a new one.
    """
    part, held = painting.find(layer)
    held_in = held.place == "body" and held.role != "edge" and bool(part.flats)
    if not brush.over or wipes or on != "paint" or not held_in:
        return Landing(layer)
    role = over_role(part)
    found = _last_over(part, role)
    return Landing(found.uid) if found is not None else Landing(None, AddLayer(part.uid, role, place="over"))


def over_role(part: Part) -> str:
    """What a layer over a part is for: hair that strays, or else details."""
    return "strays" if part.material in STRAYS else "detail"


def _last_over(part: Part, role: str) -> Layer | None:
    fitting = [one for one in part.layers if one.place == "over" and one.role == role and one.shown]
    return fitting[-1] if fitting else None
