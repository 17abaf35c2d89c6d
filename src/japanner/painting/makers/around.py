"""What a mirroring or clear thing sees: its neighbours as they are painted or modelled, and beyond them the world."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import cached_property
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.light.world import WORLDS, World, of_picture, of_strip, painted_over, shipped_world
from japanner.painting.form.forms import has_pieces, mirrored_in
from japanner.painting.makers.base import Plane, Scene, Setting, choice, encoded, smoothstep, softened
from japanner.painting.makers.behind import light_of, sampled
from japanner.painting.model import Painting, Part
from japanner.painting.picture.reduced import reduced
from japanner.raster.codec import from_text

__all__ = ["AROUND", "Around", "mirrored_way", "surroundings_shown", "towards_viewer", "world_of"]

Near = tuple[Plane, Plane]
PICTURE: Final = "the painting"
AROUND: Final = (
    choice("around", "in", (*WORLDS, PICTURE), "The surroundings that it mirrors: one of six, or what is painted"),
    Setting("world", "painted over", "world", "", tip="Paint on the surroundings: all directions, the viewer's side in "
            "the middle"),
    Setting("strip", "strip", "strip", (), tip="Its surroundings from below to above, with their values, in place of "
            "one of the six"),
)  # fmt: skip
SHOWN_PX: Final = 300
EYE: Final = 2.4
"""How far the viewer stands from the canvas, in its longer sides, where no maquette says so."""
NEAR: Final = 0.6
"""So much of what lies behind a form without neighbours in depth is what is painted beside it."""
ASIDE: Final = (0.30, 0.95)
"""A form without neighbours in depth mirrors what is painted so far aside of a place, in half widths of its own: to the
side, and straight ahead.
"""


def towards_viewer(scene: Scene) -> Plane:
    """Unit vectors (3, h, w) from the part's form to the viewer."""
    area, painting = scene.form.area, scene.painting
    if has_pieces(painting, scene.part):
        middle, eye = painting.maquette.middle, painting.maquette.eye * painting.maquette.unit_px
    else:
        middle, eye = (painting.width / 2, painting.height / 2), EYE * max(painting.width, painting.height)
    x = np.float32(middle[0]) - np.arange(area.x0, area.x1, dtype=np.float32) - np.float32(0.5)
    y = np.arange(area.y0, area.y1, dtype=np.float32) + np.float32(0.5) - np.float32(middle[1])
    length = np.sqrt(x[None] ** 2 + y[:, None] ** 2 + np.float32(eye) ** 2)
    return np.stack((x[None] / length, y[:, None] / length, np.float32(eye) / length))


def mirrored_way(normal: Plane, view: Plane) -> Plane:
    """Where the viewer's rays go from a mirror (3, h, w): as far beyond the normal as they come from before it."""
    facing = np.maximum(np.einsum("ihw,ihw->hw", normal, view), 0)
    way: Plane = 2 * facing * normal - view
    return way


def world_of(scene: Scene) -> World:
    """The surroundings by a maker's settings."""
    if scene["strip"]:
        found = of_strip(scene["strip"])
    elif scene["around"] == PICTURE:
        found = of_picture(others(scene))
    else:
        x, y, z = (float(one) for one in scene.light)
        elevation, azimuth = np.degrees(np.arcsin(y)), np.degrees(np.arctan2(x, z))
        found = shipped_world(scene["around"], round(elevation), round(azimuth))
    if scene["world"]:
        found = painted_over(found, from_text(scene["world"]))
    key, bounce = (np.asarray(one) for one in (scene.sources.key_colour, scene.sources.bounce_colour))
    # What is bright round about has the key's colour, what is dim that of the ground.
    return found.lit_by(key / max(float(srgb.luminance(key)), 1e-4), bounce / max(float(srgb.luminance(bounce)), 1e-4))


def surroundings_shown(painting: Painting, part: Part, values: Mapping[str, Any]) -> NDArray[np.uint8]:
    """The surroundings that a maker's settings choose, without the paint on them: encoded codes (h, w, 3)."""
    step = 1
    while values["around"] == PICTURE and max(painting.width, painting.height) / step > SHOWN_PX:
        step *= 2
    small = reduced(painting, step)
    scene = Scene(small, small.part(part.uid), {**values, "world": ""}, 1)
    codes: NDArray[np.uint8] = np.rint(encoded(world_of(scene).light[::2, ::2]) * 255).astype(np.uint8)
    return codes


def others(scene: Scene) -> Plane:
    """Linear light (3, h, w) of the painting without the part itself."""
    painting = scene.painting
    return light_of(replace(painting, parts=tuple(one for one in painting.parts if one.uid != scene.part.uid)))


class Around:
    """What rays from a part's form come to."""

    def __init__(self, scene: Scene) -> None:
        self.scene, self.world = scene, world_of(scene)

    @cached_property
    def painted(self) -> Plane:
        """The rest of the painting, linear light."""
        return others(self.scene)

    def seen(self, direction: Plane, rough: Plane | float = 0.0, near: Near | None = None) -> Plane:
        """Linear light (3, h, w) that comes from unit directions (3, h, w), blurred over `rough` radians.

        near: what `near` gives for about these directions, for whoever asks often.
        """
        light = self.world.seen(direction, rough)
        neighbours, share = near or self.near(direction, rough)
        return neighbours + (1 - share) * light

    def near(self, direction: Plane, rough: Plane | float = 0.0) -> Near:
        """The light of neighbours (3, h, w) in these directions times their share, and that share (h, w)."""
        light, share = self._met(direction) if self._modelled else self._beside(direction)
        light = np.moveaxis(light * share, 0, -1)
        wide = float(np.mean(rough)) * self.half_width * 0.5
        if wide > 0.5:
            light, share = softened(np.ascontiguousarray(light), wide), softened(share, wide)
        return np.ascontiguousarray(np.moveaxis(light, -1, 0)), share

    @cached_property
    def half_width(self) -> float:
        """Of the part's form, px."""
        return 0.5 * float(np.sqrt(max(float(self.scene.form.cover.sum()), 1.0) * 4 / np.pi))

    @cached_property
    def _modelled(self) -> bool:
        return has_pieces(self.scene.painting, self.scene.part)

    def _met(self, direction: Plane) -> tuple[Plane, Plane]:
        """The light of what rays meet of the maquette, and where they meet any, 0..1."""
        met = mirrored_in(self.scene.painting, self.scene.part, self.scene.form.area, direction)
        painted = sampled(self.painted, met.at[0], met.at[1])
        light = np.where((met.found & ~met.hidden)[None], painted, met.light)
        return light, met.found.astype(np.float32)

    def _beside(self, direction: Plane) -> tuple[Plane, Plane]:
        """What is painted beside the form in the way that rays go, where they go aside or back."""
        x, y, z = direction
        flat = np.maximum(np.hypot(x, y), 1e-4)
        far = self.half_width * (ASIDE[0] + ASIDE[1] * np.clip(1 + z, 0, 1))
        area = self.scene.form.area
        columns = np.arange(area.x0, area.x1, dtype=np.float32)[None] + x / flat * far
        rows = np.arange(area.y0, area.y1, dtype=np.float32)[:, None] - y / flat * far
        return sampled(self.painted, columns + 0.5, rows + 0.5), NEAR * smoothstep(-0.15, -0.85, z)
