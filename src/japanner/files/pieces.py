"""Entries of a zip file put into another one as they are, by the system and not through memory.

APPNOTE.TXT (PKWARE), 4.3.7: the header that stands before an entry.
"""

from __future__ import annotations

import errno
import os
import struct
import zipfile
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from typing import IO, BinaryIO, Final

__all__ = ["Piece", "Source", "put"]

LOCAL_HEADER: Final = 30
LENGTHS_AT: Final = 26  # of the name and of what follows it
AT_ONCE: Final = 4 << 20


@dataclass(frozen=True)
class Piece:
    """An entry's bytes as they lie in an open file."""

    file: int
    at: int
    size: int
    crc: int

    def bytes_from(self, done: int) -> Iterator[bytes]:
        """What is behind the first `done` bytes, piece by piece; OSError where the file has become too short."""
        while done < self.size:
            data = os.pread(self.file, min(AT_ONCE, self.size - done), self.at + done)
            if not data:
                raise OSError(errno.EIO, os.strerror(errno.EIO))
            done += len(data)
            yield data


class Source:
    """A file to copy from while it lasts; what cannot be read of it is not there."""

    def __init__(self, archive: zipfile.ZipFile | None, file: BinaryIO | None) -> None:
        self._entries = {} if archive is None else archive.NameToInfo
        self._file = -1 if file is None else file.fileno()

    def piece(self, name: str) -> Piece | None:
        """An entry that was stored unpacked, its checksum seen to; None where that cannot be. Any thread may ask."""
        info = self._entries.get(name)
        if info is None or info.compress_type != zipfile.ZIP_STORED:
            return None
        try:
            lengths = os.pread(self._file, LOCAL_HEADER, info.header_offset)[LENGTHS_AT:]
            at = info.header_offset + LOCAL_HEADER + sum(struct.unpack("<HH", lengths))
            piece, crc = Piece(self._file, at, info.file_size, info.CRC), 0
            for data in piece.bytes_from(0):
                crc = zlib.crc32(data, crc)
        except (OSError, struct.error):
            return None
        return piece if crc == info.CRC else None


def put(archive: zipfile.ZipFile, name: str, data: bytes | Piece) -> None:
    """An entry, not packed any further."""
    if isinstance(data, bytes):
        archive.writestr(name, data, zipfile.ZIP_STORED)
        return
    # What `writestr` does, but for the bytes, which need not come by here.
    info = zipfile.ZipInfo(name)
    info.CRC, info.file_size, info.compress_size = data.crc, data.size, data.size
    info.external_attr = 0o600 << 16
    file = archive.fp
    assert file is not None
    file.seek(archive.start_dir)
    info.header_offset = file.tell()
    file.write(info.FileHeader())
    _copy(data, file)
    archive.start_dir = file.tell()
    archive.filelist.append(info)
    archive.NameToInfo[name] = info


def _copy(piece: Piece, to: IO[bytes]) -> None:
    to.flush()
    start, done = to.tell(), 0
    try:
        while done < piece.size:
            copied = os.copy_file_range(piece.file, to.fileno(), piece.size - done, piece.at + done, start + done)
            if copied == 0:
                break
            done += copied
    except OSError:
        pass  # not between these file systems: whoever has no room is told so below
    to.seek(start + done)
    for data in piece.bytes_from(done):
        to.write(data)
