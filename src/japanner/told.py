"""How long work tells how far it is."""

from __future__ import annotations

from collections.abc import Callable

__all__ = ["Told", "silent"]

Told = Callable[[float, str], None]
"""Gets a share done, 0..1, and words; it may end the work by raising."""


def silent(done: float, words: str) -> None:
    """Tells nobody."""
