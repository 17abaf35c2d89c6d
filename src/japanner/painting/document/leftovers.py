"""What crashes have left: journals that nobody holds, read with distrust."""

from __future__ import annotations

import fcntl
import json
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from japanner.checks import shown
from japanner.errors import InputError
from japanner.painting.document.document import CHECKPOINT, ENGINE_MARK, MARKS, SAVED, standing_records
from japanner.painting.document.engine import ENGINE
from japanner.painting.document.file_print import Print
from japanner.painting.document.journal import ABOUT, LINES, LOCK, PICTURE, About, Journal
from japanner.painting.document.record_lines import RecordReader
from japanner.raster.codec import to_text_of
from japanner.records import from_record
from japanner.types import Record

__all__ = ["Leftover", "leftovers"]

LARGEST_ABOUT: Final = 1 << 20
LARGEST_LINE: Final = 1 << 30


@dataclass(frozen=True)
class Leftover:
    """A journal that nobody holds.

    base: the file to begin from, None for an empty canvas. records: what has to be replayed on it. remarks: sentences
    on what cannot be brought back as it was. length: bytes of its lines that could be read; texts, marks: what going on
    with it needs to know. engine: of its last records.
    """

    path: Path
    title: str
    base: Path | None
    records: tuple[Record, ...]
    last_change: float
    remarks: tuple[str, ...] = ()
    length: int = 0
    texts: frozenset[str] = frozenset()
    marks: int = 0
    engine: int = ENGINE

    def discard(self) -> None:
        shutil.rmtree(self.path, ignore_errors=True)

    def go_on(self) -> Journal:
        """Hold the journal and write on in it; SaveError if that cannot be."""
        return Journal.go_on(self.path, self.length, self.texts, self.marks)

    @property
    def changes(self) -> int:
        return sum(record["op"] not in ("begin", *MARKS) for record in self.records)


def leftovers(folder: Path) -> list[Leftover]:
    """Journals of processes that are gone and that hold changes, newest first."""
    found = []
    for path in sorted(folder.iterdir()) if folder.is_dir() else ():
        if (path / ABOUT).is_file() and not _held(path):
            one = _leftover(path)
            if one is not None:
                found.append(one)
    return sorted(found, key=lambda one: -one.last_change)


def _held(path: Path) -> bool:
    try:
        with (path / LOCK).open("r+") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    return False


def _leftover(path: Path) -> Leftover | None:
    try:
        about = _about(path)
        found = (path / LINES).stat()
        reader, records, length = RecordReader(lambda name: _picture(path, name)), list[Record](), 0
        for line in _lines_of(path / LINES):
            try:
                records.append(reader.record(line.decode()))
            except ValueError:
                break
            length += len(line)
        return _beginning(path, about, records, found.st_mtime, _Read(length, found.st_size, reader.texts))
    except (OSError, ValueError, RecursionError, MemoryError):
        return None


@dataclass(frozen=True)
class _Read:
    """How far the lines could be read."""

    length: int
    whole: int
    texts: frozenset[str]


def _about(path: Path) -> About:
    with (path / ABOUT).open("rb") as file:
        data = json.loads(file.read(LARGEST_ABOUT))
    if not isinstance(data, dict):
        raise InputError(f"about: expected a record, got {shown(data)}")
    return from_record(About, data, "about")


def _lines_of(path: Path) -> Iterator[bytes]:
    """Whole lines; a last one without its break was torn: the process died while writing it."""
    with path.open("rb") as file:
        while (line := file.readline(LARGEST_LINE)).endswith(b"\n"):
            yield line


def _picture(path: Path, name: str) -> str | None:
    """A picture that lies beside the lines, as the text it was."""
    if not name.isalnum() or not (path / f"{name}{PICTURE}").is_file():
        return None
    return to_text_of((path / f"{name}{PICTURE}").read_bytes())


def _beginning(path: Path, about: About, records: list[Record], changed: float, read: _Read) -> Leftover | None:
    """Where to begin, and what has to be replayed: as little as possible."""
    standing = standing_records(records)
    marked = [record.get("version") for record in records if record["op"] == ENGINE_MARK]
    engines = {about.engine, *marked}
    # What another engine has worked out is not replayed where its pixels were kept.
    kinds = (SAVED["op"],) if engines == {ENGINE} else (SAVED["op"], CHECKPOINT["op"])
    remarks = [] if read.length == read.whole or _torn(path, read) else ["It was damaged; what came after is missing."]
    start = _from_mark(path, standing, kinds)
    if start is None:
        base = _base(path, about)
        if base is None and about.base is not None:
            # The file has been changed by somebody: pixels kept on the way are the next best.
            start = _from_mark(path, standing, (SAVED["op"], CHECKPOINT["op"]))
            remarks.append("The file that it began from is another one by now.")
            base, rest = start or (None, [])
            if start is None:
                return None
        else:
            rest = standing
    else:
        base, rest = start
    rest = [_plain(record) for record in rest]
    if not any(record["op"] not in ("begin", *MARKS) for record in rest):
        return None
    if engines != {ENGINE}:
        remarks.append("An earlier Japanner worked on it; what this one paints again may differ a little.")
    marks = sum("file" in record for record in records)
    last = marked[-1] if marked else about.engine
    engine = last if isinstance(last, int) else ENGINE
    return Leftover(
        path, about.title, base, tuple(rest), changed, tuple(remarks), read.length, read.texts, marks, engine
    )


def _torn(path: Path, read: _Read) -> bool:
    """Whether only the last line is not whole."""
    with (path / LINES).open("rb") as file:
        file.seek(read.length)
        return b"\n" not in file.read().rstrip(b"\0")


def _from_mark(path: Path, standing: list[Record], kinds: tuple[str, ...]) -> tuple[Path, list[Record]] | None:
    """The last file that was kept on the way, and what came after it."""
    for at in range(len(standing) - 1, -1, -1):
        record = standing[at]
        name = record.get("file")
        if record["op"] not in kinds or not isinstance(name, str) or not name or "/" in name:
            continue
        if (path / name).is_file():
            return path / name, standing[at + 1 :]
        saved = _where(record)
        if saved is not None:
            return saved, standing[at + 1 :]
    return None


def _where(record: Record) -> Path | None:
    """The file that was saved, if it is still as it was then."""
    where, size, time = (record.get(name) for name in ("path", "size", "mtime_ns"))
    if not (isinstance(where, str) and isinstance(size, int) and isinstance(time, int)) or "\0" in where:
        return None
    return Path(where) if Print(size, time).matches(Path(where)) else None


def _base(path: Path, about: About) -> Path | None:
    """The copy of the file it began from, or that file while it is still as it was."""
    if about.base is None or "/" in about.base:
        return None
    if (path / about.base).is_file():
        return path / about.base
    there = bool(about.path) and "\0" not in about.path and about.print.matches(Path(about.path))
    return Path(about.path) if there else None


def _plain(record: Record) -> Record:
    """A mark without what belongs to this journal alone."""
    return {"op": record["op"]} if record["op"] in (SAVED["op"], CHECKPOINT["op"]) else record
