"""Makers: what the program works out from form, light and material, as layers to paint on."""

from __future__ import annotations

from typing import Final

from japanner.painting.makers.base import Maker, Scene, Setting, Sheet, start_of
from japanner.painting.makers.cloth import CLOTH, SHEER
from japanner.painting.makers.coat import COAT
from japanner.painting.makers.eyes.eye import EYE
from japanner.painting.makers.eyes.lashes import LASHES
from japanner.painting.makers.facets import FACETS
from japanner.painting.makers.flesh.skin import SKIN
from japanner.painting.makers.flesh.strokes import FLESH_STROKES
from japanner.painting.makers.glass import GLASS
from japanner.painting.makers.lay_in import LAY_IN
from japanner.painting.makers.leather import WET_NOSE
from japanner.painting.makers.metal import METAL

__all__ = ["MAKERS", "Maker", "Scene", "Setting", "Sheet", "start_of"]

MAKERS: Final[dict[str, Maker]] = {
    one.name: one
    for one in (LAY_IN, FACETS, EYE, LASHES, METAL, GLASS, SHEER, CLOTH, SKIN, FLESH_STROKES, WET_NOSE, COAT)
}
