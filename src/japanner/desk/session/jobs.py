"""Work that takes long, off the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import QCoreApplication, QObject, QThread, Signal

from japanner.desk.trouble import trouble
from japanner.errors import JapannerError
from japanner.raster.parallel import stand_behind

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

    def __init__(self, work: Callable[[Progress], Any], parent: QObject, *, writes: bool = False) -> None:
        super().__init__(parent)
        self._work, self.writes = work, writes
        self._stop = False

    def stop(self) -> None:
        self._stop = True

    def run(self) -> None:
        stand_behind()
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
    """Runs jobs one at a time beside the window, and says how far they are.

    A job that is stopped is over at once for the painter: nothing comes of it, and the next one may begin while its
    thread runs on to where it looks up. Only what writes a file is waited for, so that it is known what became of it.
    """

    started = Signal(str)  # what a job does, for the progress line
    progressed = Signal(float, str)
    stopping = Signal()  # it was told to, and will at the next place where it can
    ended = Signal()
    told = Signal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._job: Job | None = None
        self._left: list[Job] = []
        self._give_up: Callable[[], object] = lambda: None

    @property
    def busy(self) -> bool:
        return self._job is not None

    def run(
        self, words: str, work: Callable[[Progress], Any], then: Callable[[Any], None],
        give_up: Callable[[], object] = lambda: None, unwanted: Callable[[Any], object] = lambda _: None, *,
        writes: bool = False,
    ) -> bool:  # fmt: skip
        """Start `work` beside the window; `then` gets its result in the window's thread, or `give_up` follows if there
        is none, and `unwanted` gets what comes of it after it was stopped. writes: it writes a file. False if another
        job is running.
        """
        if self._job is not None:
            self.told.emit("Still busy with the last thing.")
            return False
        job = self._job = Job(work, self, writes=writes)
        self._give_up = give_up
        self.started.emit(words)
        job.progressed.connect(lambda done, words: self._go_on(job, done, words))
        job.done.connect(lambda result: self._end(job, partial(then, result), partial(unwanted, result)))
        job.failed.connect(lambda text: self._end(job, partial(self._fail, give_up, text)))
        job.broken.connect(lambda error: self._end(job, partial(self._break, give_up, error),
                                                   partial(trouble.take, error)))  # fmt: skip
        job.start()
        return True

    def stop(self) -> None:
        """Give up the job that runs."""
        job = self._job
        if job is None:
            return
        job.stop()
        if job.writes:
            self.stopping.emit()
            return
        self._left.append(job)
        self._job = None
        self.ended.emit()
        self._fail(self._give_up, "Stopped.")

    def wait(self) -> None:
        """Finish the job that runs, and what is left of those that were stopped."""
        for job in (*self._left, self._job):
            if job is not None:
                job.wait()
                QCoreApplication.processEvents()

    def _go_on(self, job: Job, done: float, words: str) -> None:
        if job is self._job:
            self.progressed.emit(done, words)

    def _fail(self, give_up: Callable[[], object], text: str) -> None:
        give_up()
        self.told.emit(text)

    def _break(self, give_up: Callable[[], object], error: BaseException) -> None:
        give_up()
        trouble.take(error)

    def _end(self, job: Job, then: Callable[[], None], unwanted: Callable[[], object] = lambda: None) -> None:
        job.wait()
        job.deleteLater()
        if job in self._left:
            self._left.remove(job)
            unwanted()
            return
        self._job = None
        self.ended.emit()
        then()
