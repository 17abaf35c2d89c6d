"""People to begin from, and others by chance."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final
from zlib import crc32

import numpy as np

from japanner import checks
from japanner.light.figure.sliders import ORIGINS, checked, sliders

__all__ = ["PEOPLE", "another_person", "person", "uneven"]

EVEN: Final = 0.22
"""Deviation of the sliders of asymmetry: no face is even."""
FEATURE: Final = 0.2
"""Deviation of the sliders of features between people."""
WIDEST: Final = 0.75
FEATURES: Final = ("head", "forehead and brows", "eyes", "nose", "mouth", "chin and jaw", "cheeks", "ears",
                   "neck and shoulders")  # fmt: skip

# Origins, then what is told of everybody. All of them are made up.
_PEOPLE: Final[dict[str, dict[str, float]]] = {
    "Ione Marrash": {
        "African": 1.0, "man": 0.0, "age": 29.0, "cheek bones": 0.45, "jaw forward": -0.15, "chin projection": 0.25,
        "upper fullness": -0.15, "lower fullness": 0.1, "eye size": 0.15, "outer corner": 0.2,
        "brow angle": 0.25,
        "nose width": -0.15, "wings width": -0.2, "neck length": 0.2, "head width": -0.1, "lid fold": 0.2,
    },
    "Tobit Wrenfold": {
        "European": 1.0, "man": 1.0, "age": 24.0, "nose length": 0.25, "hump": 0.2, "tip width": -0.15, "weight": -0.25,
        "cheek fullness": -0.2, "chin width": 0.15, "brow ridge": 0.1, "eye size": 0.1, "upper height": -0.1,
        "ears stand off": 0.3, "neck length": 0.15,
    },
    "Hesper Doon": {
        "European": 1.0, "man": 0.0, "age": 71.0, "wrinkles": 0.2, "nose length": 0.3, "tip height": -0.25,
        "lobe": 0.5, "bags": 0.4, "cheek fullness": -0.3, "laugh lines": 0.4, "weight": -0.1,
    },
    "Amadi Quill": {
        "African": 1.0, "man": 1.0, "age": 52.0, "weight": 0.3, "face fat": 0.25, "nose width": 0.25,
        "brow ridge": -0.1, "double chin": 0.25, "chin width": 0.3, "laugh lines": 0.25, "bags": 0.25,
    },
    "Sora Venn": {
        "Asian": 1.0, "man": 0.0, "age": 22.0, "cheek fullness": 0.2, "head length": 0.1, "chin width": -0.25,
        "lid fold": 0.2, "nose projection": 0.1, "lower fullness": 0.2, "neck width": -0.15,
    },
    "Bao Tarn": {
        "Asian": 1.0, "man": 1.0, "age": 64.0, "weight": -0.2, "cheek bones": 0.4, "bags": 0.35, "hollow cheeks": 0.3,
        "lobe": 0.4, "nose width": 0.15, "laugh lines": 0.3,
    },
    "Pell Osric": {
        "European": 0.8, "Asian": 0.2, "man": 0.8, "age": 9.0, "cheek fullness": 0.2, "nose length": -0.1,
        "ears stand off": 0.3,
    },
    "Lio Marrash": {"African": 0.9, "European": 0.1, "man": 0.3, "age": 6.0, "cheek fullness": 0.25, "eye size": 0.1},
    "Wren Calloway": {
        "European": 0.5, "African": 0.5, "man": 0.0, "age": 38.0, "cheek bones": 0.3, "mouth width": 0.2,
        "chin height": 0.15, "nose curve": -0.15, "brow height": 0.15, "lower fullness": 0.2,
    },
    "Ishan Thole": {
        "European": 0.55, "Asian": 0.45, "man": 1.0, "age": 33.0, "hump": 0.3, "nose length": 0.2, "brow ridge": 0.3,
        "lower fullness": 0.15, "eye size": 0.15, "muscle": 0.3, "neck width": 0.25,
    },
    "Old Marl": {
        "European": 0.9, "African": 0.1, "man": 1.0, "age": 83.0, "weight": -0.35, "hollow cheeks": 0.5, "lobe": 0.6,
        "nose length": 0.4, "tip height": -0.3, "bags": 0.5, "ear size": 0.4, "temples": -0.3,
    },
    "Yuna Sedge": {
        "Asian": 0.5, "European": 0.5, "man": 0.0, "age": 46.0, "weight": 0.35, "face fat": 0.3,
        "double chin": 0.3, "mouth width": 0.15, "cheek height": 0.1, "laugh lines": 0.2,
    },
}  # fmt: skip


def uneven(seed: int, amount: float = 1.0) -> dict[str, float]:
    """Sliders of asymmetry by chance; amount 1 is as people are, 0 none."""
    checks.number("amount", amount, 0, 3)
    random = np.random.default_rng(seed)
    names = _of(("asymmetry",))
    drawn = np.clip(random.normal(0, EVEN * amount, len(names)), -WIDEST, WIDEST).round(2)
    return {name: float(value) for name, value in zip(names, drawn, strict=True) if value}


def _of(chapters: Iterable[str]) -> list[str]:
    return [name for name, one in sliders().items() if one.chapter in chapters]


def person(name: str) -> dict[str, float]:
    """The sliders of one of the people to begin from."""
    checks.one_of("person", name, _PEOPLE)
    own = _PEOPLE[name]
    origins = {origin: own.get(origin, 0.0) for origin in ORIGINS}
    return checked({**uneven(crc32(name.encode())), **origins, **own})


def another_person(seed: int) -> dict[str, float]:
    """Somebody by chance: any age from six on, any origin or mixture, features as far apart as people's are."""
    random = np.random.default_rng(seed)
    names = [one for one in _of(FEATURES) if not sliders()[one].seldom]
    mixed = random.dirichlet((0.35, 0.35, 0.35))
    drawn = np.clip(random.normal(0, FEATURE, len(names)), -WIDEST, WIDEST)
    # A child's features are not yet far apart.
    age = float(np.clip(6 + 84 * random.beta(1.4, 1.8), 6, 90))
    drawn *= min(age / 25, 1.0)
    lows = np.array([sliders()[one].low for one in names])
    features = dict(zip(names, np.maximum(drawn, lows).round(2).tolist(), strict=True))
    weight, muscle = (float(np.clip(random.normal(0, 0.35), -0.8, 0.8).round(2)) for _ in range(2))
    origins = {origin: float(share.round(2)) for origin, share in zip(ORIGINS, mixed, strict=True)}
    # Sex is told by more than one thing: most are near either end.
    man = float(np.clip(random.choice((0.08, 0.92)) + random.normal(0, 0.08), 0, 1).round(2))
    whole = {"man": man, "age": float(round(age)), "weight": weight, "muscle": muscle}
    return checked({**uneven(seed + 1), **features, **origins, **whole})


PEOPLE: Final = tuple(_PEOPLE)
