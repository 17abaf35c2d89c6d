"""Work that takes long, off the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import QCoreApplication, QObject, QThread, Signal

from japanner.desk.trouble import trouble
from japanner.errors import JapannerError

__all__ = ["Job", "Jobs"]

Progress = Callable[[float, str], None]


class Job(QThread):
    """Runs `work(progress)`; `progress(done, words)` may raise StoppedError when the painter has had enough."""

    progressed = Signal(float, str)
    done = Signal(object)
    failed = Signal(str)
    broken = Signal(object)  # an error that nobody expected

    class StoppedError(Exception):
        """The painter pressed stop."""

    def __init__(self, work: Callable[[Progress], Any], parent: QObject) -> None:
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
        except BaseException as error:  # whatever it is, the job is over, and the window has to know
            self.broken.emit(error)
        else:
            self.done.emit(result)

    def _progress(self, done: float, words: str) -> None:
        if self._stop:
            raise Job.StoppedError
        self.progressed.emit(done, words)


class Jobs(QObject):
    """Runs jobs one at a time beside the window, and says how far they are."""

    started = Signal(str)  # what a job does, for the progress line
    progressed = Signal(float, str)
    ended = Signal()
    told = Signal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._job: Job | None = None

    @property
    def busy(self) -> bool:
        return self._job is not None

    def run(
        self, words: str, work: Callable[[Progress], Any], then: Callable[[Any], None],
        give_up: Callable[[], object] = lambda: None,
    ) -> bool:  # fmt: skip
        """Start `work` beside the window; `then` gets its result in the window's thread, or `give_up` follows if there
        is none. False if another job is running.
        """
        if self._job is not None:
            self.told.emit("Still busy with the last thing.")
            return False
        job = self._job = Job(work, self)
        self.started.emit(words)
        job.progressed.connect(self.progressed)
        job.done.connect(lambda result: self._end(lambda: then(result)))
        job.failed.connect(lambda text: self._end(partial(self._fail, give_up, text)))
        job.broken.connect(lambda error: self._end(partial(self._break, give_up, error)))
        job.start()
        return True

    def stop(self) -> None:
        if self._job is not None:
            self._job.stop()

    def wait(self) -> None:
        """Finish the job that runs."""
        if self._job is not None:
            self._job.wait()
            QCoreApplication.processEvents()

    def _fail(self, give_up: Callable[[], object], text: str) -> None:
        give_up()
        self.told.emit(text)

    def _break(self, give_up: Callable[[], object], error: BaseException) -> None:
        give_up()
        trouble.take(error)

    def _end(self, then: Callable[[], None]) -> None:
        if self._job is not None:
            self._job.wait()
            self._job.deleteLater()
        self._job = None
        self.ended.emit()
        then()
