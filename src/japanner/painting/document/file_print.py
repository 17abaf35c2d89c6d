"""Copies of files that may be large: at once where the file system can share their blocks, else piece by piece."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO, Final

__all__ = ["Print", "copied", "digest_of", "print_of"]

FICLONE: Final = 0x40049409  # linux/fs.h
PIECE: Final = 4 << 20


@dataclass(frozen=True)
class Print:
    """What a file is known by: its size and time, which are quickly seen, and the SHA-256 of its content, "" if not
    worked out.
    """

    size: int
    mtime_ns: int
    digest: str = ""

    def same_at_a_glance(self, other: Print | None) -> bool:
        """Whether size and time are the same."""
        return other is not None and (self.size, self.mtime_ns) == (other.size, other.mtime_ns)

    def matches(self, path: Path) -> bool:
        """Whether the file is still the same: by size and time, and if these differ, by its content."""
        now = print_of(path)
        if self.same_at_a_glance(now):
            return True
        return now is not None and bool(self.digest) and now.size == self.size and digest_of(path) == self.digest


def print_of(path: Path) -> Print | None:
    """Size and time of a file; None if there is none."""
    try:
        found = path.stat()
    except (OSError, ValueError):
        return None
    return Print(found.st_size, found.st_mtime_ns)


def digest_of(path: Path) -> str:
    """The SHA-256 of a file's content; "" if it cannot be read."""
    try:
        with path.open("rb") as file:
            return hashlib.file_digest(file, "sha256").hexdigest()
    except OSError:
        return ""


def copied(source: BinaryIO, target: Path, wanted: Callable[[], bool] = lambda: True) -> str:
    """Copy an open file to `target`, which appears only when all of it is on the disk; the SHA-256 of the content.

    OSError as the system has it; "" and nothing copied when it is not `wanted` any longer.
    """
    part = target.with_name(f".{target.name}.part")
    try:
        with part.open("wb") as file:
            with contextlib.suppress(OSError):
                fcntl.ioctl(file, FICLONE, source.fileno())
            shared, digest = os.fstat(file.fileno()).st_size > 0, hashlib.sha256()
            source.seek(0)
            while piece := source.read(PIECE):
                if not wanted():
                    return ""
                digest.update(piece)
                if not shared:
                    file.write(piece)
            file.flush()
            os.fsync(file.fileno())
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)
    return digest.hexdigest()
