"""Finding how a head stands, and whose it is, from landmarks on a picture."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.light.figure.data import figure_data
from japanner.light.figure.shape import HEAD_UNITS, Few
from japanner.light.figure.sliders import ORIGINS, checked, sliders
from japanner.light.turning import turned

__all__ = ["FEWEST", "FEWEST_SLIDERS", "Fit", "Standing", "fit", "landmarks"]

Floats = NDArray[np.float64]
Place = tuple[float, float]
FEWEST: Final = 6
FEWEST_SLIDERS: Final = 20
"""So many landmarks tell how a head stands, and so many whose it is."""
NOISE: Final = 0.003
"""How exactly landmarks are set, in heights of the head."""
WORST: Final = 0.12
"""Residuals above that (rms, in heights of the head) are those of no head."""
FLATTEST: Final = 0.02
"""Landmarks on one line: their spread across it, in shares of that along it."""
FITTED: Final = ("head", "forehead and brows", "eyes", "nose", "mouth", "chin and jaw", "cheeks", "ears",
                 "neck and shoulders")  # fmt: skip
DEVIATION: Final = 0.3
NEAR: Final = (0.11, 0.05)
"""One over the distance of the viewer, in units, and its deviation: between three and seven head's heights away."""


@dataclass(frozen=True)
class Standing:
    """How a figure stands before the canvas: fields as in `Maquette`."""

    middle: Place
    unit_px: float
    turn: tuple[float, float, float]
    eye: float


@dataclass(frozen=True)
class Fit:
    """What was found: how the figure stands, its sliders, and how far each landmark is off, in per cent of the head's
    height; rms of them.
    """

    standing: Standing
    sliders: dict[str, float]
    off: dict[str, float]
    rms: float


def landmarks() -> tuple[str, ...]:
    """The names of all landmarks of a figure."""
    return tuple(figure_data().landmarks)


def fit(
    places: Mapping[str, Place], begin: Mapping[str, float], told: Callable[[float], None] = lambda done: None
) -> Fit:
    """How a figure has to stand, and from `FEWEST_SLIDERS` landmarks on what sliders it needs, so that its landmarks
    are at these places of the canvas, px; least squares with a prior (Gauss 1809; sliders deviate little from `begin`).

    InputError for too few landmarks, for some on one line, and for what is no head.
    """
    names = list(places)
    for name in names:
        checks.one_of("landmark", name, landmarks())
    if len(names) < FEWEST:
        raise InputError(f"landmarks: expected {FEWEST} or more to find how a head stands, got {len(names)}")
    wanted = checks.in_range("landmarks", [places[name] for name in names], -1e6, 1e6)
    if _flatness(wanted) < FLATTEST:
        raise InputError("landmarks: they lie on one line; set some beside it")
    few = Few.of(np.array([figure_data().landmarks[name] for name in names]))
    # The head's own turn is part of how it stands.
    start = {name: value for name, value in checked(begin).items() if name not in ("turn", "nod", "tilt")}
    form = few.at(start)
    stands = _stands(form, wanted, _first(form, wanted))
    told(0.3)
    values = dict(start)
    if len(names) >= FEWEST_SLIDERS:
        stands, values = _with_sliders(few, wanted, stands, start, told)
    standing = _standing(stands)
    off = np.linalg.norm(_seen(few.at(values), stands) - wanted, axis=1) / (HEAD_UNITS * standing.unit_px)
    rms = float(np.sqrt((off**2).mean()))
    if not rms <= WORST:
        raise InputError(f"landmarks: they fit no head; they are off by {100 * rms:.0f} % of its height")
    told(1.0)
    return Fit(standing, values, {name: round(100 * float(one), 2) for name, one in zip(names, off, strict=True)},
               round(100 * rms, 3))  # fmt: skip


def _flatness(places: Floats) -> float:
    along, across = np.linalg.svd(places - places.mean(axis=0), compute_uv=False)
    return float(across / along) if along > 1e-6 else 0.0


# --- how it stands: x, y, log of px to a unit, yaw, pitch, roll in degrees, one over the distance of the viewer ----


def _seen(form: Floats, stands: Floats) -> Floats:
    """Where points (n, 3) of a figure are seen (n, 2)."""
    x, y, size, yaw, pitch, roll, near = stands
    there = form @ turned((yaw, pitch, roll)).T
    larger = np.exp(size) / np.maximum(1 - near * there[:, 2], 0.05)
    return np.stack((x + larger * there[:, 0], y - larger * there[:, 1]), axis=1)


def _first(form: Floats, wanted: Floats) -> Floats:
    """A first guess: the scaled turn, as seen from far away, that comes nearest."""
    own, flat = form - form.mean(axis=0), (wanted - wanted.mean(axis=0)) * (1, -1)
    rows = np.linalg.lstsq(own, flat, rcond=None)[0].T
    scale = float(np.linalg.norm(rows, axis=1).mean())
    if scale < 1e-9:
        raise InputError("landmarks: they lie in one place")
    u, _, vt = np.linalg.svd(np.vstack((rows / scale, np.cross(*(rows / scale)))))
    matrix = u @ np.diag((1, 1, np.linalg.det(u @ vt))) @ vt
    yaw, pitch, roll = scipy.spatial.transform.Rotation.from_matrix(matrix).as_euler("yxz", degrees=True)
    middle = wanted.mean(axis=0) - scale * (form.mean(axis=0) @ matrix.T)[:2] * (1, -1)
    return np.array((*middle, np.log(scale), yaw, -pitch, roll, NEAR[0]))


def _stands(form: Floats, wanted: Floats, first: Floats) -> Floats:
    def off(stands: Floats) -> Floats:
        return np.r_[_misfit(form, wanted, stands), (stands[6] - NEAR[0]) / NEAR[1]]

    scale = np.array((np.exp(first[2]), np.exp(first[2]), 1.0, 30.0, 30.0, 30.0, 0.1))
    found: Floats = scipy.optimize.least_squares(off, first, x_scale=scale, loss="soft_l1", max_nfev=200).x
    return found


def _misfit(form: Floats, wanted: Floats, stands: Floats) -> Floats:
    """In what landmarks are set by, both ways."""
    return ((_seen(form, stands) - wanted) / (NOISE * HEAD_UNITS * np.exp(stands[2]))).ravel()


def _standing(stands: Floats) -> Standing:
    x, y, size, yaw, pitch, roll, near = (float(one) for one in stands)
    turn = tuple(round((one + 180) % 360 - 180, 2) for one in (yaw, pitch, roll))
    return Standing((round(x, 2), round(y, 2)), round(float(np.exp(size)), 3), (turn[0], turn[1], turn[2]),
                    round(1 / max(near, 0.01), 3))  # fmt: skip


# --- whose it is ---------------------------------------------------------------------------------------------


def _with_sliders(
    few: Few, wanted: Floats, stands: Floats, start: Mapping[str, float], told: Callable[[float], None]
) -> tuple[Floats, dict[str, float]]:
    known = sliders()
    names = [name for name, one in known.items() if one.chapter in FITTED and one.fitted]
    names += ["man", "weight", *ORIGINS]
    begin = np.array([start.get(name, known[name].rest) for name in names])
    low, high = (np.array([getattr(known[name], end) for name in names]) for end in ("low", "high"))
    deviation = np.array([0.5 if name in ORIGINS or name == "man" else DEVIATION for name in names])
    fixed = {name: value for name, value in start.items() if name not in names}

    def values(found: Floats) -> dict[str, float]:
        return {**fixed, **dict(zip(names, found.tolist(), strict=True))}

    def off(both: Floats) -> Floats:
        pose, own = both[:7], both[7:]
        prior = (own - begin) / deviation
        return np.r_[_misfit(few.at(values(own)), wanted, pose), prior, (pose[6] - NEAR[0]) / NEAR[1]]

    size = np.exp(stands[2])
    scale = np.r_[size, size, 1.0, 30.0, 30.0, 30.0, 0.1, deviation]
    wide = np.r_[np.full(6, -np.inf), 0.0], np.r_[np.full(6, np.inf), 0.4]
    begin_inside = np.clip(begin, low + 1e-6, high - 1e-6)
    found = scipy.optimize.least_squares(
        off, np.r_[stands[:6], np.clip(stands[6], 0.001, 0.39), begin_inside], x_scale=scale, max_nfev=25,
        bounds=(np.r_[wide[0], low], np.r_[wide[1], high]),
    ).x  # fmt: skip
    told(0.9)
    return found[:7], checked({name: round(value, 3) for name, value in values(found[7:]).items()})
