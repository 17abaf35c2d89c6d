"""Hanging cloth: threads held to their length, one after another, over and over (position based, Verlet 1967)."""

from __future__ import annotations

import numpy as np

from japanner._numba import I64, NUMBER, SERIES_IN, SPACE, SPANS_IN, inlined, kernel, void


@inlined
def _held(place, i, j, k, m, rest, stiff, folds):
    """Bring two points towards the distance `rest`; `folds`: only if they are nearer than that share of it."""
    x, y, z = place[k, m, 0] - place[i, j, 0], place[k, m, 1] - place[i, j, 1], place[k, m, 2] - place[i, j, 2]
    far = np.sqrt(x * x + y * y + z * z)
    if folds > 0.0:
        if far >= rest * folds:
            return
        rest = rest * folds
    move = (far - rest) / max(far, 1e-9) * 0.5 * stiff
    place[i, j, 0] += x * move
    place[i, j, 1] += y * move
    place[i, j, 2] += z * move
    place[k, m, 0] -= x * move
    place[k, m, 1] -= y * move
    place[k, m, 2] -= z * move


@kernel(void(SPACE, SPACE, SPANS_IN, SPACE, SERIES_IN, NUMBER, SERIES_IN, NUMBER, I64, I64))
def hang(place, former, hooks, where, across, down, drop, loose, steps, rounds):
    """Let cloth hang for so many steps.

    place, former (rows, columns, 3): now and a step ago. hooks (n, 2): rows and columns held at where (1, n, 3).
    across (rows,), down: lengths of threads, of cloth that is let out from `loose` of its size to all of it. drop (3,):
    how far it falls in a step, and whither.
    """
    rows, columns = place.shape[0], place.shape[1]
    for step in range(steps):
        grown = loose + (1 - loose) * min((step + 1) / (0.6 * steps), 1.0)
        long = down * grown
        for i in range(rows):
            for j in range(columns):
                for k in range(3):
                    now = place[i, j, k]
                    place[i, j, k] = now + (now - former[i, j, k]) * 0.94 + drop[k]
                    former[i, j, k] = now
        for _ in range(rounds):
            for i in range(rows):
                wide = across[i] * grown
                slant = np.sqrt(wide * wide + long * long)
                for j in range(columns):
                    if j + 1 < columns:
                        _held(place, i, j, i, j + 1, wide, 1.0, 0.0)
                    if i + 1 < rows:
                        _held(place, i, j, i + 1, j, long, 1.0, 0.0)
                    if i + 1 < rows and j + 1 < columns:
                        _held(place, i, j, i + 1, j + 1, slant, 0.6, 0.0)
                        _held(place, i, j + 1, i + 1, j, slant, 0.6, 0.0)
                    # Cloth bends, but not sharply.
                    if j + 4 < columns:
                        _held(place, i, j, i, j + 4, wide * 4, 0.4, 0.72)
                    if i + 4 < rows:
                        _held(place, i, j, i + 4, j, long * 4, 0.4, 0.9)
            for n in range(hooks.shape[0]):
                for k in range(3):
                    place[hooks[n, 0], hooks[n, 1], k] = where[0, n, k]
