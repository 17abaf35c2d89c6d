"""Hairs of one pass of a coat: drawn into tufts, waved, coiled, coloured."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.light.shading import half_way
from japanner.painting.makers.base import (
    FRONT,
    Scene,
    encoded,
    smoothstep,
)  # fmt: skip
from japanner.painting.makers.fur.kinds import Pass
from japanner.painting.makers.fur.pelt import PAINTED, Pelt
from japanner.strand import growing, shine
from japanner.strand.comb import CombField
from japanner.strand.strands import Strands

__all__ = ["AT_ONCE", "Hairs", "planted", "wanted"]

Floats = NDArray[np.float32]

JOINTS: Final = 6
WAVED_JOINTS: Final = 18
COILED_JOINTS: Final = 56
MOST_HAIRS: Final = 1_500_000
LAYERS: Final = 22.0
"""Lengths of hair, in thicknesses, from which on more hairs would only be hidden."""
AT_ONCE: Final = 30_000
"""So many hairs of a pass are worked out together: they stay near to the core."""
SKY: Final = (0.018, 0.09)
"""Share of the sky that hair mirrors straight on, and so much more aslant."""


def wanted(pelt: Pelt, one: Pass, share: float) -> int:
    """How many hairs of a pass a form without bare places would have."""
    area = pelt.scene.form.area
    # The longer hairs are, the more of them lie over each other, and the fewer of them are seen.
    hidden = min((LAYERS * pelt.thick / max(pelt.long, 1.0)) ** 0.8, 1.0)
    dense = pelt.scene["density"] / 100 / pelt.thick**2 * hidden
    return int(min(one.share * share * pelt.coat.many * dense * area.width * area.height, MOST_HAIRS))


def planted(pelt: Pelt, one: Pass, share: float, name: str) -> Hairs:
    """Hairs of a pass, grown from roots spread over the silhouette; `name` is their chance's."""
    scene, coat, area = pelt.scene, pelt.coat, pelt.scene.form.area
    random = scene.chance(name)
    count = wanted(pelt, one, share)
    places = (growing.spread(count, random) * (area.width, area.height)).astype(np.float32)
    i, j = places[:, 0].astype(np.intp), places[:, 1].astype(np.intp)
    i, j = np.minimum(i, area.width - 1), np.minimum(j, area.height - 1)
    scene.look_up()
    kept = random.random(count) < pelt.density[j, i]
    i, j, x, y = i[kept], j[kept], places[kept, 0] + area.x0, places[kept, 1] + area.y0
    size = np.exp(0.18 * random.standard_normal(len(x)))
    length = scene["length"] * coat.long * one.long * pelt.length[j, i] * size
    mess = coat.mess * scene["mess"] / 100
    turn = np.radians(pelt.noise[j, i] * min(mess / 9, 2) + mess * random.standard_normal(len(x)))
    scene.look_up()
    tangent, normal = _stance(pelt, x, y, i, j, turn)
    scene.look_up()
    seen = length * np.maximum(np.hypot(tangent[:, 0], tangent[:, 1]), 0.25)
    joints = (
        COILED_JOINTS
        if coat.coil[0]
        else WAVED_JOINTS
        if coat.wave[0] > 0.01 or float(pelt.field.curl.max()) > 0.05
        else JOINTS
    )
    turn = turn + _outward(pelt.field, x, y, turn, tangent)
    points = growing.grown(pelt.field, x, y, seen.astype(np.float32), turn.astype(np.float32), joints)
    return Hairs(pelt, one, i, j, points, length.astype(np.float32), tangent, normal, random)


def _stance(
    pelt: Pelt, x: Floats, y: Floats, i: NDArray[np.intp], j: NDArray[np.intp], turn: NDArray[np.floating]
) -> tuple[NDArray[np.floating], NDArray[np.floating]]:
    """Direction in space (n, 3) of hairs at their roots, and the form's normal there; y up."""
    normal = pelt.scene.form.normal[:, j, i].T.astype(np.float64)
    dx, dy = _combed(pelt.field, x, y, turn)
    way: NDArray[np.floating] = np.stack((dx, -dy, np.zeros(len(x))), axis=1)
    along = way - normal * np.einsum("ni,ni->n", way, normal)[:, None]
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-6)
    lift = np.clip(pelt.field.at(pelt.field.lift, x, y) + pelt.coat.lift - 0.2, 0, 0.9)[:, None]
    # Where the form turns away hair is seen from its side, and what stands off stands out.
    lift = np.clip(lift + 0.4 * smoothstep(0.55, 0.1, normal[:, 2:]), 0, 0.9)
    tangent = along * (1 - lift) + normal * lift
    return tangent / np.linalg.norm(tangent, axis=1, keepdims=True), normal


def _combed(field: CombField, x: Floats, y: Floats, turn: NDArray[np.floating]) -> tuple[Floats, Floats]:
    """The way hairs are combed, each turned off it by so many radians; y down."""
    dx, dy = field.directions(x, y)
    cos, sin = np.cos(turn), np.sin(turn)
    return cos * dx - sin * dy, sin * dx + cos * dy


def _outward(field: CombField, x: Floats, y: Floats, turn: Floats, tangent: NDArray[np.floating]) -> Floats:
    """How far lifted hairs are seen turned from the way they are combed, radians (n,)."""
    dx, dy = _combed(field, x, y, turn)
    across = dx * -tangent[:, 1] - dy * tangent[:, 0]
    along = dx * tangent[:, 0] - dy * tangent[:, 1]
    # Hair that comes straight at the viewer is seen from no side.
    clear = np.clip(np.hypot(tangent[:, 0], tangent[:, 1]) * 2, 0, 1)
    result: Floats = (0.8 * clear * np.arctan2(across, np.maximum(along, 0.05))).astype(np.float32)
    return result


@dataclass(eq=False)
class Hairs:
    """Hairs of one pass; i, j: the pixel of the form's area that each stands in."""

    pelt: Pelt
    kind: Pass
    i: NDArray[np.intp]
    j: NDArray[np.intp]
    points: Floats
    length: Floats
    tangent: NDArray[np.floating]
    normal: NDArray[np.floating]
    random: np.random.Generator
    rim: NDArray[np.floating] | float = 1.0
    middle: Floats | None = None
    shade: Floats | None = None

    def shaped(self) -> Hairs:
        """Drawn into tufts and locks, and waved."""
        pelt, scene = self.pelt, self.pelt.scene
        coat, length = pelt.coat, self.length
        mean = pelt.long * self.kind.long
        amount = coat.clump * scene["clump"] / 100 * self._by("clump_map") * (1 - 0.8 * self.wet)
        bunch = np.zeros(len(length), np.intp)
        levels = [(0.85 * mean, self.kind.clump[0] * amount), (0.30 * mean, self.kind.clump[1] * amount)]
        if np.any(self.wet):
            levels.append((float(scene["tuft"]), 0.97 * self.wet))
        for level, (gap, share) in enumerate(levels):
            strong = np.minimum(share, 1.0)
            if not len(length) or float(np.max(strong)) < 0.02:
                continue
            # The same clumps for all hairs of a pass, so that they fall together.
            scene.look_up()
            spacing = max(gap, 2.5)
            at, middle = growing.nearest_clump(self.points, spacing, scene.chance(f"clumps {level}"), scene.form.area)
            if level != 1:
                bunch, self.middle = at, middle
            off = np.linalg.norm(self.points[:, 0] - middle, axis=1) / spacing
            most = 0.38 * length if level < 2 else np.maximum(0.7 * length, spacing)
            self.points = growing.clumped(self.points, middle, strong, most)
            deep = 0.6 if level == 2 or (coat.locks and level == 0) else 0.22
            self.rim = self.rim * (1 - deep * strong * np.clip(off * 1.6, 0, 1) ** 2)
        high, turns = coat.wave
        curl = pelt.field.at(pelt.field.curl, self.points[:, 0, 0], self.points[:, 0, 1])
        high = (high + 0.15 * curl) * scene["wave"] / 100 * self._by("wave_map")
        if len(length) and float(np.max(high)) > 0.002:
            own = scene.chance("phases").uniform(0, 2 * np.pi, int(bunch.max()) + 1)[bunch]
            phase = own + 0.22 * self.random.standard_normal(len(length))
            size = np.exp(0.12 * self.random.standard_normal(len(length)))
            self.points = growing.waved(self.points, high * length * size, turns * size, phase)
        if coat.coil[0] and len(length):
            self._coil(bunch)
        return self

    def _coil(self, bunch: NDArray[np.intp]) -> None:
        """Turn hairs round their way; those of a tuft are near to each other in size and phase."""
        scene, n = self.pelt.scene, len(self.length)
        radius, turns = self.pelt.coat.coil
        own = scene.chance("coils").standard_normal((int(bunch.max()) + 1, 2))[bunch]
        size = (
            np.exp(0.3 * own[:, 0] + 0.15 * self.random.standard_normal(n)) * scene["wave"] / 100 * self._by("wave_map")
        )
        phase = np.pi * own[:, 1] + 0.9 * self.random.standard_normal(n)
        # Wider coils have fewer turns.
        self.points, high = growing.coiled(
            self.points, radius * self.length * size, turns / np.maximum(size, 0.3), phase
        )
        self.shade = 1 + 0.4 * high

    def colours(self) -> Floats:
        """Encoded colours (n, 3, 3) at root, middle and tip: the paint beneath in the light, and what hair mirrors."""
        pelt, scene, kind = self.pelt, self.pelt.scene, self.kind
        albedo = pelt.albedo[:, self.j, self.i].T
        tones = _undertones(scene)
        albedo = albedo * tones[scene.chance("undertones").integers(0, len(tones), len(albedo))]
        if scene["pale_map"]:
            grey = self.random.random(len(albedo)) < 0.6 * self._by("pale_map")
            albedo = np.where(grey[:, None], np.maximum(0.35 * albedo + 0.42, albedo), albedo)
        if scene["dark_map"]:
            albedo = albedo * np.reshape(1 - 0.75 * self._by("dark_map"), (-1, 1))
        scene.look_up()
        light = pelt.light[:, self.j, self.i].T
        toward = np.asarray(scene.light, float)
        across = 0.6 + 0.4 * shine.diffuse(self.tangent, toward)
        spread = np.exp(0.16 * scene["variety"] / 100 * self.random.standard_normal(len(albedo)) * 2)
        # Water between hairs keeps light in, and a wet tuft lies over the dark of its own roots.
        lit = albedo * light * (kind.value * across * spread * self.rim * (1 - 0.4 * self.wet))[:, None]
        stops = np.asarray(kind.stops)[None, :, None] ** (scene["contrast"] / 100)
        under = np.array((1.0, 0.2, 0.0))[None, :, None] * (0.6 * self.wet).reshape(-1, 1, 1)
        linear = lit[:, None] * stops * (1 - under)
        linear = linear + self._shine(albedo, spread)[:, None] * np.array((0.3, 1.0, 0.8))[None, :, None]
        return encoded(np.clip(linear, 0, 1)).astype(np.float32)

    def _shine(self, albedo: NDArray[np.floating], spread: NDArray[np.floating]) -> NDArray[np.floating]:
        """What hair mirrors (n, 3): of the key a broad gloss by the form and two highlights by the hair itself; sky."""
        pelt, scene = self.pelt, self.pelt.scene
        toward = np.asarray(scene.light, float)
        half = half_way(toward, FRONT)
        reach = scene.form.lit[self.j, self.i] * np.clip(self.normal @ toward + 0.15, 0, 1)
        broad = np.clip(self.normal @ half, 0, 1)[:, None] ** 9 * (0.016 + 0.34 * albedo)
        jitter = 0.06 * self.random.standard_normal(len(albedo))
        narrow, wide = (
            shine.specular(shine.shifted(self.tangent, self.normal, shift + jitter), toward, FRONT, power)
            for shift, power in ((-0.10, 60.0), (0.12, 16.0))
        )
        lobes = 0.085 * narrow[:, None] + 0.20 * wide[:, None] * np.maximum(albedo, 0) ** 0.6
        key = np.asarray(scene.sources.key_colour)
        gain = pelt.coat.gloss * scene["gloss"] / 100 * (0 if scene["lit"] == PAINTED else 1) * (1 + 1.8 * self.wet)
        shone = (broad + lobes) * key * (reach * gain * self.kind.value)[:, None]
        # The sky is mirrored from above and, more, aslant: a black coat shows little else.
        aslant = np.clip(1 - self.normal[:, 2], 0, 1) ** 2
        open_up = np.clip(0.35 + 0.65 * self.normal[:, 1], 0, 1) * scene.form.openness[self.j, self.i]
        cool = (SKY[0] + SKY[1] * aslant) * open_up * gain * pelt.coat.gloss**0.7 * self.kind.value * spread
        found: NDArray[np.floating] = shone + cool[:, None] * np.asarray(scene.sources.sky_colour)
        return found

    @cached_property
    def wet(self) -> NDArray[np.floating]:
        """How wet each hair is (n,), 0..1."""
        return np.broadcast_to(self.pelt.scene["wet"] / 100 * self._by("wet_map"), (len(self.length),))

    def _by(self, name: str) -> NDArray[np.floating] | float:
        """What a painted map says at the roots, 1 without one."""
        painted = self.pelt.scene.map(name)
        return 1.0 if painted is None else painted[self.j, self.i]

    def strands(self) -> Strands:
        kind = self.kind
        width = (
            kind.wide
            * self.pelt.coat.thick
            * self.pelt.thick
            * (0.35 + 0.65 * self._by("thick_map"))
            * np.exp(0.22 * self.random.standard_normal(len(self.points)))
        )
        return Strands.of(self.points, width, self.colours(), kind.alpha, shade=self.shade)

    def rank(self) -> Floats:
        """The order to lay them in: what lies downstream first, with a little chance."""
        field, roots = self.pelt.field, self.points[:, 0]
        if self.pelt.coat.locks and self.middle is not None:
            # A lock lies over the next one as a whole.
            roots = self.middle + 0.1 * (roots - self.middle)
        elif np.any(self.wet) and self.middle is not None:
            roots = self.middle + (1 - 0.9 * self.wet.reshape(-1, 1)) * (roots - self.middle)
        return field.at(field.rank, roots[:, 0], roots[:, 1]) + (
            0.25 * self.length * self.random.standard_normal(len(self.length)) / field.cell
        ).astype(np.float32)


def _undertones(scene: Scene) -> Floats:
    """Factors on linear colour (k, 3) that take the part's own colour to the undertones of its mixing grid, at the same
    value, as far as asked.
    """
    halftones = srgb.decode(np.array([scene.local, *(row[2] for row in scene.grid.values())]))
    even = np.maximum(halftones, 0.01) / np.maximum(srgb.luminance(halftones), 0.01)[:, None]
    result: Floats = (np.clip(even[1:] / even[0], 0.3, 3) ** (scene["undertones"] / 100)).astype(np.float32)
    return result
