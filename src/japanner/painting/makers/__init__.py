"""Makers: what the program works out from form, light and material, as layers to paint on."""

from __future__ import annotations

from typing import Final

from japanner.painting.makers.base import Maker, Scene, Setting, Sheet
from japanner.painting.makers.lay_in import LAY_IN

__all__ = ["MAKERS", "Maker", "Scene", "Setting", "Sheet"]

MAKERS: Final[dict[str, Maker]] = {one.name: one for one in (LAY_IN,)}
