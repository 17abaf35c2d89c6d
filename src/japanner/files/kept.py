"""Small files that the program keeps for the painter: one that cannot be read is set aside, and never written over."""

from __future__ import annotations

import contextlib
import json
import shutil
import time
from pathlib import Path
from typing import Any, Final

from japanner.errors import FileFormatError
from japanner.files.reading import read_bytes

__all__ = ["kept_json", "kept_text", "set_aside", "taken_troubles"]

_TROUBLES: Final[list[str]] = []
"""Sentences that nobody could be told yet: such files are read before there is a window."""


def taken_troubles() -> list[str]:
    """What was set aside since this was asked last, a sentence each."""
    found = list(_TROUBLES)
    _TROUBLES.clear()
    return found


def kept_text(path: Path, largest: int) -> str | None:
    """The text of a file; None if there is none, or none that can be read, which is set aside."""
    with contextlib.suppress(OSError):
        if not path.exists():
            return None
    try:
        return read_bytes(path, largest).decode()
    except FileFormatError as error:
        set_aside(path, str(error).rstrip("."))
    except UnicodeDecodeError:
        set_aside(path, "it is no text")
    return None


def kept_json(path: Path, kind: type, largest: int) -> Any:
    """The JSON data in a file, if it is of the kind wanted; None if not, and then the file is set aside."""
    text = kept_text(path, largest)
    if text is None:
        return None
    try:
        data = json.loads(text)
        if isinstance(data, kind):
            return data
        set_aside(path, f"expected a {kind.__name__}")
    except ValueError as error:
        set_aside(path, f"it is no JSON ({error})")
    except (RecursionError, MemoryError):
        set_aside(path, "it is nested too deeply")
    return None


def set_aside(path: Path, why: str, *, copy: bool = False) -> None:
    """Keep a file that cannot be used (or, as a copy, not all of it) under another name, and remember to say so."""
    aside = path.with_name(f"{path.stem} unreadable {time.strftime('%Y-%m-%d %H.%M.%S')}{path.suffix}")
    words = f"{path.name} cannot be used: {why}."
    with contextlib.suppress(OSError):
        if copy:
            shutil.copy2(path, aside)
        else:
            path.rename(aside)
        words = f"{words} It is kept as {aside.name}."
    _TROUBLES.append(words)
