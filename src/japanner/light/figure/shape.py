"""A figure's points from its sliders."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping
from functools import lru_cache
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.light.figure.data import FigureData, figure_data
from japanner.light.figure.sliders import ORIGINS, checked, sliders
from japanner.light.turning import turned

__all__ = ["HEAD_UNITS", "Shaped", "shaped"]

Floats = NDArray[np.float64]
HEAD_UNITS: Final = 2.0
"""Height of the head, chin to crown, of the grown-up of even mixture, in maquette units."""
HEAD_DM: Final = 2.144
PRESSED_DM: Final = 0.003
AGES: Final = ((1.0, 0), (11.0, 1), (25.0, 2), (90.0, 3))
STAGES: Final = ("baby", "child", "young", "old")


def shaped(values: Mapping[str, float]) -> Floats:
    """Points (n, 3) of the figure's mesh in maquette units, by values of sliders; the others are at rest.

    What the sliders of single features do adds up; person and expression go by the mixture of origins and the age.
    """
    return _shaped(tuple(sorted(checked(values).items()))).copy()


@lru_cache(maxsize=8)
def _shaped(values: tuple[tuple[str, float], ...]) -> Floats:
    data, given = figure_data(), dict(values)
    rest = _moved(data, data.points.astype(float), [*_person(given), *_features(given)])
    lips = _closed_lips(data, rest)
    whole = _moved(data, lips, _expression(given))
    # Where the eyes are before the head turns is where all people are told from.
    eyes = (whole[data.joints["left eye"]].mean(axis=0) + whole[data.joints["right eye"]].mean(axis=0)) / 2
    middle = np.array((0.0, eyes[1], (eyes[2] + whole[data.joints["head"], 2].mean()) / 2))
    return (_posed(data, whole, given) - middle) * (HEAD_UNITS / HEAD_DM)


def _value(given: Mapping[str, float], name: str) -> float:
    return given.get(name, sliders()[name].rest)


def _moved(data: FigureData, points: Floats, shares: list[tuple[str, float]]) -> Floats:
    weights = np.zeros(len(data.row))
    for target, share in shares:
        if target in data.row:
            weights[data.row[target]] += share
    return points + (data.targets.T @ weights).reshape(-1, 3)


def _person(given: Mapping[str, float]) -> Iterator[tuple[str, float]]:
    """The shares of whole persons that this one is mixed of."""
    sexes = {"male": _value(given, "man"), "female": 1 - _value(given, "man")}
    ages = _between(_value(given, "age"), AGES, STAGES)
    weight = _between(_value(given, "weight"), ((-1, 0), (0, 1), (1, 2)), ("min", "average", "max"))
    muscle = _between(_value(given, "muscle"), ((-1, 0), (0, 1), (1, 2)), ("min", "average", "max"))
    for sex, of_sex in sexes.items():
        for age, of_age in ages.items():
            for origin, of_origin in _origins(given).items():
                yield f"macrodetails/{origin}-{sex}-{age}", of_sex * of_age * of_origin
            for lean, of_lean in weight.items():
                for strong, of_strong in muscle.items():
                    name = f"macrodetails/universal-{sex}-{age}-{strong}muscle-{lean}weight"
                    yield name, of_sex * of_age * of_lean * of_strong


def _origins(given: Mapping[str, float]) -> dict[str, float]:
    shares = {target: _value(given, name) for name, target in ORIGINS.items()}
    total = sum(shares.values())
    return {name: share / total if total > 0 else 1 / 3 for name, share in shares.items()}


def _between(value: float, stops: tuple[tuple[float, int], ...], names: tuple[str, ...]) -> dict[str, float]:
    """The shares of the two stops that a value lies between."""
    at = float(np.interp(value, [stop for stop, _ in stops], [number for _, number in stops]))
    low = min(int(at), len(names) - 2)
    return {name: share for name, share in ((names[low], 1 - at + low), (names[low + 1], at - low)) if share}


def _features(given: Mapping[str, float]) -> Iterator[tuple[str, float]]:
    known = sliders()
    for name, value in given.items():
        if known[name].chapter != "expression":
            yield from ((target, abs(value)) for target in (known[name].more if value > 0 else known[name].less))


def _expression(given: Mapping[str, float]) -> list[tuple[str, float]]:
    known, origins = sliders(), _origins(given)
    return [
        (f"expression/units/{origin}/{target}", value * share)
        for name, value in given.items() if known[name].chapter == "expression"
        for target in known[name].more for origin, share in origins.items()
    ]  # fmt: skip


def _closed_lips(data: FigureData, points: Floats) -> Floats:
    """The lips brought together at rest, each by half of what is between them and a little more."""
    upper, lower = data.lips
    gap = points[upper, 1] - points[lower, 1]
    closed = points.copy()
    closed[:, 1] += data.closing @ (gap / 2 + PRESSED_DM)
    return closed


def _posed(data: FigureData, points: Floats, given: Mapping[str, float]) -> Floats:
    """The head turned on its neck, and the eyes in it."""
    points = points.copy()
    aside, up = _value(given, "gaze aside"), _value(given, "gaze up")
    if aside or up:
        for number, name in enumerate(data.groups):
            if name.endswith("eye"):
                own = np.unique(data.faces[data.group == number])
                middle = points[own].mean(axis=0)
                points[own] = (points[own] - middle) @ turned((aside, up, 0.0)).T + middle
    angles = np.array([_value(given, name) for name in ("turn", "nod", "tilt")])
    if not angles.any():
        return points
    # The neck bends along its length: every point is turned by its own share, about a place that rises with it.
    share = data.turned.astype(float)
    foot, skull = (points[data.joints[name]].mean(axis=0) for name in ("neck", "head"))
    pivot = foot + (skull - foot) * np.minimum(share, 1)[:, None]
    whole = scipy.spatial.transform.Rotation.from_matrix(turned(tuple(angles))).as_rotvec()
    steps = np.linspace(0, 1, 21)
    middle = [foot]
    for former, step in itertools.pairwise(steps):
        turn = scipy.spatial.transform.Rotation.from_rotvec(whole * (former + step) / 2)
        middle.append(middle[-1] + turn.apply((skull - foot) * (step - former)))
    bent = np.stack([np.interp(share, steps, np.array(middle)[:, axis]) for axis in range(3)], 1)
    turns = scipy.spatial.transform.Rotation.from_rotvec(whole * share[:, None])
    return turns.apply(points - pivot) + bent


Shaped = Floats
