"""What the maquette view adds: forms, figures, meshes, and whole maquettes that come with the program."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, Final
from zlib import crc32

from japanner.errors import InputError
from japanner.light.figure.people import another_person, person
from japanner.light.maquette import Maquette
from japanner.light.mesh.mesh import Mesh
from japanner.light.mesh.packing import text_of
from japanner.light.pieces import Piece

__all__ = ["figure_piece", "form_piece", "mesh_piece", "with_figure", "with_shipped"]

FIGURE_EYE: Final = 9.0
FIGURE_TURN: Final = (-25.0, 0.0, 0.0)
"""A little from the side, as most heads are painted."""
FIGURE_SHARE: Final = 0.5
"""Of the canvas's height, the height of a head."""
SETTINGS: Final[Mapping[str, Mapping[str, Any]]] = {
    "tube": {"place": (0.0, -0.5, 0.0), "size": (0.3, 0.2, 1.0)},
    "ring": {"size": (0.7, 0.2, 1.0)},
    "egg": {"size": (0.7, 0.9, 0.7), "edge": 0.4},
    "ball": {"size": (0.7, 0.7, 0.7)},
    "box": {"size": (0.6, 0.6, 0.6), "edge": 0.1},
    "slab": {"place": (0.0, -1.0, 0.0)},
    "cord": {"size": (0.15, 0.08, 1.0), "points": ((-0.6, -0.4, 0.0), (0.0, 0.3, 0.0), (0.6, -0.1, 0.0))},
    "sheet": {"size": (0.9, 0.9, 0.02), "edge": 0.35, "points": ((-0.9, 1.0, 0.0), (0.9, 1.0, 0.0))},
}


def form_piece(kind: str, maquette: Maquette, part: int) -> Piece:
    """A form in the middle, with a name of its own."""
    if kind not in SETTINGS:
        raise InputError(f"form: expected one of {', '.join(SETTINGS)}, got {kind!r}")
    number = sum(one.kind == kind for one in maquette.pieces) + 1
    return Piece(f"{kind.capitalize()} {number}", kind, part=part, **SETTINGS[kind])


def figure_piece(name: str, maquette: Maquette, part: int) -> Piece:
    """A figure: one of the people, or without a name somebody else than those there are."""
    count = sum(one.kind == "figure" for one in maquette.pieces)
    seed = crc32(repr([one.sliders for one in maquette.pieces]).encode())
    values = person(name) if name else another_person(seed)
    return Piece(name or f"Figure {count + 1}", "figure", part=part, sliders=tuple(sorted(values.items())))


def mesh_piece(name: str, mesh: Mesh, part: int) -> Piece:
    """A mesh, two units at its longest."""
    return Piece(name[:60] or "Mesh", "mesh", part=part, mesh=text_of(mesh))


def with_figure(maquette: Maquette, piece: Piece, size: tuple[int, int]) -> Maquette:
    """A figure with the others, or alone so that its head has half of a canvas of this size."""
    if maquette.pieces:
        return replace(maquette, pieces=(*maquette.pieces, piece))
    width, height = size
    unit = round(FIGURE_SHARE * min(height, 1.4 * width) / 2, 2)
    return Maquette((piece,), (width / 2, round(0.5 * height, 1)), unit, FIGURE_TURN, FIGURE_EYE)


def with_shipped(maquette: Maquette, shipped: Maquette, part: int, size: tuple[int, int]) -> Maquette:
    """A whole maquette in the place of what the part has; alone, it is fitted to a canvas of this size."""
    pieces = tuple(replace(one, part=part) for one in shipped.pieces)
    kept = tuple(one for one in maquette.pieces if one.part != part)
    if kept:
        return replace(maquette, pieces=kept + pieces)
    width, height = size
    fitted = min(width, height) / 1000 * shipped.unit_px
    return replace(shipped, pieces=pieces, middle=(width / 2, height / 2), unit_px=fitted)
