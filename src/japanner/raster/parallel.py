"""Work on all cores: kernels release the interpreter, so threads are enough.

There are two teams of as many threads as the machine has cores. The one in front is for the hand and its picture; what
else there is to do, figures of panels, makers, files, goes to the one behind, which the system lets run only on cores
that nobody in front wants.
"""

from __future__ import annotations

import contextlib
import os
import threading
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Final, TypeVar

__all__ = [
    "ASIDE",
    "BEHIND",
    "IN_FRONT",
    "Watcher",
    "beside",
    "each",
    "in_front",
    "stand_alone",
    "stand_behind",
    "team",
    "together",
    "watched",
    "watching",
]

Item = TypeVar("Item")
Other = TypeVar("Other")
Watcher = Callable[[float], None]

CORES: Final = os.cpu_count() or 2
NICE: Final = 10
"""Of threads behind: a tenth of a core is left to them where somebody in front wants it."""
NICE_ALONE: Final = 5
"""Less: who waits long for a core may hold the interpreter meanwhile, and keep those in front from it."""

_watcher: ContextVar[Watcher | None] = ContextVar("watcher", default=None)
_place: ContextVar[str] = ContextVar("place", default="in front")


def stand_behind() -> None:
    """Let this thread, for as long as it lives, and all that it shares out wait for what is in front."""
    _place.set("behind")
    _yield(NICE)


def stand_alone() -> None:
    """Let this thread, for as long as it lives, do all by itself, on one core, and rather wait for what is in front."""
    _place.set("alone")
    _yield(NICE_ALONE)


@contextmanager
def in_front() -> Iterator[None]:
    """Within this, what this thread shares out is for the hand."""
    token = _place.set("in front")
    try:
        yield
    finally:
        _place.reset(token)


def _yield(by: int) -> None:
    with contextlib.suppress(OSError, AttributeError):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), by)


IN_FRONT: Final = ThreadPoolExecutor(CORES, "tiles")
BEHIND: Final = ThreadPoolExecutor(CORES, "behind", initializer=stand_behind)
ASIDE: Final = ThreadPoolExecutor(8, "aside", initializer=stand_behind)
"""For whole pieces of work that wait for their items: a team must never wait for itself."""


def team() -> ThreadPoolExecutor:
    """The threads that work for this one."""
    return IN_FRONT if _place.get() == "in front" else BEHIND


@contextmanager
def watched(watcher: Watcher) -> Iterator[None]:
    """Within this, `each` tells `watcher` what share of its items is done; the watcher stops it by raising."""
    token = _watcher.set(watcher)
    try:
        yield
    finally:
        _watcher.reset(token)


def watching() -> Watcher:
    """Who is told what share is done, by work that does not go by `each`."""
    watcher = _watcher.get()
    return watcher if watcher is not None else lambda done: None


def beside(here: Callable[[], Item], there: Callable[[], Other]) -> tuple[Item, Other]:
    """What two pieces of work come to that are done at the same time; `there` must not use `each`, which would wait
    for its own thread.
    """
    other = team().submit(there)
    return here(), other.result()


def together(works: Sequence[Callable[[], Item]]) -> list[Item]:
    """What several whole pieces of work come to that are done at the same time; they may share out what they do."""
    if _place.get() == "alone":
        return [work() for work in works]
    return list(ASIDE.map(lambda work: work(), works))


def each(items: Iterable[Item], work: Callable[[Item], None], worth_it: int = 4) -> None:
    """Run `work` for every item, on all cores from `worth_it` items on; items must not depend on each other."""
    todo, watcher = list(items), _watcher.get()
    alone = len(todo) < worth_it or _place.get() == "alone"
    results = map(work, todo) if alone else team().map(work, todo)
    for done, _ in enumerate(results, 1):
        if watcher is not None:
            watcher(done / len(todo))
