"""Work beside the window of which only what was wanted last counts."""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import Future
from functools import partial
from typing import Any

from PySide6.QtCore import QCoreApplication, QObject, Signal

from japanner.desk.trouble import trouble
from japanner.errors import InputError
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

    @property
    def wish(self) -> Any:
        return self._wish

    def want(self, wish: Any) -> None:
        """Work on this from now on; None: on nothing."""
        self._wish = wish
        if wish is not None and (self._running is None or self._running.done()):
            self._running = ASIDE.submit(self._run)

    def _run(self) -> None:
        done: Any = None
        while self._wish is not None and self._wish is not done:
            wish = done = self._wish
            try:
                self._work(wish, partial(self._deliver, wish), partial(self._check, wish))
            except _Outdated:
                continue
            except InputError as error:
                self.failed.emit(str(error))
            except RuntimeError:  # the window is gone, and its signals with it
                return
            except BaseException as error:  # the next wish may do better
                trouble.take(error)

    def _deliver(self, wish: Any, outcome: Any) -> None:
        self._check(wish, 0.0)
        self.delivered.emit(wish, outcome)

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
        self._wish = None
