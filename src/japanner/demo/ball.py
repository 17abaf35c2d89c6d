"""The sheet of the tour: a circle to shade, everything else ready."""

from __future__ import annotations

from functools import cache
from typing import Final

from japanner.color.value import srgb_from_value
from japanner.painting.document.document import Document
from japanner.painting.operations import SetFrisket
from japanner.scripting import Script
from japanner.types import Colour

__all__ = ["BALL", "ball_sheet", "halftone"]

SIZE: Final = (1600, 1200)
BALL: Final = (480.0, 270.0, 1120.0, 910.0)


def ball_sheet() -> Document:
    """A dark ground, a part for the ball with an empty flat, and a round frisket where the ball is to be."""
    script = Script.new(*SIZE, ppi=150.0, title="Ball in five values", ground=srgb_from_value(24, 0.012, 80))
    part = script.part("Ball", "plain")
    script.layer(part, "flat")
    x0, y0, x1, y1 = BALL
    script.do(SetFrisket({"shape": "oval", "x0": x0, "y0": y0, "x1": x1, "y1": y1}))
    script.document.begin_here()
    return script.document


@cache
def halftone() -> Colour:
    """The colour that its first tones are laid in."""
    return srgb_from_value(48, 0.055, 60)
