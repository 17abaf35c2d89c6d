"""Kernels are loaded ahead of the first stroke, once there is something to look at."""

from __future__ import annotations

import importlib
import threading
from collections.abc import Callable

from japanner._kernel_cache import kernel_modules
from japanner.raster.parallel import stand_behind

__all__ = ["load_kernels", "warm_up"]

FIRST = ("_kernels_tiles", "_kernels_blend", "_kernels_path", "_kernels_dab", "_kernels_tone")
"""What a first stroke needs, in its order; others follow."""


def load_kernels(wanted: Callable[[], bool] = lambda: True) -> int:
    """Load every kernel while that is `wanted`; how many were."""
    from japanner._numba import Kernel  # noqa: PLC0415 - it brings Numba, which no start should wait for

    names = kernel_modules()
    names.sort(key=lambda name: next((at for at, one in enumerate(FIRST) if name.endswith(one)), len(FIRST)))
    count = 0
    for name in names:
        for one in vars(importlib.import_module(name)).values():
            if isinstance(one, Kernel) and wanted():
                one.load()
                count += 1
    return count


def warm_up() -> threading.Thread:
    """Load all kernels behind whatever else there is to do."""

    def work() -> None:
        stand_behind()
        load_kernels(threading.main_thread().is_alive)

    thread = threading.Thread(target=work, name="warming", daemon=True)
    thread.start()
    return thread
