"""What is seen of a maquette: marched to depth, normals, pieces, openness and light."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.light import _kernels_march as kernels
from japanner.light.maquette import Maquette
from japanner.light.pieces import turned
from japanner.light.rows import Rows, rows_of
from japanner.raster.geometry import Rect
from japanner.raster.parallel import each

__all__ = ["Surface", "distances", "hit", "relit", "seen_at", "surface"]

BAND_ROWS: Final = 16
CLOSE: Final = 2e-4
"""How near a ray has to come to the surface, in shares of the maquette's size."""
QUICK_CLOSE: Final = 6e-3
QUICK_SKIP: Final = 6
Vector = tuple[float, float, float]
Told = Callable[[float], None]


def _silent(done: float) -> None: ...


@dataclass(frozen=True, eq=False)
class Surface:
    """What is seen of a maquette in an `area` of the canvas, a grid (h, w) of pixels `step` canvas px wide.

    depth: distance from the viewer in units, -1 where nothing is. normal: (3, h, w), as the viewer has it: x right, y
    up, z towards the viewer. piece: index of what is seen, -1 for nothing. openness: how much of the surroundings is
    free, 0..1. lit: how much of the key light gets there, 0..1; 0 where the surface is turned away. unit_px: canvas px
    to a maquette unit.
    """

    area: Rect
    step: int
    depth: NDArray[np.float32]
    normal: NDArray[np.float32]
    piece: NDArray[np.int32]
    openness: NDArray[np.float32]
    lit: NDArray[np.float32]
    unit_px: float = 1.0

    @property
    def seen(self) -> NDArray[np.bool_]:
        """Where there is any surface."""
        result: NDArray[np.bool_] = self.piece >= 0
        return result

    def curvature(self, sigma_px: float = 2.0) -> NDArray[np.float32]:
        """Mean curvature (h, w), per unit: above 0 where it bulges, 0 where nothing is; over `sigma_px` of the grid.

        Half of the divergence of the normals, as the viewer has them, over the surface.
        """
        checks.number("sigma_px", sigma_px, 0.5, 100)
        weight = scipy.ndimage.gaussian_filter(self.seen.astype(np.float32), sigma_px)
        smooth = [scipy.ndimage.gaussian_filter(plane, sigma_px) / np.maximum(weight, 1e-4) for plane in self.normal]
        across, down = np.gradient(smooth[0], axis=1), -np.gradient(smooth[1], axis=0)
        found = (across + down) / 2 * self.unit_px / self.step
        return np.where(self.seen, found, 0).astype(np.float32)


@dataclass(frozen=True, eq=False)
class _View:
    """A maquette before the viewer, as the kernels take it."""

    rows: Rows
    turn: NDArray[np.float32]
    eye: NDArray[np.float32]

    @staticmethod
    def of(maquette: Maquette) -> _View:
        turn, rows = turned(maquette.turn), rows_of(maquette.pieces)
        eye = np.ascontiguousarray(turn.T @ np.array((0, 0, maquette.eye)), np.float32)
        if len(rows.rows) and _distances(rows, eye[None])[0, 0] <= 0:
            raise InputError("eye: the viewer stands inside the maquette; move away from it")
        return _View(rows, np.ascontiguousarray(turn, np.float32), eye)

    def towards(self, direction: Vector) -> NDArray[np.float32]:
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
    """March to what is seen of a maquette in an area of the canvas, every `step` px.

    light: unit vector to the key light, as the viewer has it; light_deg: its angular size. told: hears the share done,
    and stops the work by raising. quick: coarser, all of it open, and shadows drawn out, as while something is dragged.
    """
    checks.integer("step", step, 1, 256)
    checks.number("light_deg", light_deg, 0.05, 120)
    if area.empty:
        raise InputError("area: expected a piece of the canvas, got an empty one")
    height, width = -(-area.height // step), -(-area.width // step)
    depth, openness = (np.full((height, width), value, np.float32) for value in (-1, 1))
    normal, piece = np.zeros((3, height, width), np.float32), np.full((height, width), -1, np.int32)
    found = Surface(area, step, depth, normal, piece, openness, np.zeros_like(depth), maquette.unit_px)
    if not maquette.pieces:
        return found
    view = _View.of(maquette)
    rays, rows = _rays(maquette, area, step, view.turn), view.rows
    close, skip = (QUICK_CLOSE, QUICK_SKIP) if quick else (CLOSE, 1)

    def band(top: int) -> None:
        kernels.march(
            rows.rows, rows.data, view.turn, view.eye, rays, np.float32(rows.scale), np.float32(rows.strokes),
            np.float32(close * rows.scale), depth, normal, piece, openness, not quick, top,
            min(top + BAND_ROWS, height),
        )  # fmt: skip
        told(min((top + BAND_ROWS) / height, 1.0) * 0.6)

    each(range(0, height, BAND_ROWS), band, worth_it=2)
    lit = _lit(view, rays, depth, normal, light, light_deg, skip, lambda done: told(0.6 + 0.4 * done))
    return replace(found, lit=_drawn_out(found, lit, light, skip) if quick else lit)


def relit(
    seen: Surface, maquette: Maquette, light: Vector, *, light_deg: float = 8.0, skip: int = 1, told: Told = _silent
) -> Surface:
    """The same surface under a light from elsewhere; `skip`: its shadows only every so many px, and between them
    drawn out.
    """
    checks.integer("skip", skip, 1, 64)
    checks.number("light_deg", light_deg, 0.05, 120)
    if not maquette.pieces:
        return seen
    view = _View.of(maquette)
    rays = _rays(maquette, seen.area, seen.step, view.turn)
    lit = _lit(view, rays, seen.depth, seen.normal, light, light_deg, skip, told)
    return replace(seen, lit=lit if skip == 1 else _drawn_out(seen, lit, light, skip))


def _drawn_out(seen: Surface, lit: NDArray[np.float32], light: Vector, skip: int) -> NDArray[np.float32]:
    """Light that was marched to every `skip` px only, for all of them."""
    height, width = seen.depth.shape
    # What is turned away is dark in any case; only cast shadows are drawn out.
    away = np.einsum("i,ihw->hw", np.asarray(light, np.float32), seen.normal) <= 0
    lit = cv2.resize(lit, (lit.shape[1] * skip, lit.shape[0] * skip), interpolation=cv2.INTER_LINEAR)
    lit = np.ascontiguousarray(lit[:height, :width])
    lit[away | ~seen.seen] = 0
    return lit


def _lit(
    view: _View, rays: NDArray[np.float32], depth: NDArray[np.float32], normal: NDArray[np.float32], light: Vector,
    light_deg: float, skip: int, told: Told,
) -> NDArray[np.float32]:  # fmt: skip
    height, width = (-(-side // skip) for side in depth.shape)
    lit = np.zeros((height, width), np.float32)
    half_width, rows = np.float32(np.tan(np.radians(light_deg) / 2)), view.rows
    towards = view.towards(light)

    def band(top: int) -> None:
        kernels.light(
            rows.rows, rows.data, view.turn, view.eye, rays, towards, half_width, np.float32(rows.scale),
            np.float32(rows.strokes), depth, normal, lit, skip, top, min(top + BAND_ROWS, height),
        )  # fmt: skip
        told(min((top + BAND_ROWS) / height, 1.0))

    each(range(0, height, BAND_ROWS), band, worth_it=2)
    return lit


def hit(maquette: Maquette, x: float, y: float) -> tuple[Vector, int] | None:
    """What is seen at a canvas position: the place in the maquette's axes and the piece; None for nothing."""
    left, top = int(np.floor(x)), int(np.floor(y))
    view = _View.of(maquette)
    found = surface(maquette, Rect(left, top, left + 1, top + 1), (0.0, 0.0, 1.0))
    if not found.seen[0, 0]:
        return None
    rays = _rays(maquette, found.area, 1, view.turn).astype(float)
    way = rays[0] - view.eye
    place = view.eye + way / np.linalg.norm(way) * float(found.depth[0, 0])
    return (float(place[0]), float(place[1]), float(place[2])), int(found.piece[0, 0])


def seen_at(maquette: Maquette, place: Vector) -> tuple[float, float]:
    """Where on the canvas a place of the maquette is seen."""
    x, y, z = turned(maquette.turn) @ np.asarray(place, float)
    larger = maquette.eye / max(maquette.eye - z, 1e-3) * maquette.unit_px
    return maquette.middle[0] + x * larger, maquette.middle[1] - y * larger


def distances(maquette: Maquette, points: NDArray[np.floating]) -> NDArray[np.float32]:
    """Distance to the surface and its slope, (n, 4), of points (n, 3) in the maquette's axes."""
    return _distances(rows_of(maquette.pieces), np.ascontiguousarray(points, np.float32))


def _distances(rows: Rows, points: NDArray[np.float32]) -> NDArray[np.float32]:
    found = np.zeros((len(points), 4), np.float32)
    kernels.distances(rows.rows, rows.data, np.float32(rows.strokes), points, found)
    return found


def _rays(maquette: Maquette, area: Rect, step: int, turn: NDArray[np.float32]) -> NDArray[np.float32]:
    """Where the ray of the upper left pixel crosses the plane of the origin, and the steps to the right and down."""
    unit, (x, y) = maquette.unit_px, maquette.middle
    corner = np.array(((area.x0 + step / 2 - x) / unit, (y - area.y0 - step / 2) / unit, 0))
    steps = np.array(((step / unit, 0, 0), (0, -step / unit, 0)))
    return np.ascontiguousarray(np.stack((corner, *steps)) @ turn.astype(float), np.float32)
