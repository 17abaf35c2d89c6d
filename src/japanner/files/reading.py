"""Reading with distrust: only regular files of a bearable size are opened at all."""

from __future__ import annotations

import os
import stat
from pathlib import Path
from typing import Final

from japanner.errors import FileFormatError

__all__ = ["LARGEST_FILE", "file_size", "memory_for_pixels_px", "read_bytes", "reason"]

LARGEST_FILE: Final = 8 << 30
# What a pixel of a layer takes: four channels of 16 bits.
BYTES_PER_PX: Final = 8
# Of the machine's memory, what the layers of one painting may fill.
SHARE: Final = 0.5


def reason(error: OSError | ValueError) -> str:
    """Why the system refused, as the end of a sentence."""
    return str(getattr(error, "strerror", None) or error).lower()


def file_size(path: Path, largest: int = LARGEST_FILE) -> int:
    """The size of a regular file; FileFormatError for what is no such file, is not there, or is too large.

    A pipe or a device would be waited for without end, so it is told by its kind and never opened.
    """
    try:
        found = path.stat()
    except (OSError, ValueError) as error:
        raise FileFormatError(f"{path.name} cannot be read: {reason(error)}.") from error
    if not stat.S_ISREG(found.st_mode):
        kind = "a folder" if stat.S_ISDIR(found.st_mode) else "no file but a pipe, a socket or a device"
        raise FileFormatError(f"{path.name} cannot be opened: it is {kind}.")
    if found.st_size > largest:
        size = f"{found.st_size / 1e9:.0f} GB" if found.st_size > 1e9 else f"{found.st_size / 1e6:.0f} MB"
        raise FileFormatError(f"{path.name} is refused: it is {size} long.")
    return found.st_size


def read_bytes(path: Path, largest: int = LARGEST_FILE) -> bytes:
    """All of a regular file; FileFormatError says in one sentence why it cannot be had."""
    file_size(path, largest)
    try:
        return path.read_bytes()
    except OSError as error:
        raise FileFormatError(f"{path.name} cannot be read: {reason(error)}.") from error
    except MemoryError as error:
        raise FileFormatError(f"{path.name} needs more memory than there is.") from error


def memory_for_pixels_px() -> int:
    """How many px the layers of a file may have together on this machine."""
    return int(os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE") * SHARE / BYTES_PER_PX)
