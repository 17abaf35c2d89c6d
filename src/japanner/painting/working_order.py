"""Working orders: the roles that a material proposes, first to last, as data."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

from japanner import checks
from japanner.painting.model import MATERIALS, ROLES, Part
from japanner.painting.operations import AddLayer

__all__ = ["Stage", "next_stage", "stage_for", "working_order"]


@dataclass(frozen=True)
class Stage:
    """One role of a working order and how its layer is set up."""

    role: str
    mode: str = "Normal"
    strength: float = 1.0
    place: str = "body"

    def layer_for(self, part: int) -> AddLayer:
        """The operation that adds this stage's layer to a part."""
        return AddLayer(part, self.role, mode=self.mode, strength=self.strength, place=self.place)


@cache
def _orders() -> dict[str, tuple[Stage, ...]]:
    data = json.loads(resources.files(__package__).joinpath("working_orders.json").read_text(encoding="utf-8"))
    return {name: tuple(Stage(**stage) for stage in data[name]) for name in MATERIALS}


def working_order(material: str) -> tuple[Stage, ...]:
    """The stages of a material, first to last."""
    return _orders()[checks.one_of("material", material, MATERIALS)]


def next_stage(part: Part) -> Stage | None:
    """The first stage that the part has no layer for; None when the order is done."""
    done = {layer.role for layer in part.layers}
    return next((stage for stage in working_order(part.material) if stage.role not in done), None)


def stage_for(part: Part, role: str) -> Stage:
    """How a layer of `role` is set up in this part, in its material's order or not."""
    checks.one_of("role", role, ROLES)
    return next((stage for stage in working_order(part.material) if stage.role == role), Stage(role))
