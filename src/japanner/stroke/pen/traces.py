"""Six strokes of a hand, to try brushes with where there is no pen: places, pressure, tilt and time."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.stroke.pen.samples import PenSample

__all__ = ["TRACES", "trace"]

Path = NDArray[np.float64]
STEP_MS: Final = 8.0
TREMOR: Final = 0.002


def _flick(t: Path) -> tuple[Path, Path, Path]:
    return t**1.4, 0.25 * (1 - t) ** 2 - 0.1, np.minimum(1, 12 * t) * (1 - t) ** 0.8


def _slow_s(t: Path) -> tuple[Path, Path, Path]:
    return t, 0.22 * np.sin(2 * np.pi * t), 0.15 + 0.85 * np.sin(np.pi * t) ** 0.8


def _hatch(t: Path) -> tuple[Path, Path, Path]:
    strokes = 7
    within = (t * strokes) % 1
    number = np.floor(np.minimum(t * strokes, strokes - 1e-9))
    down = np.where(within < 0.7, within / 0.7, 1 - (within - 0.7) / 0.3)
    return number / strokes + 0.14 * down, 0.6 * down - 0.3, np.where(within < 0.7, 0.75, 0.0)


def _spiral(t: Path) -> tuple[Path, Path, Path]:
    turn = 2 * np.pi * 3.5 * t
    radius = 0.05 + 0.4 * t
    return 0.5 + radius * np.cos(turn), radius * np.sin(turn), 0.3 + 0.6 * t


def _zigzag(t: Path) -> tuple[Path, Path, Path]:
    return t, 0.5 * np.abs((t * 6) % 2 - 1) - 0.25, np.full_like(t, 0.7)


def _long_lock(t: Path) -> tuple[Path, Path, Path]:
    return t, 0.3 * np.sin(1.5 * np.pi * t) * (1 - 0.4 * t), np.minimum(1, 8 * t) * (1 - 0.9 * t)


TRACES: Final[dict[str, tuple[Callable[[Path], tuple[Path, Path, Path]], float]]] = {
    "short flick": (_flick, 140.0),
    "slow S": (_slow_s, 1600.0),
    "hatch": (_hatch, 1500.0),
    "spiral": (_spiral, 1800.0),
    "zig-zag": (_zigzag, 1200.0),
    "long lock": (_long_lock, 700.0),
}
"""By name: the shape, one wide, and how long the hand took for it in ms."""


@lru_cache(maxsize=8)
def trace(name: str) -> tuple[PenSample, ...]:
    """Samples of a stroke one unit wide around the origin, a report every 8 ms, with the tremor of a hand."""
    shape, duration = TRACES[name]
    times = np.arange(0, duration + STEP_MS, STEP_MS)
    x, y, pressure = shape(np.clip(times / duration, 0, 1))
    rng = np.random.default_rng(len(name))
    shake = np.cumsum(rng.normal(0, TREMOR, (2, len(times))), axis=1)
    shake -= shake.mean(axis=1, keepdims=True)
    pressure = np.clip(pressure + 0.02 * rng.normal(size=len(times)), 0.02, 1)
    tilt = 25 + 4 * np.sin(times / 170)
    rows = zip(x - 0.5 + 0.3 * shake[0], y + 0.3 * shake[1], pressure, tilt, times, strict=True)
    return tuple(PenSample(float(a), float(b), float(p), float(k), -12.0, 0.0, float(t)) for a, b, p, k, t in rows)
