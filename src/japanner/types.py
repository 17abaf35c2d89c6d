"""Type aliases that many files need."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

__all__ = ["Colour", "Plane", "Record", "Tile"]

Colour = tuple[float, float, float]
"""An encoded sRGB colour, 0..1, unless its name says otherwise."""
Plane = NDArray[np.floating]
"""Values over an area, (h, w) or (channels, h, w)."""
Record = dict[str, Any]
"""JSON-ready data."""
Tile = NDArray[np.uint16]
"""Premultiplied codes (channels, TILE, TILE)."""
