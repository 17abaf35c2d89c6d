"""Words that depend on a number."""

from __future__ import annotations

__all__ = ["counted"]


def counted(number: int, what: str) -> str:
    """So many things, in words."""
    return f"{number} {what}" if number == 1 else f"{number} {what}s"
