"""The zip around an OpenRaster file: opened with distrust, and entries put from one into another as they are.

APPNOTE.TXT (PKWARE), 4.3.7: the header that stands before an entry.
"""

from __future__ import annotations

import errno
import os
import posixpath
import struct
import zipfile
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from types import TracebackType
from typing import IO, BinaryIO, Final

from japanner.checks import shown
from japanner.errors import FileFormatError

__all__ = ["LARGEST_JOURNAL", "MIMETYPE", "MOST_RECORDS", "Container", "Piece", "Source", "put"]

MIMETYPE: Final = b"image/openraster"
PLAIN_JOURNAL: Final = "japanner/journal.jsonl"
LARGEST_JOURNAL: Final = 8 << 30
"""What is written and read of a journal at most: a stroke takes about 3 kB, a year of full days some 3 GB."""
MOST_RECORDS: Final = 10_000_000
MOST_ENTRIES: Final = 10_000
LARGEST_ENTRY: Final = 2 << 30
LARGEST_TOTAL: Final = 20 << 30
LONGEST_LINE: Final = 1 << 30
# PNG data hardly packs any further; whatever unpacks two-hundredfold is made to fill memory.
HIGHEST_RATIO: Final = 200
RATIO_FREE: Final = 1 << 20

LOCAL_HEADER: Final = 30
LENGTHS_AT: Final = 26  # of the name and of what follows it
AT_ONCE: Final = 4 << 20


class Container:
    """Entries of a zip by name; nothing is ever unpacked to disk."""

    def __init__(self, path: Path) -> None:
        self._name = path.name
        try:
            self._zip = zipfile.ZipFile(path)
        except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError) as error:
            raise FileFormatError(f"{self._name} is damaged or cut off: its table of contents is missing.") from error
        try:
            self._entries = self._checked()
            if "mimetype" not in self._entries or self.read("mimetype", 100).strip() != MIMETYPE:
                raise FileFormatError(f"{self._name} is a zip file, but not an OpenRaster painting.")
        except FileFormatError:
            self._zip.close()
            raise

    def __enter__(self) -> Container:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._zip.close()

    def __contains__(self, name: str) -> bool:
        return name in self._entries

    def read(self, name: str, largest: int = LARGEST_ENTRY) -> bytes:
        """The bytes of an entry, checked against its checksum."""
        entry = self._entry(name, largest)
        try:
            return self._zip.read(entry)
        except Exception as error:
            raise self._damaged(name, error) from error

    def lines(self, name: str, largest: int) -> Iterator[bytes]:
        """The lines of an entry one after another, so that it need not be held as a whole."""
        entry = self._entry(name, largest)
        try:
            with self._zip.open(entry) as file:
                while line := file.readline(LONGEST_LINE):
                    yield line
        except Exception as error:
            raise self._damaged(name, error) from error

    def _entry(self, name: str, largest: int) -> zipfile.ZipInfo:
        entry = self._entries.get(self._clean(name))
        if entry is None:
            raise FileFormatError(f"{self._name} is not complete: {name:.60} is missing.")
        if entry.file_size > largest:
            raise FileFormatError(f"{self._name} is refused: {name:.60} is {entry.file_size / 1e6:.0f} MB long.")
        return entry

    def _damaged(self, name: str, error: Exception) -> FileFormatError:
        # What zlib and its like raise has no common base, and each means the same to us.
        if isinstance(error, FileFormatError):
            return error
        return FileFormatError(f"{self._name} is damaged: {name:.60} cannot be read.")

    def _clean(self, name: str) -> str:
        """An entry's name without what writers put before it; only what would leave the file is refused."""
        plain = name.replace("\\", "/")
        if ".." in plain.split("/"):
            raise FileFormatError(f"{self._name} is refused: the entry {shown(name)} points outside the file.")
        return posixpath.normpath(plain.lstrip("/"))

    def _checked(self) -> dict[str, zipfile.ZipInfo]:
        entries = self._zip.infolist()
        if len(entries) > MOST_ENTRIES:
            raise FileFormatError(f"{self._name} is refused: it has {len(entries)} entries.")
        found = {self._clean(entry.filename): entry for entry in entries}
        for name, entry in found.items():
            packed = entry.file_size > RATIO_FREE and entry.file_size > HIGHEST_RATIO * max(entry.compress_size, 1)
            # Lines of records repeat each other, and are read one at a time.
            if name != PLAIN_JOURNAL and (packed or entry.file_size > LARGEST_ENTRY):
                raise FileFormatError(
                    f"{self._name} is refused: {name:.60} would unpack to {entry.file_size / 1e6:.0f} MB."
                )
        if sum(entry.file_size for entry in entries) > LARGEST_TOTAL:
            raise FileFormatError(f"{self._name} is refused: it would unpack to more than {LARGEST_TOTAL >> 30} GB.")
        return found


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
