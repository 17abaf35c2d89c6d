"""Checks of the picture: what a teacher would look at, measured, each with a word and a figure."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.painting.model import Painting
from japanner.painting.picture.picture import Picture
from japanner.review.region import Region, region_of
from japanner.review.separation import separation

__all__ = ["CHECKS", "Check", "Finding", "critique"]


@dataclass(frozen=True)
class Finding:
    """What a check has to say: a word, the figure behind it, and whether it is a fault."""

    word: str
    figure: str
    fault: bool


@dataclass(frozen=True)
class Check:
    """A check by its name, and what it asks.

    run: gets 0xffRRGGBB pixels (h, w) of the picture and where the part is in it; None where it has nothing to say.
    """

    name: str
    asks: str
    run: Callable[[NDArray[np.uint32], Region], Finding | None]


def _separation(pixels: NDArray[np.uint32], region: Region) -> Finding | None:
    found = separation(pixels, region)
    return None if found is None else Finding(found.word, f"{found.values:+.0f} L*", found.word != "clear")


CHECKS: Final = {
    one.name: one
    for one in [
        Check("part against ground", "Does the part stand out from what is around it?", _separation),
    ]
}


def critique(painting: Painting, part_uid: int) -> dict[str, Finding]:
    """What every check has to say of a part, by its name."""
    pixels = Picture(painting).levels[0]
    region = region_of(painting.part(part_uid), pixels.shape, 0)
    found = {name: check.run(pixels, region) for name, check in CHECKS.items()}
    return {name: finding for name, finding in found.items() if finding is not None}
