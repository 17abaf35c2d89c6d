"""A mixing grid that a painter keeps under a name, in a part or in a file of its own."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Final

from japanner import checks
from japanner.errors import InputError
from japanner.records import from_record
from japanner.types import Colour

__all__ = ["KeptGrid", "grid_from_record", "grid_from_text", "text_of_grid"]

FORMAT: Final = 1
STEPS: Final = 5
MOST_ROWS: Final = 20

Row = tuple[str, tuple[Colour, ...]]
"""An undertone's name and its colour at each of the five steps."""


@dataclass(frozen=True)
class KeptGrid:
    """Colours by undertone and step, and the value scale (five L*) that they were mixed for."""

    name: str
    scale: tuple[float, ...]
    rows: tuple[Row, ...]

    def __post_init__(self) -> None:
        checks.text("name", self.name, 60)
        checks.integer("number of steps", len(self.scale), STEPS, STEPS)
        checks.in_range("scale", self.scale, 0, 100)
        checks.integer("number of undertones", len(self.rows), 1, MOST_ROWS)
        for name, colours in self.rows:
            checks.text("undertone", name, 40)
            checks.integer("number of colours", len(colours), STEPS, STEPS)
            for colour in colours:
                checks.integer("number of channels", len(colour), 3, 3)
                checks.in_range("colour", colour, 0, 1)

    def to_record(self) -> dict[str, Any]:
        """JSON-ready data; channels are encoded sRGB 0..1."""
        rows = [{"name": name, "colours": [list(colour) for colour in colours]} for name, colours in self.rows]
        return {"format": FORMAT, "name": self.name, "scale": list(self.scale), "undertones": rows}


@dataclass(frozen=True)
class _Undertone:
    name: str
    colours: tuple[Colour, ...]


@dataclass(frozen=True)
class _Written:
    """A grid as records have it."""

    name: str
    scale: tuple[float, ...]
    undertones: tuple[_Undertone, ...]


def grid_from_record(record: Any) -> KeptGrid:
    """A kept grid from JSON data; InputError says what is wrong with it."""
    if not isinstance(record, Mapping) or record.get("format") != FORMAT:
        raise InputError(f"mixing grid: expected a record with format {FORMAT}")
    values = {name: value for name, value in record.items() if name != "format"}
    found = from_record(_Written, values, "mixing grid")
    return KeptGrid(found.name, found.scale, tuple((row.name, row.colours) for row in found.undertones))


def grid_from_text(text: str) -> KeptGrid:
    """A kept grid from the text of a file."""
    try:
        return grid_from_record(json.loads(text))
    except (json.JSONDecodeError, RecursionError) as error:
        raise InputError(f"mixing grid: not JSON ({error})") from None


def text_of_grid(grid: KeptGrid) -> str:
    """The text of a file that holds the grid."""
    return json.dumps(grid.to_record(), indent=1)
