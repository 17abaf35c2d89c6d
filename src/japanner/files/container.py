"""The zip around an OpenRaster file, opened with distrust."""

from __future__ import annotations

import posixpath
import zipfile
from pathlib import Path
from types import TracebackType
from typing import Final

from japanner.errors import FileFormatError

__all__ = ["MIMETYPE", "Container"]

MIMETYPE: Final = b"image/openraster"
MOST_ENTRIES: Final = 4000
LARGEST_ENTRY: Final = 2 << 30
LARGEST_TOTAL: Final = 12 << 30
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
            self._check()
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
        return name in self._sizes

    def read(self, name: str, largest: int = LARGEST_ENTRY) -> bytes:
        """The bytes of an entry, checked against its checksum."""
        size = self._sizes.get(name)
        if size is None:
            raise FileFormatError(f"{self._name} is not complete: {name} is missing.")
        if size > largest:
            raise FileFormatError(f"{self._name} is refused: {name} is {size / 1e6:.0f} MB long.")
        try:
            return self._zip.read(name)
        except (zipfile.BadZipFile, OSError, EOFError, ValueError, NotImplementedError, RuntimeError) as error:
            raise FileFormatError(f"{self._name} is damaged: {name} cannot be read.") from error
        except Exception as error:  # zlib.error and its like have no common base
            raise FileFormatError(f"{self._name} is damaged: {name} cannot be unpacked.") from error

    def _check(self) -> None:
        entries = self._zip.infolist()
        if len(entries) > MOST_ENTRIES:
            raise FileFormatError(f"{self._name} is refused: it has {len(entries)} entries.")
        for entry in entries:
            plain = posixpath.normpath(entry.filename)
            if plain.startswith(("/", "..")) or "\\" in entry.filename or ".." in entry.filename.split("/"):
                raise FileFormatError(f"{self._name} is refused: an entry points outside the file.")
            packed = entry.file_size > RATIO_FREE and entry.file_size > HIGHEST_RATIO * max(entry.compress_size, 1)
            if packed or entry.file_size > LARGEST_ENTRY:
                raise FileFormatError(
                    f"{self._name} is refused: {plain:.60} would unpack to {entry.file_size / 1e6:.0f} MB."
                )
        if sum(entry.file_size for entry in entries) > LARGEST_TOTAL:
            raise FileFormatError(f"{self._name} is refused: it would unpack to more than {LARGEST_TOTAL >> 30} GB.")
        self._sizes = {entry.filename: entry.file_size for entry in entries}
        if "mimetype" not in self._sizes or self.read("mimetype", 100).strip() != MIMETYPE:
            raise FileFormatError(f"{self._name} is a zip file, but not an OpenRaster painting.")
