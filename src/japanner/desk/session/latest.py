"""Work beside the window of which only what was wanted last counts."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import QCoreApplication, QObject, QThread, Signal

from japanner.desk.trouble import trouble
from japanner.errors import InputError
from japanner.raster.parallel import stand_behind

__all__ = ["Latest"]

Work = Callable[[Any, Callable[[Any], None], Callable[[float], None]], None]


class _Outdated(Exception):  # noqa: N818 - not an error
    """Something else is wanted by now."""


class Latest(QThread):
    """Runs `work(wish, deliver, told)` for the latest wish; an older one is given up at the next `told`."""

    delivered = Signal(object, object)  # the wish, and something that came of it
    failed = Signal(str)

    def __init__(self, parent: QObject, work: Work) -> None:
        super().__init__(parent)
        self._work = work
        self._wish: Any = None
        self._done: Any = None
        self.finished.connect(self._again)

    @property
    def wish(self) -> Any:
        return self._wish

    def want(self, wish: Any) -> None:
        """Work on this from now on; None: on nothing."""
        self._wish = wish
        if wish is not None and not self.isRunning():
            self.start()

    def run(self) -> None:
        stand_behind()
        while self._wish is not None and self._wish is not self._done:
            wish = self._done = self._wish
            try:
                self._work(wish, partial(self.delivered.emit, wish), partial(self._check, wish))
            except _Outdated:
                continue
            except InputError as error:
                self.failed.emit(str(error))
            except BaseException as error:  # the next wish may do better
                trouble.take(error)

    def _check(self, wish: Any, _: float) -> None:
        if self._wish is not wish:
            raise _Outdated

    def _again(self) -> None:
        # A wish may have come while the thread was ending.
        if self._wish is not None and self._wish is not self._done:
            self.start()

    def settle(self) -> None:
        """Wait until all that is wanted is delivered."""
        while self.isRunning():
            self.wait(20)
            QCoreApplication.processEvents()
        QCoreApplication.processEvents()

    def stop(self) -> None:
        """Want nothing, and be still."""
        self._wish = None
        self.wait()
