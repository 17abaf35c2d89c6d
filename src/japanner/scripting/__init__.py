"""Painting from a script, without the window: see docs/scripting.md."""

from __future__ import annotations

from japanner.color.value import srgb_from_lch as lch
from japanner.scripting.on_form import Comb, CombRule, OnForm
from japanner.scripting.script import Script
from japanner.stroke.brush.shipped import shipped_brush

__all__ = ["Comb", "CombRule", "OnForm", "Script", "lch", "shipped_brush"]
