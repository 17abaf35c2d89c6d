"""Files are written beside their place, synced, and moved there: what was there before is never half gone."""

from __future__ import annotations

import contextlib
import os
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import BinaryIO

from japanner.errors import SaveError

__all__ = ["replacing"]


@contextlib.contextmanager
def replacing(path: Path) -> Iterator[BinaryIO]:
    """A file to write that takes the place of `path` when the block ends well; else SaveError and no trace."""
    try:
        handle, name = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".part", dir=path.parent)
    except OSError as error:
        raise SaveError(f"{path.name} was not saved: {_why(error)}.") from error
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            yield file
            file.flush()
            os.fsync(file.fileno())
        _like_before(path, temporary)
        temporary.replace(path)
    except OSError as error:
        raise SaveError(f"{path.name} was not saved: {_why(error)}. The old file is as it was.") from error
    finally:
        temporary.unlink(missing_ok=True)


def _like_before(path: Path, temporary: Path) -> None:
    """Keep the access rights of the file that is replaced; a new file gets the usual ones."""
    umask = os.umask(0)
    os.umask(umask)
    temporary.chmod(path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~umask)


def _why(error: OSError) -> str:
    return (error.strerror or str(error)).lower()
