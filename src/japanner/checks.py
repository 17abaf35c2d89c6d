"""The input checks that stand in front of kernels and constructors.

Each raises `InputError` with the name of the argument, what was expected and what came.
"""

from __future__ import annotations

import reprlib
from collections.abc import Collection
from typing import Any, Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner.errors import InputError

__all__ = ["as_channels", "flag", "in_range", "integer", "number", "one_of", "shown", "text"]

_SHORT: Final = reprlib.Repr()
_SHORT.maxlevel, _SHORT.maxstring, _SHORT.maxother, _SHORT.maxlong = 2, 60, 60, 60


def shown(value: object) -> str:
    """A value as errors show it: short, however long or deeply nested it is."""
    return f"{_SHORT.repr(value):.80}"


def number(name: str, value: float, low: float, high: float) -> float:
    """Return `value` as float if it is finite and within `low`..`high`."""
    if isinstance(value, bool) or not isinstance(value, (int, float, np.integer, np.floating)):
        raise InputError(f"{name}: expected a number from {low:g} to {high:g}, got {shown(value)}")
    if not low <= value <= high:  # nor is NaN
        raise InputError(f"{name}: expected {low:g} to {high:g}, got {shown(value)}")
    return float(value)


def integer(name: str, value: int, low: int, high: int) -> int:
    """Return `value` if it is a whole number within `low`..`high`."""
    if isinstance(value, bool) or not isinstance(value, (int, np.integer)):
        raise InputError(f"{name}: expected a whole number from {low} to {high}, got {shown(value)}")
    if not low <= value <= high:
        raise InputError(f"{name}: expected {low} to {high}, got {shown(value)}")
    return int(value)


def flag(name: str, value: object) -> bool:
    """Return `value` if it is true or false."""
    if not isinstance(value, bool):
        raise InputError(f"{name}: expected true or false, got {shown(value)}")
    return value


def one_of(name: str, value: str, choices: Collection[str]) -> str:
    """Return `value` if it is one of `choices`."""
    if not isinstance(value, str) or value not in choices:
        raise InputError(f"{name}: expected one of {', '.join(choices)}, got {shown(value)}")
    return value


def text(name: str, value: str, longest: int = 200) -> str:
    """Return `value` if it is a string of 1 to `longest` printable characters."""
    if not isinstance(value, str) or not 1 <= len(value) <= longest or not value.isprintable():
        raise InputError(f"{name}: expected 1 to {longest} printable characters, got {shown(value)}")
    return value


def in_range(name: str, values: ArrayLike, low: float, high: float) -> NDArray[np.float64]:
    """Return `values` as float64 if all of them lie within `low`..`high` (NaN does not)."""
    try:
        array = np.asarray(values, dtype=np.float64)
    except (TypeError, ValueError, OverflowError):
        raise InputError(f"{name}: expected numbers from {low:g} to {high:g}, got {shown(values)}") from None
    bad = ~((array >= low) & (array <= high))
    if bad.any():
        place = tuple(int(i) for i in np.argwhere(bad)[0])
        raise InputError(
            f"{name}: expected {low:g} to {high:g}, got {array[place]:g} at {place}; "
            f"{int(bad.sum())} of {array.size} values are out of range"
        )
    return array


def as_channels(name: str, values: ArrayLike) -> NDArray[Any]:
    """Return `values` as a float array (float32 is kept) with three channels in the last axis."""
    array = np.asarray(values)
    if array.dtype != np.float32:
        array = array.astype(np.float64)
    if array.ndim == 0 or array.shape[-1] != 3:
        raise InputError(f"{name}: expected three channels in the last axis, got shape {array.shape}")
    return array
