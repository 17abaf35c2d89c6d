"""Opening whatever a painter offers: the content decides what it is, not the name."""

from __future__ import annotations

from pathlib import Path

from japanner.errors import FileFormatError
from japanner.files.formats import FORMATS
from japanner.files.opened import Opened
from japanner.files.reading import file_size, reason

__all__ = ["Opened", "open_painting"]

LONGEST_BEGIN = max(len(kind.begins) for kind in FORMATS)


def open_painting(path: Path) -> Opened:
    """Open a file of any kind in `FORMATS`; FileFormatError says in one sentence why that is not possible."""
    size = file_size(path)
    try:
        with path.open("rb") as file:
            begins = file.read(LONGEST_BEGIN)
        for kind in FORMATS:
            if begins.startswith(kind.begins):
                return kind.open(path)
    except OSError as error:
        raise FileFormatError(f"{path.name} cannot be read: {reason(error)}.") from error
    except MemoryError as error:
        raise FileFormatError(f"{path.name} needs more memory than there is.") from error
    if size == 0:
        raise FileFormatError(f"{path.name} is empty.")
    kinds = " nor a ".join(kind.name for kind in FORMATS[1:])
    raise FileFormatError(f"{path.name} is neither an {FORMATS[0].name} nor a {kinds}.")
