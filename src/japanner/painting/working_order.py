"""Working orders: the roles that a material proposes, first to last, as data that painters can change."""

from __future__ import annotations

import json
import os
from dataclasses import dataclass
from functools import cache
from importlib import resources
from pathlib import Path
from typing import Any, Final

import platformdirs

from japanner import checks
from japanner.color.srgb import srgb_from_hex
from japanner.errors import InputError
from japanner.painting.document.document import Document
from japanner.painting.model import MATERIALS, PLACES, ROLES, Part
from japanner.painting.operations import AddLayer, AddPart
from japanner.raster.modes import MODES
from japanner.raster.neutral import NEUTRAL
from japanner.records import read_as
from japanner.stroke.brush.shipped import shipped_brushes

__all__ = [
    "Stage",
    "begin_drawing",
    "next_stage",
    "orders_from",
    "stage_for",
    "users_file",
    "users_trouble",
    "working_order",
]

Orders = dict[str, tuple["Stage", ...]]
FORMAT: Final = 1


@dataclass(frozen=True)
class Stage:
    """One role of a working order and how its layer is set up.

    neutral: the layer begins as a whole sheet of the colour that changes nothing in its mode, so that dodge, burn
    and smudge find paint on it. brush: name of the one to take up first; "" keeps the one in hand. colour: `#rrggbb` to
    begin with; "" keeps the one in hand.
    """

    role: str
    mode: str = "Normal"
    strength: float = 1.0
    place: str = "body"
    neutral: bool = False
    brush: str = ""
    colour: str = ""

    def __post_init__(self) -> None:
        checks.one_of("role", self.role, ROLES)
        checks.one_of("mode", self.mode, MODES)
        checks.number("strength", self.strength, 0, 1)
        checks.one_of("place", self.place, PLACES)
        if self.neutral not in (True, False) or (self.neutral and self.mode not in NEUTRAL):
            raise InputError(f"neutral: {self.mode} has no neutral colour")
        checks.one_of("brush", self.brush, ("", *(brush.name for brush in shipped_brushes())))
        if self.colour:
            srgb_from_hex(self.colour)

    def layer_for(self, part: Part, index: int | None = None) -> AddLayer:
        """The operation that adds this stage's layer to a part."""
        # Without a flat under it, the neutral sheet of a body layer would be all there is to see.
        neutral = self.neutral and (self.place != "body" or bool(part.flats))
        return AddLayer(
            part.uid,
            self.role,
            mode=self.mode,
            strength=self.strength,
            place=self.place,
            neutral=neutral,
            index=index,
        )


def orders_from(data: Any) -> Orders:
    """Working orders from JSON data: lists of stages by material; InputError says what is wrong."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise InputError(f"working orders: expected a record with format {FORMAT}")
    orders: Orders = {}
    for name, stages in data.items():
        if name != "format":
            checks.one_of("material", name, MATERIALS)
            orders[name] = read_as(tuple[Stage, ...], stages, f"working order of {name}")
            if not orders[name]:
                raise InputError(f"working order of {name}: expected at least one stage")
    return orders


def users_file() -> Path:
    """Where a painter's own working orders are looked for; materials that it leaves out keep the shipped ones."""
    root = os.environ.get("JAPANNER_CONFIG") or platformdirs.user_config_dir("japanner")
    return Path(root) / "working_orders.json"


def users_trouble() -> str:
    """Why the painter's own file is not in force; "" if it is, or if there is none."""
    return _orders()[1]


@cache
def _orders() -> tuple[Orders, str]:
    text = resources.files(__package__).joinpath("working_orders.json").read_text(encoding="utf-8")
    orders, trouble = orders_from(json.loads(text)), ""
    try:
        if users_file().is_file():
            orders = {**orders, **orders_from(json.loads(users_file().read_text(encoding="utf-8")))}
    except (OSError, ValueError, RecursionError) as error:
        trouble = f"Your working orders are not used: {error}."
    return orders, trouble


def working_order(material: str) -> tuple[Stage, ...]:
    """The stages of a material, first to last."""
    return _orders()[0][checks.one_of("material", material, MATERIALS)]


def begin_drawing(document: Document) -> None:
    """Give a new painting a drawing part with its first layer, so that the first stroke draws."""
    stage = working_order("drawing")[0]
    document.apply(AddPart("Drawing", "drawing"))
    document.apply(stage.layer_for(document.painting.parts[0]))
    document.begin_here()


def next_stage(part: Part) -> Stage | None:
    """The first stage that the part has no layer for; None when the order is done."""
    done = {layer.role for layer in part.layers}
    return next((stage for stage in working_order(part.material) if stage.role not in done), None)


def stage_for(part: Part, role: str) -> Stage:
    """How a layer of `role` is set up in this part, in its material's order or not."""
    checks.one_of("role", role, ROLES)
    return next((stage for stage in working_order(part.material) if stage.role == role), Stage(role))
