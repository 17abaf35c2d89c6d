"""What an operation comes to, worked out before anybody asks for it."""

from __future__ import annotations

from concurrent.futures import TimeoutError as NotYet
from typing import Final

from japanner.painting.model import Painting
from japanner.painting.operations import Change, Operation
from japanner.raster.parallel import ASIDE, Watcher, watched

__all__ = ["Ahead"]

LOOK_S: Final = 0.05


class Ahead:
    """Begins at once, behind whatever else there is to do, and may be given up at any time."""

    def __init__(self, painting: Painting, operation: Operation) -> None:
        self.painting, self.operation = painting, operation
        self._stopped, self._share = False, 0.0
        self._outcome = ASIDE.submit(self._work)

    class _StoppedError(Exception):
        """Nobody wants it any more."""

    def _work(self) -> tuple[Painting, Change]:
        with watched(self._told):
            return self.operation.apply(self.painting)

    def _told(self, share: float) -> None:
        if self._stopped:
            raise Ahead._StoppedError
        self._share = share

    def stop(self) -> None:
        """Give it up; nobody waits for that."""
        self._stopped = True
        self._outcome.cancel()

    @property
    def done(self) -> bool:
        """Whether it has been worked out."""
        return self._outcome.done()

    def result(self, told: Watcher = lambda share: None) -> tuple[Painting, Change]:
        """The outcome, or the operation's own error, once it is there; `told` stops it by raising."""
        while True:
            try:
                return self._outcome.result(LOOK_S)
            except NotYet:
                try:
                    told(self._share)
                except BaseException:
                    self.stop()
                    raise
