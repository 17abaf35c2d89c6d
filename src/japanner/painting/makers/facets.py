"""A part's form cut into planes, flat-shaded in its value scale: a guide to paint the turns between."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner.color import lab, srgb
from japanner.light.planes import MOST_FACETS, cut
from japanner.painting.makers.base import DEPTH, Maker, Scene, Sheet, number, switch

__all__ = ["FACETS"]


def _make(scene: Scene) -> list[Sheet]:
    form = scene.form
    planes = cut(form.normal, form.cover > 0.5, round(scene["count"]))
    inside = planes.facet >= 0
    lit = np.bincount(planes.facet[inside], form.lit[inside]) / np.bincount(planes.facet[inside])
    free = np.bincount(planes.facet[inside], form.openness[inside]) / np.bincount(planes.facet[inside])
    normals = planes.normals.T[:, None, :].astype(np.float32)
    lights = lit[None].astype(np.float32), free[None].astype(np.float32)
    linear = scene.shaded(normals, srgb.decode(np.asarray(scene.local)), *lights, "drawing")
    value = scene.value_curve()(lab.lightness(np.clip(srgb.luminance(np.moveaxis(linear, 0, -1)), 0, 4)))[0]
    steps = np.asarray(scene.part.scale)
    if scene["in_steps"]:
        value = steps[np.abs(value[:, None] - steps).argmin(axis=1)]
    row = np.asarray(next(iter(scene.grid.values())))
    table = np.vstack([np.stack([np.interp(value, steps, column) for column in row.T], axis=1), np.zeros(3)])
    colour = np.moveaxis(table[planes.facet], -1, 0).astype(np.float32)
    return [Sheet("Planes", "sketch", form.area, colour, form.cover * inside)]


FACETS: Final = Maker(
    "planes", (), "The form cut into flat planes in the part's values",
    (
        number("count", "planes", 12, 3, MOST_FACETS, "How many: from three to nearly smooth"),
        switch("in_steps", "in steps", True, "Each plane at one of the part's five values"),
        DEPTH,
    ),
    _make,
)  # fmt: skip
