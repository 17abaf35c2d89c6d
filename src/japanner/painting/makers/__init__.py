"""Makers: what the program works out from form, light and material, as layers to paint on."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from japanner.painting.makers.base import Maker, Scene, Setting, Sheet, part_over_all, start_of
from japanner.painting.makers.cloth import CLOTH, SHEER
from japanner.painting.makers.drops import DROPS
from japanner.painting.makers.eyes.eye import EYE
from japanner.painting.makers.eyes.lashes import LASHES
from japanner.painting.makers.facets import FACETS
from japanner.painting.makers.finish import FINISH
from japanner.painting.makers.flesh.beard import BEARD_MAKER
from japanner.painting.makers.flesh.skin import SKIN
from japanner.painting.makers.flesh.strokes import FLESH_STROKES
from japanner.painting.makers.fur.coat import COAT
from japanner.painting.makers.glass import GLASS
from japanner.painting.makers.grounds import before_run, grounds_of
from japanner.painting.makers.head_hair import HEAD_HAIR
from japanner.painting.makers.lay_in import LAY_IN
from japanner.painting.makers.leather import WET_NOSE
from japanner.painting.makers.metal import METAL
from japanner.painting.model import Made, Painting, Part

__all__ = [
    "MAKERS",
    "Maker",
    "Scene",
    "Setting",
    "Sheet",
    "before_run",
    "made_from",
    "outdated",
    "part_over_all",
    "start_of",
]

_ALL: Final = (
    LAY_IN, FACETS, EYE, LASHES, METAL, GLASS, SHEER, CLOTH, SKIN, FLESH_STROKES, WET_NOSE, COAT, HEAD_HAIR,
    BEARD_MAKER, DROPS, FINISH,
)  # fmt: skip
MAKERS: Final[dict[str, Maker]] = {one.name: one for one in _ALL}
SEEING: Final = frozenset(one.name for one in MAKERS.values() if one.sees)
"""Makers whose layers show other parts."""


def made_from(painting: Painting, part: Part, maker: Maker, values: Mapping[str, Any]) -> int:
    """What a run of a maker depends on, as one number (see `grounds_of`)."""
    return grounds_of(painting, part, maker, values, SEEING)


def outdated(painting: Painting, part: Part) -> list[Made]:
    """Runs of makers on a part, in its layers' order, whose layers would come out otherwise by now, as something that
    they were made from has changed; those that have been painted on wholly stay as they are.
    """
    runs: dict[int, Made] = {}
    for layer in part.layers:
        if layer.made is not None and not layer.made.on:
            runs.setdefault(layer.made.run, layer.made)
    found = []
    for made in runs.values():
        maker = MAKERS.get(made.maker)
        if maker is None or not made.seen:
            continue
        below = before_run(painting, part, maker, made.run)
        if made_from(below, below.part(part.uid), maker, maker.checked(made.settings)) != made.seen:
            found.append(made)
    return found
