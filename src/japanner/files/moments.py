"""Moments of a painting's growth, kept in its file."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Iterable
from typing import Any, Final

from japanner.errors import FileFormatError
from japanner.files.container import Container
from japanner.painting.picture.moments import Moment

__all__ = ["read_moments", "write_moments"]

MOST: Final = 1000
LARGEST_BYTES: Final = 4 << 20
LIST: Final = "japanner/moments.json"


def write_moments(archive: zipfile.ZipFile, moments: Iterable[Moment]) -> None:
    """Put moments into a painting's file; nothing where there are none."""
    listed: list[dict[str, Any]] = []
    for number, one in enumerate(moments):
        name = f"japanner/moments/{number:04}.jpg"
        archive.writestr(name, one.picture, zipfile.ZIP_STORED)
        listed.append({"stage": one.stage, "strokes": one.strokes, "src": name})
    if listed:
        archive.writestr(LIST, json.dumps(listed))


def read_moments(container: Container) -> tuple[Moment, ...]:
    """The moments of a file; none where what it says of them cannot be understood: the painting is what counts."""
    if LIST not in container:
        return ()
    try:
        listed = json.loads(container.read(LIST))
        return tuple(
            Moment(str(one["stage"])[:80], int(one["strokes"]), container.read(str(one["src"]), LARGEST_BYTES))
            for one in listed[:MOST]
        )
    except (FileFormatError, ValueError, KeyError, TypeError, RecursionError, OverflowError):
        return ()
