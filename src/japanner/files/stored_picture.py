"""The pictures that a painting's file carries of itself: what can be shown before its layers are read."""

from __future__ import annotations

import zipfile
from pathlib import Path
from typing import Final

__all__ = ["stored_picture", "stored_thumbnail"]

THUMBNAIL: Final = "Thumbnails/thumbnail.png"
MERGED: Final = "mergedimage.png"
LARGEST_THUMBNAIL: Final = 1 << 20
LARGEST_PICTURE: Final = 256 << 20


def stored_thumbnail(path: Path) -> bytes | None:
    """The PNG that an OpenRaster file holds for this (by its standard at most 256 px a side); None without one."""
    return _member(path, THUMBNAIL, LARGEST_THUMBNAIL)


def stored_picture(path: Path) -> bytes | None:
    """The PNG of the whole picture that an OpenRaster file holds, as its standard has it; None without one."""
    return _member(path, MERGED, LARGEST_PICTURE)


def _member(path: Path, member: str, largest: int) -> bytes | None:
    """Nothing that is wrong with a file raises anything: whoever asks only wants to see it."""
    if path.suffix.lower() != ".ora" or not path.is_file():
        return None
    try:
        with zipfile.ZipFile(path) as archive:
            names = {name.lstrip("/"): name for name in archive.namelist()}
            if member not in names or archive.getinfo(names[member]).file_size > largest:
                return None
            return archive.read(names[member])
    except (OSError, zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, ValueError, MemoryError):
        return None
