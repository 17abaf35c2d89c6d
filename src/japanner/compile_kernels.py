"""`python -m japanner.compile_kernels`: compile ahead, so that nobody waits at the first stroke.

It imports no more than it must: with everything in the cache it takes a second.
"""

from __future__ import annotations

import importlib
import sys
import time
from collections.abc import Callable

from japanner._kernel_cache import kernel_modules, mark_compiled
from japanner._numba import Kernel

__all__ = ["compile_all"]


def compile_all(progress: Callable[[int, int, str], None]) -> None:
    """Compile every kernel that is not in the cache yet; `progress` gets done, all, and the module at work.

    Kernels have explicit signatures, so that loading is what compiles them.
    """
    modules = kernel_modules()
    for done, name in enumerate(modules):
        progress(done, len(modules), name)
        for one in vars(importlib.import_module(name)).values():
            if isinstance(one, Kernel):
                one.load()
    mark_compiled()
    progress(len(modules), len(modules), "")


def _main() -> int:
    def line(done: int, total: int, module: str) -> None:
        words = f"compiling {module}" if module else f"ready after {time.monotonic() - began:.1f} s"
        print(f"\rKernels {done}/{total}  {words:<50}", end="", flush=True)

    began = time.monotonic()
    compile_all(line)
    print()
    return 0


if __name__ == "__main__":
    sys.exit(_main())
