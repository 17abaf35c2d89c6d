"""Chance that repeats: numbers that follow from a seed, the number of a dab, and what they are for."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["Chance"]

GOLDEN, MIX1, MIX2 = (np.uint64(n) for n in (0x9E3779B97F4A7C15, 0xBF58476D1CE4E5B9, 0x94D049BB133111EB))


class Chance:
    """The chances of `count` dabs from number `first` on; how a stroke is cut into pieces does not change them."""

    def __init__(self, seed: int, first: int, count: int) -> None:
        self._seed = np.uint64(seed & 0xFFFFFFFFFFFFFFFF)
        self._dabs = np.arange(first, first + count, dtype=np.uint64)

    @staticmethod
    def numbered(seed: int, numbers: NDArray[np.uint64]) -> Chance:
        """The chances of dabs with these numbers, of any shape."""
        chance = Chance(seed, 0, 0)
        chance._dabs = numbers
        return chance

    def where(self, chosen: NDArray[np.bool_]) -> Chance:
        """The chances of some of them."""
        chance = Chance(0, 0, 0)
        chance._seed, chance._dabs = self._seed, self._dabs[chosen]
        return chance

    def of(self, purpose: int) -> NDArray[np.float64]:
        """Numbers in 0..1, one for each dab (splitmix64: Steele, Lea & Flood 2014)."""
        with np.errstate(over="ignore"):
            z = (self._dabs * np.uint64(64) + np.uint64(purpose) + np.uint64(1)) * GOLDEN + self._seed * MIX2
            z = (z ^ (z >> np.uint64(30))) * MIX1
            z = (z ^ (z >> np.uint64(27))) * MIX2
            z ^= z >> np.uint64(31)
        result: NDArray[np.float64] = (z >> np.uint64(11)).astype(np.float64) / (1 << 53)
        return result
