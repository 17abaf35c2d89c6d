"""A figure's points from its sliders."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.light.figure.data import FigureData, figure_data
from japanner.light.figure.sliders import ORIGINS, checked, sliders
from japanner.light.turning import turned

__all__ = ["HEAD_UNITS", "MM_UNITS", "Few", "shaped"]

Floats = NDArray[np.float64]
HEAD_UNITS: Final = 2.0
"""Height of the head, chin to crown, of the grown-up of even mixture, in maquette units."""
HEAD_DM: Final = 2.144
SCALE: Final = HEAD_UNITS / HEAD_DM
MM_UNITS: Final = SCALE / 100
"""Maquette units to a millimetre of a figure."""
WIDER: Final = np.array((1.17, 1.0, 1.0))
"""Eyeballs fill the corners of the lids, where the mesh leaves a gap."""
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
    rest = data.points + (data.targets.T @ _weights(data, at_rest(given))).reshape(-1, 3)
    rest[:, 1] += data.closing @ _gaps(rest[data.lips[0], 1], rest[data.lips[1], 1])
    whole = rest + (data.targets.T @ _weights(data, _expression(given))).reshape(-1, 3)
    joints = {name: whole[points].mean(axis=0) for name, points in data.joints.items()}
    return (_posed(data, whole, given) - _middle(joints)) * SCALE


def _gaps(upper: Floats, lower: Floats) -> Floats:
    """How far lips go to meet, each by half of what is between them and a little more."""
    return (upper - lower) / 2 + PRESSED_DM


def _middle(joints: Mapping[str, Floats]) -> Floats:
    """Where people are told from: between the eyes and the joint of the skull, as they are before the head turns."""
    eyes = (joints["left eye"] + joints["right eye"]) / 2
    return np.array((0.0, eyes[1], (eyes[2] + joints["head"][2]) / 2))


@dataclass(frozen=True, eq=False)
class Few:
    """Some points of the figure at rest, worked out quickly again and again, as when a likeness is sought."""

    points: Floats
    targets: Floats
    closing: Floats
    sizes: tuple[int, ...]

    @staticmethod
    def of(numbers: NDArray[np.int64]) -> Few:
        """Those of the figure's points with these numbers (k,)."""
        data = figure_data()
        groups = [numbers, *data.lips, *(data.joints[name] for name in ("left eye", "right eye", "head"))]
        whole = np.concatenate(groups)
        columns = (3 * whole[:, None] + np.arange(3)).ravel()
        targets = data.targets[:, columns].toarray().astype(float)
        return Few(
            data.points[whole].astype(float), targets, data.closing[numbers].astype(float),
            tuple(np.cumsum([len(one) for one in groups]).tolist()),
        )  # fmt: skip

    def at(self, values: Mapping[str, float]) -> Floats:
        """Where they are (k, 3), in maquette units; expression and pose do not count."""
        data = figure_data()
        found = self.points + (_weights(data, at_rest(values)) @ self.targets).reshape(-1, 3)
        own, upper, lower, left, right, head = np.split(found, self.sizes[:-1])
        own[:, 1] += self.closing @ _gaps(upper[:, 1], lower[:, 1])
        joints = {"left eye": left.mean(axis=0), "right eye": right.mean(axis=0), "head": head.mean(axis=0)}
        result: Floats = (own - _middle(joints)) * SCALE
        return result


def at_rest(given: Mapping[str, float]) -> list[tuple[str, float]]:
    """Targets and how far they count, without expression."""
    return [*_person(given), *_features(given)]


def _value(given: Mapping[str, float], name: str) -> float:
    return given.get(name, sliders()[name].rest)


def _weights(data: FigureData, shares: list[tuple[str, float]]) -> Floats:
    weights = np.zeros(len(data.row))
    for target, share in shares:
        if target in data.row:
            weights[data.row[target]] += share
    return weights


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


def _posed(data: FigureData, points: Floats, given: Mapping[str, float]) -> Floats:
    """The head turned on its neck, and the eyes in it."""
    points = points.copy()
    aside, up = _value(given, "gaze aside"), _value(given, "gaze up")
    for number, name in enumerate(data.groups):
        if name.endswith("eye"):
            own = np.unique(data.faces[data.group == number])
            middle = points[own].mean(axis=0)
            points[own] = (points[own] - middle) @ turned((aside, up, 0.0)).T * WIDER + middle
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
