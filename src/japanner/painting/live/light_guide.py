"""Where light falls on a part, as lines to paint over and as values to compare the paint with."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.painting.form.forms import Form
from japanner.painting.makers.base import Scene
from japanner.painting.makers.lay_in import target
from japanner.painting.model import Painting, Part
from japanner.raster.geometry import Rect

__all__ = ["LINES", "LightGuide", "difference", "light_guide"]

Line = NDArray[np.float32]

LINES: Final = ("values", "terminator", "highlight", "cast shadow")
"""Borders between the part's value steps; where the form turns out of the light; what mirrors it; where another form's
shadow ends."""
SHORTEST_PX: Final = 12


@dataclass(frozen=True, eq=False)
class LightGuide:
    """lines: by their kind (`LINES`), each (n, 2) canvas positions. value: L* that the paint should have over `area`,
    (h, w), NaN outside the silhouette.
    """

    lines: dict[str, tuple[Line, ...]]
    area: Rect
    value: NDArray[np.float32]


def light_guide(painting: Painting, part: Part) -> LightGuide:
    """The guide of a part under the painting's light; InputError while it has no silhouette."""
    scene = Scene(painting, part, {}, 1)
    value, _ = target(scene)
    form, scale = scene.form, np.asarray(part.scale)
    inside = form.cover > 0.5
    lines = {
        "values": [line for middle in (scale[1:] + scale[:-1]) / 2 for line in _borders(value - middle, inside)],
        "terminator": _borders(scene.facing(form.normal), inside),
        "highlight": _borders(scene.mirroring(form.normal) - np.float32(np.cos(np.radians(14))), inside),
        "cast shadow": _cast(form, scene),
    }
    corner = np.array((form.area.x0, form.area.y0), np.float32)
    placed = {kind: tuple((line + corner).astype(np.float32) for line in found) for kind, found in lines.items()}
    return LightGuide(placed, form.area, np.where(inside, value, np.nan).astype(np.float32))


def _cast(form: Form, scene: Scene) -> list[Line]:
    """Where the key is half hidden on what is turned towards it."""
    facing = scene.facing(form.normal) > 0.12
    return _borders(form.lit - 0.5, (form.cover > 0.5) & facing) if form.modelled else []


def _borders(field: NDArray[np.floating], inside: NDArray[np.bool_]) -> list[Line]:
    """Lines where a field (h, w) passes 0, inside only."""
    soft = cv2.GaussianBlur(np.ascontiguousarray(field, np.float32), (0, 0), 1.2)
    above = ((soft > 0) & inside).astype(np.uint8)
    found, _ = cv2.findContours(above, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    # What runs along the silhouette is no border of light.
    rim = cv2.dilate((~inside).astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    lines: list[Line] = []
    for ring in found:
        points = np.vstack((ring[:, 0], ring[:1, 0]))
        keep = ~rim[points[:, 1], points[:, 0]]
        # Off the edge of the canvas the form only seems to end.
        keep &= (points > 1).all(axis=1) & (points < np.array(inside.shape[::-1]) - 2).all(axis=1)
        for run in np.split(np.arange(len(points)), np.nonzero(np.diff(keep.astype(int)))[0] + 1):
            if keep[run[0]] and len(run) >= SHORTEST_PX:
                lines.append(points[run][:: max(len(run) // 400, 1)].astype(np.float32) + 0.5)
    return lines


def difference(guide: LightGuide, rgb: NDArray[np.floating]) -> NDArray[np.float32]:
    """How much lighter paint (h, w, 3), encoded, is than it should be over the guide's area: L* (h, w), NaN outside."""
    return (lab.lightness_from_srgb(rgb) - guide.value).astype(np.float32)
