"""Work beside the window of which only what was wanted last counts."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Callable
from concurrent.futures import Future
from functools import partial
from threading import Lock
from typing import Any

from PySide6.QtCore import QCoreApplication, QObject, Signal, SignalInstance

from japanner.desk.trouble import trouble
from japanner.errors import JapannerError
from japanner.raster.parallel import ASIDE

__all__ = ["Latest"]

Work = Callable[[Any, Callable[[Any], None], Callable[[float], None]], None]


class _Outdated(Exception):  # noqa: N818 - not an error
    """Something else is wanted by now."""


class Latest(QObject):
    """Runs `work(wish, deliver, told)` for the latest wish; an older one is given up at the next `told`, and nobody
    waits for that.
    """

    delivered = Signal(object, object)  # the wish, and something that came of it
    failed = Signal(str)

    def __init__(self, parent: QObject, work: Work) -> None:
        super().__init__(parent)
        self._work = work
        self._wish: Any = None
        self._running: Future[None] | None = None
        self._at_work, self._guard = False, Lock()

    @property
    def wish(self) -> Any:
        return self._wish

    def want(self, wish: Any) -> None:
        """Work on this from now on; None: on nothing."""
        with self._guard:
            self._wish = wish
            if wish is None or self._at_work:
                return
            self._at_work = True
        self._running = ASIDE.submit(self._run)

    def _run(self) -> None:
        done: Any = None
        while (wish := self._next(done)) is not None:
            done = wish
            try:
                self._work(wish, partial(self._deliver, wish), partial(self._check, wish))
            except _Outdated:
                continue
            except JapannerError as error:
                self._say(self.failed, str(error))
            except BaseException as error:  # the next wish may do better
                trouble.take(error)

    def _next(self, done: Any) -> Any:
        """What to work on after what is done; None to stop: whoever wants something from then on begins anew."""
        with self._guard:
            wish = None if self._wish is done else self._wish
            self._at_work = wish is not None
            return wish

    def _deliver(self, wish: Any, outcome: Any) -> None:
        self._check(wish, 0.0)
        self._say(self.delivered, wish, outcome)

    @staticmethod
    def _say(signal: SignalInstance, *what: Any) -> None:
        with contextlib.suppress(RuntimeError):  # the window is gone, and its signals with it
            signal.emit(*what)

    def _check(self, wish: Any, _: float) -> None:
        if self._wish is not wish:
            raise _Outdated

    def settle(self) -> None:
        """Wait until all that is wanted is delivered."""
        while self._running is not None and not self._running.done():
            time.sleep(0.005)
            QCoreApplication.processEvents()
        QCoreApplication.processEvents()

    def stop(self) -> None:
        """Want nothing any more."""
        self.want(None)
