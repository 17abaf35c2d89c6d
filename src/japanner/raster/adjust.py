"""Adjustments of colour: one function of colours each, applied to pixels through a table."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import scipy
from numpy.typing import NDArray

from japanner import checks
from japanner.color import lab, oklab, srgb
from japanner.color.gamut import into_gamut, with_luminance
from japanner.errors import InputError
from japanner.raster import _kernels_adjust as kernels
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster

__all__ = ["ADJUSTMENTS", "NODES", "Adjustment", "Setting", "adjusted", "encoded", "through_table"]

Colours = NDArray[Any]
Settings = Mapping[str, Any]

# Colours between the nodes are interpolated; with 65 a side, levels and curves are true to a quarter of an L*.
NODES: Final = 65


@dataclass(frozen=True)
class Setting:
    """A number that an adjustment or a filter takes."""

    name: str
    low: float
    high: float
    start: float
    unit: str = ""


@dataclass(frozen=True)
class Adjustment:
    """What an adjustment is set by, and the function from encoded colours (n, 3) to encoded colours."""

    settings: tuple[Setting, ...]
    function: Callable[[Colours, Settings], Colours]


def _levels(colours: Colours, settings: Settings) -> Colours:
    black, white, middle = settings["black"], settings["white"], settings["middle"]
    if white - black < 1:
        raise InputError(f"levels: white must lie at least 1 L* above black, got {black:g} and {white:g}")
    return _moved(colours, lambda value: 100 * np.clip((value - black) / (white - black), 0, 1) ** (1 / middle))


def _curve(colours: Colours, settings: Settings) -> Colours:
    points = checks.in_range("points", settings["points"], 0, 100)
    if points.ndim != 2 or points.shape[1] != 2 or len(points) < 2 or (np.diff(points[:, 0]) <= 0).any():
        raise InputError("curve: expected at least two points from left to right")
    # Monotone where the points are: a curve through rising points never turns back (Fritsch & Carlson 1980).
    curve = scipy.interpolate.PchipInterpolator(points[:, 0], points[:, 1])
    low, high = points[0], points[-1]
    return _moved(colours, lambda value: curve(np.clip(value, low[0], high[0])))


def _contrast(colours: Colours, settings: Settings) -> Colours:
    lift, contrast = settings["brightness"], 1 + settings["contrast"] / 100
    return _moved(colours, lambda value: 50 + (value - 50) * contrast + lift)


def _colour(colours: Colours, settings: Settings) -> Colours:
    lch = oklab.oklch_from_srgb(colours)
    hue = np.radians(lch[:, 2] + settings["hue"])
    chroma = lch[:, 1] * (1 + settings["chroma"] / 100)
    moved = np.stack((lch[:, 0], chroma * np.cos(hue), chroma * np.sin(hue)), axis=1)
    return srgb.encode(into_gamut(oklab.linear_from_oklab(moved)))


def _gradient_map(colours: Colours, settings: Settings) -> Colours:
    steps = checks.in_range("steps", settings["steps"], 0, 100)
    ends = checks.in_range("colours", settings["colours"], 0, 1)
    if steps.ndim != 1 or ends.shape != (len(steps), 3) or (np.diff(steps) <= 0).any():
        raise InputError("gradient map: expected rising steps and as many colours")
    values = lab.lightness_from_srgb(colours)
    between = oklab.oklab_from_linear(srgb.decode(ends))
    found = np.stack([np.interp(values, steps, between[:, i]) for i in range(3)], axis=1)
    return srgb.encode(into_gamut(oklab.linear_from_oklab(found)))


ADJUSTMENTS: Final[dict[str, Adjustment]] = {
    "levels": Adjustment(
        (Setting("black", 0, 99, 0, " L*"), Setting("white", 1, 100, 100, " L*"), Setting("middle", 0.2, 5, 1)), _levels
    ),
    "curve": Adjustment((), _curve),
    "brightness": Adjustment(
        (Setting("brightness", -100, 100, 0, " L*"), Setting("contrast", -100, 100, 0, " %")), _contrast
    ),
    "colour": Adjustment((Setting("hue", -180, 180, 0, "°"), Setting("chroma", -100, 200, 0, " %")), _colour),
    "gradient map": Adjustment((), _gradient_map),
}


def adjusted(raster: Raster, name: str, settings: Settings, nodes: int = NODES) -> Raster:
    """The raster with its colours adjusted; coverage stays. Values move at constant dominant wavelength."""
    function = ADJUSTMENTS[checks.one_of("adjustment", name, ADJUSTMENTS)].function
    return through_table(raster, lambda colours: function(colours, settings), nodes)


def through_table(raster: Raster, function: Callable[[Colours], Colours], nodes: int = NODES) -> Raster:
    """The raster with its colours as a function from encoded colours (n, 3), 0..1, to such has them; coverage stays.

    It is asked at `nodes` values a side; between them colours are interpolated.
    """
    table = _table(function, nodes)
    tiles = {key: np.empty_like(tile) for key, tile in raster.tiles.items()}
    each(sorted(tiles), lambda key: kernels.look_up(raster.tiles[key], table, tiles[key]))
    return raster.with_tiles(tiles)


def encoded(linear: NDArray[Any]) -> NDArray[np.float32]:
    """sRGB-encoded values 0..1 of linear light (any shape), held to 0..1; within .04 codes of 65535."""
    light = np.ascontiguousarray(linear, np.float32)
    out = np.empty_like(light)
    kernels.encode(light.reshape(-1), out.reshape(-1))
    return out


def _table(function: Callable[[Colours], Colours], nodes: int) -> NDArray[np.float32]:
    axis = np.linspace(0, 1, nodes)
    colours = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 3)
    found = np.clip(function(colours), 0, 1)
    return np.ascontiguousarray(found.reshape(nodes * nodes, nodes, 3), np.float32)


def _moved(colours: Colours, move: Callable[[Colours], Colours]) -> Colours:
    """Colours with their L* moved by a function."""
    linear = srgb.decode(colours)
    wanted = np.clip(move(lab.lightness_from_srgb(colours)), 0, 100)
    return srgb.encode(with_luminance(linear, lab.luminance_from_lightness(wanted)))
