"""The journal on disk: every record is there before its change counts.

A folder per open painting holds the file it began from (if any), one JSON line per record, and a lock
that the system drops when the process ends, however it ends. Folders without a holder are what a crash
has left.
"""

from __future__ import annotations

import fcntl
import json
import os
import secrets
import shutil
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

import platformdirs

from japanner.errors import SaveError
from japanner.painting.document import SAVED, standing_records
from japanner.painting.record_lines import RecordReader, RecordWriter

__all__ = ["Journal", "Leftover", "journals_folder", "leftovers"]

Record = dict[str, Any]

LINES: Final = "records.jsonl"
ABOUT: Final = "about.json"
LOCK: Final = "lock"
# Saved files that a journal holds on to; what lies further back is replayed from the beginning.
MOST_SAVED: Final = 2


def journals_folder() -> Path:
    """Where journals live, unless JAPANNER_STATE names another folder."""
    root = os.environ.get("JAPANNER_STATE") or platformdirs.user_state_dir("japanner")
    return Path(root) / "journals"


class Journal:
    """The journal of one open painting."""

    def __init__(self, folder: Path, title: str, base: Path | None = None) -> None:
        """Begin a journal under `folder`; `base` is the file the painting was opened from."""
        self._saved, self._writer = 0, RecordWriter()
        self.path = folder / f"{time.strftime('%Y%m%d-%H%M%S')}-{secrets.token_hex(3)}"
        try:
            self.path.mkdir(parents=True)
            self._lock = (self.path / LOCK).open("w")
            fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            kept = self._keep(base) if base is not None else None
            about = {"title": title, "base": kept, "began": time.time()}
            (self.path / ABOUT).write_text(json.dumps(about))
            self._lines = (self.path / LINES).open("a", encoding="utf-8")
        except OSError as error:
            raise SaveError(f"The journal cannot be started: {(error.strerror or str(error)).lower()}.") from error

    def append(self, record: Record) -> None:
        """Write a record; SaveError if the disk refuses."""
        try:
            self._lines.write(self._writer.line(record))
            # Handed to the system, it outlives this process; a sync at every stroke would cost the hand time.
            self._lines.flush()
        except OSError as error:
            raise SaveError(f"The journal cannot be written: {(error.strerror or str(error)).lower()}.") from error

    def saved(self, file: Path) -> None:
        """Note that the present painting is safe in `file`: recovery can begin there, if no undo goes further back."""
        self._saved += 1
        name = f"saved{self._saved}{file.suffix}"
        try:
            os.link(file, self.path / name)
        except OSError:
            name = ""
        self.append({**SAVED, "file": name})
        (self.path / f"saved{self._saved - MOST_SAVED}{file.suffix}").unlink(missing_ok=True)

    def close(self, *, keep: bool) -> None:
        """End the journal: its folder goes, or stays to be found by `leftovers`."""
        self._lines.close()
        self._lock.close()
        if not keep:
            shutil.rmtree(self.path, ignore_errors=True)

    def _keep(self, base: Path) -> str:
        """Hold on to the opened file, even if it is later replaced or deleted; a link costs nothing."""
        name = f"base{base.suffix}"
        try:
            os.link(base, self.path / name)
        except OSError:
            shutil.copy2(base, self.path / name)
        return name


@dataclass(frozen=True)
class Leftover:
    """A journal that nobody holds."""

    path: Path
    title: str
    base: Path | None
    records: tuple[Record, ...]
    last_change: float

    def discard(self) -> None:
        shutil.rmtree(self.path, ignore_errors=True)


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
        about = json.loads((path / ABOUT).read_text())
        lines = (path / LINES).read_text(encoding="utf-8", errors="replace").splitlines()
        changed = (path / LINES).stat().st_mtime
        title, base = str(about["title"]), about["base"]
    except (OSError, ValueError, KeyError, TypeError):
        return None
    records, reader = [], RecordReader()
    for line in lines:
        try:
            records.append(reader.record(line))
        except ValueError:
            break  # the last line may be torn: the process died while writing it
    start, rest = _beginning(path, path / base if base else None, standing_records(records))
    if not [record for record in rest if record.get("op") not in ("begin", SAVED["op"])]:
        return None
    return Leftover(path, title, start, tuple(rest), changed)


def _beginning(path: Path, base: Path | None, standing: list[Record]) -> tuple[Path | None, list[Record]]:
    """The file to begin from, and what has to be replayed on it: as little as possible."""
    for at in range(len(standing) - 1, -1, -1):
        name = str(standing[at].get("file", "")) if standing[at].get("op") == SAVED["op"] else ""
        if name and (path / name).is_file():
            base, standing = path / name, standing[at + 1 :]
            break
    return base, [{**one, "file": ""} if one.get("op") == SAVED["op"] else one for one in standing]
