"""Tiles on all cores: kernels release the interpreter, so threads are enough."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Final, TypeVar

__all__ = ["WORKERS", "Watcher", "beside", "each", "watched", "watching"]

Item = TypeVar("Item")
Other = TypeVar("Other")
Watcher = Callable[[float], None]

# One pool for the process; two threads fill two cores.
WORKERS: Final = ThreadPoolExecutor(max_workers=2, thread_name_prefix="tiles")

_watcher: ContextVar[Watcher | None] = ContextVar("watcher", default=None)


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
    other = WORKERS.submit(there)
    return here(), other.result()


def each(items: Iterable[Item], work: Callable[[Item], None], worth_it: int = 4) -> None:
    """Run `work` for every item, on all cores from `worth_it` items on; items must not depend on each other."""
    todo, watcher = list(items), _watcher.get()
    results = map(work, todo) if len(todo) < worth_it else WORKERS.map(work, todo)
    for done, _ in enumerate(results, 1):
        if watcher is not None:
            watcher(done / len(todo))
