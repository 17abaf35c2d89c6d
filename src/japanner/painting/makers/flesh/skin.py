"""Skin: what differs by zone, blood under it, red-brown where it is dark, pores, spots, and small wet highlights."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.light.inflate import tilted_cosine
from japanner.light.shading import ggx, half_way
from japanner.painting.makers.base import (
    DEPTH,
    FRONT,
    Maker,
    Plane,
    Scene,
    Sheet,
    encoded,
    filled,
    fractal,
    in_bands,
    number,
    painted_map,
    smoothstep,
)  # fmt: skip
from japanner.painting.makers.flesh.blood import WARM_ZONES as BLOOD
from japanner.painting.makers.flesh.blood import warmth
from japanner.painting.makers.flesh.down import down
from japanner.painting.makers.flesh.relief import PORES, relief
from japanner.painting.makers.flesh.spots import SPOTTED, age_spots, beard_shadow, freckles
from japanner.painting.makers.flesh.zones import Zones
from japanner.raster.parallel import together

__all__ = ["SKIN"]

TINTS: Final = {
    "forehead": (0, -1.5, 3.0), "cheeks": (-0.5, 4.5, 0.5), "nose tip": (-1.5, 7.0, 1.0),
    "nose wings": (-1.5, 7.0, 1.0), "nose bridge": (0, 1.0, 2.0), "ears": (-1.0, 9.0, 1.0),
    "eye sockets": (-6.5, 2.0, -5.5), "lids": (-4.0, 5.0, -3.0),
    "mouth surround": (-3.5, 1.5, -3.0), "chin": (0, 3.0, 0), "jaw": (-2.0, 0.5, -1.5), "neck": (-1.0, -1.0, 2.0),
    "scalp": (-1.0, -1.5, 0.0), "nostrils": (-14.0, 12.0, 4.0),
}  # fmt: skip
"""How L*, a* and b* of skin differ by zone (common practice, from painted studies)."""
GLOSS: Final = {
    "forehead": 1.1, "brows": 1.1, "nose bridge": 1.05, "nose tip": 1.4, "nose wings": 0.9, "cheeks": 0.8, "chin": 0.9,
    "lids": 0.95, "lips": 1.35, "eye sockets": 0.3, "mouth surround": 0.5, "jaw": 0.45, "neck": 0.35, "scalp": 0.8,
    "ears": 0.6, "shoulders": 0.5, "collar bones": 0.75,
}  # fmt: skip
MATT: Final = 0.55
"""How wet zones are, and what is none."""
LOBES: Final = ((0.26, 0.34), (0.11, 0.62))
"""Roughness (alpha of GGX) and weight of the broad and of the narrow highlight."""
THIN: Final = {"ears": 0.8, "ear rim": 1.0, "nose wings": 0.35}
MOTTLES: Final = (0.065, 0.021, 0.0065)
"""Sizes of mottling, as shares of the head's height (common practice)."""
MOTTLED: Final = 0.037
"""How far it goes on a sheet of soft light: 1.5 L* at most."""
PORE_DEPTH: Final = 0.17
"""Of their distance (common practice)."""


def _make(scene: Scene) -> list[Sheet]:
    form, zones = scene.form, Zones(scene)
    if zones.any:
        zones.find({*TINTS, *GLOSS, *THIN, *PORES, *SPOTTED, *BLOOD, "lip seam"})
    key = np.clip(scene.facing(form.normal), 0, 1) * form.lit
    blood, uneven = together((lambda: warmth(scene, zones) * scene["blood"] / 100, lambda: relief(scene, zones)))
    scene.tell(0.5)
    figure = zones.any
    steps: list[tuple[bool, Callable[[], list[Sheet]]]] = [
        (figure and scene["zones"] > 0, lambda: [_tints(scene, zones)]),
        (True, lambda: _colours(scene, zones, blood, key)),
        (True, lambda: _dark(scene, key)),
        (scene["beard"] > 0, lambda: [beard_shadow(scene, zones, key)]),
        (scene["age_spots"] > 0, lambda: [age_spots(scene, zones, key)]),
        (scene["freckles"] > 0, lambda: [freckles(scene, zones, key)]),
        (True, lambda: [_pores(scene, zones, uneven)]),
        (figure, lambda: [_seam(scene, zones), _nostrils(scene, zones)]),
        (figure, lambda: [_through(scene, zones)]),
        (True, lambda: [_wet(scene, zones, uneven, blood)]),
        (figure and scene["down"] > 0, lambda: down(scene, zones)),
    ]
    # Each draws chance by its own name, so that it does not matter which comes first.
    made = together([step for on, step in steps if on])
    return [sheet for sheets in made for sheet in sheets]


def _tints(scene: Scene, zones: Zones) -> Sheet:
    """A glaze that turns the part's colour into that of each zone."""
    own = lab.lab_from_srgb(np.asarray(scene.local))
    strength, local = scene["zones"] / 120, np.maximum(np.asarray(scene.local), 1e-3)

    def ratio(offset: tuple[float, ...]) -> NDArray[np.float32]:
        # By how much the colours of a darker skin differ goes with its own.
        shift = np.asarray(offset) * strength * min(own[0] / 60 + 0.35, 1.0)
        there = np.clip(lab.srgb_from_lab(own + shift), 0, 1) / local
        return np.asarray(there / max(float(there.max()), 1.0), np.float32)

    glaze = zones.field({name: ratio(offset) for name, offset in TINTS.items()}, (1.0, 1.0, 1.0), 0.018)
    return Sheet("Zones", "undertone", scene.form.area, glaze, scene.form.cover, mode="Multiply")


def _colours(scene: Scene, zones: Zones, blood: Plane, key: Plane) -> list[Sheet]:
    """Blood, tan, pallor."""
    form, local = scene.form, np.asarray(scene.local)
    light = float(lab.lightness_from_srgb(local))
    red = (0.78, 0.30, 0.25) if light > 45 else (0.52, 0.16, 0.12)
    strength = 0.35 if zones.any else 0.55  # zones have some in their own colours
    sheets = [Sheet("Blood", "undertone", form.area, filled(key.shape, red), blood * form.cover * strength,
                    mode="Soft Light")]  # fmt: skip
    if scene["tan"] > 0:
        sun = zones.field({"forehead": 1.0, "nose bridge": 1.0, "nose tip": 1.0, "cheeks": 0.85, "ears": 0.7,
                           "lids": 0.3, "eye sockets": 0.35, "neck": 0.5, "shoulders": 0.6}, 0.7, 0.04)  # fmt: skip
        brown = np.clip(local * (0.92, 0.80, 0.66), 0, 1) / np.maximum(local, 1e-3)
        cover = sun * form.cover * scene["tan"] / 100
        sheets.append(Sheet("Tan", "undertone", form.area, filled(key.shape, tuple(brown)), cover, mode="Multiply"))
    if scene["pallor"] > 0:
        grey = np.clip(lab.srgb_from_lab(lab.lab_from_srgb(local) * (1, 0.35, 0.7) + (5, 0, 0)), 0, 1)
        cover = (1 - 0.6 * blood) * form.cover * scene["pallor"] / 160
        sheets.append(Sheet("Pallor", "undertone", form.area, filled(key.shape, tuple(grey)), cover, mode="Color"))
    return sheets


def _dark(scene: Scene, key: Plane) -> list[Sheet]:
    """Where light hardly comes, what is left of it has been through blood: red-brown, not grey; and the warm edge of
    shadows.
    """
    form, local = scene.form, np.asarray(scene.local)

    def deep(rows: slice) -> Plane:
        open_to = form.openness[rows]
        found = smoothstep(0.25, 0.0, key[rows]) * (1 - 0.55 * open_to) * (scene["deep"] / 100)
        # Down to a deep red-brown at most: what is darkest already is not darkened as much again.
        return found * (0.35 + 0.65 * open_to) * form.cover[rows]

    def edge(rows: slice) -> Plane:
        near = np.exp(-((key[rows] - 0.10) ** 2) / 0.006)
        return near * smoothstep(0.02, 0.3, form.openness[rows]) * form.cover[rows] * 0.2

    brown, warm = np.clip(local * (0.62, 0.34, 0.27), 0, 1), np.clip(local * (1.06, 0.66, 0.52), 0, 1)
    return [
        Sheet("Deep red-brown", "shadow", form.area, filled(key.shape, tuple(brown)), in_bands(key.shape, deep),
              mode="Multiply"),
        Sheet("Shadow edge", "bounce", form.area, filled(key.shape, tuple(warm)), in_bands(key.shape, edge),
              mode="Soft Light"),
    ]  # fmt: skip


def _tilted(scene: Scene, uneven: Plane, share: float, towards: NDArray[np.floating]) -> Plane:
    """Cosine (h, w) between a direction and the form's normals with a share of the relief on them."""
    return tilted_cosine(scene.form.normal, uneven, scene["pores"] * PORE_DEPTH * share, towards)


def _pores(scene: Scene, zones: Zones, uneven: Plane) -> Sheet:
    """Pores lit as the skin is, most where light meets dark; and mottling at three scales."""
    form = scene.form
    own = scene.facing(form.normal)
    lit = _tilted(scene, uneven, 1.0, scene.light)
    high = zones.head_px or 0.8 * max(own.shape)
    mottles = [fractal(scene.chance(f"mottle {size}"), own.shape, size * high, 2) for size in MOTTLES]
    texture = scene["texture"] / 40

    def grey(rows: slice) -> Plane:
        facing, fine = own[rows], uneven[rows]
        where = 0.3 + 0.7 * smoothstep(0.02, 0.3, facing) * smoothstep(1.05, 0.7, facing)
        bumps = texture * (0.30 * np.clip(lit[rows] - facing, -0.5, 0.5) * where + 0.045 * np.minimum(fine, 0))
        mottle = sum(one[rows] for one in mottles) / np.sqrt(len(mottles))
        return np.clip(0.5 + bumps + MOTTLED * np.clip(mottle, -2.2, 2.2) / 2.2, 0, 1)

    value = in_bands(own.shape, grey)
    return Sheet(
        "Pores", "texture", form.area, np.broadcast_to(value, (3, *value.shape)), form.cover, mode="Soft Light"
    )


def _seam(scene: Scene, zones: Zones) -> Sheet:
    """The line of the mouth: dark in its corners and its middle, lost between."""
    form = scene.form
    seam = zones.share("lip seam")
    columns = np.flatnonzero(seam.max(axis=0) > 0.2)
    broken = np.ones(seam.shape[1], np.float32)
    if len(columns):
        across = np.clip((np.arange(seam.shape[1]) - columns[0]) / max(columns[-1] - columns[0], 1), 0, 1)
        from_middle = np.abs(across * 2 - 1)
        broken = 0.35 + 0.65 * np.maximum(np.exp(-((from_middle / 0.22) ** 2)), smoothstep(0.72, 0.97, from_middle))
    dark = np.clip(np.asarray(scene.local) * (0.42, 0.22, 0.20), 0, 1)
    cover = smoothstep(0.45, 0.95, seam) * broken * (1 - 0.5 * form.openness) * form.cover * 0.8
    return Sheet("Mouth line", "accent", form.area, filled(seam.shape, tuple(dark)), cover, mode="Multiply")


def _nostrils(scene: Scene, zones: Zones) -> Sheet:
    """Inside, what light comes has been through blood: deep red-brown, never black."""
    form = scene.form
    inside = zones.share("nostrils") * smoothstep(0.75, 0.15, form.openness)
    local = np.asarray(scene.local)
    value = 0.16 + 0.10 * float(lab.lightness_from_srgb(local)) / 100
    paint = (value, value * 0.46, value * 0.36)
    return Sheet("Nostrils", "shadow", form.area, filled(inside.shape, paint), inside * form.cover * 0.8)


def _through(scene: Scene, zones: Zones) -> Sheet:
    """Light that comes through what is thin: ears, wings of the nose."""
    form = scene.form
    thin = zones.field(THIN, 0.0, 0.004)
    behind = smoothstep(0.0, -0.7, scene.facing(form.normal)) * form.openness
    glow = thin * behind * scene["through"] / 100
    key = np.asarray(scene.sources.key_colour)
    red = np.array((0.80, 0.19, 0.09)) * key / key.max()
    # Dark skin lets less through.
    red = red * (0.12 + 0.5 * float(lab.luminance_from_lightness(lab.lightness_from_srgb(np.asarray(scene.local)))))
    paint = encoded(red[:, None, None].astype(np.float32) * glow)
    return Sheet("Light through", "light", form.area, paint, form.cover, mode="Screen")


def _wet(scene: Scene, zones: Zones, uneven: Plane, blood: Plane) -> Sheet:
    """The key light mirrored by a thin wet film: broad and narrow together, broken up by pores."""
    form = scene.form
    cosine = np.maximum(_tilted(scene, uneven, 0.8, half_way(scene.light, FRONT)), 0)
    gloss = zones.field(GLOSS, MATT, 0.03) if zones.any else 0.7 + 0.5 * blood
    film = fractal(scene.chance("film"), cosine.shape, 12 * scene["pores"], 3)
    key = np.asarray(scene.sources.key_colour)
    tint = (0.35 + 0.65 * key / key.max()).astype(np.float32)[:, None, None]

    def band(rows: slice) -> Plane:
        lobes = sum(weight * ggx(cosine[rows], alpha) / float(ggx(1.0, alpha)) for alpha, weight in LOBES)
        patchy, broken = 1 + 0.3 * np.tanh(film[rows]), np.clip(1 + 0.75 * uneven[rows], 0.1, 1.6)
        reached = form.lit[rows] * form.openness[rows] * (scene["wet"] / 100 * 0.8)
        return encoded(np.clip(lobes * gloss[rows] * patchy * broken * reached, 0, 1) * tint)

    colour = in_bands((3, *cosine.shape), band)
    return Sheet("Wet highlights", "highlight", form.area, colour, form.cover, mode="Screen", strength=0.8)


SKIN: Final = Maker(
    "skin", ("skin",), "What makes skin alive: its zones, blood, red-brown depth, pores, spots, wet highlights",
    (
        number("zones", "zones", 60, 0, 120, "How far the zones of a figure's skin differ in colour", unit=" %"),
        number("blood", "blood", 60, 0, 100, "How near blood is: cheeks, nose, ears, knuckles", unit=" %"),
        *painted_map("blood_map", "where", "A layer whose paint says where blood is near"),
        number("pallor", "pallor", 0, 0, 100, "How pale", unit=" %"),
        number("tan", "tan", 0, 0, 100, "How far sun has browned it", unit=" %"),
        number("deep", "deep", 55, 0, 100, "Red-brown where it is dark", unit=" %"),
        number("pores", "pores", 9, 1, 120, "Distance between pores; by zone more or less", unit=" px", px=True),
        number("texture", "texture", 40, 0, 100, "How much the pores show", unit=" %"),
        number("freckles", "freckles", 0, 0, 100, "How many", unit=" %"),
        *painted_map("freckle_map", "where", "A layer whose paint says where they are dense"),
        number("age_spots", "age spots", 0, 0, 100, "How many", unit=" %"),
        number("beard", "beard shadow", 0, 0, 100, "How much of a shaven beard shows", unit=" %"),
        number("through", "light through", 50, 0, 100, "Light that comes through ears and wings of the nose",
               unit=" %"),
        number("down", "fine hair", 30, 0, 100, "Fine pale hair at the silhouette of a figure", unit=" %"),
        number("wet", "wet", 45, 0, 100, "Small highlights of a wet film", unit=" %"),
        DEPTH,
    ),
    _make,
)  # fmt: skip
