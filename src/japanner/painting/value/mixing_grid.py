"""The mixing grid: a part's value steps by its undertones, worked out from its own colour and the light.

Every cell has the L* of its column. Hues are the local colour's, turned by what the undertone says, and drawn a little
towards that of the surroundings in shadow and towards the key light's in the lights; chroma is highest in the halftone,
as on anything that light falls on. What an undertone adds is the same in every column, so undertones stay apart by the
hue they state. Presets by material are data (`mixing_grid.json`; our choice). A grid that the painter keeps under a
name takes the place of the one that is worked out.
"""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from functools import cache, lru_cache
from importlib import resources
from typing import Any, Final
from weakref import WeakKeyDictionary

import numpy as np

from japanner import checks
from japanner.color import lab, oklab, srgb
from japanner.color.temperature import light_colour
from japanner.color.value import srgb_from_value, with_value
from japanner.errors import InputError
from japanner.painting.model import DEFAULT_SCALE, MATERIALS, Light, Painting, Part
from japanner.painting.model.kept_grid import KeptGrid, Row
from japanner.painting.picture.picking import mean_colour
from japanner.raster.tiles import Raster
from japanner.types import Colour

__all__ = ["Undertone", "cells", "kept", "local_colour", "mixing_grid", "row_of", "undertones"]

Scale = tuple[float, ...]

# Share of the local chroma by step, and how far the hue is drawn to the shadow side's or to the key's.
CHROMA: Final = (0.6, 0.9, 1.0, 0.8, 0.42)
# Skin's shadows do not take the hue of what is around: light that has been through blood turns them red-brown, the more
# the darker, and its lights are more golden; it is most colourful between halftone and light (common practice).
SKIN_CHROMA: Final = (0.62, 0.86, 1.0, 1.03, 0.58)
SKIN_TURN: Final = (-13.0, -9.0, 0.0, 6.0, 12.0)
TO_SHADOW: Final = (0.25, 0.18, 0.0, 0.0, 0.0)
TO_KEY: Final = (0.0, 0.0, 0.0, 0.12, 0.22)
# A key light of this OKLab chroma draws in full; a whiter one less.
FULL_KEY: Final = 0.06
GREY: Final = 0.004

DEFAULT_LIGHT: Final = Light()

# Means of flats that are still in use.
_LOCAL: WeakKeyDictionary[Raster, Colour] = WeakKeyDictionary()


@dataclass(frozen=True)
class Undertone:
    """A hue family under a surface colour.

    hue_deg: turned from the local hue. chroma: factors by step. from_ground: 0..1, how far hue and chroma are those of
    the surroundings instead.
    """

    name: str
    hue_deg: float = 0.0
    chroma: tuple[float, ...] = field(default=(1.0,) * 5)
    from_ground: float = 0.0

    def __post_init__(self) -> None:
        checks.text("name", self.name, 40)
        checks.number("hue_deg", self.hue_deg, -180, 180)
        checks.number("from_ground", self.from_ground, 0, 1)
        if len(self.chroma) != len(CHROMA):
            raise InputError(f"chroma: expected a factor for each of the five steps, got {self.chroma!r}")
        checks.in_range("chroma", self.chroma, 0, 4)


@cache
def undertones(material: str) -> tuple[Undertone, ...]:
    """The undertones that a material proposes."""
    checks.one_of("material", material, MATERIALS)
    text = resources.files(__package__).joinpath("mixing_grid.json").read_text(encoding="utf-8")
    rows: list[dict[str, Any]] = json.loads(text)[material]
    return tuple(Undertone(**{**row, "chroma": tuple(row.get("chroma", (1.0,) * 5))}) for row in rows)


def mixing_grid(painting: Painting, part: Part | None, hand: Colour) -> tuple[Row, ...]:
    """The grid to paint from: undertones by name, each with the encoded colours of the five steps.

    Until the part has a flat, it is worked out from the colour in hand; without a part, that colour alone by steps.
    """
    if part is None:
        names, colours = ["local"], [list(cells(hand, painting.ground, "plain", DEFAULT_SCALE, painting.light)[0])]
    elif part.grid is not None:
        names = [name for name, _ in part.grid.rows]
        colours = [list(row) for row in _moved(part.grid, part.scale)]
    else:
        names = [undertone.name for undertone in undertones(part.material)]
        local, around = local_colour(painting, part) or hand, part.around or painting.ground
        colours = [list(row) for row in cells(local, around, part.material, part.scale, painting.light)]
    for row, step, r, g, b in part.mixed if part is not None else ():
        if row < len(colours):
            colours[row][step] = (r, g, b)
    return tuple((name, tuple(row)) for name, row in zip(names, colours, strict=True))


def row_of(rows: tuple[Row, ...], colour: Colour) -> int | None:
    """The row that a colour belongs to: the nearest at its value in OKLab a and b; None for an empty grid."""
    _, a, b = (float(v) for v in oklab.oklab_from_linear(srgb.decode(np.asarray(colour))))
    value = float(lab.lightness_from_srgb(colour))
    distances = []
    for _, colours in rows:
        planes = oklab.oklab_from_linear(srgb.decode(np.asarray(colours)))
        values = lab.lightness_from_srgb(np.asarray(colours))
        at_a, at_b = (float(np.interp(value, values, planes[:, plane])) for plane in (1, 2))
        distances.append(np.hypot(at_a - a, at_b - b))
    return int(np.argmin(distances)) if distances else None


def kept(painting: Painting, part: Part, name: str, hand: Colour) -> KeptGrid:
    """The part's grid as it is now, to be kept under a name."""
    return KeptGrid(name, part.scale, mixing_grid(painting, part, hand))


@lru_cache(maxsize=32)
def _moved(grid: KeptGrid, scale: Scale) -> tuple[tuple[Colour, ...], ...]:
    """A kept grid's colours, moved as far in value as the steps were that they were mixed for."""

    def moved(colour: Colour, by: float) -> Colour:
        if abs(by) < 1e-6:
            return colour
        return with_value(colour, min(max(float(lab.lightness_from_srgb(colour)) + by, 0.0), 100.0))

    shifts = [now - then for now, then in zip(scale, grid.scale, strict=True)]
    return tuple(tuple(moved(one, by) for one, by in zip(colours, shifts, strict=True)) for _, colours in grid.rows)


@lru_cache(maxsize=64)
def cells(
    local: Colour, around: Colour, material: str, scale: Scale, light: Light = DEFAULT_LIGHT
) -> tuple[tuple[Colour, ...], ...]:
    """Encoded colours by undertone and step, for a part of a local colour among surroundings."""
    _, chroma, hue = (float(v) for v in oklab.oklch_from_srgb(local))
    _, around_chroma, around_hue = (float(v) for v in oklab.oklch_from_srgb(around))
    hue = around_hue if chroma < GREY else hue
    shadow_hue = hue if around_chroma < GREY else around_hue
    key = oklab.oklab_from_linear(light_colour(light.kelvin))
    key_hue = float(np.degrees(np.arctan2(key[2], key[1])))
    drawn = min(float(np.hypot(key[1], key[2])) / FULL_KEY, 1.0)
    skin = material == "skin"
    turns = [
        (SKIN_TURN[i] if skin else _between(hue, shadow_hue, TO_SHADOW[i]) - hue)
        + _between(hue, key_hue, TO_KEY[i] * drawn) - hue
        for i in range(5)
    ]  # fmt: skip
    shares = SKIN_CHROMA if skin else CHROMA
    grid = []
    for undertone in undertones(material):
        own_hue = hue + undertone.hue_deg
        own_chroma = chroma
        if undertone.from_ground:
            own_hue = _between(own_hue, around_hue, undertone.from_ground)
            own_chroma += (max(around_chroma, 0.3 * chroma) - chroma) * undertone.from_ground
        grid.append(
            tuple(
                srgb_from_value(value, min(own_chroma * shares[i] * undertone.chroma[i], 0.37), own_hue + turns[i])
                for i, value in enumerate(scale)
            )
        )
    return tuple(grid)


def local_colour(painting: Painting, part: Part) -> Colour | None:
    """The mean colour of the part's flats; None while they are empty."""
    for layer in part.flats:
        if layer.pixels.tiles:
            if layer.pixels not in _LOCAL:
                # Every eighth pixel of every tile is plenty for a mean; in one order, whoever laid or read them, so
                # that it is the same to the last bit.
                tiles = sorted(layer.pixels.tiles.items())
                some = [tile[:, ::8, ::8].reshape(4, -1) for _, tile in tiles]
                mean = mean_colour(np.concatenate(some, axis=1)[:, None, :].astype(np.float64) / 65535)
                if mean is None:
                    continue
                _LOCAL[layer.pixels] = mean
            return _LOCAL[layer.pixels]
    return None


def _between(one_deg: float, other_deg: float, share: float) -> float:
    """An angle `share` of the shorter way from one to another."""
    return one_deg + ((other_deg - one_deg + 180) % 360 - 180) * share
