"""Tiles on all cores: kernels release the interpreter, so threads are enough."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from typing import Final, TypeVar

__all__ = ["WORKERS", "each"]

Item = TypeVar("Item")

# One pool for the process; two threads fill two cores.
WORKERS: Final = ThreadPoolExecutor(max_workers=2, thread_name_prefix="tiles")


def each(items: Iterable[Item], work: Callable[[Item], None], worth_it: int = 4) -> None:
    """Run `work` for every item, on all cores from `worth_it` items on; items must not depend on each other."""
    todo = list(items)
    if len(todo) < worth_it:
        for item in todo:
            work(item)
    else:
        list(WORKERS.map(work, todo))
