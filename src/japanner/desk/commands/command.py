"""What a command is: menus, keys, tooltips, the guide's table of keys and *Find a command* are all made from these."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

__all__ = ["HELD", "MENUS", "PANEL_KEYS", "Command", "Held", "Need"]

MENUS: Final = ("Painting", "Edit", "Part", "Layer", "Stroke", "Frisket", "Look", "Review", "Help")


@dataclass(frozen=True)
class Need:
    """What must be there for a command to run, and the sentence that says so when it is not."""

    there: Callable[[], bool]
    why: str


@dataclass(frozen=True)
class Command:
    """Something that a painter can ask for.

    keys: as Qt writes them. group: commands of one menu with the same group stand together. words: text that depends on
    the moment, in place of `text`. checked: for commands that are on or off, tells which. need: without it, the command
    says what is missing.
    """

    menu: str
    text: str
    run: Callable[[], object]
    keys: tuple[str, ...] = ()
    tip: str = ""
    group: str = ""
    submenu: str = ""
    checked: Callable[[], bool] | None = None
    need: Need | None = None
    words: Callable[[], str] | None = None

    @property
    def path(self) -> str:
        """Where it stands in the menus; no two have the same."""
        return " › ".join(one for one in (self.menu, self.submenu, self.text) if one)

    @property
    def ready(self) -> bool:
        return self.need is None or self.need.there()

    def call(self, tell: Callable[[str], object]) -> None:
        """Run it if it can be run now, else say why not. That is decided here, whatever a menu has shown before."""
        if self.need is not None and not self.need.there():
            tell(self.need.why)
        else:
            self.run()


@dataclass(frozen=True)
class Held:
    """A key that acts while it is down. what: the easel's name for it; tap: the command that a short press runs."""

    key: str
    what: str
    words: str
    tap: str = ""


HELD: Final = (
    Held("Space", "move", "move the easel; with Shift turn it"),
    Held("A", "pick", "pick up a colour, as the right button and the barrel button of a pen do"),
    Held("S", "squint", "squint"),
    Held("C", "before", "before, as long as it is held"),
    Held("G", "ring", "stroke ring: drag for size and strength; digits set strength; a tap makes the tip smaller",
         "Stroke › Smaller tip"),
)  # fmt: skip

# Each goes through the forms of its panel; held with the easel alone, it keeps the panel over the picture.
PANEL_KEYS: Final = {"parts": "F2", "roll": "F3", "build": "F4", "rail": "F6", "right": "F10"}
