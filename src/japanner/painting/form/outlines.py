"""A part's silhouette as outlines, for the maquette and for hairs that stand on it."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.model import Painting, Part

__all__ = ["border_of", "puff_of"]

MOST_POINTS: Final = 900
WAY_PX: Final = 2.5
"""Over so many px the way out of an outline is evened."""


def puff_of(painting: Painting, part: Part, maquette: Maquette) -> Piece:
    """A piece with the part's silhouette for its outline, blown up, where the silhouette is on the canvas.

    InputError while the part has no silhouette.
    """
    sheet = silhouette_sheet(painting, part)
    area = sheet.bounds()
    cover = np.pad(sheet.coverage(area), 1)
    found, _ = cv2.findContours((cover > 0.5).astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    rings = [ring[:, 0].astype(float) - 0.5 for ring in found if cv2.contourArea(ring) > 16]
    if not rings:
        raise InputError(f"The silhouette of {part.name} is too thin to be a form")
    every = max(sum(len(ring) for ring in rings) // MOST_POINTS, 1)
    unit, (x, y) = maquette.unit_px, maquette.middle
    corner, middle = np.array((area.x0, area.y0)), np.array(((area.x0 + area.x1) / 2, (area.y0 + area.y1) / 2))
    points = []
    for number, ring in enumerate(rings):
        local = (ring[::every] + corner - middle) / unit * (1, -1)
        points += [(round(float(u), 4), round(float(v), 4), float(number)) for u, v in local]
    place = (round(float(middle[0] - x) / unit, 4), round(float(y - middle[1]) / unit, 4), 0.0)
    return Piece(part.name[:60], "puff", place=place, points=tuple(points), part=part.uid)


def border_of(cover: NDArray[np.floating]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Places (n, 2), x and y, of the pixels along the outlines of coverage (h, w), and the ways out of it there, unit
    length; (0, 2) where there is none.
    """
    room = 2 + int(np.ceil(3 * WAY_PX))
    padded = np.pad(np.asarray(cover, np.float32), room)
    outlines, _ = cv2.findContours((padded > 0.5).astype(np.uint8), cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    if not outlines:
        return np.empty((0, 2)), np.empty((0, 2))
    places = np.concatenate([one[:, 0] for one in outlines])
    soft = cv2.GaussianBlur(padded, (0, 0), WAY_PX)
    column, row = places.T
    out = -np.stack([cv2.Sobel(soft, cv2.CV_32F, *way)[row, column] for way in ((1, 0), (0, 1))], axis=1).astype(float)
    steep = np.hypot(*out.T)
    kept = steep > 1e-3
    return places[kept].astype(float) - room, out[kept] / steep[kept, None]
