"""The comb field of a part, kept for whoever asks again."""

from __future__ import annotations

import math
from collections import OrderedDict
from functools import reduce
from threading import Lock
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.form.forms import form_of, has_pieces, rough_normals
from japanner.painting.model import Layer, Painting, Part
from japanner.raster.sheets import joined
from japanner.raster.tiles import Sheet
from japanner.strand.comb import CELLS, CombField, combed
from japanner.types import Plane

__all__ = ["bald_cover", "comb_of", "fur_map", "level_lines"]

KEPT: Final = 6
LEVELLED: Final = 40_000
EVENED: Final = 2.0
"""Cells over which level lines are evened."""
MODELLED: Final = 13_000
"""Cells of a field that lies on a form."""
_kept: OrderedDict[Any, CombField] = OrderedDict()
_lock = Lock()


def bald_cover(painting: Painting, own: Part) -> Sheet | None:
    """Where fur of a part must not go: on the silhouettes of other parts that are bald; None if there are none."""
    sheets = [silhouette_sheet(painting, part) for part in painting.parts
              if part.bald and part.uid != own.uid and any(layer.pixels.tiles for layer in part.flats)]  # fmt: skip
    return reduce(lambda one, other: joined(one, other, "add"), sheets) if sheets else None


def fur_map(part: Part, name: str) -> Layer | None:
    """The layer whose paint says how fur grows: its "length_map" or "density_map"; None if there is none any more."""
    uid = getattr(part, name)
    return next((layer for layer in part.layers if uid and layer.uid == uid), None)


def comb_of(painting: Painting, part: Part) -> CombField:
    """Which way the part's hair lies; InputError while it has no silhouette."""
    # Rasters and maquettes stay as they are, so the very same ones give the same field.
    modelled = has_pieces(painting, part)
    key = part.comb, tuple(layer.pixels for layer in part.flats), painting.maquette if modelled else None
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    if part.comb:
        sheet = silhouette_sheet(painting, part)
        area = sheet.bounds()
        # Its form is wanted no finer than the field, which is coarser there: a stroke should show soon.
        step = int(np.clip(math.sqrt(area.width * area.height / MODELLED), 1, 256))
        normal = rough_normals(painting, part, area, step) if modelled else None
        field = combed(sheet.coverage(area), area, part.comb, normal, CELLS if normal is None else MODELLED)
    else:
        form = form_of(painting, part)
        field = combed(form.cover, form.area, (), form.normal)
    with _lock:
        _kept[key] = field
        while len(_kept) > KEPT:
            _kept.popitem(last=False)
    return field


class LevelLines(CombField):
    """Axes that have no root and no tip: `direction` holds vectors at twice their angle."""

    def directions(self, x: NDArray[np.floating], y: NDArray[np.floating]) -> tuple[Plane, Plane]:
        """Unit vectors (x, y) along the axes at canvas places."""
        half = np.arctan2(self.at(self.direction[1], x, y), self.at(self.direction[0], x, y)) / 2
        return np.cos(half), np.sin(half)


def level_lines(painting: Painting, part: Part) -> CombField:
    """Which way the part's form stays as it is turned, at right angles to where it turns: a field to lay flat tips by.
    InputError while it has no silhouette.
    """
    modelled = has_pieces(painting, part)
    key = "level", tuple(layer.pixels for layer in part.flats), painting.maquette if modelled else None
    with _lock:
        if key in _kept:
            return _kept[key]
    sheet = silhouette_sheet(painting, part)
    area = sheet.bounds()
    step = int(np.clip(math.sqrt(area.width * area.height / LEVELLED), 2, 256))
    normal = rough_normals(painting, part, area, step) if modelled else None
    if normal is None:
        size = -(-area.width // step), -(-area.height // step)
        whole = form_of(painting, part).normal
        normal = np.stack([cv2.resize(one, size, interpolation=cv2.INTER_AREA) for one in whole])
    # As axes, the more the steeper, so that what looks to the viewer takes its way from around.
    twice = 2 * np.arctan2(-normal[1], normal[0]) + np.pi
    steep = np.hypot(normal[0], normal[1]) ** 2 + 1e-4
    x, y = (
        cv2.GaussianBlur(np.asarray(one * steep, np.float32), (0, 0), EVENED) for one in (np.cos(twice), np.sin(twice))
    )
    ones = np.ones_like(x)
    field = LevelLines(area, float(step), np.stack((x, y)), ones, 0 * ones, 0 * ones, ones, 0 * ones, ones)
    with _lock:
        _kept[key] = field
        while len(_kept) > KEPT:
            _kept.popitem(last=False)
    return field
