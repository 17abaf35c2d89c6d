"""Cloth that hangs from hooks, or is draped over forms: where it comes to rest, and how far any place is from it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner.light import _kernels_cloth as kernels
from japanner.light.pieces import Piece
from japanner.raster.outwards import outwards

__all__ = ["DOWN", "Cloth", "Floats", "Near", "draped", "hung", "worn"]

Floats = NDArray[np.floating]
Near = Callable[[Floats], Floats]
"""From points (n, 3) in the cloth's axes to distance and slope (n, 4) of what it falls on."""


@dataclass(frozen=True, eq=False)
class Volume:
    """Distances, in units, at the corners of cubes `cell` wide (x, y, z), the first of them at `low`."""

    low: Floats
    cell: float
    far: NDArray[np.float32]


SHAPE: Final = (64, 64)
CELLS: Final = 110
"""To the longest side of a cloth, for its distances."""
MARGIN: Final = 6
NEAR: Final = 5.0
"""Cells from the cloth to where its distance is exact."""
STEPS: Final = 320
FALLING: Final = 300
ROUNDS: Final = 6
AT_ONCE: Final = 2
"""Steps of falling between two looks at what is in the way."""
FINE: Final = 4
DOWN: Final = np.array((0.0, -1.0, 0.0))
OPEN: Final = 0.16
"""Half of how far a cape stands open in front, radians."""
FULL: Final = 0.85
"""Share of a whole round that a cape's lower edge is cut to."""
SLIP: Final = 0.8
Held = tuple[NDArray[np.uintp], Floats]
Threads = tuple[Floats, float]


@dataclass(frozen=True, eq=False)
class Cloth:
    """Where the points of a cloth are (rows, columns, 3), in its own axes: x across, y up, top row first."""

    place: Floats

    def heights(self) -> Floats:
        """Height above its plane (rows, columns) over an even grid across and up -1..1, for cloth of half sizes 1."""
        v, u = np.meshgrid(np.linspace(1, -1, SHAPE[0]), np.linspace(-1, 1, SHAPE[1]), indexing="ij")
        heights = scipy.interpolate.LinearNDInterpolator(self.place[..., :2].reshape(-1, 2), self.place[..., 2].ravel())
        found = heights(u, v)
        smooth: Floats = scipy.ndimage.gaussian_filter(outwards(np.isfinite(found), found)[0], 0.8)
        return smooth

    @cached_property
    def volume(self) -> Volume:
        """Distance to it, in cells around it."""
        smooth = scipy.ndimage.gaussian_filter(self.place, (0.7, 0.7, 0), mode="nearest")
        fine = scipy.ndimage.zoom(smooth, (FINE, FINE, 1), order=3, mode="nearest")
        down, across = np.gradient(fine, axis=0), np.gradient(fine, axis=1)
        normal = np.cross(across, down).reshape(-1, 3)
        normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
        spacing = np.maximum(np.linalg.norm(down, axis=2), np.linalg.norm(across, axis=2)).ravel()
        dense = fine.reshape(-1, 3)
        low, high = dense.min(axis=0), dense.max(axis=0)
        cell = float((high - low).max()) / CELLS
        low = low - MARGIN * cell
        shape = tuple(np.ceil((high - low) / cell).astype(int) + MARGIN)
        taken = np.ones(shape, bool)
        taken[tuple(np.rint((dense - low) / cell).astype(int).T)] = False
        far = scipy.ndimage.distance_transform_edt(taken)
        near = np.argwhere(far < NEAR)
        _, at = scipy.spatial.cKDTree(dense).query(near * cell + low, workers=2)
        way = near * cell + low - dense[at]
        # Between the points it goes on as a plane does.
        off = np.abs(np.einsum("ni,ni->n", way, normal[at]))
        aside = np.sqrt(np.maximum(np.einsum("ni,ni->n", way, way) - off**2, 0))
        far[tuple(near.T)] = np.hypot(off, np.maximum(aside - 0.75 * spacing[at], 0)) / cell
        return Volume(low, cell, (far * cell).astype(np.float32))


@lru_cache(maxsize=16)
def hung(size: tuple[float, float], slack: float, hooks: tuple[tuple[float, float, float], ...]) -> Cloth:
    """Cloth of half these sizes, and so much longer than that, that hangs from hooks (across and up -1..1, height)."""
    place, u, v = _begun(size, 0.06)
    at, where = _held(size, hooks, u, v)
    across, down = _threads(size, 1 + slack, 1 + 0.3 * slack)
    drop = DOWN * 1.5e-3 * size[1]
    kernels.hang(place, place.copy(), at, where, across, down, drop, 1 / (1 + slack), STEPS, ROUNDS)
    return Cloth(place)


def draped(piece: Piece, down: Floats, near: Near) -> Cloth:
    """Cloth that falls along `down` (a unit vector in its axes) onto what `near` tells of, and from its hooks if any.

    It falls a few steps, and what has come into a form is put back on its surface, where it stays by friction.
    """
    size, loose = piece.size[:2], 1 + piece.edge
    place, u, v = _begun(size, 0.01)
    held = _held(size, piece.points, u, v)
    fall = down * 6e-4 * max(size)
    return _fallen(place, held, _threads(size, loose, loose), fall, near, 1.5 * piece.size[2])


def worn(piece: Piece, down: Floats, near: Near) -> Cloth:
    """Cloth worn round a neck, as a cape is, that falls as draped cloth does.

    It is cut as a ring about the piece's y axis, open in front: from the first half size outwards by the second one, so
    much more of a whole round at its lower edge as it has slack.
    """
    neck, long, thick = piece.size
    v, u = np.meshgrid(np.linspace(0, 1, SHAPE[0]), np.linspace(-1, 1, SHAPE[1]), indexing="ij")
    turn, reach = np.pi + (np.pi - OPEN) * u, neck + long * v
    place = np.stack((reach * np.sin(turn), 0.02 * long * np.sin(9 * turn) * v, reach * np.cos(turn)), axis=-1)
    at = np.stack((np.zeros(SHAPE[1], np.uintp), np.arange(SHAPE[1], dtype=np.uintp)), axis=-1)
    full = neck + FULL * (1 + piece.edge) * long * v[:, 0]
    threads = full * 2 * (np.pi - OPEN) / (SHAPE[1] - 1), long / (SHAPE[0] - 1)
    return _fallen(place, (at, place[:1].copy()), threads, down * 1.2e-3 * long, near, 1.5 * thick, SLIP)


def _fallen(
    place: Floats, held: Held, threads: Threads, fall: Floats, near: Near, off: float, slip: float = 0.0
) -> Cloth:
    """Cloth that has fallen a few steps at a time, and kept `off` from what is in the way; what lies on that goes on
    along it at the share `slip` of its speed.
    """
    former = place.copy()
    for _ in range(FALLING // AT_ONCE):
        kernels.hang(place, former, *held, *threads, fall, 1.0, AT_ONCE, 2 * ROUNDS)
        found = near(place.reshape(-1, 3))
        deep = np.maximum(off - found[:, 0], 0).reshape(*SHAPE, 1)
        out = found[:, 1:].reshape(*SHAPE, 3)
        place += deep * out
        moved = place - former
        moved -= np.einsum("ijk,ijk->ij", moved, out)[..., None] * out
        former[...] = np.where(deep > 0, place - slip * moved, former)
    return Cloth(place)


def _threads(size: tuple[float, float], wider: float, longer: float) -> Threads:
    """Lengths of threads across (rows,) and down cloth of half these sizes."""
    across = np.full(SHAPE[0], 2 * size[0] * wider / (SHAPE[1] - 1))
    return across, 2 * size[1] * longer / (SHAPE[0] - 1)


def _begun(size: tuple[float, float], uneven: float) -> tuple[Floats, Floats, Floats]:
    """Flat cloth, with the first hint of folds; and across and up of its points."""
    v, u = np.meshgrid(np.linspace(1, -1, SHAPE[0]), np.linspace(-1, 1, SHAPE[1]), indexing="ij")
    noise = scipy.ndimage.gaussian_filter(np.random.default_rng(5).standard_normal(u.shape), (6, 2))
    height = noise / np.abs(noise).max() * uneven * min(size)
    return np.stack((u * size[0], v * size[1], height), axis=-1), u, v


def _held(size: tuple[float, float], hooks: tuple[tuple[float, float, float], ...], u: Floats, v: Floats) -> Held:
    """Which points the hooks hold, and where."""
    at = [np.unravel_index(int(np.argmin((u - x) ** 2 + (v - y) ** 2)), u.shape) for x, y, _ in hooks]
    where = [(x * size[0], y * size[1], z * size[0]) for x, y, z in hooks]
    return np.array(at, np.uintp).reshape(-1, 2), np.array(where, float).reshape(1, -1, 3)
