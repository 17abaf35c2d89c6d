"""Where the painter left off: window, painting, view, part and layer, from one run to the next."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Final

from japanner.desk.settings import recall, remember
from japanner.errors import InputError
from japanner.records import from_record, to_record

__all__ = ["View", "last_painting", "recall_view", "remember_last", "remember_view"]

MOST_VIEWS: Final = 50


@dataclass(frozen=True)
class View:
    """How a painting was seen and worked on last: zoom, middle and turn of the easel; uids of part and layer."""

    zoom: float = 0.0
    x: float = 0.0
    y: float = 0.0
    turn_deg: float = 0.0
    mirrored: bool = False
    whole: bool = True
    look: str = "colour"
    part: int | None = None
    layer: int | None = None


def remember_view(path: Path, view: View) -> None:
    """Keep how the painting in a file was left."""
    views = {name: one for name, one in recall("views", {}).items() if name != str(path)}
    kept = dict(list(views.items())[-(MOST_VIEWS - 1) :])
    remember("views", {**kept, str(path): to_record(view)})


def recall_view(path: Path) -> View | None:
    """How the painting in a file was left; None if that is not known."""
    record = recall("views", {}).get(str(path))
    try:
        return None if record is None else from_record(View, record, "view")
    except InputError:
        return None


def remember_last(path: Path | None) -> None:
    """Keep which painting was open when the program ended; None: none that lies in a file."""
    remember("last painting", "" if path is None else str(path))


def last_painting() -> Path | None:
    """The painting to go on with, if the painter wants that and it is still there."""
    name = recall("last painting", "")
    if not name or not recall("resume", True):
        return None
    try:
        return Path(name) if Path(name).is_file() else None
    except (OSError, ValueError):
        return None
