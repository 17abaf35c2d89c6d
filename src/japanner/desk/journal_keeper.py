"""Keeps the journal of the painting on the bench."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from japanner.errors import JapannerError, SaveError
from japanner.painting.journal import Journal, journals_folder

if TYPE_CHECKING:
    from japanner.desk.workbench import Workbench

__all__ = ["JournalKeeper"]


class JournalKeeper:
    """Writes every record of the document down before it counts; without a disk the hand still goes on."""

    def __init__(self, workbench: Workbench) -> None:
        self._bench = workbench
        self._journal: Journal | None = None

    def start(self, base: Path | None, records: Sequence[dict[str, Any]] = ()) -> None:
        """Keep a journal from here on; `records` are what has happened since `base`."""
        try:
            self._journal = Journal(journals_folder(), self._bench.painting.title, base)
            for record in records:
                self._journal.append(record)
            self._bench.document.write = self._journal.append
        except SaveError as error:
            self.give_up(error)

    def saved(self, path: Path) -> None:
        """The present painting is safe in `path`."""
        if self._journal is None:
            self.start(path)
            return
        try:
            self._journal.saved(path)
        except SaveError as error:
            self.give_up(error)

    def close(self, *, keep: bool) -> None:
        self._bench.document.write = None
        if self._journal is not None:
            self._journal.close(keep=keep)
            self._journal = None

    def give_up(self, error: JapannerError) -> None:
        """A full disk must not stop the hand; it is said once, and saving is what helps."""
        self.close(keep=True)
        self._bench.told.emit(f"{error} Recovery is off until you save.")
