"""The journal on disk: every record is there before its change counts.

A folder per open painting holds a copy of the file it began from (if any), one JSON line per record, checkpoints of
pixels, and a lock that the system drops when the process ends, however it ends. Folders without a holder are what a
crash has left; see `japanner.painting.document.leftovers`.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import secrets
import shutil
import threading
import time
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path
from typing import BinaryIO, Final

import platformdirs

from japanner.errors import SaveError
from japanner.painting.document.document import CHECKPOINT, SAVED
from japanner.painting.document.engine import ENGINE, FIRST_ENGINE
from japanner.painting.document.file_print import Print, copied, print_of
from japanner.painting.document.record_lines import RecordWriter
from japanner.raster.codec import picture_in
from japanner.records import to_record
from japanner.types import Record

__all__ = ["ABOUT", "LINES", "LOCK", "About", "HeldError", "Journal", "journals_folder", "state_folder"]


LINES: Final = "records.jsonl"
PICTURE: Final = ".png"
ABOUT: Final = "about.json"
LOCK: Final = "lock"
MOST_KEPT: Final = 2
"""Saved files, and checkpoints, that a journal holds on to; what lies further back is replayed from the beginning."""


def state_folder() -> Path:
    """Where the program keeps what it needs between runs, unless JAPANNER_STATE names another folder."""
    return Path(os.environ.get("JAPANNER_STATE") or platformdirs.user_state_dir("japanner"))


def journals_folder() -> Path:
    """Where journals live."""
    return state_folder() / "journals"


@dataclass(frozen=True)
class About:
    """What a journal says of itself. base: the copy of the file it began from, which lies in its folder when it is
    complete; path, size, mtime_ns and digest: of that file as it was opened. engine: what worked its first records out.
    """

    title: str = "Untitled"
    began: float = 0.0
    engine: int = FIRST_ENGINE
    base: str | None = None
    path: str = ""
    size: int = -1
    mtime_ns: int = 0
    digest: str = ""

    @property
    def print(self) -> Print:
        return Print(self.size, self.mtime_ns, self.digest)


class HeldError(SaveError):
    """Somebody else holds the journal."""


class Journal:
    """The journal of one open painting; nobody else holds its folder."""

    def __init__(self, folder: Path, title: str, base: Path | None = None) -> None:
        """Begin a journal under `folder`; `base`: the file that the painting was opened from.

        The file is copied beside, and only noted by its path, size and time until that is done: another program may
        write into it at any time.
        """
        self.path = folder / f"{time.strftime('%Y%m%d-%H%M%S')}-{secrets.token_hex(3)}"
        try:
            self.path.mkdir(parents=True)
            self._hold()
            about = About(title, time.time(), ENGINE)
            source = None
            if base is not None:
                source, found = base.open("rb"), print_of(base)
                size, mtime_ns = (found.size, found.mtime_ns) if found else (-1, 0)
                about = replace(about, base=f"base{base.suffix}", path=str(base), size=size, mtime_ns=mtime_ns)
            self._write_about(about)
            self._begin((), 0)
        except OSError as error:
            self._let_go()
            shutil.rmtree(self.path, ignore_errors=True)
            raise SaveError(f"The journal cannot be started: {(error.strerror or str(error)).lower()}.") from error
        if source is not None:
            self._copy(source, str(about.base), lambda digest: self._write_about(replace(about, digest=digest)))

    @classmethod
    def go_on(cls, path: Path, length: int, texts: Iterable[str], marks: int) -> Journal:
        """Hold a journal that was left and write on behind its first `length` bytes.

        texts: names of the long texts in them; marks: how many copies have been numbered so far. What lies behind was
        torn or damaged, and is kept in a file beside. SaveError if somebody else holds it.
        """
        journal = cls.__new__(cls)
        journal.path = path
        try:
            journal._hold()
            lines = path / LINES
            if lines.stat().st_size > length:
                shutil.copy2(lines, path / "damaged.jsonl")
            journal._begin(texts, length)
            journal._marks = marks
        except BlockingIOError as error:
            journal._let_go()
            raise HeldError("Another Japanner is bringing it back already.") from error
        except OSError as error:
            journal._let_go()
            raise SaveError(f"The journal cannot be written: {(error.strerror or str(error)).lower()}.") from error
        return journal

    def _hold(self) -> None:
        self._lock = (self.path / LOCK).open("a")
        fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)

    def _let_go(self) -> None:
        if hasattr(self, "_lock"):
            self._lock.close()

    def _begin(self, texts: Iterable[str], length: int) -> None:
        self._writer, self._length, self._marks = RecordWriter(texts, self._put), length, 0
        self._lines = os.open(self.path / LINES, os.O_WRONLY | os.O_CREAT, 0o600)
        os.ftruncate(self._lines, length)
        self._dirty, self._open, self._guard = False, True, threading.Lock()
        self._copier = ThreadPoolExecutor(1, thread_name_prefix="journal")

    # --- records --------------------------------------------------------------------------------------

    def append(self, record: Record) -> None:
        """Write a record; SaveError if the disk refuses, and then nothing of it is there."""
        before = self._writer.written
        try:
            line = self._writer.line(record).encode()
            # Handed to the system, it outlives this process; a sync at every stroke would cost the hand time.
            self._write_whole(line)
        except OSError as error:
            self._writer = RecordWriter(before, self._put)
            with contextlib.suppress(OSError):
                os.ftruncate(self._lines, self._length)
            raise SaveError(f"The journal cannot be written: {(error.strerror or str(error)).lower()}.") from error
        self._length += len(line)
        self._dirty = True

    def _put(self, name: str, text: str) -> bool:
        """Pictures lie beside the lines, once; each is there before the line that speaks of it."""
        data = picture_in(text)
        if data is not None:
            part = self.path / f"{name}.part"
            part.write_bytes(data)
            part.replace(self.path / f"{name}{PICTURE}")
        return data is not None

    def _write_whole(self, line: bytes) -> None:
        at = self._length
        while line:
            wrote = os.pwrite(self._lines, line, at)
            at, line = at + wrote, line[wrote:]

    def sync(self) -> None:
        """See to it that the records are on the disk itself; any thread may do so."""
        with self._guard:
            if self._open and self._dirty:
                self._dirty = False
                with contextlib.suppress(OSError):
                    os.fsync(self._lines)

    # --- files to begin from --------------------------------------------------------------------------

    def saved(self, file: Path) -> None:
        """Note that the present painting is safe in `file`: recovery can begin there, if no undo goes further back."""
        name = self._numbered("saved", file.suffix)
        found = print_of(file)
        where = {"path": str(file), "size": found.size, "mtime_ns": found.mtime_ns} if found else {}
        self.append({**SAVED, "file": name, **where})
        self.sync()
        with contextlib.suppress(OSError):
            self._copy(file.open("rb"), name, lambda _: self._forget("saved", file.suffix))

    def checkpoint(self, write: Callable[[Path], object]) -> None:
        """Keep the pixels of the present painting, which `write` puts into a file beside; for when replaying cannot."""
        name = self._numbered("checkpoint", ".ora")
        self.append({**CHECKPOINT, "file": name})

        def work() -> None:
            if self._open:
                write(self.path / name)
                self._forget("checkpoint", ".ora")

        self._copier.submit(work)

    def _numbered(self, kind: str, suffix: str) -> str:
        self._marks += 1
        return f"{kind}{self._marks}{suffix}"

    def _copy(self, source: BinaryIO, name: str, then: Callable[[str], object]) -> None:
        def work() -> None:
            with source, contextlib.suppress(OSError):
                if self._open and (digest := copied(source, self.path / name, lambda: self._open)):
                    then(digest)

        self._copier.submit(work)

    def _forget(self, kind: str, suffix: str) -> None:
        """Let go of older files of a kind."""
        numbers = sorted(_number(one, kind) for one in self.path.glob(f"{kind}*{suffix}"))
        for number in numbers[:-MOST_KEPT]:
            (self.path / f"{kind}{number}{suffix}").unlink(missing_ok=True)

    def _write_about(self, about: About) -> None:
        part = self.path / f"{ABOUT}.part"
        part.write_text(json.dumps(to_record(about, whole=True)))
        part.replace(self.path / ABOUT)

    def settle(self) -> None:
        """Wait until all copies are made."""
        self._copier.submit(lambda: None).result()

    def close(self, *, keep: bool) -> None:
        """End the journal: its folder goes, or stays to be found as a leftover."""
        if not self._open:
            return
        if keep:
            self.settle()
            self.sync()
        with self._guard:
            self._open = False
        self._copier.shutdown()
        os.close(self._lines)
        if not keep:
            shutil.rmtree(self.path, ignore_errors=True)
        self._lock.close()


def _number(path: Path, kind: str) -> int:
    digits = path.stem.removeprefix(kind)
    return int(digits) if digits.isdigit() else 0
