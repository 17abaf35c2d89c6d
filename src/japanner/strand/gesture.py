"""What becomes of the line that a hand draws, as hair springs: it bows, it falls, and its end is drawn out."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

__all__ = ["swung"]

Floats = NDArray[np.floating]
FULL_BOW: Final = 0.35
"""Height of the bow at an arch of 1, as a share of the chord."""
FULL_FALL: Final = 2.5
"""How much stronger than the way of the line the fall is at its tip, at a gravity of 1."""
LONGEST_FLICK: Final = 0.8
"""The most that is drawn out, as a share of the line."""
END: Final = 0.25
"""The share of a line that says how it goes on."""


def swung(line: Floats, arch: float = 0.0, gravity: float = 0.0, flick_px: float = 0.0) -> Floats:
    """A line (k, 2) in canvas px (y down), root to tip, as hair would lie.

    flick_px: its end is drawn out by so much, in points of its own. arch: -1..1, it bows up (or down), the more the
    flatter it lies. gravity: 0..1, it falls more and more towards its tip, and keeps its length.
    """
    if len(line) < 2 or not (arch or gravity or flick_px):
        return line
    if flick_px:
        line = _drawn_out(line, flick_px)
    if arch:
        line = _bowed(line, arch)
    return _fallen(line, gravity) if gravity else line


def _drawn_out(line: Floats, flick_px: float) -> Floats:
    steps = np.diff(line, axis=0)
    far = np.hypot(*steps.T)
    whole = float(far.sum())
    if whole < 1e-6:
        return line
    flick_px = min(flick_px, LONGEST_FLICK * whole)
    run = np.r_[0, np.cumsum(far)]
    last = run[1:] > (1 - END) * whole
    angles = np.unwrap(np.arctan2(steps[:, 1], steps[:, 0]))[last]
    # It goes on as it has been turning, and less and less so.
    turn = (angles[-1] - angles[0]) / (END * whole) if len(angles) > 2 else 0.0
    count = max(int(flick_px / 3), 2)
    at = np.linspace(0, flick_px, count + 1)[1:]
    angle = np.median(angles[-3:]) + np.clip(turn * at * (1 - at / flick_px / 2), -0.8, 0.8)
    way = np.stack((np.cos(angle), np.sin(angle)), axis=1) * (flick_px / count)
    return np.concatenate((line, line[-1] + np.cumsum(way, axis=0)))


def _bowed(line: Floats, arch: float) -> Floats:
    chord = line[-1] - line[0]
    long = float(np.hypot(*chord))
    if long < 1e-6:
        return line
    way = chord / long
    share = np.clip((line - line[0]) @ way / long, 0, 1)
    # Upwards, whichever way it runs; what stands upright has no side to bow to.
    up = np.array((way[1], -way[0])) * np.tanh(3 * way[0])
    result: Floats = line + up * (4 * share * (1 - share) * arch * FULL_BOW * long)[:, None]
    return result


def _fallen(line: Floats, gravity: float) -> Floats:
    steps = np.diff(line, axis=0)
    far = np.maximum(np.hypot(*steps.T), 1e-12)
    share = np.cumsum(far) / far.sum()
    way = steps / far[:, None]
    # What stands upright falls to the side that it leans to.
    way[:, 0] += 0.3 * gravity * share * np.clip(-way[:, 1], 0, 1) * (np.sign(way[:, 0].sum()) or 1.0)
    way[:, 1] += gravity * FULL_FALL * share**1.5
    way *= (far / np.maximum(np.hypot(*way.T), 1e-9))[:, None]
    return np.concatenate((line[:1], line[0] + np.cumsum(way, axis=0)))
