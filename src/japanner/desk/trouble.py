"""What nobody expected: written to a log, told in one place, and never the end of the program."""

from __future__ import annotations

import faulthandler
import logging
import platform
import sys
import threading
import time
import traceback
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType
from typing import IO, Final

import PySide6
from PySide6.QtCore import QObject, Signal

from japanner import __version__
from japanner.painting.document.journal import state_folder

__all__ = ["Trouble", "log_file", "report_of", "trouble"]

LOG: Final = logging.getLogger("japanner")
LARGEST_LOG: Final = 1 << 20
MOST_LOGS: Final = 3
AGAIN_S: Final = 10.0


def log_file() -> Path:
    """Where the log of this and former runs lies."""
    return state_folder() / "japanner.log"


def report_of(error: BaseException | None) -> str:
    """What somebody who mends it needs to know, as text to be copied; without an error, what runs here."""
    machine = f"{platform.system()} {platform.release()} {platform.machine()}, Python {platform.python_version()}"
    where = "Nothing has gone wrong so far." if error is None else "".join(traceback.format_exception(error))
    return f"Japanner {__version__}, PySide6 {PySide6.__version__}\n{machine}\n\n{where}"


class Trouble(QObject):
    """Takes errors from any thread, and tells of them in the window's."""

    told = Signal(str, str)  # a sentence, and the report

    def __init__(self) -> None:
        super().__init__()
        self._crashes: IO[str] | None = None
        self._last, self._last_at = "", -AGAIN_S

    def take(self, error: BaseException) -> None:
        """Log an error and tell of it; one that comes back at once, as from every paint event, only once."""
        report = report_of(error)
        if report == self._last and time.monotonic() - self._last_at < AGAIN_S:
            return
        self._last, self._last_at = report, time.monotonic()
        LOG.error("%s", report)
        words = f"Something went wrong inside Japanner ({type(error).__name__}). Your painting is still there; save it."
        self.told.emit(words, report)

    def watch(self) -> None:
        """From here on, whatever is not caught anywhere comes here, and crashes leave their traces in a file."""
        sys.excepthook = self._hook
        threading.excepthook = lambda given: self._hook(given.exc_type, given.exc_value, given.exc_traceback)
        try:
            log_file().parent.mkdir(parents=True, exist_ok=True)
            handler = RotatingFileHandler(log_file(), maxBytes=LARGEST_LOG, backupCount=MOST_LOGS, encoding="utf-8")
            self._crashes = log_file().with_name("crashes.log").open("a", encoding="utf-8")
        except OSError:
            faulthandler.enable()
            return
        handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
        LOG.addHandler(handler)
        LOG.setLevel(logging.INFO)
        faulthandler.enable(self._crashes)

    def _hook(self, kind: type[BaseException], error: BaseException | None, trace: TracebackType | None) -> None:
        if error is None:
            error = kind()
        if isinstance(error, KeyboardInterrupt):
            return  # the window closes by its own handler
        traceback.print_exception(kind, error, trace)
        self.take(error)


trouble = Trouble()
"""The one place."""
