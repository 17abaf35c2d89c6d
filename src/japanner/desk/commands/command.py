"""One table of commands: menus, keys, tooltips and Find a command all come from it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

__all__ = ["MENUS", "Command"]

MENUS: Final = ("Painting", "Edit", "Part", "Layer", "Stroke", "Frisket", "Look", "Help")


@dataclass(frozen=True)
class Command:
    """Something that a painter can ask for.

    keys: as Qt writes them. group: commands of one menu with the same group stand together. words: text that depends on
    the moment, in place of `text`. checked: for commands that are on or off, tells which. ready: if it can run now.
    """

    menu: str
    text: str
    run: Callable[[], object]
    keys: tuple[str, ...] = ()
    tip: str = ""
    group: str = ""
    submenu: str = ""
    checked: Callable[[], bool] | None = None
    ready: Callable[[], bool] | None = None
    words: Callable[[], str] | None = None
