"""Opening whatever a painter offers: the content decides what it is, not the name."""

from __future__ import annotations

from pathlib import Path

from japanner.errors import FileFormatError
from japanner.files.formats import FORMATS
from japanner.files.opened import Opened
from japanner.files.reading import file_size, reason

__all__ = ["Opened", "open_painting"]

READABLE = tuple(kind for kind in FORMATS if kind.open is not None)
LONGEST_BEGIN = max(len(begin) for kind in READABLE for begin in kind.begins)


def open_painting(path: Path) -> Opened:
    """Open a file of any kind in `FORMATS`; FileFormatError says in one sentence why that is not possible."""
    size = file_size(path)
    try:
        with path.open("rb") as file:
            begins = file.read(LONGEST_BEGIN)
        for kind in READABLE:
            if begins.startswith(kind.begins) and kind.open is not None:
                return kind.open(path)
    except OSError as error:
        raise FileFormatError(f"{path.name} cannot be read: {reason(error)}.") from error
    except MemoryError as error:
        raise FileFormatError(f"{path.name} needs more memory than there is.") from error
    if size == 0:
        raise FileFormatError(f"{path.name} is empty.")
    kinds = ", ".join(kind.name for kind in READABLE)
    raise FileFormatError(f"{path.name} is of none of the kinds that can be opened: {kinds}.")
