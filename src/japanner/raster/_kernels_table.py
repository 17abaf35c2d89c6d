"""Looking a table up between its entries; compiled into the kernels that use it."""

from __future__ import annotations

import numpy as np
from numba import uintp

from japanner._numba import inlined

F = np.float32


@inlined
def between(table, position):
    """Linear interpolation in a table at `position` 0..1."""
    scaled = position * F(table.size - 1)
    # By way of int32: the machine has no quick conversion from float to a 64-bit unsigned number.
    index = uintp(np.int32(scaled))
    low, high = table[index], table[min(index + uintp(1), uintp(table.size - 1))]
    return low + (high - low) * (scaled - F(np.int32(scaled)))
