"""The colours of the two themes, by what they are for; what is seen first needs them, so nothing is imported here."""

from __future__ import annotations

from typing import Final

__all__ = ["LACQUER", "PLASTER", "THEMES"]

LACQUER: Final = {
    "lacquer": "#191716",
    "panel": "#221f1d",
    "tile": "#2b2725",
    "edge": "#37322e",
    "active": "#3a2a22",
    "hairline": "#5d4d2a",
    "gold": "#c9a453",
    "cinnabar": "#b3402a",
    "warning": "#ea8570",
    "text": "#ece6da",
    "quiet": "#a39c90",
    "faint": "#6b645a",
    "downglyph": "down-light.svg",
}
PLASTER: Final = {
    "lacquer": "#d9d6d0",
    "panel": "#e6e3dd",
    "tile": "#f1efea",
    "edge": "#c4bfb5",
    "active": "#f3e3cb",
    "hairline": "#b59a5c",
    "gold": "#745611",
    "cinnabar": "#b3402a",
    "warning": "#9c3320",
    "text": "#26221e",
    "quiet": "#5b554c",
    "faint": "#8f887c",
    "downglyph": "down-dark.svg",
}
THEMES: Final = {"Lacquer": LACQUER, "Plaster": PLASTER}
