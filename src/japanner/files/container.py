"""The zip around an OpenRaster file, opened with distrust."""

from __future__ import annotations

import posixpath
import zipfile
from collections.abc import Iterator
from pathlib import Path
from types import TracebackType
from typing import Final

from japanner.checks import shown
from japanner.errors import FileFormatError

__all__ = ["LARGEST_JOURNAL", "MIMETYPE", "MOST_RECORDS", "Container"]

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
