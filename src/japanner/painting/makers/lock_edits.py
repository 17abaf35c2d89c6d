"""What a hand has done to single locks of a mass of hair: taken away, moved, bent or cut."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError

__all__ = ["KINDS", "LockEdit", "edited", "edits_from"]

Floats = NDArray[np.floating]
KINDS: Final = ("away", "moved", "bent", "cut")
MOST: Final = 4000
REACH: Final = 0.32
"""Over so much of its length to either side a bend fades."""


class LockEdit(NamedTuple):
    """One thing done to lock `lock` of size `level`. x, y: how far, px; at: where along it, 0 root to 1 tip."""

    level: int
    lock: int
    what: str
    x: float = 0.0
    y: float = 0.0
    at: float = 1.0

    def scaled(self, factor: float) -> LockEdit:
        """The same on a canvas `factor` times as large."""
        return self._replace(x=self.x * factor, y=self.y * factor)


def edits_from(name: str, value: Any) -> tuple[LockEdit, ...]:
    """Edits from rows of their fields, checked."""
    if not isinstance(value, Sequence) or isinstance(value, str) or len(value) > MOST:
        raise InputError(f"{name}: expected at most {MOST} rows, got {checks.shown(value)}")
    found = []
    for row in value:
        if not isinstance(row, Sequence) or isinstance(row, str) or not 3 <= len(row) <= 6:
            raise InputError(f"{name}: expected rows of size, number and what was done, got {checks.shown(row)}")
        edit = LockEdit(*row)
        found.append(LockEdit(
            int(checks.integer("size", edit.level, 0, 10)), int(checks.integer("lock", edit.lock, 0, 100_000)),
            checks.one_of("what", edit.what, KINDS), float(checks.number("x", edit.x, -1e5, 1e5)),
            float(checks.number("y", edit.y, -1e5, 1e5)), float(checks.number("at", edit.at, 0, 1)),
        ))  # fmt: skip
    return tuple(found)


def edited(lines: Floats, level: int, edits: Sequence[LockEdit]) -> tuple[Floats, NDArray[np.bool_]]:
    """Lines (n, m, 2) of the locks of one size after all that was done to them, and which are still there.

    A lock that is bent keeps its length.
    """
    kept = np.ones(len(lines), bool)
    own = [one for one in edits if one.level == level and one.lock < len(lines)]
    if not own:
        return lines, kept
    lines = np.array(lines, float)
    for edit in own:
        if edit.what == "away":
            kept[edit.lock] = False
        else:
            lines[edit.lock] = _changed(lines[edit.lock], edit)
    return lines, kept


def _changed(line: Floats, edit: LockEdit) -> Floats:
    share = np.linspace(0, 1, len(line))
    if edit.what == "moved":
        return line + np.array((edit.x, edit.y))
    if edit.what == "cut":
        at = max(edit.at, 0.04)
        return np.stack([np.interp(share * at, share, line[:, k]) for k in (0, 1)], axis=1)
    steps = np.diff(line, axis=0)
    long = np.linalg.norm(steps, axis=1)
    # The root stays; beyond the place that is dragged the rest follows.
    weight = np.where(share < edit.at, np.exp(-(((share - edit.at) / REACH) ** 2)), 1.0) * np.minimum(share / 0.08, 1)
    pulled = np.diff(line + weight[:, None] * np.array((edit.x, edit.y)), axis=0)
    pulled *= (long / np.maximum(np.linalg.norm(pulled, axis=1), 1e-9))[:, None]
    return np.concatenate((line[:1], line[0] + np.cumsum(pulled, axis=0)))
