"""The painter's own brushes, kept in a file between runs."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path
from typing import Final

import platformdirs

from japanner.errors import InputError, SaveError
from japanner.files.writing import replacing
from japanner.stroke.brush import Brush
from japanner.stroke.brush.files import brushes_from_text, text_of_brushes

__all__ = ["OWN", "keep_own_brushes", "own_brushes"]

OWN: Final = "own"
"""The roll that they lie in."""


def _file() -> Path:
    root = os.environ.get("JAPANNER_CONFIG") or platformdirs.user_config_dir("japanner")
    return Path(root) / "brushes.json"


def own_brushes() -> list[Brush]:
    """Those that were kept; a file that cannot be read holds none, and is left as it is."""
    try:
        return [brush.with_changes(roll=OWN) for brush in brushes_from_text(_file().read_text(encoding="utf-8"))[0]]
    except (OSError, UnicodeDecodeError, InputError):
        return []


def keep_own_brushes(brushes: Sequence[Brush]) -> str:
    """Write them; a sentence if that failed, else ""."""
    try:
        _file().parent.mkdir(parents=True, exist_ok=True)
        with replacing(_file()) as file:
            file.write(text_of_brushes(brushes).encode())
    except (OSError, SaveError) as error:
        return f"Your brushes could not be kept: {error}."
    return ""
