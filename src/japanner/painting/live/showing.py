"""Whether anything of a stroke is to be seen."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from japanner.painting.model import Layer, Painting
from japanner.painting.picture.compositor import FREE, limit_tile, silhouette_tile
from japanner.raster.geometry import Rect, union

__all__ = ["NOTHING", "OUTSIDE", "SHOWS", "grew", "what_shows"]

SHOWS, OUTSIDE, NOTHING = "shows", "outside", "nothing"


def what_shows(before: Painting, after: Painting, uid: int, areas: Iterable[Rect]) -> str:
    """What a stroke on layer `uid` has come to in `areas`.

    SHOWS: its paint is inside the silhouette or a coat's edge, or need not be. OUTSIDE: there is paint, and all of it
    is cut off. NOTHING: not a code has changed.
    """
    part, layer = after.find(uid)
    former, changed = before.layer(uid), False
    for key, local in union(areas).intersected(after.rect).tiles():
        rows, columns = slice(local.y0, local.y1), slice(local.x0, local.x1)
        other = np.any(layer.pixels.tile(key)[:, rows, columns] != former.pixels.tile(key)[:, rows, columns], axis=0)
        if not other.any():
            continue
        changed = True
        if not _cut_off(layer, bool(part.flats)):
            return SHOWS
        inside = limit_tile(part, layer, key)
        if inside is not None and (inside[rows, columns][other] > 0).any():
            return SHOWS
    return OUTSIDE if changed else NOTHING


def _cut_off(layer: Layer, flats: bool) -> bool:
    return layer.place == "body" and layer.role not in FREE and flats


def grew(before: Painting, after: Painting, uid: int, areas: Iterable[Rect]) -> bool:
    """Whether a stroke on a flat has made a silhouette larger that was there before."""
    layer = after.layer(uid)
    former = before.layer(uid)
    if layer.place != "body" or layer.role != "flat" or not any(one.pixels.tiles for one in before.find(uid)[0].flats):
        return False
    for key, local in union(areas).intersected(after.rect).tiles():
        rows, columns = slice(local.y0, local.y1), slice(local.x0, local.x1)
        fresh = (layer.pixels.tile(key)[3] > 0) & (former.pixels.tile(key)[3] == 0)
        if fresh[rows, columns].any():
            inside = silhouette_tile(before.find(uid)[0], key)
            if inside is None or (inside[rows, columns][fresh[rows, columns]] == 0).any():
                return True
    return False
