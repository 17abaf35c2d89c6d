"""Tiles on all cores: kernels release the interpreter, so threads are enough."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from typing import Final, TypeVar

__all__ = ["WORKERS", "each"]

Item = TypeVar("Item")

# One pool for the process; two threads fill two cores.
WORKERS: Final = ThreadPoolExecutor(max_workers=2, thread_name_prefix="tiles")
# Handing over costs about as much as two tiles.
WORTH_IT: Final = 4


def each(items: Iterable[Item], work: Callable[[Item], None]) -> None:
    """Run `work` for every item, on all cores if there is enough of it; items must not depend on each other."""
    todo = list(items)
    if len(todo) < WORTH_IT:
        for item in todo:
            work(item)
    else:
        list(WORKERS.map(work, todo))
