"""What rays from a seen surface meet: neighbours that it mirrors, or that are seen through it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.light.maquette import Maquette
from japanner.light.rays.shell import Shell
from japanner.light.rays.surface import Surface, Vector, View, places_of, seen_places, sent_light
from japanner.types import Colour

__all__ = ["Met", "mirrored_by"]

Floats = NDArray[np.float32]
NEAR: Final = 0.02
"""What is seen at most so much further or nearer, in the maquette's size, is what a ray has met."""


@dataclass(frozen=True, eq=False)
class Met:
    """What rays (h, w) met: whether anything, the linear light (3, h, w) that it sends, and where on the canvas it is
    seen (2, h, w), x and y; hidden: it is not, as something stands before it.
    """

    found: NDArray[np.bool_]
    light: Floats
    at: Floats
    hidden: NDArray[np.bool_]


def mirrored_by(found: Surface, whole: Surface, maquette: Maquette, direction: Floats, asked: NDArray[np.bool_],
                light: Vector, key: Colour, around: Colour, colours: Mapping[int, Colour]) -> Met:  # fmt: skip
    """What rays from what is seen, in unit directions (3, h, w) of the viewer's, meet where it is asked for (h, w).

    whole: all that is seen, of which `found` is a part. light, key, around, colours: see `from_neighbours`.
    """
    shape = found.depth.shape
    result = Met(np.zeros(shape, bool), np.zeros((3, *shape), np.float32), np.zeros((2, *shape), np.float32),
                 np.zeros(shape, bool))  # fmt: skip
    shell = found.shell
    chosen = np.nonzero(asked & found.seen)
    if shell is None or not len(chosen[0]):
        return result
    places, view = places_of(found, maquette), View.of(maquette, found.area, found.step)
    starts = places.place[:, chosen[0], chosen[1]].T + (places.normal * places.off)[:, chosen[0], chosen[1]].T
    ways = np.ascontiguousarray(direction[:, chosen[0], chosen[1]].T @ view.turn, np.float32)
    met = shell.tree.first_met(np.ascontiguousarray(starts, np.float32), ways)
    hits = np.flatnonzero(met.triangle >= 0)
    rows, columns = chosen[0][hits], chosen[1][hits]
    sent = sent_light(found, maquette, light, key, around, colours)
    result.found[rows, columns] = True
    result.light[:, rows, columns] = sent[met.triangle[hits]].T
    (x, y), away = seen_places(maquette, starts[hits] + ways[hits] * met.far[hits, None])
    result.at[0, rows, columns], result.at[1, rows, columns] = x, y
    result.hidden[rows, columns] = _hidden(whole, shell, x, y, away)
    return result


def _hidden(found: Surface, shell: Shell, x: NDArray[np.floating], y: NDArray[np.floating],
            away: NDArray[np.floating]) -> NDArray[np.bool_]:  # fmt: skip
    """Whether places that are seen at x, y on the canvas, so far away, have something before them."""
    column = np.floor((x - found.area.x0) / found.step).astype(np.int64)
    row = np.floor((y - found.area.y0) / found.step).astype(np.int64)
    height, width = found.depth.shape
    inside = (row >= 0) & (row < height) & (column >= 0) & (column < width)
    depth = found.depth[np.clip(row, 0, height - 1), np.clip(column, 0, width - 1)]
    visible: NDArray[np.bool_] = inside & (np.abs(depth - away) < NEAR * shell.rows.scale)
    return ~visible
