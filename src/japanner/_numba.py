"""One place for the compile options of all kernels."""

from __future__ import annotations

import functools
import sys
import threading
from collections.abc import Callable
from typing import Any

# Numba asks for SciPy's linear algebra, which no kernel uses and which takes a fifth of a second to come; told that
# there is none, it goes without.
BLAS = "scipy.linalg.cython_blas"
if BLAS not in sys.modules:
    sys.modules[BLAS] = None  # type: ignore[assignment]  # the documented way to make an import fail
    try:
        pass
    finally:
        del sys.modules[BLAS]

from numba import boolean, float32, float64, int32, int64, njit, uint8, uint16, uint32, uintp, void  # noqa: E402
from numba.core.types import Array  # noqa: E402

__all__ = ["AREA", "BYTES", "CODES", "CODES_IN", "FLAG", "FLAGS", "FLAGS_IN", "FLOATS", "I64", "LABELS"]
__all__ += ["BLOCKS_IN", "INDICES", "INDICES_IN", "LABELS_IN", "LINE", "NUMBER", "ONE_F", "Kernel"]
__all__ += ["PICTURE", "PICTURE_IN", "PLANE", "PLANES", "PLANES_IN", "PLANE_IN", "POINTS", "POINTS_IN", "SERIES"]
__all__ += [
    "SERIES_IN",
    "SPACE",
    "SPANS",
    "SPANS_IN",
    "STACK",
    "STORED",
    "STORED_IN",
    "TABLE",
    "inlined",
    "kernel",
    "void",
    "woven",
]

# Argument types of kernels; `_IN` arguments are only read, and may be frozen arrays.
I64, ONE_F, FLAG = int64, float32, boolean
AREA = (int64,) * 4  # top, bottom, left, right
STORED, STORED_IN = uint16[:, :, ::1], Array(uint16, 3, "C", readonly=True)
PLANES, PLANES_IN = float32[:, :, ::1], Array(float32, 3, "C", readonly=True)
PLANE, TABLE = float32[:, ::1], Array(float32, 1, "C", readonly=True)
PLANE_IN = Array(float32, 2, "C", readonly=True)
FLOATS = PLANE_IN
PICTURE, PICTURE_IN = uint32[:, ::1], Array(uint32, 2, "C", readonly=True)
CODES, CODES_IN = uint8[:, :, ::1], Array(uint8, 3, "C", readonly=True)
FLAGS, FLAGS_IN = uint8[:, ::1], Array(uint8, 2, "C", readonly=True)
SPANS, SPANS_IN = uintp[:, ::1], Array(uintp, 2, "C", readonly=True)
SPACE = float64[:, :, ::1]
STACK = float32[:, :, :, ::1]
LABELS = int32[:, ::1]
LABELS_IN = Array(int32, 2, "C", readonly=True)
BYTES = Array(uint8, 1, "C", readonly=True)
NUMBER = float64
SERIES, SERIES_IN = float64[::1], Array(float64, 1, "C", readonly=True)
BLOCKS_IN = Array(int32, 3, "C", readonly=True)
LINE, INDICES, INDICES_IN = float32[::1], int64[::1], Array(int64, 1, "C", readonly=True)
POINTS, POINTS_IN = float64[:, ::1], Array(float64, 2, "C", readonly=True)

# The numpy error model lets loops with divisions vectorise; "contract" allows fused multiply-add, and
# nothing that would reorder sums: replay has to be bit-exact.
LOADING = threading.RLock()

OPTIONS: dict[str, Any] = {"nogil": True, "error_model": "numpy", "fastmath": {"contract"}}


class Kernel:
    """A function that is compiled for one signature, its machine code kept on disk; loaded when it is first called."""

    def __init__(self, function: Callable[..., Any], signature: Any) -> None:
        self._function, self._signature = function, signature
        self._compiled: Callable[..., Any] | None = None
        functools.update_wrapper(self, function)

    def load(self) -> Callable[..., Any]:
        """The compiled function; any thread may ask."""
        with LOADING:
            if self._compiled is None:
                self._compiled = njit(self._signature, cache=True, **OPTIONS)(self._function)
        return self._compiled

    def __call__(self, *arguments: Any) -> Any:
        return (self._compiled or self.load())(*arguments)


def kernel(signature: Any) -> Callable[[Callable[..., Any]], Kernel]:
    """Make a function a kernel for one explicit signature."""
    return lambda function: Kernel(function, signature)


def woven(function: Callable[..., Any]) -> Callable[..., Any]:
    """A small function that is copied into every place that calls it: calls with arrays are not free."""
    options = {"no_cpython_wrapper": True, "no_cfunc_wrapper": True, "forceinline": True}
    result: Callable[..., Any] = njit(**options, **OPTIONS)(function)
    return result


def inlined(function: Callable[..., Any]) -> Callable[..., Any]:
    """A function that only kernels call; it is compiled into them."""
    result: Callable[..., Any] = njit(no_cpython_wrapper=True, no_cfunc_wrapper=True, **OPTIONS)(function)
    return result
