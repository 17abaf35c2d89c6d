"""One place for the compile options of all kernels."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from numba import boolean, float32, float64, int32, int64, njit, uint8, uint16, uint32, uintp, void
from numba.core.types import Array

__all__ = ["AREA", "BYTES", "CODES", "CODES_IN", "FLAG", "FLAGS", "FLAGS_IN", "FLOATS", "I64", "LABELS"]
__all__ += ["LABELS_IN", "NUMBER", "ONE_F"]
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
POINTS, POINTS_IN = float64[:, ::1], Array(float64, 2, "C", readonly=True)

# The numpy error model lets loops with divisions vectorise; "contract" allows fused multiply-add, and
# nothing that would reorder sums: replay has to be bit-exact.
OPTIONS: dict[str, Any] = {"nogil": True, "error_model": "numpy", "fastmath": {"contract"}}


def kernel(signature: Any) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Compile a function for one explicit signature and keep the machine code on disk."""

    def compiled(function: Callable[..., Any]) -> Callable[..., Any]:
        result: Callable[..., Any] = njit(signature, cache=True, **OPTIONS)(function)
        return result

    return compiled


def woven(function: Callable[..., Any]) -> Callable[..., Any]:
    """A small function that is copied into every place that calls it: calls with arrays are not free."""
    options = {"no_cpython_wrapper": True, "no_cfunc_wrapper": True, "forceinline": True}
    result: Callable[..., Any] = njit(**options, **OPTIONS)(function)
    return result


def inlined(function: Callable[..., Any]) -> Callable[..., Any]:
    """A function that only kernels call; it is compiled into them."""
    result: Callable[..., Any] = njit(no_cpython_wrapper=True, no_cfunc_wrapper=True, **OPTIONS)(function)
    return result
