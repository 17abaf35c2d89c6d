"""Moving what is off in proportion: a cage whose points pull landmarks to where the reference has them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.review.proportion import Place, Proportion

__all__ = ["CELLS", "cage_moves", "moved_places"]

Floats = NDArray[np.float64]
CELLS: Final = 10
"""Of the cage, across and down."""
BETWEEN: Final = 0.05
"""So much as one landmark counts that nothing moves: far from all of them, little does."""


def cage_moves(compared: Proportion, own: Mapping[str, Place], at: Floats, strength: float, softness: float) -> Floats:
    """How places of the canvas (..., 2) are to move, px, so that landmarks come to fit.

    own: where landmarks are on the canvas. strength: 0..1 of all that they are off. softness: how far each pulls what
    is around it along, in heights of the head, .03..1.
    """
    checks.number("strength", strength, 0, 1)
    checks.number("softness", softness, 0.03, 1)
    places = np.array([own[one.name] for one in compared.misfits], float)
    wanted = -np.array([(one.dx, one.dy) for one in compared.misfits], float)
    pulls = _pulls(places, wanted, softness * compared.head)
    weights = _weights(np.asarray(at, float), places, softness * compared.head)
    return np.asarray(strength * weights @ pulls, float)


def _weights(at: Floats, places: Floats, reach: float) -> Floats:
    far = np.linalg.norm(at[..., None, :] - places, axis=-1)
    near = np.exp(-0.5 * (far / reach) ** 2)
    return np.asarray(near / (near.sum(axis=-1, keepdims=True) + BETWEEN), float)


def _pulls(places: Floats, wanted: Floats, reach: float) -> Floats:
    """What each landmark has to pull so that all of them together come to where they are wanted, in least squares and
    without any pulling much more than it is off.
    """
    matrix = _weights(places, places, reach)
    damped = matrix.T @ matrix + 0.02 * np.eye(len(places))
    return np.asarray(np.linalg.solve(damped, matrix.T @ wanted), float)


def moved_places(own: Mapping[str, Place], moves: Mapping[str, Place]) -> tuple[tuple[str, float, float], ...]:
    """Landmarks after they have moved along."""
    return tuple(
        (name, round(x + moves.get(name, (0.0, 0.0))[0], 2), round(y + moves.get(name, (0.0, 0.0))[1], 2))
        for name, (x, y) in own.items()
    )
