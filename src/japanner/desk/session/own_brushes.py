"""The painter's own brushes, kept in a file between runs."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path
from typing import Final

import platformdirs

from japanner.errors import InputError, SaveError
from japanner.files.kept import kept_text, set_aside
from japanner.files.writing import write_text
from japanner.stroke.brush import Brush
from japanner.stroke.brush.files import brushes_from_text, text_of_brushes

__all__ = ["OWN", "keep_own_brushes", "own_brushes"]

LARGEST: Final = 256 << 20
OWN: Final = "own"
"""The roll that they lie in."""


def _file() -> Path:
    root = os.environ.get("JAPANNER_CONFIG") or platformdirs.user_config_dir("japanner")
    return Path(root) / "brushes.json"


def own_brushes() -> list[Brush]:
    """Those that were kept; a file that cannot be read, or not as a whole, is kept under another name."""
    text = kept_text(_file(), LARGEST)
    if text is None:
        return []
    try:
        found, wrong = brushes_from_text(text)
    except InputError as error:
        set_aside(_file(), str(error))
        return []
    if wrong:
        set_aside(_file(), wrong[0].rstrip("."), copy=True)
    return [brush.with_changes(roll=OWN) for brush in found]


def keep_own_brushes(brushes: Sequence[Brush]) -> str:
    """Write them; a sentence if that failed, else ""."""
    try:
        write_text(_file(), text_of_brushes(brushes))
    except SaveError as error:
        return f"Your brushes could not be kept: {error}"
    return ""
