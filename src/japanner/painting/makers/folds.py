"""Folds of a part that is cloth: hung, as the form is, or along painted strokes; and threads that follow them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
import scipy

from japanner.errors import InputError
from japanner.light.drape import draped, folded_rows
from japanner.light.inflate import normals_of
from japanner.painting.form.forms import has_pieces
from japanner.painting.makers.base import Plane, Scene, choice, chosen_layer, fractal, number, smoothstep

__all__ = ["FOLDS", "Folds", "folds_of", "threads"]

STROKES: Final = "along strokes"
AS_FORM: Final = "as the form is"
FOLDS: Final = (
    choice("folded", "folds", ("running down", AS_FORM, STROKES), "Its own, the form's, or painted ones"),
    chosen_layer("strokes", "of", "The layer whose strokes are the folds"),
    number("folds", "how many", 6, 1, 30, "Folds across it"),
    number("depth_of", "deep", 60, 0, 200, "How much cloth there is to fold", unit=" %"),
    number("fall", "fall", 8, -90, 90, "Which way they run", unit="°"),
)  # fmt: skip
TURN_DEG: Final = 86.0
"""How far cloth turns in folds that are 100 % deep."""
MOST_DEG: Final = 128.0


@dataclass(frozen=True, eq=False)
class Folds:
    """Cloth over a part's area; see `Draped`. lit: how much of the key light gets there, 0..1. place: across and down
    the cloth (2, h, w), px, for its threads.
    """

    density: Plane
    front: Plane
    back: Plane
    height: Plane
    normal: Plane
    lit: Plane
    place: Plane


def folds_of(scene: Scene) -> Folds:
    """The part's folds by the settings of `FOLDS`."""
    if scene["folded"] == STROKES:
        return _raised(scene, _stroked(scene))
    if has_pieces(scene.painting, scene.part) and scene["folded"] == AS_FORM:
        form = scene.form
        return _of_normals(scene, form.normal, form.height, form.lit)
    return _hung(scene)


def _hung(scene: Scene) -> Folds:
    """Folds that run down from where it hangs, over a rectangle that is turned by the fall."""
    shape = scene.form.cover.shape
    angle = float(scene["fall"])
    turned = abs(angle) > 0.5
    side = int(np.ceil(np.hypot(*shape))) if turned else 0
    size = (side, side) if turned else shape
    deep = min(TURN_DEG * scene["depth_of"] / 100, MOST_DEG)
    count = scene["folds"] * size[1] / shape[1]
    x, z = folded_rows(scene.chance("folds"), size, count, deep)
    cos, sin = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    light_x, light_y, light_z = (float(one) for one in scene.light)
    # The rectangle's axes: its rows fall this way, so the light comes to it from another side.
    light = (light_x * cos - light_y * sin, light_y * cos + light_x * sin, light_z)
    found = draped(x, z, size[1], light)
    lit = shaded_by(found.height, light)
    down = np.broadcast_to(np.arange(size[0], dtype=np.float32)[:, None], size)
    planes = [found.density, found.front, found.back, found.height, *found.normal, lit, found.along * size[1], down]
    if turned:
        planes = [_turned(one, angle, shape) for one in planes]
    density, front, back, height, nx, ny, nz, lit, across, down = planes
    normal = np.stack((nx * cos + ny * sin, ny * cos - nx * sin, nz))
    normal /= np.maximum(np.linalg.norm(normal, axis=0), 1e-6)
    return Folds(density, front, back, height, normal, lit, np.stack((across, down)))


def _turned(plane: Plane, angle: float, shape: tuple[int, int]) -> Plane:
    """The middle (h, w) of a square that is turned clockwise."""
    side = plane.shape[0]
    matrix = cv2.getRotationMatrix2D(((side - 1) / 2, (side - 1) / 2), -angle, 1.0)
    matrix[:, 2] += (shape[1] - side) / 2, (shape[0] - side) / 2
    found: Plane = cv2.warpAffine(
        np.ascontiguousarray(plane, np.float32), matrix, shape[::-1], flags=cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip
    return found


def _raised(scene: Scene, height: Plane) -> Folds:
    """Of cloth that is a height over its plane."""
    return _of_normals(scene, normals_of(height), height, shaded_by(height, scene.light))


def _of_normals(scene: Scene, normal: Plane, height: Plane, lit: Plane) -> Folds:
    """Of cloth that lies once everywhere, and double where a fold turns under."""
    facing = scene.facing(normal)
    inside = cv2.GaussianBlur(height, (0, 0), 2.0)
    hollow = scipy.ndimage.gaussian_laplace(inside, max(max(height.shape) * 0.012, 2.0))
    double = smoothstep(0.2, 0.8, hollow / max(float(hollow.std()) * 2.2, 1e-6))
    density = (1 + double) / np.clip(normal[2], 0.16, 1)
    rows, columns = height.shape
    place = np.stack(
        np.broadcast_arrays(np.arange(columns, dtype=np.float32)[None], np.arange(rows, dtype=np.float32)[:, None])
    )
    # Threads go up and down over folds.
    place = place - 0.9 * np.stack((normal[0], -normal[1])) / np.clip(normal[2], 0.3, 1) * 6
    return Folds(density.astype(np.float32), np.clip(facing, 0, 1), np.clip(-facing, 0, 1), height, normal, lit,
                 place.astype(np.float32))  # fmt: skip


def _stroked(scene: Scene) -> Plane:
    """Heights in px of cloth with a fold along every stroke of a layer: strong paint stands highest."""
    painted = scene.map("strokes")
    if painted is None:
        raise InputError("folds: choose the layer whose strokes are to be folds")
    side = float(np.hypot(*painted.shape)) / 2
    # A stroke is as high as it is wide, and its fold runs out softly into the cloth beside it.
    inside = scipy.ndimage.distance_transform_edt(painted > 0.5)
    ridge = np.sqrt(np.maximum(inside, 0)) * painted
    wide = max(2.0 * float(np.percentile(inside[inside > 0], 90)), 2.0) if (inside > 0).any() else 2.0
    sigma = min(0.45 * wide, side * 0.08)
    height = scipy.ndimage.gaussian_filter(ridge * np.sqrt(wide), sigma) * 1.6
    height += 0.35 * scipy.ndimage.gaussian_filter(ridge * np.sqrt(wide), 3 * sigma)
    creases = fractal(scene.chance("creases"), painted.shape, side * 0.22, 4, 0.6, stretch=(0.8, 1.6)) * side * 0.0012
    return (height * scene["depth_of"] / 60 + creases).astype(np.float32)


def shaded_by(height: Plane, light: tuple[float, ...] | Plane) -> Plane:
    """Shadow that folds cast on each other: the height towards the light, a few steps on."""
    x, y, z = (float(v) for v in light)
    flat = max(float(np.hypot(x, y)), 1e-3)
    rise = z / flat
    result = np.ones_like(height)
    for step in (3, 6, 10, 16, 24, 36):
        matrix = np.array(((1.0, 0, -step * x / flat), (0, 1.0, step * y / flat)))
        moved = cv2.warpAffine(height, matrix, height.shape[::-1], borderMode=cv2.BORDER_REPLICATE)
        result *= 1 - 0.5 * smoothstep(0.0, 4.0, moved - height - step * rise)
    return cv2.GaussianBlur(result, (0, 0), 1.5)


def threads(scene: Scene, place: Plane, size: float, uneven: float = 0.35) -> Plane:
    """How high the weave is at each place (h, w), about 0 with deviation .5: threads across and down the cloth that go
    over and under each other by turns, no two of one thickness; where one is no longer a pixel wide, none are seen.
    """
    shape = place.shape[1:]
    wobble = [
        fractal(scene.chance(f"threads {axis}"), shape, 14 * size, 3) * np.float32(0.14 * size) for axis in (0, 1)
    ]
    count = [(at + off) / np.float32(size) for at, off in zip(place, wobble, strict=True)]
    which = [np.floor(one).astype(np.int64) for one in count]
    off = [(one - whole - 0.5).astype(np.float32) for one, whole in zip(count, which, strict=True)]
    round_ = [np.cos(np.pi * one) for one in off]
    warp = (which[0] + which[1]) % 2 == 0
    high = np.where(warp, round_[0] * (0.55 + 0.45 * round_[1]), round_[1] * (0.55 + 0.45 * round_[0]))
    # Each thread is thicker or thinner than the next, and all of them are in places.
    own = np.where(warp, which[0], which[1] + 2048) % 4096
    along = np.floor(np.where(warp, place[1], place[0]) / np.float32(9 * size)).astype(np.int64)
    thick = scene.chance("thread").normal(0, uneven, 4096).astype(np.float32)[own]
    slubs = scene.chance("slubs").normal(0, uneven, 65536).astype(np.float32)[(own * 37 + along) % 65536]
    slope = np.maximum(*(np.hypot(*np.gradient(one)) for one in count))
    seen = np.clip(1.5 - 2.6 * slope, 0, 1)
    found: Plane = ((1.5 * (high - 0.48) + 0.3 * thick + 0.25 * slubs) * seen).astype(np.float32)
    return found
