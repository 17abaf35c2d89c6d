"""Checks of the picture: what a teacher would look at, measured. To add one, write its file and put it on the list."""

from __future__ import annotations

from typing import Final

from japanner.review.checks.eyes import CATCH, EYES, LEVEL
from japanner.review.checks.focus import FOCUS
from japanner.review.checks.ground import EDGES, GROUND
from japanner.review.checks.hair import HAIR
from japanner.review.checks.light import CAST, LIGHT
from japanner.review.checks.proportion import PROPORTION
from japanner.review.checks.skin import SKIN, UNDERTONES
from japanner.review.checks.surface import BARE, BLENDED, STRIPES, TEXTURE
from japanner.review.checks.values import CLIPPED, FLATS, MASSES, RANGE
from japanner.review.finding import Check

__all__ = ["CHECKS"]

_ALL: Final = (
    RANGE, CLIPPED, FLATS, MASSES, GROUND, EDGES, SKIN, UNDERTONES, BLENDED, TEXTURE, STRIPES, BARE, HAIR, LIGHT, CAST,
    EYES, LEVEL, CATCH, FOCUS, PROPORTION,
)  # fmt: skip
CHECKS: Final[dict[str, Check]] = {one.name: one for one in _ALL}
