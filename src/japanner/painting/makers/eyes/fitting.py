"""Eyes of the maquette in the openings of its lids."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.form.forms import maquette_sheet
from japanner.painting.makers.base import Scene
from japanner.painting.makers.eyes.balls import Eyeball
from japanner.painting.makers.eyes.paint import Eye
from japanner.painting.model import Part

__all__ = ["fitted"]

AROUND_PX: Final = 8
REACH: Final = 1.25
"""A part's opening ends so many radii from the ball's middle."""


def fitted(scene: Scene, part: Part, balls: list[Eyeball], target: NDArray[np.float64]) -> list[Eye]:
    """The balls that are seen, behind what the part covers: as it is drawn, or else as the maquette shows it; they look
    at a place. InputError if there is none.
    """
    painting = scene.painting
    drawn = any(layer.pixels.tiles for layer in part.flats)
    sheet = silhouette_sheet(painting, part) if drawn else maquette_sheet(painting, part)
    area = sheet.bounds().grown(AROUND_PX).intersected(painting.rect)
    cover = sheet.coverage(area)
    eyes = [Eye.in_lids(scene, one, target, cover, area) for one in balls]
    # Each pixel is of the ball whose middle is nearest, in radii.
    away = np.stack([np.hypot(one.x, one.y) / one.globe for one in eyes])
    nearest, found = away.argmin(axis=0), []
    around = np.ones((AROUND_PX + 1, AROUND_PX + 1), np.uint8)
    for index, one in enumerate(eyes):
        own = np.where((nearest == index) & (away[index] < REACH), cover, np.float32(0))
        if own.max() > 0.5:
            alone = one.within(cv2.dilate((own > 0).view(np.uint8), around) > 0)
            rows = slice(alone.area.y0 - area.y0, alone.area.y1 - area.y0)
            columns = slice(alone.area.x0 - area.x0, alone.area.x1 - area.x0)
            found.append(alone.behind(own[rows, columns]))
    if not found:
        raise InputError(f"No ball of the maquette's lies where {part.name} is")
    return found
