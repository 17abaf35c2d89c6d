"""Metals by what they throw back straight on."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.light.shading import fresnel_schlick

__all__ = ["METALS", "metal_share", "mirrored"]

METALS: Final[dict[str, tuple[float, float, float]]] = {
    "brass": (0.910, 0.778, 0.423),
    "steel": (0.669, 0.639, 0.598),
    "gold": (1.035, 0.728, 0.365),
    "copper": (0.929, 0.623, 0.522),
    "pewter": (0.800, 0.790, 0.772),
    "iron": (0.530, 0.513, 0.494),
    "chrome": (0.549, 0.556, 0.554),
}
"""Linear RGB of the reflectance straight on, under D65, from optical constants: gold and copper, Johnson & Christy
1972; iron, the same 1974; brass (70 % copper), Querry 1985; stainless steel, Karlsson & Ribbing 1982. Pewter is our
choice for a dulled tin, of which .83 is published at the red end (Golovashkin & Motulevich 1964).
Chrome: Johnson & Christy 1974, the three numbers from memory. Gold's red is past
what a screen shows."""


def mirrored(normal: NDArray[np.floating]) -> NDArray[np.float32]:
    """Where the viewer's ray goes from a surface with these normals (3, h, w), seen from the front."""
    x, y, z = (np.asarray(plane, np.float32) for plane in normal)
    return np.stack((2 * z * x, 2 * z * y, 2 * z * z - 1))


def metal_share(straight: tuple[float, float, float], facing: NDArray[np.floating]) -> NDArray[np.float32]:
    """Share (3, h, w) that a metal mirrors where it is seen at an angle of cosine `facing` (Schlick 1994)."""
    share = fresnel_schlick(facing, np.minimum(np.asarray(straight), 1.0))
    return np.moveaxis(share * np.maximum(np.asarray(straight), 1.0), -1, 0).astype(np.float32)
