"""What lies behind a part, bent as clear things bend it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color.tables import decode_table
from japanner.painting.model import Painting, Part
from japanner.painting.picture.compositor import flattened
from japanner.raster.geometry import Rect

__all__ = ["behind", "bent", "light_of", "sampled"]

Plane = NDArray[np.float32]
FULL: Final = 65535


def behind(painting: Painting, part: Part) -> Plane:
    """Linear light (3, h, w) of the whole canvas, of the ground and the parts that stand behind this one."""
    index = painting.parts.index(part)
    return light_of(replace(painting, parts=painting.parts[:index]))


def light_of(painting: Painting) -> Plane:
    """Linear light (3, h, w) of a painting on its ground."""
    codes = flattened(painting).read(painting.rect)
    if int(codes[3].min()) < FULL:
        bare = np.asarray(painting.ground, np.float32)[:, None, None] * (np.float32(FULL) - codes[3])
        codes = np.rint(codes[:3] + bare).astype(np.uint16)
    return decode_table()[codes[:3]]


def bent(light: Plane, area: Rect, shift: tuple[Plane, Plane], soft_px: float = 0.0) -> Plane:
    """The light (3, h, w) that is seen in `area` when every place looks (x, y) px to the right and down of itself."""
    ys, xs = np.mgrid[area.y0 : area.y1, area.x0 : area.x1].astype(np.float32) + np.float32(0.5)
    seen = light if soft_px < 0.3 else np.stack([cv2.GaussianBlur(one, (0, 0), soft_px) for one in light])
    return sampled(seen, xs + shift[0], ys + shift[1])


def sampled(light: Plane, x: NDArray[Any], y: NDArray[Any]) -> Plane:
    """Light (3, h, w) of a canvas at places x, y (any two-dimensional shape); beyond its border it is mirrored."""
    at = (np.asarray(x, np.float32) - np.float32(0.5)), (np.asarray(y, np.float32) - np.float32(0.5))
    return np.stack(
        [cv2.remap(np.ascontiguousarray(one), *at, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT) for one in light]
    )
