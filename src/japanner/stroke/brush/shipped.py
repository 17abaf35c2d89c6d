"""The brushes that come with the program."""

from __future__ import annotations

import json
from functools import cache
from importlib import resources

from japanner.stroke.brush import Brush

__all__ = ["shipped_brush", "shipped_brushes"]


@cache
def shipped_brushes() -> tuple[Brush, ...]:
    """All shipped brushes, roll by roll."""
    data = json.loads(resources.files(__package__).joinpath("shipped_brushes.json").read_text(encoding="utf-8"))
    return tuple(
        Brush.from_record({**record, "roll": roll}) for roll, records in data["rolls"].items() for record in records
    )


def shipped_brush(name: str) -> Brush:
    """The shipped brush of that name."""
    return next(brush for brush in shipped_brushes() if brush.name == name)
