"""What a brush does to the thickness of the paint: the same stroke, on the raster of heights."""

from __future__ import annotations

from typing import Final

from japanner.light.relief import THICKEST_PX
from japanner.stroke.brush import Brush

__all__ = ["PILES_UP", "thickness_brush"]

PILES_UP: Final = ("lay", "spots", "scumble")
"""Kinds that may lay thick paint."""
TAKES_ALONG: Final = ("wipe", "smudge", "knife", "feather", "blur", "nudge")
"""Kinds that do to the thickness what they do to the paint."""


def thickness_brush(brush: Brush, *, wipe: bool = False) -> Brush | None:
    """The brush that paints the heights, in black, while `brush` paints; None if it leaves them alone.

    Each stroke piles up its own thickness on what is left to the thickest, so that paint never grows past it.
    """
    plain = brush.with_changes(
        mixing="encoded", jitter_hue=0.0, jitter_value=0.0, keep_grain_px=0.0, pick_from="layer", pick_up=False,
    )  # fmt: skip
    if wipe or brush.kind in TAKES_ALONG:
        return plain
    if brush.kind not in PILES_UP or not brush.thick_px:
        return None
    kind = "spots" if brush.kind == "spots" else "lay"
    strength = brush.strength * min(brush.thick_px / THICKEST_PX, 1.0)
    return plain.with_changes(kind=kind, strength=strength, wetness=0.0)
