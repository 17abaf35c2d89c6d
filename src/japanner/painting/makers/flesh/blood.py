"""Where blood is near under skin."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

import numpy as np
import scipy

from japanner.light.faces import points_of
from japanner.light.figure.data import figure_data
from japanner.light.figure.shape import HEAD_UNITS
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.surface import seen_at
from japanner.light.turning import turned
from japanner.painting.form.forms import Form
from japanner.painting.makers.base import Plane, Scene, fractal, smoothstep
from japanner.painting.makers.flesh.zones import Zones

__all__ = ["WARM_ZONES", "warmth"]

# Where blood is near, by what landmarks of a head call it: strength, and reach in head heights (common practice).
WARM: Final = {"cheek": (1.0, 0.11), "nose tip": (0.9, 0.07), "nose wing": (0.7, 0.05), "ear": (0.8, 0.09),
               "knuckle": (0.8, 0.05), "chin": (0.35, 0.07), "lip": (0.5, 0.05)}  # fmt: skip

WARM_ZONES: Final = {"nose tip": (0.9, 0.02), "nose wings": (0.7, 0.02), "ears": (0.8, 0.015), "chin": (0.35, 0.03),
                     "lips": (0.5, 0.006), "lids": (0.35, 0.01), "nostrils": (0.6, 0.008)}  # fmt: skip
"""The same by zones of a figure: strength, and over what share of the head's height they end."""


def warmth(scene: Scene, zones: Zones | None = None) -> Plane:
    """How near blood is, 0..1: as painted, or by the maquette's heads and figures, or else where the form stands out
    and where it is thin.
    """
    painted = scene.map("blood_map")
    if painted is not None:
        return painted
    form, zones = scene.form, zones or Zones(scene)
    found = np.zeros(zones.coarse_shape, np.float32)
    for name, strength, reach_px, places in _blooms(scene):
        if name:
            found = np.maximum(found, strength * zones.broad(name, reach_px))
        for x, y in places:
            far = _squares(form, found.shape, x, y) / (2 * reach_px**2)
            found = np.maximum(found, strength * np.exp(-far))
    if found.any():
        found = zones.whole(found)
    else:
        out = form.height / max(float(form.height.max()), 1e-6)
        thin = np.exp(
            -scipy.ndimage.distance_transform_edt(np.pad(form.cover, 1) > 0.5)[1:-1, 1:-1]
            / (0.06 * max(form.cover.shape))
        )
        found = np.clip(0.75 * smoothstep(0.72, 1.0, out) + 0.6 * thin, 0, 1)
    patchy = 0.75 + 0.25 * np.tanh(fractal(scene.chance("blood"), form.cover.shape, max(form.cover.shape) * 0.12, 4))
    return np.clip(found * patchy, 0, 1).astype(np.float32)


Bloom = tuple[str, float, float, list[tuple[float, float]]]
"""A zone or "", how strong, how far in px, and places on the canvas."""


def _blooms(scene: Scene) -> Iterator[Bloom]:
    """Where blood is near by the maquette's heads and figures."""
    maquette = scene.painting.maquette
    for piece in maquette.pieces:
        if scene.part.uid not in piece.owners:
            continue
        if piece.kind == "head":
            yield from _of_head(maquette, piece)
        elif piece.kind == "figure":
            high = HEAD_UNITS * piece.size[1] * maquette.unit_px
            for name, (strength, reach) in WARM_ZONES.items():
                yield name, strength, reach * high, []
            marks, points = figure_data().landmarks, points_of(piece)
            for side in ("left cheek", "right cheek"):
                x, y, z = turned(piece.turn) @ (points[marks[side]] * piece.size) + piece.place
                yield "", WARM["cheek"][0], WARM["cheek"][1] * high, [seen_at(maquette, (float(x), float(y), float(z)))]


def _of_head(maquette: Maquette, piece: Piece) -> Iterator[Bloom]:
    high = 2 * max(abs(point[1]) for point in piece.points) * piece.size[1] * maquette.unit_px
    for name, point in zip(piece.names, piece.points, strict=True):
        strength, reach = next((v for key, v in WARM.items() if name.startswith(key)), (0.0, 1.0))
        places = []
        for side in (1, -1) if strength else ():
            x, y, z = np.array((side * point[0], point[1], point[2])) * piece.size + piece.place
            places.append(seen_at(maquette, (float(x), float(y), float(z))))
        yield "", strength, reach * high, places


def _squares(form: Form, shape: tuple[int, int], x: float, y: float) -> Plane:
    """Squares of the distances (px) to a place of the canvas, on a grid of a shape over the form's area."""
    ys, xs = (
        start + (np.arange(count, dtype=np.float32) + 0.5) * (side / count)
        for start, side, count in zip((form.area.y0, form.area.x0), form.cover.shape, shape, strict=True)
    )
    return (xs[None] - x) ** 2 + (ys[:, None] - y) ** 2
