"""The small picture that a painting carries of itself."""

from __future__ import annotations

import zipfile
from pathlib import Path
from typing import Final

__all__ = ["stored_thumbnail"]

MEMBER: Final = "Thumbnails/thumbnail.png"
LARGEST_BYTES: Final = 1 << 20


def stored_thumbnail(path: Path) -> bytes | None:
    """The PNG that an OpenRaster file holds for this (at most 256 px a side, as the standard has it); None without one.

    Nothing that is wrong with a file raises anything: whoever lists files only wants to see them.
    """
    if path.suffix.lower() != ".ora" or not path.is_file():
        return None
    try:
        with zipfile.ZipFile(path) as archive:
            names = {name.lstrip("/"): name for name in archive.namelist()}
            if MEMBER not in names or archive.getinfo(names[MEMBER]).file_size > LARGEST_BYTES:
                return None
            return archive.read(names[MEMBER])
    except (OSError, zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, ValueError):
        return None
