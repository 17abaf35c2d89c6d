"""Surroundings as a small picture of all directions, for what mirrors and what is seen through.

A picture has a row to every elevation, straight above first, and a column to every azimuth, from behind the canvas by
the left, the viewer's side in the middle, and by the right back. Directions are the viewer's: x right, y up, z out of
the canvas.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Final

import cv2
import numpy as np
from numpy.typing import ArrayLike, NDArray

from japanner.color import lab, srgb

__all__ = [
    "HEIGHT",
    "WIDTH",
    "WORLDS",
    "World",
    "of_directions",
    "of_picture",
    "of_strip",
    "painted_over",
    "shipped_world",
]

Plane = NDArray[np.float32]
Strip = tuple[tuple[float, float], ...]
"""Rising places, 0 below to 100 above, with their values L*."""

HEIGHT: Final = 256
WIDTH: Final = 512
BLURS: Final = (0.0, 0.04, 0.10, 0.22, 0.45)
"""Deviations, in radians, of what surfaces of some roughness see."""
COOL: Final = np.array((0.90, 0.98, 1.16), np.float32)
WARM: Final = np.array((1.16, 0.98, 0.80), np.float32)


@dataclass(frozen=True, eq=False)
class World:
    """Linear light (HEIGHT, WIDTH, 3) from all directions."""

    light: Plane
    _blurred: dict[int, Plane] = field(default_factory=dict)

    def seen(self, direction: Plane, rough: Plane | float = 0.0) -> Plane:
        """Light (3, h, w) from unit directions (3, h, w), blurred over `rough` radians, a number or (h, w)."""
        across, down = of_directions(direction)
        level = np.interp(rough, BLURS, range(len(BLURS)))
        if np.ndim(level) == 0:
            low = int(level)
            share = float(level) - low
            found = self._looked_up(low, across, down)
            if share > 0:
                found = found * (1 - share) + share * self._looked_up(low + 1, across, down)
            return np.ascontiguousarray(np.moveaxis(found, -1, 0))
        total = np.zeros((*across.shape, 3), np.float32)
        for number in range(len(BLURS)):
            weight = np.clip(1 - np.abs(level - number), 0, 1).astype(np.float32)
            if weight.any():
                total += weight[..., None] * self._looked_up(number, across, down)
        return np.ascontiguousarray(np.moveaxis(total, -1, 0))

    def lit_by(self, bright: ArrayLike, dim: ArrayLike, strength: float = 0.35) -> World:
        """The same, drawn to one colour (of luminance 1) where it is bright and to another where it is dim."""
        share = _step(0.02, 0.5, self.light.mean(axis=2).astype(float))[..., None]
        tint = np.asarray(dim, float) * (1 - share) + np.asarray(bright, float) * share
        return World((self.light * (1 - strength + strength * tint)).astype(np.float32))

    def _looked_up(self, level: int, across: Plane, down: Plane) -> Plane:
        if level not in self._blurred:
            self._blurred[level] = _softened(self.light, BLURS[level])
        found: Plane = cv2.remap(self._blurred[level], across, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_WRAP)
        return found


def of_directions(direction: Plane) -> tuple[Plane, Plane]:
    """Columns and rows (h, w) of a world's picture that directions (3, h, w) lead to."""
    x, y, z = (np.ascontiguousarray(one, np.float32) for one in direction)
    turn = cv2.phase(z, x) / np.float32(2 * np.pi)  # 0 towards the viewer, a quarter to the right
    across = ((turn + 0.5) % 1.0) * WIDTH - 0.5
    down = (0.5 - np.arcsin(np.clip(y, -1, 1)) / np.pi) * HEIGHT - 0.5
    return across.astype(np.float32), np.clip(down, 0, HEIGHT - 1).astype(np.float32)


def _softened(light: Plane, radians: float) -> Plane:
    """The picture blurred, round about without a seam; near the poles all azimuths are near each other."""
    if radians == 0:
        return light
    rows, around = HEIGHT / np.pi * radians, WIDTH // 2
    wide = np.concatenate((light[:, -around:], light, light[:, :around]), axis=1)
    wide = cv2.GaussianBlur(wide, (0, 0), sigmaX=WIDTH / (2 * np.pi) * radians, sigmaY=rows)
    soft = wide[:, around:-around].copy()
    elevation = (0.5 - (np.arange(HEIGHT) + 0.5) / HEIGHT) * np.pi
    pole = np.clip(1 - (np.pi / 2 - np.abs(elevation)) / (2 * radians), 0, 1)[:, None, None]
    return (soft * (1 - pole) + soft.mean(axis=1, keepdims=True) * pole).astype(np.float32)


def of_strip(strip: Strip) -> World:
    """Surroundings that have a strip's values L* by height, from below to above, and stand a little uneven."""
    elevation, turn = _angles()
    wander = 3.0 * np.sin(2.3 * np.radians(turn) + 0.7) + 1.8 * np.sin(5.1 * np.radians(turn) - 0.4)
    place = 50 + elevation / 1.8 + wander
    at, value = np.array(strip, float).T
    grey = lab.luminance_from_lightness(np.interp(place, at, value))
    return World(np.repeat(grey[..., None], 3, axis=2).astype(np.float32))


def of_picture(light: Plane) -> World:
    """The surroundings that a picture (3, h, w), linear light, would go on to: its middle lies before and behind, its
    sides to the sides.
    """
    elevation, turn = _angles()
    x, y = (np.sin(np.radians(turn)) + 1) / 2, 0.5 - elevation / 180
    height, width = light.shape[1:]
    soft = cv2.GaussianBlur(np.ascontiguousarray(np.moveaxis(light, 0, -1)), (0, 0), max(height, width) / 60)
    at = (x * width - 0.5).astype(np.float32), (y * height - 0.5).astype(np.float32)
    return World(cv2.remap(soft, *at, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT))


def painted_over(world: World, paint: NDArray[np.uint16]) -> World:
    """A world with paint on it: straight codes (4, h, w) that cover all directions."""
    height, width = world.light.shape[:2]
    planes = np.moveaxis(paint, 0, -1).astype(np.float32) / np.float32(65535)
    planes[..., :3] *= planes[..., 3:]
    planes = cv2.resize(planes, (width, height), interpolation=cv2.INTER_LINEAR)
    cover = planes[..., 3:]
    straight = np.clip(planes[..., :3] / np.maximum(cover, 1e-4), 0, 1)
    return World((world.light * (1 - cover) + srgb.decode(straight) * cover).astype(np.float32))


def _angles() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Elevation (rows, 1) and azimuth (1, columns) of a picture, in degrees; azimuth 0 towards the viewer."""
    elevation = 90 - (np.arange(HEIGHT) + 0.5) * 180 / HEIGHT
    turn = (np.arange(WIDTH) + 0.5) * 360 / WIDTH - 180
    return np.broadcast_arrays(elevation[:, None], turn[None])  # type: ignore[return-value]


def _step(low: float, high: float, value: NDArray[np.float64]) -> NDArray[np.float64]:
    t = np.clip((value - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def _grey(value: ArrayLike) -> NDArray[np.float64]:
    return np.asarray(lab.luminance_from_lightness(np.asarray(value, float)))[..., None]


def _panel(elevation: NDArray[np.float64], turn: NDArray[np.float64], at: tuple[float, float],
           size: tuple[float, float], soft: float = 4.0) -> NDArray[np.float64]:  # fmt: skip
    """How much of a light panel lies in each direction: at, size: elevation and azimuth, degrees."""
    off = (turn - at[1] + 180) % 360 - 180
    inside = [
        _step(size[k] / 2 + soft, size[k] / 2 - soft, np.abs(one)) for k, one in enumerate((elevation - at[0], off))
    ]
    found: NDArray[np.float64] = (inside[0] * inside[1])[..., None]
    return found


def _uneven(seed: int, cells: tuple[int, int]) -> NDArray[np.float64]:
    """Noise of deviation 1, with cells in rows and columns, without a seam round about."""
    coarse = np.random.default_rng(seed).standard_normal(cells).astype(np.float32)
    coarse = np.concatenate((coarse, coarse[:, :1]), axis=1)
    wide = np.asarray(cv2.resize(coarse, (WIDTH, HEIGHT), interpolation=cv2.INTER_CUBIC), float)
    # Near the poles one column is as good as another.
    return wide * np.sqrt(np.cos(np.radians(_angles()[0])))


Angles = NDArray[np.float64]
Key = tuple[float, float]
"""Elevation and azimuth of the key light, degrees."""


def _studio(e: Angles, a: Angles, key: Key) -> Angles:
    wall = _grey(np.interp(e, (-90, -40, -4, -1, 1, 3, 40, 90), (50, 64, 52, 6, 6, 44, 60, 40)))
    box = _panel(e, a, key, (46, 58)) * 1.9
    edge = _panel(e, a, (10, key[1] + 150), (110, 16)) * 0.75
    low = _panel(e, a, (-28, key[1] - 110), (34, 70), 12) * 0.16
    return wall * (1.0 + 0.15 * np.cos(np.radians(a - key[1])))[..., None] + box + edge * COOL + low * WARM


def _window(e: Angles, a: Angles, key: Key) -> Angles:
    room = _grey(np.interp(e, (-90, -35, -2, 1, 8, 60, 90), (24, 34, 14, 6, 20, 30, 34)))
    panes = _panel(e, a, key, (62, 50), 1.5)
    off = (a - key[1] + 180) % 360 - 180
    bars = _step(2.2, 3.6, np.abs(off)) * _step(1.8, 3.2, np.abs(e - key[0] - 6))
    patch = _panel(e, a, (-48, key[1] - 12), (26, 44), 6) * 0.45
    door = _panel(e, a, (2, key[1] + 165), (64, 24), 2) * 0.14
    return room + panes * bars[..., None] * 1.7 * COOL + patch + door * WARM


def _shore(e: Angles, a: Angles, key: Key) -> Angles:
    sky = _grey(np.interp(e, (0, 6, 25, 60, 90), (88, 86, 74, 58, 48)))
    cloud = 1 + 0.16 * np.clip(_uneven(3, (14, 10)), -1, 1.5) * _step(2, 14, e)
    sun = np.exp(-((e - key[0]) ** 2 + ((a - key[1] + 180) % 360 - 180) ** 2 * np.cos(np.radians(key[0])) ** 2) / 700)
    sky = sky * cloud[..., None] * np.array((0.94, 0.99, 1.08)) + 1.5 * sun[..., None] * WARM
    hills = 2.5 + 2.2 * _uneven(5, (3, 12))[HEIGHT // 2] + 1.2 * _uneven(6, (3, 40))[HEIGHT // 2]
    land = _grey(np.full_like(e, 14.0)) * np.array((0.95, 1.0, 1.0))
    sand = _grey(np.interp(e, (-90, -30, -10, -2), (38, 46, 36, 30)) + 1.1 * _uneven(8, (40, 24))) * WARM**0.5
    above = _step(-0.6, 0.6, e - np.maximum(hills[None], 0.5))[..., None]
    below = _step(0.4, -0.8, e)[..., None]
    return sky * above + (1 - above) * (land * (1 - below) + sand * below)


def _dark_room(e: Angles, a: Angles, key: Key) -> Angles:
    room = _grey(np.interp(e, (-90, -30, -3, 0, 20, 90), (12, 20, 8, 4, 10, 7)))
    lamp = _panel(e, a, key, (20, 20), 6) * 2.4
    glow = np.exp(-((e - key[0]) ** 2 + ((a - key[1] + 180) % 360 - 180) ** 2) / 2600)[..., None] * 0.12
    gap = _panel(e, a, (6, key[1] + 140), (78, 7), 1.5) * 0.35
    return room + (lamp + glow) * WARM + gap * COOL


def _woods(e: Angles, a: Angles, key: Key) -> Angles:
    light = _grey(np.interp(e, (-90, -25, -3, 4, 40, 90), (13, 20, 26, 66, 44, 30))) * np.array((0.92, 1.05, 0.84))
    trunks = sum(np.roll(_uneven(20 + k, (2, n))[HEIGHT // 2], 7 * k) for k, n in enumerate((30, 61)))
    trunk = _step(0.5, 1.1, np.asarray(trunks)[None] + 0.012 * e) * _step(-14, -4, e) * _step(70, 20, e)
    leaves = _step(0.1, 1.0, _uneven(31, (44, 90)) + 0.7 * _uneven(32, (14, 24)) + 0.018 * (e - 30)) * _step(12, 36, e)
    gap = np.exp(-((e - key[0]) ** 2 + ((a - key[1] + 180) % 360 - 180) ** 2) / 900)[..., None]
    dark = np.maximum(trunk, 0.85 * leaves)[..., None]
    return light * (1 - 0.86 * dark) + gap * (1 - 0.7 * dark) * 1.5


def _workshop(e: Angles, a: Angles, key: Key) -> Angles:
    room = _grey(np.interp(e, (-90, -40, -8, -4, 6, 50, 90), (28, 42, 46, 12, 30, 24, 14))) * WARM**0.6
    tubes = sum(_panel(e, a, (58, key[1] + turn), (7, 66), 1.5) for turn in (-75, 5, 85)) * 1.3
    window = _panel(e, a, (key[0] * 0.6 + 8, key[1]), (34, 40), 2) * 1.6
    things = _step(0.6, 1.2, _uneven(41, (20, 64))) * _step(-14, -6, e) * _step(16, 6, e)
    return room * (1 - 0.75 * things[..., None]) + tubes * COOL + window


WORLDS: Final[dict[str, Callable[[Angles, Angles, Key], Angles]]] = {
    "studio": _studio, "window": _window, "shore": _shore, "dark room": _dark_room, "woods": _woods,
    "workshop": _workshop,
}  # fmt: skip
"""Six surroundings, built about the key light (our choice)."""


@lru_cache(maxsize=16)
def shipped_world(name: str, elevation_deg: int, azimuth_deg: int) -> World:
    """One of `WORLDS` with its light where the key light comes from."""
    e, a = _angles()
    return World(np.maximum(WORLDS[name](e, a, (float(elevation_deg), float(azimuth_deg))), 0).astype(np.float32))
