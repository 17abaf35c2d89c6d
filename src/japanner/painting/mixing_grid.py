"""The mixing grid: a part's value steps by its undertones, worked out from its own colour and the light.

Every cell has the L* of its column. Hues are the local colour's, turned by what the undertone says, and drawn a little
towards the ground's in shadow and towards a warm key light's in the lights; chroma is highest in the halftone, as on
anything that light falls on. What an undertone adds is the same in every column, so undertones stay apart by the hue
they state. Presets by material are data (`mixing_grid.json`; our choice).
"""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from functools import cache, lru_cache
from importlib import resources
from typing import Any, Final

import numpy as np

from japanner import checks
from japanner.color import oklab
from japanner.color.value import srgb_from_value
from japanner.errors import InputError
from japanner.painting.model import MATERIALS, Painting, Part
from japanner.painting.picking import mean_colour

__all__ = ["Cell", "Undertone", "cells", "local_colour", "undertones"]

Colour = tuple[float, float, float]
Scale = tuple[float, ...]
Cell = tuple[int, int]
"""Undertone and step."""

# Share of the local chroma by step, and how far the hue is drawn to the shadow side's or to the key's.
CHROMA: Final = (0.6, 0.9, 1.0, 0.8, 0.42)
TO_SHADOW: Final = (0.25, 0.18, 0.0, 0.0, 0.0)
TO_KEY: Final = (0.0, 0.0, 0.0, 0.12, 0.22)
KEY_HUE_DEG: Final = 85.0
GREY: Final = 0.004


@dataclass(frozen=True)
class Undertone:
    """A hue family under a surface colour.

    hue_deg: turned from the local hue. chroma: factors by step. from_ground: 0..1, how far hue and chroma are those of
    the ground instead.
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


@lru_cache(maxsize=64)
def cells(local: Colour, ground: Colour, material: str, scale: Scale) -> tuple[tuple[Colour, ...], ...]:
    """Encoded colours by undertone and step, for a part of a local colour on a ground."""
    _, chroma, hue = (float(v) for v in oklab.oklch_from_srgb(local))
    _, around_chroma, around_hue = (float(v) for v in oklab.oklch_from_srgb(ground))
    hue = around_hue if chroma < GREY else hue
    shadow_hue = hue if around_chroma < GREY else around_hue
    turns = [
        _between(hue, shadow_hue, TO_SHADOW[i]) + _between(hue, KEY_HUE_DEG, TO_KEY[i]) - 2 * hue for i in range(5)
    ]
    grid = []
    for undertone in undertones(material):
        own_hue = hue + undertone.hue_deg
        own_chroma = chroma
        if undertone.from_ground:
            own_hue = _between(own_hue, around_hue, undertone.from_ground)
            own_chroma += (max(around_chroma, 0.3 * chroma) - chroma) * undertone.from_ground
        grid.append(
            tuple(
                srgb_from_value(value, min(own_chroma * CHROMA[i] * undertone.chroma[i], 0.37), own_hue + turns[i])
                for i, value in enumerate(scale)
            )
        )
    return tuple(grid)


def local_colour(painting: Painting, part: Part) -> Colour | None:
    """The mean colour of the part's flats; None while they are empty."""
    for layer in part.flats:
        if layer.pixels.tiles:
            # Every eighth pixel of every tile is plenty for a mean.
            some = [tile[:, ::8, ::8].reshape(4, -1) for tile in layer.pixels.tiles.values()]
            return mean_colour(np.concatenate(some, axis=1)[:, None, :].astype(np.float64) / 65535)
    return None


def _between(one_deg: float, other_deg: float, share: float) -> float:
    """An angle `share` of the shorter way from one to another."""
    return one_deg + ((other_deg - one_deg + 180) % 360 - 180) * share
