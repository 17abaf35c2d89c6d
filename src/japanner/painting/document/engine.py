"""The version of all that is worked out: strokes, makers, filters.

A record replayed by the engine that made it gives the same bits. By another engine it may not: then pixels that were
kept count, and not what replaying comes to.
"""

from __future__ import annotations

from typing import Final

__all__ = ["ENGINE", "FIRST_ENGINE"]

FIRST_ENGINE: Final = 1
"""What stands in files and journals from before they named one."""
ENGINE: Final = 4
"""Raise it with any change to what an operation comes to."""
