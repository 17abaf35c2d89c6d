"""What all hairs of a coat share: the comb field, how they stand on the form, and the light."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.painting.form.combing import bald_cover, comb_of
from japanner.painting.form.own_paint import own_paint
from japanner.painting.makers.base import (
    Plane,
    Scene,
    fractal,
)  # fmt: skip
from japanner.painting.makers.fur.kinds import COATS, Coat
from japanner.raster.geometry import Rect
from japanner.strand.comb import CombField

__all__ = ["PAINTED", "WHERE", "Pelt", "free"]

Floats = NDArray[np.float32]

THINNEST_PX: Final = 0.55
SKETCHED_PX: Final = 1.6

PAINTED: Final = "as painted"
LIT: Final = ("shadow", "accent", "bounce", "light", "highlight", "glow")
"""Roles of layers that light is painted on."""
DARK, DARKEST = (0.012, 0.08), 0.4
"""Between these linear luminances of its colour hair takes light as others do, down to such a share of it."""
WHERE: Final = "where, by layers"


@dataclass(eq=False)
class Pelt:
    """What all passes share: the field, and planes over the form's area."""

    scene: Scene
    coat: Coat
    field: CombField
    albedo: Plane
    light: Plane
    density: Plane
    length: Plane
    noise: Plane

    @staticmethod
    def of(scene: Scene) -> Pelt:
        form, part = scene.form, scene.part
        field = comb_of(scene.painting, part)
        ys, xs = np.mgrid[form.area.y0 : form.area.y1, form.area.x0 : form.area.x1].astype(np.float32)
        long = field.at(field.length, xs + 0.5, ys + 0.5)
        painted = scene.map("length_map")
        if painted is not None:
            long = long * np.maximum(painted, 0.12)
        dense = scene.map("density_map")
        random, shape = scene.chance("field"), form.cover.shape
        noise = 6 * fractal(random, shape, 30, 2) + 3 * fractal(random, shape, 9, 1)
        beneath = _beneath(scene)
        density = form.cover * (1 if dense is None else dense) * free(scene, form.area)
        return Pelt(scene, COATS[scene["coat"]], field, beneath, _light(scene), density, long, noise)

    @cached_property
    def long(self) -> float:
        """Length of most hairs of a plain pass, px."""
        covered = self.length[self.scene.form.cover > 0.5]
        return float(self.scene["length"]) * self.coat.long * (float(np.median(covered)) if len(covered) else 1.0)

    @property
    def thick(self) -> float:
        """Thickness of hairs, px: on a small canvas fewer and thicker ones stand for many that would hardly show."""
        return max(float(self.scene["thick"]), SKETCHED_PX if self.scene.sketch else THINNEST_PX)


def _by_key_share(scene: Scene) -> float:
    return scene["by_key"] / 100 if scene["lit"] != PAINTED else 0.0


def _beneath(scene: Scene) -> Plane:
    """Linear colour (3, h, w) of the paint beneath; as far as the key light is worked out, without the light that is
    painted, which would count twice.
    """
    share = np.float32(_by_key_share(scene))
    found = np.zeros((3, *scene.form.cover.shape), np.float32)
    for weight, without in ((share, LIT), (1 - share, ())):
        if weight > 0:
            found += weight * srgb.decode(own_paint(scene.painting, scene.part, scene.form.area, without))
    return found


def free(scene: Scene, area: Rect) -> Plane | float:
    """Where no bald part stands in the way, 0..1."""
    bald = bald_cover(scene.painting, scene.part)
    return 1.0 if bald is None else 1 - bald.coverage(area)


def _light(scene: Scene) -> Plane:
    """What of a white coat comes back (3, h, w), so that the part's own colour keeps to its value scale; 1 where the
    paint beneath has the light in it already. Maps lift it or deepen it.
    """
    form = scene.form
    share = _by_key_share(scene)
    found = np.ones((3, *form.cover.shape), np.float32)
    if share > 0:
        found = _by_key(scene) * np.float32(share) + np.float32(1 - share)
    lift, deepen = scene.map("lift_map"), scene.map("deepen_map")
    if lift is not None:
        found = found * (1 + 1.4 * lift)
    if deepen is not None:
        found = found * (1 - 0.75 * deepen)
    return found.astype(np.float32)


def _by_key(scene: Scene) -> Plane:
    """The same by the key light alone."""
    form = scene.form
    albedo = srgb.decode(np.asarray(scene.local))
    linear = scene.in_scale(scene.shaded(form.normal, albedo, form.lit, form.openness, "drawing", form.extra))
    share = linear / np.maximum(albedo, 1e-3)[:, None, None]
    # Half of the light's own colour: hair scatters it among many.
    even = srgb.luminance(np.moveaxis(share, 0, -1))
    share = (share + even) / 2
    # Dark hair takes in what falls on it: it is light where it shines, and hardly elsewhere.
    kept = np.float32(np.interp(srgb.luminance(albedo), DARK, (DARKEST, 1.0)))
    return np.where(share > 1, 1 + (share - 1) * kept, share).astype(np.float32)
