"""What a painting's file holds already: the next save copies it instead of making it anew."""

from __future__ import annotations

import contextlib
import weakref
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from japanner.files.container import Source
from japanner.files.growth import JournalText
from japanner.painting.document.file_print import Print, print_of
from japanner.raster.parallel import ASIDE
from japanner.raster.tiles import Raster

__all__ = ["MadeOf", "Stored"]

MadeOf = tuple[Any, ...]
"""All that a stored picture follows from: rasters, known by being the very same, and plain values."""


class Stored:
    """Pictures by what they were made of, in a file as it was when they were noted."""

    def __init__(self, path: Path | None = None) -> None:
        self.path = path
        self.journal = JournalText()
        self._print: Print | None = None if path is None else print_of(path)
        self._known: dict[MadeOf, tuple[tuple[weakref.ref[Raster], ...], Any]] = {}

    def seal(self) -> None:
        """The file is complete: entries count as long as nobody changes it."""
        self._print = None if self.path is None else print_of(self.path)

    def note(self, made_of: MadeOf, entry: Any) -> None:
        """`entry` tells where in the file it lies, and whatever else is known of it."""
        rasters = tuple(weakref.ref(one) for one in made_of if isinstance(one, Raster))
        self._known[_key(made_of)] = (rasters, entry)

    def found(self, made_of: MadeOf) -> Any:
        """The entry that was noted; None without one."""
        rasters, entry = self._known.get(_key(made_of), ((), None))
        present = (one for one in made_of if isinstance(one, Raster))
        # A number may have come to another raster since the first was gone.
        return entry if all(one() is other for one, other in zip(rasters, present, strict=False)) else None

    @contextlib.contextmanager
    def opened(self) -> Iterator[Source]:
        """The file, if it is still the one that was noted; else a source that has nothing."""
        with contextlib.ExitStack() as held:
            archive = file = None
            if self.path is not None and self._print is not None:
                with contextlib.suppress(OSError, zipfile.BadZipFile, NotImplementedError, ValueError):
                    file = self.path.open("rb")
                    # If it has been replaced meanwhile, its room is given back when it is closed: of a large file, that
                    # takes the system seconds.
                    held.callback(ASIDE.submit, file.close)
                    if self._print.same_at_a_glance(print_of(self.path)):
                        archive = held.enter_context(zipfile.ZipFile(file))
            yield Source(archive, None if archive is None else file)


def _key(made_of: MadeOf) -> MadeOf:
    return tuple(id(one) if isinstance(one, Raster) else one for one in made_of)
