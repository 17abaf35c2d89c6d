"""Where edges run that a brush may soften or state: contours inside the maquette and the part's silhouette, or, where
there is neither, where the layer's paint ends.
"""

from __future__ import annotations

from collections import OrderedDict
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.painting.form.coverages import layer_sheet, silhouette_sheet
from japanner.painting.form.forms import contours_of, has_pieces
from japanner.painting.model import Layer, Painting, Part
from japanner.raster.tiles import Sheet

__all__ = ["edge_band"]

KEPT: Final = 4
_kept: OrderedDict[Any, Sheet | None] = OrderedDict()


def edge_band(painting: Painting, part: Part, layer: Layer, reach_px: float) -> Sheet | None:
    """A sheet that is full along edges and fades out over `reach_px`; None where there are none to keep to."""
    flats = tuple(layer.pixels for layer in part.flats)
    shaped = painting.maquette.unnamed() if has_pieces(painting, part) else None
    own = None if shaped or any(one.tiles for one in flats) else layer.pixels
    key = (flats, shaped, own, part.uid, painting.rect, round(reach_px, 1))
    if key not in _kept:
        _kept[key] = _band(painting, part, layer, reach_px)
        while len(_kept) > KEPT:
            _kept.popitem(last=False)
    _kept.move_to_end(key)
    return _kept[key]


def _band(painting: Painting, part: Part, layer: Layer, reach_px: float) -> Sheet | None:
    modelled = has_pieces(painting, part)
    if any(one.pixels.tiles for one in part.flats):
        edge = _ends(silhouette_sheet(painting, part), painting)
    elif modelled or not layer.pixels.tiles:
        edge = np.zeros((painting.height, painting.width), np.uint8)
    else:
        edge = _ends(layer_sheet(painting, layer), painting)
    if modelled:
        ends = contours_of(painting)
        edge[ends.pixels[:, 0], ends.pixels[:, 1]] = 1
    if not edge.any():
        return None
    away = cv2.distanceTransform(1 - edge, cv2.DIST_L2, cv2.DIST_MASK_5)
    band = np.clip(1.5 - away / max(reach_px, 1.0), 0, 1).astype(np.float32)
    return Sheet.of(band, 0, 0, painting.width, painting.height)


def _ends(sheet: Sheet, painting: Painting) -> NDArray[np.uint8]:
    """Where a coverage ends (h, w)."""
    cover = (sheet.coverage(painting.rect) > 0.5).astype(np.uint8)
    return cv2.morphologyEx(cover, cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)).astype(np.uint8)
