"""Work that takes long, off the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QThread, Signal

from japanner.errors import JapannerError

__all__ = ["Job"]


class Job(QThread):
    """Runs `work(progress)`; `progress(done, words)` may raise StoppedError when the painter has had enough."""

    progressed = Signal(float, str)
    done = Signal(object)
    failed = Signal(str)

    class StoppedError(Exception):
        """The painter pressed stop."""

    def __init__(self, work: Callable[[Callable[[float, str], None]], Any], parent: QObject) -> None:
        super().__init__(parent)
        self._work = work
        self._stop = False

    def stop(self) -> None:
        self._stop = True

    def run(self) -> None:
        try:
            result = self._work(self._progress)
        except Job.StoppedError:
            self.failed.emit("Stopped.")
        except JapannerError as error:
            self.failed.emit(str(error))
        else:
            self.done.emit(result)

    def _progress(self, done: float, words: str) -> None:
        if self._stop:
            raise Job.StoppedError
        self.progressed.emit(done, words)
