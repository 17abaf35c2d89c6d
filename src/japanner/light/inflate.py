"""Blowing a silhouette up to a form: by Poisson's equation, or with an edge rounded or cut at a distance."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np
import scipy
from numpy.typing import ArrayLike, NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.light import _kernels_tilt as kernels
from japanner.raster.outwards import outwards
from japanner.raster.parallel import each

__all__ = ["PROFILES", "bevel", "inflated", "normals_of", "poisson", "tilted_cosine"]

Floats = NDArray[np.floating]

PROFILES: Final = ("round", "flat", "hollow")
"""How a bevel rises from the edge: as a quarter of a circle, evenly, or as its hollow counterpart."""
LONGEST: Final = 220
BAND: Final = 64
FINER: Final = 3


def poisson(inside: NDArray[np.bool_]) -> Floats:
    """The solution of -laplace(u) = 4 inside and 0 outside, on a grid of cells of width 1.

    For a disc of radius R that is R^2 - r^2, the square of the half thickness of a ball.
    """
    number = np.full(inside.shape, -1)
    number[inside] = np.arange(inside.sum())
    padded = np.pad(number, 1, constant_values=-1)
    here = number[inside]
    rows, columns = [], []
    for y, x in ((0, 1), (2, 1), (1, 0), (1, 2)):
        there = padded[y : y + inside.shape[0], x : x + inside.shape[1]][inside]
        rows.append(here[there >= 0])
        columns.append(there[there >= 0])
    r, c = np.concatenate(rows), np.concatenate(columns)
    n = len(here)
    matrix = (
        scipy.sparse.csc_matrix((np.full(len(r), -1.0), (r, c)), (n, n)) + scipy.sparse.identity(n, format="csc") * 4
    )
    result = np.zeros(inside.shape)
    result[inside] = scipy.sparse.linalg.spsolve(matrix, np.full(n, 4.0))
    return result


def inflated(cover: Floats, depth: float = 1.0) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """A silhouette (h, w), coverage 0..1, blown up: normals (3, h, w), x right, y up, z out, and height in px (h, w).

    depth: 1 makes a ball of a disc; less is flatter. InputError for an empty silhouette.
    """
    checks.number("depth", depth, 0.01, 10)
    height, width = cover.shape
    step = max(int(np.ceil(max(height, width) / LONGEST)), 1)
    size = -(-width // step), -(-height // step)
    whole = np.zeros((size[1] * step, size[0] * step), np.float32)
    whole[:height, :width] = cover
    small = np.pad(cv2.resize(whole, size, interpolation=cv2.INTER_AREA), 2)
    if not (small > 0.5).any():
        raise InputError("The silhouette is empty, or too thin to be a form")
    square = scipy.ndimage.gaussian_filter(poisson(small > 0.5), 0.7) * step**2
    large = cv2.resize(square.astype(np.float32), None, fx=step, fy=step, interpolation=cv2.INTER_CUBIC)
    square = scipy.ndimage.gaussian_filter(large, step * 0.6) if step > 1 else large
    own = slice(2 * step, 2 * step + height), slice(2 * step, 2 * step + width)
    # A row or column of one px has no slope of its own: what is around it tells.
    around = square if min(height, width) < 2 else square[own]
    slopes = np.asarray(np.gradient(around))
    up, right = slopes[:, *own] if around is square else slopes
    square = square[own]
    rise = np.sqrt(np.maximum(square, 0))
    normal = np.stack((-right / 2, up / 2, rise / depth))
    normal /= np.maximum(np.linalg.norm(normal, axis=0), 1e-6)
    # Where cells on the very border know too little, the nearest ones further in are turned on to the side.
    inside = cv2.distanceTransform((cover > 0.5).astype(np.uint8), cv2.DIST_L2, 5)
    margin = 1.5 * step + 0.5
    edge = (inside < margin) & (inside.max() > 2 * margin)
    if edge.any():
        (normal,) = outwards(inside >= margin, normal)
    normal[2, edge] *= np.sqrt(np.clip(inside[edge] / margin, 0.05, 1))
    normal /= np.maximum(np.linalg.norm(normal, axis=0), 1e-6)
    return normal.astype(np.float32), (rise * depth).astype(np.float32)


def bevel(cover: Floats, width_px: float, profile: str = "round", slope: float = 1.0) -> NDArray[np.float32]:
    """Height in px (h, w) of a plate with the silhouette `cover`, whose edge rises over `width_px`.

    slope: of a flat profile, and how much steeper or flatter the others are (Felzenszwalb & Huttenlocher 2012 for the
    distances). InputError for an empty silhouette.
    """
    checks.number("width_px", width_px, 0.5, 4096)
    checks.one_of("profile", profile, PROFILES)
    if not (cover > 0.5).any():
        raise InputError("The silhouette is empty")
    d = np.minimum(_inner_distance(cover), width_px)
    if profile == "round":
        rise = np.sqrt(np.maximum(width_px**2 - (width_px - d) ** 2, 0))
    elif profile == "flat":
        rise = d
    else:
        rise = width_px - np.sqrt(np.maximum(width_px**2 - d**2, 0))
    return (rise * slope).astype(np.float32)


def _inner_distance(cover: Floats) -> Floats:
    """Distance to the outline, px; finer than a pixel along slanting edges: coverage says where in a pixel it runs."""
    fine = cv2.resize(
        np.pad(np.asarray(cover, np.float32), 2), None, fx=FINER, fy=FINER, interpolation=cv2.INTER_LINEAR
    )
    far = cv2.distanceTransform((fine > 0.5).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    height, width = cover.shape
    mean = cv2.resize(far, (width + 4, height + 4), interpolation=cv2.INTER_AREA)[2:-2, 2:-2]
    result: Floats = mean / FINER + np.float32(0.5 - 0.5 / FINER)
    return np.where(cover > 0.5, result, 0)


def normals_of(height: Floats) -> NDArray[np.float32]:
    """Normals (3, h, w), x right, y up, z out, of heights in px (h, w)."""
    down, right = np.gradient(np.asarray(height, np.float32))
    normal = np.stack((-right, down, np.ones_like(right)))
    return (normal / np.linalg.norm(normal, axis=0)).astype(np.float32)


def tilted_cosine(normal: NDArray[np.float32], height: NDArray[np.float32], scale: float,
                  towards: ArrayLike) -> NDArray[np.float32]:  # fmt: skip
    """Cosine (h, w) between a direction (3,), x right, y up, z out, and normals (3, h, w) that carry a fine relief.

    height: of the relief (h, w), px, times `scale`; its normals are added to those of the form, as for small bumps.
    """
    planes, fine = np.ascontiguousarray(normal, np.float32), np.ascontiguousarray(height, np.float32)
    out, rows = np.empty_like(fine), fine.shape[0]
    numbers = [np.float32(one) for one in (scale, *np.asarray(towards, float))]

    def band(top: int) -> None:
        kernels.tilted_cosine(planes, fine, *numbers, out, top, min(top + BAND, rows))

    each(range(0, rows, BAND), band)
    return out
