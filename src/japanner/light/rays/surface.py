"""What is seen of a maquette: depth, normals, pieces, openness and light."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from concurrent.futures import Future
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.light import _kernels_forms as forms
from japanner.light import _kernels_points as points_kernels
from japanner.light.maquette import Maquette
from japanner.light.pieces import FACED
from japanner.light.rays import _kernels_seen as kernels
from japanner.light.rays.joined import Pitch
from japanner.light.rays.reach import Places, lit, neighbours, opened, rimmed
from japanner.light.rays.shell import Shell, shell_of
from japanner.light.rays.tree import Floats
from japanner.light.rows import Rows, rows_of
from japanner.light.turning import turned
from japanner.raster.geometry import Rect
from japanner.raster.parallel import each, team
from japanner.types import Colour

__all__ = [
    "Surface",
    "View",
    "distances",
    "from_neighbours",
    "hit",
    "opened_up",
    "places_of",
    "relit",
    "rim_light",
    "seen",
    "seen_at",
    "seen_places",
    "sent_light",
    "surface",
]

BAND_ROWS: Final = 16
MOST_BANDS_PX: Final = 128
PLACE_ROWS: Final = 64
CELL_PX: Final = 8.0
"""About so many canvas px wide are the cells that joined forms are meshed by."""
QUICK: Final = Pitch(0.0, 48, 48)
QUICK_SKIP: Final = 4
QUICK_RAYS: Final = 2
INSIDE: Final = "eye: the viewer stands inside the maquette; move away from it"
Vector = tuple[float, float, float]
Told = Callable[[float], None]


def _silent(done: float) -> None: ...


@dataclass(frozen=True, eq=False)
class Surface:
    """What is seen of a maquette in an `area` of the canvas, a grid (h, w) of pixels `step` canvas px wide.

    depth: distance from the viewer in units, -1 where nothing is. normal: (3, h, w), as the viewer has it: x right, y
    up, z towards the viewer. piece: index of what is seen, -1 for nothing. openness: how much of the half space over a
    place is free, 0..1. lit: how much of the key light gets there, 0..1; 0 where the surface is turned away. unit_px:
    canvas px to a maquette unit. hit: number of the triangle of the maquette's `shell`, -1 for none; shares (2, h, w)
    of its second and third corner.
    """

    area: Rect
    step: int
    depth: Floats
    normal: Floats
    piece: NDArray[np.int32]
    openness: Floats
    lit: Floats
    unit_px: float
    hit: NDArray[np.int32]
    shares: Floats
    shell: Shell | None = None

    @property
    def seen(self) -> NDArray[np.bool_]:
        """Where there is any surface."""
        result: NDArray[np.bool_] = self.piece >= 0
        return result

    def cropped(self, top: int, left: int, bottom: int, right: int) -> Surface:
        """Its rows top..bottom and columns left..right, as far as it has them."""
        height, width = self.depth.shape
        top, left, bottom, right = max(top, 0), max(left, 0), min(bottom, height), min(right, width)
        corner = (self.area.x0 + left * self.step, self.area.y0 + top * self.step)
        end = (self.area.x0 + right * self.step, self.area.y0 + bottom * self.step)
        area = Rect(*corner, *end).intersected(self.area)
        planes = {name: getattr(self, name)[..., top:bottom, left:right] for name in _PLANES}
        return replace(self, area=area, **planes)

    def curvature(self, sigma_px: float = 2.0) -> Floats:
        """Mean curvature (h, w), per unit: above 0 where it bulges, 0 where nothing is; over `sigma_px` of the grid.

        Half of the divergence of the normals, as the viewer has them, over the surface.
        """
        checks.number("sigma_px", sigma_px, 0.5, 100)
        weight = scipy.ndimage.gaussian_filter(self.seen.astype(np.float32), sigma_px)
        smooth = [scipy.ndimage.gaussian_filter(plane, sigma_px) / np.maximum(weight, 1e-4) for plane in self.normal]
        across, down = np.gradient(smooth[0], axis=1), -np.gradient(smooth[1], axis=0)
        found = (across + down) / 2 * self.unit_px / self.step
        return np.where(self.seen, found, 0).astype(np.float32)


_PLANES: Final = ("depth", "normal", "piece", "openness", "lit", "hit", "shares")


@dataclass(frozen=True, eq=False)
class View:
    """How a maquette stands before the viewer, as the kernels take it."""

    turn: Floats
    eye: Floats
    rays: Floats

    @staticmethod
    def of(maquette: Maquette, area: Rect, step: int) -> View:
        turn = turned(maquette.turn)
        eye = np.ascontiguousarray(turn.T @ np.array((0, 0, maquette.eye)), np.float32)
        return View(np.ascontiguousarray(turn, np.float32), eye, _rays(maquette, area, step, turn))

    def towards(self, direction: Vector) -> Floats:
        """A direction of the viewer's in the maquette's axes."""
        return np.ascontiguousarray(self.turn.T @ np.asarray(direction, np.float32))


def surface(
    maquette: Maquette,
    area: Rect,
    light: Vector,
    *,
    light_deg: float = 8.0,
    step: int = 1,
    quick: bool = False,
    told: Told = _silent,
) -> Surface:
    """What is seen of a maquette in an area of the canvas, every `step` px, and what light gets there.

    light: unit vector to the key light, as the viewer has it; light_deg: its angular size. told: hears the share done,
    and stops the work by raising. quick: coarser, all of it open, and shadows drawn out, as while something is dragged.
    """
    checks.number("light_deg", light_deg, 0.05, 120)
    found, beside = _seen(maquette, area, step, quick, lambda done: told(0.5 * done), lit=not quick)
    if not quick and found.shell is not None:
        beside.result()
        places = places_of(found, maquette)
        found = replace(found, openness=opened(found.shell.tree, places))
        told(0.8)
        found = _relit(found, maquette, places, light, light_deg)
        told(1.0)
        return found
    if quick and found.shell is not None and found.shell.fresh():
        # What changes from look to look is not worth a tree: for now, all that faces the light is lit.
        facing = np.einsum("i,ihw->hw", np.asarray(light, np.float32), found.normal) > 0
        return replace(found, lit=(facing & found.seen).astype(np.float32))
    found = relit(found, maquette, light, light_deg=light_deg, skip=QUICK_SKIP)
    told(1.0)
    return found


def opened_up(found: Surface, maquette: Maquette) -> Surface:
    """The same surface with its openness."""
    if found.shell is None:
        return found
    return replace(found, openness=opened(found.shell.tree, places_of(found, maquette)))


def seen(maquette: Maquette, area: Rect, *, step: int = 1, quick: bool = False, told: Told = _silent) -> Surface:
    """The same without any light: all of it open and dark. InputError while the viewer stands inside the maquette."""
    return _seen(maquette, area, step, quick, told)[0]


def _seen(
    maquette: Maquette, area: Rect, step: int, quick: bool, told: Told, *, lit: bool = False
) -> tuple[Surface, Future[object]]:
    """What is seen, and what comes to its end when the tree for rays to the light has been built beside."""
    checks.integer("step", step, 1, 256)
    if area.empty:
        raise InputError("area: expected a piece of the canvas, got an empty one")
    height, width = -(-area.height // step), -(-area.width // step)
    depth, openness = (np.full((height, width), value, np.float32) for value in (-1, 1))
    normal, piece = np.zeros((3, height, width), np.float32), np.full((height, width), -1, np.int32)
    number, shares = np.full((height, width), -1, np.int32), np.zeros((2, height, width), np.float32)
    found = Surface(area, step, depth, normal, piece, openness, np.zeros_like(depth), maquette.unit_px, number, shares)
    beside: Future[object] = Future()
    beside.set_result(None)
    if not maquette.pieces:
        return found, beside
    view = View.of(maquette, area, step)
    shell = shell_of(maquette.pieces, Pitch(CELL_PX / maquette.unit_px), QUICK if quick else None)
    told(0.6)
    if shell is None:
        return found, beside
    if _distances(shell.rows, view.eye[None])[0, 0] <= 0 or _within_mesh(shell, maquette, view.eye):
        raise InputError(INSIDE)
    if lit:
        beside = team().submit(lambda: shell.tree)
    screen, near = _screen(shell, maquette, area, step), np.zeros((height, width), np.float32)
    rows, rough = shell.rows, np.zeros_like(shell.rough) if quick else shell.rough

    def draw(top: int) -> None:
        kernels.draw(screen, shell.triangles, near, number, top, min(top + tall, height))

    def resolve(top: int) -> None:
        kernels.resolve(
            rows.rows, rows.data, np.float32(rows.strokes), shell.fine, shell.points, shell.normals, shell.triangles,
            shell.piece, rough, shell.cells, view.turn, view.eye, view.rays, number, depth, normal, piece, shares,
            top, min(top + BAND_ROWS, height),
        )  # fmt: skip

    # Every band goes through all triangles, so there are few.
    tall = max(-(-height // 8), MOST_BANDS_PX)
    each(range(0, height, tall), draw, worth_it=2)
    each(range(0, height, BAND_ROWS), resolve, worth_it=2)
    told(1.0)
    return replace(found, shell=shell), beside


def _within_mesh(shell: Shell, maquette: Maquette, eye: Floats) -> bool:
    """Whether the viewer stands inside a mesh: most ways from there meet the back of a face first."""
    table = shell.rows.rows
    for row, piece in zip(table, maquette.pieces, strict=True):
        away = float(np.linalg.norm(eye - row[forms.CENTRE : forms.CENTRE + 3]))
        if piece.kind in FACED and away < row[forms.REACH]:
            ways = np.concatenate((np.eye(3), -np.eye(3))).astype(np.float32)
            met = shell.tree.first_met(np.tile(eye, (6, 1)), ways)
            normals = shell.normals[shell.triangles[met.triangle, 0]]
            return int(((normals * ways).sum(axis=1) > 0)[met.triangle >= 0].sum()) > 3
    return False


def relit(
    found: Surface, maquette: Maquette, light: Vector, *, light_deg: float = 8.0, skip: int = 1, told: Told = _silent
) -> Surface:
    """The same surface under a light from elsewhere; `skip`: its shadows only every so many px, and between them
    drawn out.
    """
    checks.integer("skip", skip, 1, 64)
    checks.number("light_deg", light_deg, 0.05, 120)
    if found.shell is None:
        return found
    found = _relit(found, maquette, places_of(found, maquette), light, light_deg, skip)
    told(1.0)
    return found


def _relit(
    found: Surface, maquette: Maquette, places: Places, light: Vector, light_deg: float, skip: int = 1
) -> Surface:
    assert found.shell is not None  # whoever asks has seen to it
    towards, rough = View.of(maquette, found.area, found.step).towards(light), skip > 1
    reaches = lit(
        found.shell.tree, places, towards, light_deg, skip if rough else 2, QUICK_RAYS if rough else 8,
        exact=not rough,
    )  # fmt: skip
    return replace(found, lit=reaches)


def rim_light(found: Surface, maquette: Maquette, light: Vector, light_deg: float) -> Floats:
    """How much of a light from behind gets to what is seen (h, w), by cosine; nothing where a form lies behind."""
    if found.shell is None:
        return np.zeros_like(found.depth)
    towards = View.of(maquette, found.area, found.step).towards(light)
    return rimmed(found.shell.tree, places_of(found, maquette), towards, light_deg)


def from_neighbours(
    found: Surface, maquette: Maquette, light: Vector, key: Colour, around: Colour, colours: Mapping[int, Colour]
) -> Floats:
    """Light (3, h, w) that forms send each other once, under a key of a colour and light from all around.

    colours: linear albedo by part; parts without one send nothing.
    """
    shell = found.shell
    if shell is None:
        return np.zeros((3, *found.depth.shape), np.float32)
    sent = sent_light(found, maquette, light, key, around, colours)
    return neighbours(shell.tree, places_of(found, maquette), sent)


def sent_light(
    found: Surface, maquette: Maquette, light: Vector, key: Colour, around: Colour, colours: Mapping[int, Colour]
) -> Floats:
    """Light (m, 3) that each triangle of the shell of what is seen sends; the rest as for `from_neighbours`."""
    shell = found.shell
    assert shell is not None  # whoever asks has seen to it
    towards = View.of(maquette, found.area, found.step).towards(light)
    corner = shell.triangles[:, 0]
    normals = np.ascontiguousarray(shell.normals[corner])
    starts = shell.points[shell.triangles].mean(axis=1) + normals * (0.5 * shell.cells[:, None])
    facing = np.maximum(normals @ towards, 0)
    lit_ones = np.flatnonzero(facing > 0)
    way = np.tile(towards, (1, 1, 1))
    free = np.zeros(len(corner), np.float32)
    free[lit_ones] = shell.tree.towards_light(
        np.ascontiguousarray(starts[lit_ones], np.float32), normals[lit_ones], way, np.zeros(len(lit_ones), np.int64),
        8.0 * shell.rows.scale,
    )  # fmt: skip
    albedo = np.array([colours.get(one.part, (0.0, 0.0, 0.0)) for one in maquette.pieces], np.float32)
    light_there = (facing * free)[:, None] * np.asarray(key, np.float32) + np.asarray(around, np.float32)
    sent: Floats = albedo[shell.piece[corner, 0]] * light_there
    return sent


def _screen(shell: Shell, maquette: Maquette, area: Rect, step: int) -> Floats:
    """Where each point of a shell is seen, in pixels of the grid, and one over its depth."""
    x, y, z = (shell.points @ turned(maquette.turn).T.astype(np.float32)).T
    away = np.float32(maquette.eye) - z
    before = away > 1e-3 * maquette.eye
    near = np.where(before, 1 / np.where(before, away, 1), 0)
    larger = np.float32(maquette.eye * maquette.unit_px / step) * near
    left, top = (maquette.middle[0] - area.x0) / step - 0.5, (maquette.middle[1] - area.y0) / step - 0.5
    return np.ascontiguousarray(np.stack((left + x * larger, top - y * larger, near), axis=1), np.float32)


def places_of(found: Surface, maquette: Maquette) -> Places:
    """Where rays to the light start."""
    shell, view = found.shell, View.of(maquette, found.area, found.step)
    assert shell is not None  # whoever asks has seen to it
    turn = view.turn
    height, width = found.depth.shape
    i, j = np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32)[:, None]
    place, normal = np.empty_like(found.normal), np.empty_like(found.normal)
    off, least = np.empty_like(found.depth), np.float32(1e-5 * shell.rows.scale)

    def band(top: int) -> None:
        rows = slice(top, top + PLACE_ROWS)
        corner, across, down = view.rays[:, :, None, None]
        ways = corner - view.eye[:, None, None] + across * i + down * j[rows]
        ways *= found.depth[rows] / np.sqrt(np.einsum("khw,khw->hw", ways, ways))
        place[:, rows] = ways + view.eye[:, None, None]
        normal[:, rows] = np.einsum("ki,khw->ihw", turn, found.normal[:, rows])
        hit = found.hit[rows]
        off[rows] = np.where(hit >= 0, shell.off[hit], 0) + least

    each(range(0, height, PLACE_ROWS), band, worth_it=2)
    return Places(place, normal, found.piece, off, found.step / maquette.unit_px, shell.rows.scale)


def hit(maquette: Maquette, x: float, y: float) -> tuple[Vector, int] | None:
    """What is seen at a canvas position: the place in the maquette's axes and the piece; None for nothing."""
    left, top = int(np.floor(x)), int(np.floor(y))
    found = seen(maquette, Rect(left, top, left + 1, top + 1))
    if not found.seen[0, 0]:
        return None
    view = View.of(maquette, found.area, 1)
    way = (view.rays[0] - view.eye).astype(float)
    place = view.eye + way / np.linalg.norm(way) * float(found.depth[0, 0])
    return (float(place[0]), float(place[1]), float(place[2])), int(found.piece[0, 0])


def seen_at(maquette: Maquette, place: Vector) -> tuple[float, float]:
    """Where on the canvas a place of the maquette is seen."""
    (x, y), _ = seen_places(maquette, np.asarray([place], float))
    return float(x[0]), float(y[0])


def seen_places(maquette: Maquette, places: NDArray[np.floating]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Where on the canvas places (n, 3) are seen, x and y (2, n), and how far (n,) they are from the viewer."""
    x, y, z = turned(maquette.turn) @ np.asarray(places, float).T
    away = np.sqrt(x * x + y * y + (maquette.eye - z) ** 2)
    larger = maquette.eye / np.maximum(maquette.eye - z, 1e-3) * maquette.unit_px
    return np.stack((maquette.middle[0] + x * larger, maquette.middle[1] - y * larger)), away


def distances(maquette: Maquette, points: NDArray[np.floating]) -> Floats:
    """Distance to the surface and its slope, (n, 4), of points (n, 3) in the maquette's axes."""
    return _distances(rows_of(maquette.pieces), np.ascontiguousarray(points, np.float32))


def _distances(rows: Rows, points: Floats) -> Floats:
    found = np.zeros((len(points), 4), np.float32)
    points_kernels.distances(rows.rows, rows.data, np.float32(rows.strokes), points, found)
    return found


def _rays(maquette: Maquette, area: Rect, step: int, turn: NDArray[np.float64]) -> Floats:
    """Where the ray of the upper left pixel crosses the plane of the origin, and the steps to the right and down."""
    unit, (x, y) = maquette.unit_px, maquette.middle
    corner = np.array(((area.x0 + step / 2 - x) / unit, (y - area.y0 - step / 2) / unit, 0))
    steps = np.array(((step / unit, 0, 0), (0, -step / unit, 0)))
    return np.ascontiguousarray(np.stack((corner, *steps)) @ turn, np.float32)
