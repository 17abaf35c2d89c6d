"""How well an entry fits what was typed: its own words before those of its menu, whole words before parts of words."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Final

__all__ = ["fit"]

# For a word that is there whole, that something begins with, and that something contains.
OWN: Final = (12.0, 8.0, 3.0)
AROUND: Final = (2.0, 1.0, 0.5)
RECENT: Final = 3.0
SPLIT: Final = re.compile(r"[^\w]+")


def fit(typed: Sequence[str], own: str, around: str = "", recent: int | None = None) -> float:
    """How well words that were typed fit an entry; 0 if any of them is nowhere in it.

    own: its own words. around: those of where it stands. recent: how many other entries were used since it was.
    """
    total = 0.0
    for word in typed:
        best = max(_best(word, own.lower(), OWN), _best(word, around.lower(), AROUND))
        if not best:
            return 0.0
        total += best
    bonus = RECENT / (1 + recent) if recent is not None else 0.0
    # Of equals, the one that says no more than was asked.
    return total + bonus + 1.0 / (1 + len(own)) + 1e-6


def _best(word: str, text: str, worth: tuple[float, float, float]) -> float:
    if word not in text:
        return 0.0
    parts = SPLIT.split(text)
    if word in parts:
        return worth[0] + (1 if parts[0] == word else 0)
    return worth[1] if any(part.startswith(word) for part in parts) else worth[2]
