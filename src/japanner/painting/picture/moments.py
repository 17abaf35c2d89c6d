"""Moments of a painting's growth, as small pictures: replaying thousands of strokes would take minutes."""

from __future__ import annotations

from dataclasses import dataclass
from io import BytesIO
from typing import Final

import cv2
import numpy as np
from PIL import Image

from japanner.painting.model import Painting
from japanner.painting.picture.compositor import flattened
from japanner.raster.tiles import straight

__all__ = ["Moment", "moment_of"]

LONGEST_PX: Final = 720
QUALITY: Final = 82


@dataclass(frozen=True)
class Moment:
    """How a painting looked after so many `strokes`, in a `stage`; picture: JPEG, ISO/IEC 10918-1."""

    stage: str
    strokes: int
    picture: bytes


def moment_of(painting: Painting, stage: str, strokes: int) -> Moment:
    """The painting as it is now, at most `LONGEST_PX` px long."""
    pixels = (straight(flattened(painting).read(painting.rect))[:3] >> 8).astype(np.uint8).transpose(1, 2, 0)
    scale = min(LONGEST_PX / max(painting.width, painting.height), 1.0)
    size = (max(round(painting.width * scale), 1), max(round(painting.height * scale), 1))
    file = BytesIO()
    Image.fromarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA)).save(file, "JPEG", quality=QUALITY)
    return Moment(stage, strokes, file.getvalue())
