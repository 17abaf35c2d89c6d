"""Keeps the journal of the open painting, whatever the disk does meanwhile."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Final

from japanner.errors import SaveError
from japanner.painting.document.document import Document
from japanner.painting.document.journal import Journal, journals_folder
from japanner.painting.model import Painting
from japanner.types import Record

__all__ = ["CHECKPOINT_S", "JournalKeeper"]

CHECKPOINT_S: Final = 300.0
"""So much time lies between two checkpoints of pixels, if anything was done in it."""


class JournalKeeper:
    """Writes every record of a document down before it counts; without a disk the hand still goes on.

    What cannot be written waits, is tried again with every record and every `tick`, and said once. `tell` gets
    sentences for the painter; `keep_pixels` writes a painting to a file.
    """

    def __init__(self, tell: Callable[[str], None], keep_pixels: Callable[[Painting, Path], object]) -> None:
        self._tell, self._keep_pixels = tell, keep_pixels
        self._document: Document | None = None
        self._journal: Journal | None = None
        self._base: Path | None = None
        self._may_begin = False
        self._waiting = deque[Record]()
        self._failing = False
        self._since, self._checkpoint_at = 0, time.monotonic()
        self._syncer = ThreadPoolExecutor(1, thread_name_prefix="sync")

    def start(self, document: Document, base: Path | None, records: Iterable[Record] = ()) -> None:
        """Keep a journal of another document; `records` are what has happened since `base`."""
        self._attend(document)
        self._base, self._may_begin = base, True
        self._waiting.extend(records)
        self._flush()

    def go_on(self, document: Document, journal: Journal) -> None:
        """Keep a journal that was left, for the document that it describes."""
        self._attend(document)
        self._journal = journal

    def _attend(self, document: Document) -> None:
        self.close(keep=False)
        self._document = document
        self._failing, self._since, self._checkpoint_at = False, 0, time.monotonic()
        document.write = self._take

    @property
    def safe(self) -> bool:
        """Whether all that was done is in the journal."""
        return self._flush() and self._journal is not None

    def _take(self, record: Record) -> None:
        self._waiting.append(record)
        self._since += 1
        self._flush()

    def _flush(self) -> bool:
        """Write what waits; False if the disk refuses."""
        if self._document is None or (self._journal is None and not self._may_begin):
            return False
        try:
            if self._journal is None:
                self._journal = Journal(journals_folder(), self._document.painting.title, self._base)
            while self._waiting:
                self._journal.append(self._waiting[0])
                self._waiting.popleft()
        except SaveError as error:
            if not self._failing:
                self._failing = True
                self._tell(f"{error} You can paint on; recovery is off until there is room again, or you save.")
            return False
        if self._failing:
            self._failing = False
            self._tell("Every change is written down again, and can be recovered.")
        return True

    def saved(self, path: Path, *, settled: bool) -> None:
        """The painting is safe in `path`; settled: nothing was done since, so that a journal can begin from it."""
        if self._document is None or not settled:
            # Another file lies there now than the one a journal could have begun from.
            self._may_begin = self._may_begin and path != self._base
            return
        try:
            if self._journal is None or not self._flush():
                raise SaveError("It has to begin anew.")
            self._journal.saved(path)
        except SaveError:
            if self._journal is not None:
                self._journal.close(keep=False)
            self._journal, self._base, self._may_begin = None, path, True
            self._waiting.clear()
            self._flush()

    def tick(self, *, idle: bool) -> None:
        """To be called every second: records reach the disk, what waits is tried, pixels are kept now and then."""
        if self._waiting:
            self._flush()
        if self._journal is None:
            return
        self._syncer.submit(self._journal.sync)
        if idle and self._since and not self._waiting and time.monotonic() - self._checkpoint_at > CHECKPOINT_S:
            self.checkpoint()

    def checkpoint(self) -> None:
        """Keep the pixels as they are now."""
        if self._journal is None or self._document is None:
            return
        painting = self._document.painting
        try:
            self._journal.checkpoint(lambda path: self._keep_pixels(painting, path))
        except SaveError:
            return  # it is tried again when there is room
        self._since, self._checkpoint_at = 0, time.monotonic()

    def close(self, *, keep: bool) -> None:
        """Keep no journal any more: what there is goes, or stays to be recovered."""
        if self._document is not None:
            if keep:
                self._flush()
            self._document.write = None
        if self._journal is not None:
            self._journal.close(keep=keep)
        self._document = self._journal = None
        self._waiting.clear()
