"""The light of the painting."""

from __future__ import annotations

import math
from dataclasses import dataclass

from japanner import checks
from japanner.color.temperature import COOLEST_K, WARMEST_K
from japanner.stroke.engine import checked_colour

__all__ = ["Light"]


@dataclass(frozen=True)
class Light:
    """The light of the painting.

    The key: degrees above the horizon (-90..90) and to the right of the viewer (-180..180), colour in K, strength, and
    angular size in degrees, from a sun to a wide sky. sky, bounce: strength of the light from above and from the
    ground, with a colour in K and an encoded colour. rim: strength of a light from behind, with a direction, a width in
    degrees, and a colour in K; it is seen where nothing behind a form holds it off.
    """

    up_deg: float = 48.0
    right_deg: float = -40.0
    kelvin: float = 4300.0
    key: float = 1.0
    size_deg: float = 8.0
    sky: float = 0.22
    sky_kelvin: float = 8000.0
    bounce: float = 0.28
    bounce_colour: tuple[float, float, float] = (0.60, 0.50, 0.42)
    rim: float = 0.0
    rim_up_deg: float = 22.0
    rim_right_deg: float = 150.0
    rim_size_deg: float = 60.0
    rim_kelvin: float = 6500.0

    def __post_init__(self) -> None:
        checks.number("up_deg", self.up_deg, -90, 90)
        checks.number("right_deg", self.right_deg, -180, 180)
        checks.number("rim_up_deg", self.rim_up_deg, -90, 90)
        checks.number("rim_right_deg", self.rim_right_deg, -180, 180)
        checks.number("rim_size_deg", self.rim_size_deg, 1, 120)
        for name in ("kelvin", "sky_kelvin", "rim_kelvin"):
            checks.number(name, getattr(self, name), WARMEST_K, COOLEST_K)
        for name in ("key", "sky", "bounce", "rim"):
            checks.number(name, getattr(self, name), 0, 4)
        checks.number("size_deg", self.size_deg, 0.05, 120)
        checked_colour(self.bounce_colour)

    @property
    def direction(self) -> tuple[float, float, float]:
        """Unit vector towards the key: x right, y up, z towards the viewer."""
        return _way(self.up_deg, self.right_deg)

    @property
    def rim_direction(self) -> tuple[float, float, float]:
        """Unit vector towards the rim light."""
        return _way(self.rim_up_deg, self.rim_right_deg)


def _way(up_deg: float, right_deg: float) -> tuple[float, float, float]:
    up, right = math.radians(up_deg), math.radians(right_deg)
    return math.cos(up) * math.sin(right), math.sin(up), math.cos(up) * math.cos(right)
