"""The file of the open painting: who else works on it, and whether somebody has changed it."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import time
from concurrent.futures import Future
from pathlib import Path
from typing import IO, Final

from japanner.errors import JapannerError
from japanner.files.stored import Stored
from japanner.painting.document.file_print import Print, digest_of, print_of
from japanner.raster.parallel import ASIDE

__all__ = ["InUseError", "OpenFile"]

ENDING: Final = ".inuse"
TRIES: Final = 5


class InUseError(JapannerError):
    """Another Japanner has the file open; the text says which."""


class OpenFile:
    """A file that is worked on: marked for others by a lock beside it, and known by size, time and content.

    Where no lock can be made (a folder that cannot be written), there is none, and nobody is kept from working.
    """

    def __init__(self, path: Path, *, anyway: bool = False) -> None:
        """InUseError if somebody else has it open, unless it is to be worked on `anyway`."""
        self.path = path
        self._lock: IO[str] | None = None
        try:
            self._lock = self._taken()
        except InUseError:
            if not anyway:
                raise
        except OSError:
            pass
        self._print: Print | None = None
        self._reading: Future[None] | None = None
        self.stored = Stored()
        """What of the painting lies in it, as far as that is known."""

    def renew(self) -> None:
        """The file is now as we know it: it was read or written just now."""
        found = self._print = print_of(self.path)

        def read() -> None:
            digest = digest_of(self.path)
            # Whoever has written into it meanwhile is found by its size and time.
            if found is not None and self._print is found and found.same_at_a_glance(print_of(self.path)):
                self._print = Print(found.size, found.mtime_ns, digest)

        # Its content counts only if size and time should differ: nobody waits for it.
        self._reading = ASIDE.submit(read)

    @property
    def changed(self) -> bool:
        """Whether another program has written something else there; a file that is gone is no hindrance."""
        if self._reading is not None:
            self._reading.result()
        return self._print is not None and self.path.exists() and not self._print.matches(self.path)

    def release(self) -> None:
        """Work on it no more."""
        if self._lock is not None:
            with contextlib.suppress(OSError):
                self._lock_path.unlink()
            self._lock.close()
            self._lock = None

    @property
    def _lock_path(self) -> Path:
        return self.path.with_name(f".{self.path.name}{ENDING}")

    def _taken(self) -> IO[str]:
        for _ in range(TRIES):
            lock = self._lock_path.open("a+", encoding="utf-8")
            try:
                fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                lock.seek(0)
                holder = lock.read(400)
                lock.close()
                raise InUseError(f"{self.path.name} is open in another Japanner{_who(holder)}.") from None
            if self._still_there(lock):
                lock.truncate(0)
                json.dump({"host": _machine(), "pid": os.getpid(), "since": time.time()}, lock)
                lock.flush()
                return lock
            lock.close()  # its holder took it away just before we locked it
        raise OSError("no lock")

    def _still_there(self, lock: IO[str]) -> bool:
        try:
            return self._lock_path.stat().st_ino == os.fstat(lock.fileno()).st_ino
        except OSError:
            return False


def _machine() -> str:
    """The name of this machine."""
    return os.uname().nodename


def _who(holder: str) -> str:
    with contextlib.suppress(ValueError, KeyError, TypeError, OverflowError, OSError):
        found = json.loads(holder)
        since = time.strftime("%H:%M", time.localtime(float(found["since"])))
        host = "" if found["host"] == _machine() else f" on {str(found['host'])[:60]}"
        return f"{host} since {since}"
    return ""
