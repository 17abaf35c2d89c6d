"""Light studies for demos: simple forms on a table under the painting's light, as values to paint from."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.color import lab, srgb
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.surface import surface
from japanner.light.sources import Sources, SurfaceKind, shaded_planes
from japanner.light.turning import turned
from japanner.painting.model import Light
from japanner.raster.geometry import Rect
from japanner.types import Colour

__all__ = ["Form", "LightStudy", "ball", "egg", "render", "tube"]

Pieces = tuple[Piece, ...]

# The viewer looks down on the table by this angle, from afar.
CAMERA_DOWN_DEG: Final = 17.0
EYE: Final = 60.0
KEY: Final = (2.5, 2.375, 2.15)
SKY: Final = (0.20, 0.235, 0.29)
BOUNCE: Final = (0.36, 0.285, 0.22)
KEY_DEG: Final = 12.0
# Unglazed clay with a dull sheen, and a table that has none.
CLAY: Final = SurfaceKind(0.12, gloss=0.33, index=1.45)
TABLE: Final = SurfaceKind(0.0, gloss=0.9, index=1.0)


@dataclass(frozen=True)
class Form:
    """A named form, of pieces in world units (y up, the table at 0), and its surface colour in linear light."""

    name: str
    pieces: Pieces
    albedo: Colour


@dataclass(frozen=True, eq=False)
class LightStudy:
    """Grids of shape (h, w): encoded colour, L*, which form (-1 is the table), n.l with its shadow, and (h, w, 3)
    normals as the viewer has them: x right, y up, z out of the picture.
    """

    scale: int
    colour: NDArray[np.float32]
    value: NDArray[np.float32]
    form: NDArray[np.int8]
    lit: NDArray[np.float32]
    normal: NDArray[np.float32]

    def mask(self, index: int) -> NDArray[np.bool_]:
        found: NDArray[np.bool_] = self.form == index
        return found


def ball(x: float, z: float, radius: float) -> Pieces:
    """A ball that lies on the table."""
    return (Piece("Ball", place=(x, radius, z), size=(radius,) * 3),)


def egg(x: float, z: float, width: float, height: float, lean_deg: float) -> Pieces:
    """An egg, fuller below, leaning to the right."""
    place, size = (x, height * 0.985, z), (width, height, width)
    return (Piece("Egg", "egg", place=place, turn=(0.0, 0.0, -lean_deg), size=size, edge=0.40),)


def tube(x: float, z: float, radius: float, height: float, wall: float) -> Pieces:
    """An upright open tube with a rounded rim: a long tube cut off at both ends and hollowed."""
    tall, inner = (radius, radius, height + 4), radius - wall
    return (
        Piece("Tube", "tube", place=(x, -2.0, z), size=tall, group="tube"),
        Piece(
            "Ends", "box", place=(x, height / 2, z), size=(2.0, height / 2, 2.0), join="meet", blend=0.05, group="tube"
        ),
        Piece(
            "Hollow", "tube", place=(x, 0.3, z), size=(inner, inner, height + 4), join="carve", blend=0.09, group="tube"
        ),
    )


def render(
    forms: tuple[Form, ...], table: Colour, light: Light, size: tuple[int, int], scale: int, unit_px: float,
    middle: tuple[float, float],
) -> LightStudy:  # fmt: skip
    """Shade `forms` for a canvas of `size` px at 1 / `scale` of it; `unit_px` px are one world unit.

    `middle` is the canvas point where the world's origin lies.
    """
    pieces = [Piece("Table", "slab")]
    for number, form in enumerate(forms, 1):
        pieces += [
            replace(piece, group=piece.group and f"{piece.group} {number}", part=number) for piece in form.pieces
        ]
    maquette = Maquette(tuple(pieces), middle, unit_px, (0.0, -CAMERA_DOWN_DEG, 0.0), EYE)
    # The light is given as the table has it.
    x, y, z = (float(v) for v in turned(maquette.turn) @ np.asarray(light.direction))
    seen = surface(maquette, Rect(0, 0, *size), (x, y, z), light_deg=KEY_DEG, step=scale)
    parts = np.array([piece.part for piece in pieces] + [0])
    kind = parts[seen.piece].astype(np.int32)
    rows = (TABLE.row(table), *(CLAY.row(form.albedo) for form in forms))
    linear = shaded_planes(seen.normal, kind, rows, Sources((x, y, z), KEY, SKY, BOUNCE), seen.lit, seen.openness)
    lit = np.maximum(np.einsum("i,ihw->hw", np.array((x, y, z), np.float32), seen.normal), 0) * seen.lit
    colour, normal = np.moveaxis(linear, 0, -1), np.moveaxis(seen.normal, 0, -1)
    # Rays that graze an outline meet it anywhere: pixels there take what their neighbours further in have.
    which = (kind - 1).astype(np.int8)
    colour, lit, normal = (_from_further_in(which, grid.reshape(*which.shape, -1)) for grid in (colour, lit, normal))
    encoded = srgb.encode(np.clip(_shoulder(colour), 0, 1)).astype(np.float32)
    value = lab.lightness_from_srgb(encoded).astype(np.float32)
    return LightStudy(scale, encoded, value, which, lit[..., 0], normal)


def _from_further_in(form: NDArray[np.int8], grid: NDArray[np.float32]) -> NDArray[np.float32]:
    result = grid.copy()
    for index in np.unique(form):
        mask = form == index
        inner = scipy.ndimage.binary_erosion(mask, iterations=2, border_value=1)
        nearest = scipy.ndimage.distance_transform_edt(~inner, return_distances=False, return_indices=True)
        edge = mask & ~inner
        result[edge] = grid[tuple(nearest[:, edge])]
    return result


def _shoulder(linear: NDArray[np.float32]) -> NDArray[np.float32]:
    """Compress what is brighter than .6, as film does, so that lights keep their colour."""
    over = np.maximum(linear - np.float32(0.6), 0)
    result: NDArray[np.float32] = np.minimum(linear, np.float32(0.6)) + over / (1 + over * np.float32(1.6))
    return result
