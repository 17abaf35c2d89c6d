"""A figure's landmark pulled by hand: the sliders that bring it there."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.light.figure.data import figure_data
from japanner.light.figure.fit import FITTED, landmarks
from japanner.light.figure.shape import Few
from japanner.light.figure.sliders import checked, sliders

__all__ = ["pulled"]

Floats = NDArray[np.float64]
HELD: Final = 0.12
"""How much the other landmarks count against the one that is pulled."""
STIFF: Final = 0.02
"""How much a slider resists, in units a slider."""
STEP: Final = 0.05
STEPS: Final = 3


def pulled(values: Mapping[str, float], name: str, shift: Floats, *, both: bool = True) -> dict[str, float]:
    """Sliders with which a landmark is moved by `shift` (3,), in the figure's units, as far as faces go, and the others
    stay about where they are: a few steps of least squares that keep to the sliders. both: its mirror image comes
    along.
    """
    checks.one_of("landmark", name, landmarks())
    start, names = checked(values), landmarks()
    wanted = np.zeros((len(names), 3))
    weight = np.full(len(names), HELD)
    for one, sign in ((name, 1), (_mirrored(name) if both else name, -1)):
        if one != name or sign > 0:
            wanted[names.index(one)] = shift * (sign, 1, 1)
            weight[names.index(one)] = 1.0
    fitted, known = _fitted(), sliders()
    first = np.array([start.get(slider, known[slider].rest) for slider in fitted])
    low, high = (np.array([getattr(known[slider], end) for slider in fitted]) for end in ("low", "high"))
    here, found, way = _few().at(start), first, np.ones(len(fitted))
    # Sliders move points otherwise below their rest than above it: the second step knows which way they go.
    for _ in range(STEPS):
        now = {**start, **dict(zip(fitted, found.tolist(), strict=True))}
        places = _few().at(now)
        rows = (_slopes(now, fitted, found, way) * weight[:, None, None]).reshape(-1, len(fitted))
        short = ((here + wanted - places) * weight[:, None]).ravel()
        matrix = rows.T @ rows + STIFF**2 * np.eye(len(fitted))
        moved = np.linalg.solve(matrix, rows.T @ short + STIFF**2 * (first - found))
        found, way = np.clip(found + moved, low, high), np.where(moved < 0, -1.0, 1.0)
    return checked({**start, **dict(zip(fitted, found.round(3).tolist(), strict=True))})


def _mirrored(name: str) -> str:
    """The landmark on the other side; itself in the middle."""
    if name.startswith("left "):
        return f"right {name[5:]}"
    return f"left {name[6:]}" if name.startswith("right ") else name


@lru_cache(maxsize=1)
def _fitted() -> tuple[str, ...]:
    known = sliders()
    return tuple(name for name, one in known.items() if one.chapter in FITTED and not one.seldom)


@lru_cache(maxsize=1)
def _few() -> Few:
    return Few.of(np.array([figure_data().landmarks[name] for name in landmarks()]))


def _slopes(values: Mapping[str, float], fitted: tuple[str, ...], at: Floats, way: Floats) -> Floats:
    """How each landmark moves with each slider (landmarks, 3, sliders), asked for the way that it is to go."""
    few, known = _few(), sliders()
    rest = few.at(values)
    found = np.empty((*rest.shape, len(fitted)))
    for number, (name, value) in enumerate(zip(fitted, at, strict=True)):
        step = STEP * way[number]
        if not known[name].low <= value + step <= known[name].high:
            step = -step
        found[..., number] = (few.at({**values, name: value + step}) - rest) / step
    return found
