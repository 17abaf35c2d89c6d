"""The painting's light as shading takes it, and lights to begin from."""

from __future__ import annotations

import math
from typing import Final

import numpy as np

from japanner.color import srgb
from japanner.color.temperature import light_colour
from japanner.light.sources import Sources
from japanner.painting.model import Light

__all__ = ["LIGHTS", "sources_of"]

LIGHTS: Final[dict[str, Light]] = {
    "studio": Light(),
    "window": Light(38.0, -58.0, 6200.0, size_deg=28.0, sky=0.12, bounce=0.20),
    "noon": Light(72.0, 12.0, 5500.0, key=1.35, size_deg=0.53, sky=0.30, sky_kelvin=11000.0, bounce=0.40),
    "lamp from below": Light(-42.0, 14.0, 2600.0, size_deg=12.0, sky=0.05, bounce=0.06),
    "overcast": Light(80.0, 0.0, 7000.0, key=0.45, size_deg=100.0, sky=0.75, bounce=0.30),
    "rim": Light(34.0, 148.0, 5200.0, key=1.2, sky=0.10, bounce=0.14, rim=1.6, rim_right_deg=-150.0),
}
"""Lights by name (our choice of numbers; the sun is about half a degree wide)."""


def sources_of(light: Light) -> Sources:
    """The light in linear light; colours have luminance 1 times their strength."""
    bounce = tuple(float(v) for v in srgb.decode(np.array(light.bounce_colour)))
    return Sources(
        light.direction,
        _strong(light_colour(light.kelvin), light.key),
        _strong(light_colour(light.sky_kelvin), light.sky),
        _strong(bounce, light.bounce),
        math.tan(math.radians(light.size_deg) / 2),
        light.rim_direction,
        _strong(light_colour(light.rim_kelvin), light.rim),
        light.rim_size_deg,
    )


def _strong(linear: tuple[float, ...], strength: float) -> tuple[float, float, float]:
    values = np.asarray(linear, float)
    scale = strength / max(float(srgb.luminance(values)), 1e-4)
    r, g, b = (float(v) for v in values * scale)
    return r, g, b
