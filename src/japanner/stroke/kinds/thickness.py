"""What a brush does to the thickness of the paint: the same stroke, on the raster of heights."""

from __future__ import annotations

from typing import Final

from japanner.light.relief import THICKEST_PX
from japanner.stroke.brush import Brush

__all__ = ["thickness_brush"]

RIDGES: Final = 26
"""Nicks in a blade."""


def thickness_brush(brush: Brush, *, wipe: bool = False) -> Brush | None:
    """The brush that paints the heights, in black, while `brush` paints; None if it leaves them alone.

    Each stroke piles up its own thickness on what is left to the thickest, so that paint never grows past it.
    """
    plain = brush.with_changes(
        mixing="encoded", jitter_hue=0.0, jitter_value=0.0, keep_grain_px=0.0, pick_from="layer", pick_up=False,
    )  # fmt: skip
    ridged = brush.does.blade and brush.thick_px > 0
    if wipe or (brush.does.takes_along and not ridged):
        return plain
    if not (brush.does.piles_up or ridged) or not brush.thick_px:
        return None
    kind = "spots" if brush.does.strews else "lay"
    strength = brush.strength * min(brush.thick_px / THICKEST_PX, 1.0)
    laid = plain.with_changes(kind=kind, strength=strength, wetness=0.0)
    # A blade leaves what its nicks let through, in ridges along its way.
    return laid.with_changes(dry_px=0.0, bristles=RIDGES) if ridged else laid
