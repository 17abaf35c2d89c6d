"""Files are written beside their place, synced, and moved there: what was there before is never half gone.

All writing of files that a painter may miss goes through here.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any, BinaryIO, Final

from japanner.errors import SaveError
from japanner.files.reading import reason

__all__ = ["PART", "replacing", "sweep", "sync_folder", "write_json", "write_text"]

PART: Final = ".part"
RANDOM: Final = len("..") + 8 + len(PART)
"""What the name of a temporary file has beyond the file's own."""


@contextlib.contextmanager
def replacing(path: Path) -> Iterator[BinaryIO]:
    """A file to write that takes the place of `path` when the block ends well; else SaveError and no trace.

    A symlink goes on pointing to its file, and the file keeps its access rights. What a killed process has left here
    is cleared away first.
    """
    try:
        place = path.resolve() if path.is_symlink() else path
        sweep(place.parent, place.name)
        handle, name = tempfile.mkstemp(prefix=f".{place.name[:180]}.", suffix=PART, dir=place.parent)
    except (OSError, ValueError, RuntimeError) as error:
        why = reason(error) if isinstance(error, (OSError, ValueError)) else "its links lead round in a circle"
        raise SaveError(f"{path.name} was not saved: {why}.") from error
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            # Whoever sweeps up after killed processes can tell by this lock that somebody still writes.
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            yield file
            file.flush()
            os.fsync(file.fileno())
            _like_before(place, temporary)
            temporary.replace(place)
        sync_folder(place.parent)
    except OSError as error:
        raise SaveError(f"{path.name} was not saved: {reason(error)}. The old file is as it was.") from error
    finally:
        temporary.unlink(missing_ok=True)


def write_text(path: Path, text: str) -> None:
    """Put a text in the place of `path`, making its folder if need be; SaveError if that cannot be."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise SaveError(f"{path.name} was not saved: {reason(error)}.") from error
    with replacing(path) as file:
        file.write(text.encode())


def write_json(path: Path, data: Any) -> None:
    """Put JSON data in the place of `path`; SaveError if that cannot be."""
    write_text(path, json.dumps(data, indent=1))


def sweep(folder: Path, name: str = "") -> None:
    """Clear away what killed processes have left of half-written versions of a file; without a name, of all files in a
    folder that is ours alone.
    """
    with contextlib.suppress(OSError):
        for entry in os.scandir(folder):
            left = entry.name.startswith(f".{name[:180]}.") and len(entry.name) == len(name[:180]) + RANDOM
            if (left or not name) and entry.name.endswith(PART) and entry.is_file(follow_symlinks=False):
                _unlink_if_left(Path(entry.path))


def sync_folder(folder: Path) -> None:
    """Make sure that what was renamed in a folder is so on the disk, where the file system knows of such a thing."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _unlink_if_left(path: Path) -> None:
    with contextlib.suppress(OSError), path.open("rb") as file:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        path.unlink()


def _like_before(path: Path, temporary: Path) -> None:
    """Keep the access rights of the file that is replaced; a new file gets the usual ones."""
    umask = os.umask(0)
    os.umask(umask)
    temporary.chmod(path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~umask)
