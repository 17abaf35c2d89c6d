"""The form of a part: from the maquette where it has pieces for it, else its silhouette blown up."""

from __future__ import annotations

import math
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from threading import Lock
from typing import Any, Final

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.light.inflate import inflated
from japanner.light.maquette import Maquette
from japanner.light.surface import Surface, surface
from japanner.painting.form.frisket_shapes import silhouette_sheet
from japanner.painting.model import Painting, Part
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Sheet

__all__ = ["Form", "form_of", "has_pieces", "keep_surface", "maquette_sheet", "rough_normals", "surface_of"]

Plane = NDArray[np.float32]
KEPT: Final = 3
"""Surfaces that are kept for whoever asks again."""


@dataclass(frozen=True, eq=False)
class Form:
    """A part as a body, over an `area` of the canvas.

    cover: coverage of the silhouette (h, w) 0..1. normal: (3, h, w), x right, y up, z to the viewer. height: towards
    the viewer, px, from wherever. lit, openness: as in `Surface`. marched: it comes from the maquette.
    """

    area: Rect
    cover: Plane
    normal: Plane
    height: Plane
    lit: Plane
    openness: Plane
    marched: bool


_kept: OrderedDict[Any, Surface] = OrderedDict()
_lock = Lock()


def surface_of(painting: Painting, step: int = 1, told: Callable[[float], None] = lambda done: None) -> Surface:
    """What is seen of the painting's maquette under its key light; kept, so that others can ask for it."""
    light, key = painting.light, _key(painting, step)
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    found = surface(painting.maquette, painting.rect, light.direction, light_deg=light.size_deg, step=step, told=told)
    keep_surface(painting, found)
    return found


def keep_surface(painting: Painting, found: Surface) -> None:
    """Keep what was marched for whoever asks next."""
    with _lock:
        _kept[_key(painting, found.step)] = found
        while len(_kept) > KEPT:
            _kept.popitem(last=False)


def _key(painting: Painting, step: int) -> Any:
    light = painting.light
    return painting.maquette, painting.rect, step, light.direction, light.size_deg


def has_pieces(painting: Painting, part: Part) -> bool:
    """Whether the maquette says what form the part has."""
    return any(piece.part == part.uid for piece in painting.maquette.pieces)


def maquette_sheet(painting: Painting, part: Part) -> Sheet:
    """Where the maquette's pieces of a part are seen; InputError if they are not."""
    seen = surface_of(painting)
    own = _pieces_of(painting, part, seen.piece).astype(np.float32)
    if not own.any():
        raise InputError(f"The maquette has no forms of {part.name} on the canvas")
    # Half a pixel of softness, for edges without steps.
    return Sheet.of(cv2.GaussianBlur(own, (0, 0), 0.6), 0, 0, painting.width, painting.height)


def form_of(painting: Painting, part: Part, depth: float = 1.0) -> Form:
    """The part's form; InputError while it has no silhouette. depth: of a silhouette that is blown up."""
    sheet = silhouette_sheet(painting, part)
    area = sheet.bounds()
    cover = sheet.coverage(area)
    if has_pieces(painting, part):
        return _marched(painting, part, area, cover)
    normal, height = inflated(cover, depth)
    facing = np.einsum("i,ihw->hw", np.asarray(painting.light.direction, np.float32), normal)
    return Form(area, cover, normal, height, (facing > 0).astype(np.float32), np.ones_like(cover), False)


def rough_normals(painting: Painting, part: Part, area: Rect, step: int) -> Plane | None:
    """Normals (3, h, w) of the maquette's pieces of a part, every `step` px of an area; None if they are not there."""
    seen = _rough(painting.maquette, area, step)
    own = _pieces_of(painting, part, seen.piece)
    if not own.any():
        return None
    nearest = tuple(scipy.ndimage.distance_transform_edt(~own, return_distances=False, return_indices=True))
    return np.stack([plane[nearest] for plane in seen.normal])


@lru_cache(maxsize=4)
def _rough(maquette: Maquette, area: Rect, step: int) -> Surface:
    return surface(maquette, area, (0.0, 0.0, 1.0), step=step, quick=True)


def _pieces_of(painting: Painting, part: Part, pieces: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Where the maquette's pieces of a part are seen."""
    parts = np.array([one.part for one in painting.maquette.pieces] + [0])
    result: NDArray[np.bool_] = parts[pieces] == part.uid
    return result


def _marched(painting: Painting, part: Part, area: Rect, cover: Plane) -> Form:
    """What the maquette's pieces of this part look like; where the silhouette reaches past them, as next to it."""
    seen = surface_of(painting)
    rows, columns = slice(area.y0, area.y1), slice(area.x0, area.x1)
    own = _pieces_of(painting, part, seen.piece[rows, columns])
    if not own.any():
        raise InputError(f"The pieces of the maquette for {part.name} are not where its silhouette is")
    nearest = tuple(scipy.ndimage.distance_transform_edt(~own, return_distances=False, return_indices=True))
    planes = [plane[rows, columns][nearest] for plane in (seen.depth, seen.lit, seen.openness)]
    normal = np.stack([plane[rows, columns][nearest] for plane in seen.normal])
    height = (planes[0].max() - planes[0]) * painting.maquette.unit_px
    if not math.isfinite(float(height.max())):
        raise InputError("The maquette has no surface here")
    return Form(area, cover, normal, height.astype(np.float32), planes[1], planes[2], True)
