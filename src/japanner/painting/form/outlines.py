"""A part's silhouette as outlines for the maquette."""

from __future__ import annotations

import cv2
import numpy as np

from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.model import Painting, Part

__all__ = ["puff_of"]

MOST_POINTS = 900


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
