"""The pieces that a maquette is joined of, as data.

Axes: x right, y up, z towards the viewer, in maquette units.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Final

from japanner import checks
from japanner.errors import InputError
from japanner.light.figure.sliders import checked
from japanner.light.mesh.packing import mesh_of
from japanner.records import from_record, to_record

__all__ = [
    "DRAPE",
    "FACED",
    "FALLEN",
    "FARTHEST",
    "JOINS",
    "KINDS",
    "LANDMARKS",
    "STROKES",
    "WORN",
    "Piece",
    "joins_of",
]

KINDS: Final[dict[str, tuple[str, ...]]] = {
    "ball": ("half width", "half height", "half depth"),
    "egg": ("half width", "half height", "half depth"),
    "tube": ("radius at its foot", "radius at its head", "length"),
    "box": ("half width", "half height", "half depth"),
    "ring": ("radius", "thickness", "flatness"),
    "slab": (),
    "cord": ("radius at its foot", "radius at its head"),
    "puff": ("width", "height", "depth"),
    "head": ("width", "height", "depth"),
    "sheet": ("half width", "half height", "thickness"),
    "stroke": ("width", "height"),
    "mesh": ("width", "height", "depth"),
    "figure": ("width", "height", "depth"),
}
"""Every kind of piece, and what its three sizes mean.

ball: an ellipsoid. egg: one that is fuller below, by `edge`. tube: along y from its place, tapered, with round ends.
box: with rounded edges of `edge`. ring: a torus about y. slab: all that lies below y = 0, such as a table. cord: a
tube along the curve through its points. puff: a silhouette blown up, as a ball for a disc, or as a plate with round
edges of `edge`; its points are those of its outlines: x, y and the number of the outline. head: a form with a radius
in every direction, through its points, which `names` call by what they are on a head. sheet: cloth that hangs from its
points (across and up, each -1..1), with `edge` as its slack, 0..0.9, or that falls on the forms before it.
stroke: what a stroke along its points does to the surface of all forms. mesh: the faces of `mesh`, scaled by the sizes.
figure: a human head and shoulders, as `sliders` have it, two units high from chin to crown at a size of 1.
"""
FACED: Final = ("mesh", "figure")
"""Kinds of faces: they add to the others, and meet them by depth."""
DRAPE: Final = "drape"
"""How only a sheet joins: it falls on what the pieces before it have made."""
WORN: Final = "wear"
"""How only a sheet joins: it is worn round its y axis as a cape is, from a neck of its half width down by its half
height, and falls on what the pieces before it have made.
"""
FALLEN: Final = (DRAPE, WORN)
JOINS: Final = ("add", "carve", "meet")
"""How a piece joins what the ones before it have made: both, that without it, only where both are."""
STROKES: Final = ("raise", "lower", "crease", "smooth")
"""What a stroke does: its join."""
FARTHEST: Final = 1000.0
MOST_POINTS: Final = 4000
MOST_GROUPS: Final = 200
LANDMARKS: Final = 8
"""A head needs at least so many points."""
_FEWEST: Final = {"cord": 2, "puff": 3, "head": LANDMARKS, "sheet": 1, "stroke": 1}

Point = tuple[float, float, float]


@dataclass(frozen=True)
class Piece:
    """One form.

    place: of its middle (of its foot, for a tube). turn: yaw, pitch and roll in degrees (`turned`). size: three
    lengths, by `KINDS`. edge: see `KINDS`. blend: over what distance it flows into what it joins. mirror: there is one
    on either side of x = 0. group: pieces that follow each other with one name become a form of their own, which then
    joins by the first one's join and blend. part: uid of the painting's part that it is of, 0 for none. points, names:
    see `KINDS`. mesh: faces as text (`japanner.light.mesh.packing`). sliders: of a figure, by name, sorted. parts: uids
    of the parts that zones of a figure or groups of a mesh are of, by name; what is of none of them is of `part`.
    """

    name: str
    kind: str = "ball"
    place: Point = (0.0, 0.0, 0.0)
    turn: Point = (0.0, 0.0, 0.0)
    size: Point = (1.0, 1.0, 1.0)
    edge: float = 0.0
    join: str = "add"
    blend: float = 0.0
    mirror: bool = False
    group: str = ""
    part: int = 0
    points: tuple[Point, ...] = ()
    names: tuple[str, ...] = ()
    mesh: str = ""
    sliders: tuple[tuple[str, float], ...] = ()
    parts: tuple[tuple[str, int], ...] = ()

    def __post_init__(self) -> None:
        checks.text("name", self.name, 60)
        checks.one_of("kind", self.kind, KINDS)
        checks.one_of("join", self.join, joins_of(self.kind))
        for name, low in (("place", -FARTHEST), ("turn", -360.0), ("size", 1e-4)):
            values = checks.in_range(name, getattr(self, name), low, FARTHEST)
            if values.shape != (3,):
                raise InputError(f"{name}: expected three numbers, got {checks.shown(getattr(self, name))}")
        most = {"egg": 0.9, "sheet": 0.9, "puff": FARTHEST}.get(self.kind, min(self.size))
        checks.number("edge", self.edge, 0, most)
        checks.number("blend", self.blend, 0, FARTHEST)
        checks.integer("part", self.part, 0, 2**31)
        if not isinstance(self.mirror, bool):
            raise InputError(f"mirror: expected true or false, got {self.mirror!r}")
        if self.kind == "tube" and abs(self.size[0] - self.size[1]) >= self.size[2]:
            raise InputError("size: a tube needs to be longer than its radii differ; a ball would hide the rest of it")
        if self.kind == "ring" and self.size[1] >= self.size[0]:
            raise InputError("size: a ring needs to be thinner than its radius")
        self._check_points()

    def _check_points(self) -> None:
        most = MOST_POINTS if self.kind in _FEWEST else 0
        fewest = 0 if self.join in FALLEN else _FEWEST.get(self.kind, 0)
        checks.integer("number of points", len(self.points), fewest, most)
        if self.points:
            found = checks.in_range("points", self.points, -FARTHEST, FARTHEST)
            if found.shape != (len(self.points), 3):
                raise InputError("points: expected three numbers for each")
        if self.kind == "head" and len(self.names) != len(self.points):
            raise InputError("names: a head needs one for each of its points")
        for one in self.names:
            checks.text("names", one, 40)
        if self.group:
            checks.text("group", self.group, 40)
        self._check_faces()

    def _check_faces(self) -> None:
        checks.integer("number of parts", len(self.parts), 0, MOST_GROUPS)
        for name, uid in self.parts:
            checks.text("parts", name, 80)
            checks.integer("parts", uid, 0, 2**31)
        faced = self.kind in FACED
        if (
            (self.mesh and self.kind != "mesh")
            or (self.sliders and self.kind != "figure")
            or (self.parts and not faced)
        ):
            raise InputError(f"mesh, sliders, parts: expected none for a {self.kind}")
        if faced and self.group:
            raise InputError(f"group: a {self.kind} is joined to other forms by itself")
        if self.kind == "mesh":
            mesh_of(self.mesh)
        if self.sliders:
            checked(dict(self.sliders))

    @property
    def owners(self) -> set[int]:
        """Uids of all parts that it, or a zone of it, is of."""
        return {self.part, *(uid for _, uid in self.parts)}

    def shape(self) -> Piece:
        """The piece without all that does not shape it, or say which piece is seen."""
        part = 1 if self.part and self.join == "carve" else 0
        return replace(self, name="piece", part=part, parts=())

    def to_record(self) -> dict[str, Any]:
        """The piece as JSON-ready data, without what is as by default."""
        return to_record(self)

    @staticmethod
    def from_record(record: Mapping[str, Any]) -> Piece:
        """A piece from JSON data; InputError says what is wrong with it."""
        return from_record(Piece, record)


def joins_of(kind: str) -> tuple[str, ...]:
    """The ways in which such a piece joins the ones before it."""
    if kind in FACED:
        return JOINS[:1]
    return STROKES if kind == "stroke" else (*JOINS, *FALLEN) if kind == "sheet" else JOINS
