"""Brushes: what they are, their files, tips and grain."""

from japanner.stroke.brush.record import (
    AIMS,
    BRUSH_KINDS,
    CHOICES,
    FLAGS,
    HAIR_DOES,
    LARGEST_PX,
    NUDGE_WAYS,
    NUMBERS,
    PICK_FROM,
    SMALLEST_PX,
    TAPER_BY,
    TIPS,
    TURNS,
    Brush,
)

__all__ = [
    "AIMS",
    "BRUSH_KINDS",
    "CHOICES",
    "FLAGS",
    "HAIR_DOES",
    "LARGEST_PX",
    "NUDGE_WAYS",
    "NUMBERS",
    "PICK_FROM",
    "SMALLEST_PX",
    "TAPER_BY",
    "TIPS",
    "TURNS",
    "Brush",
]
