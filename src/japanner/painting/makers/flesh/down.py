"""The fine hair that skin has at its silhouette, seen where light comes through it."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import lab
from japanner.painting.form.forms import seen_of
from japanner.painting.form.outlines import border_of
from japanner.painting.makers.base import Scene, Sheet
from japanner.painting.makers.flesh.zones import Zones
from japanner.strand.strands import Strands

__all__ = ["down"]

Floats = NDArray[np.float64]

APART: Final = 0.28
"""Distance of hairs along the silhouette, in pores' distances."""
LONG: Final = (1.2, 3.2)
"""How long they are, in pores' distances."""
JOINTS: Final = 5


def down(scene: Scene, zones: Zones) -> list[Sheet]:
    """Short pale hairs that stand out over the silhouette, brightest towards the light; none where it ends nowhere
    before something else.
    """
    form, random, apart = scene.form, scene.chance("down"), float(scene["pores"])
    roots, out = _roots(scene, random, apart)
    count = len(roots)
    if not count:
        return []
    turn = random.normal(0, 0.55, count)
    x, y = out.T
    way = np.stack((x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)), axis=1)
    bend = np.stack((-way[:, 1], way[:, 0]), axis=1) * random.normal(0, 0.3, count)[:, None]
    long = (apart * random.uniform(*LONG, count))[:, None, None]
    share = np.linspace(0, 1, JOINTS)[None, :, None]
    points = (roots - 0.8 * out)[:, None] + long * (way[:, None] * share + bend[:, None] * share**2)
    light = np.clip(0.35 + 0.8 * (x * scene.light[0] - y * scene.light[1]), 0.15, 1.0)
    own = lab.lab_from_srgb(np.asarray(scene.local))
    pale = np.clip(lab.srgb_from_lab((min(own[0] + 0.6 * (96 - own[0]), 92.0), 0.35 * own[1], 0.7 * own[2])), 0, 1)
    colours = np.repeat((pale[None] * (0.45 + 0.55 * light[:, None]))[:, None], 3, axis=1)
    alpha = np.clip((0.05 + 0.25 * light) * scene["down"] / 50, 0, 1)
    strands = Strands.of(points, max(0.10 * apart, 0.55), colours, alpha, tip=0.3, power=1.2)
    area = form.area.grown(int(LONG[1] * apart) + 3).intersected(scene.painting.rect)
    drawn = strands.drawn(area)
    return [Sheet("Fine hair", "strays", area, drawn[:3] / np.maximum(drawn[3], 1e-6), drawn[3], place="over")]


def _roots(scene: Scene, random: np.random.Generator, apart: float) -> tuple[Floats, Floats]:
    """Places (n, 2) on the silhouette, canvas px, where something else lies beyond, and the ways out of it."""
    form, corner = scene.form, np.array((scene.form.area.x0, scene.form.area.y0), float)
    border, ways = border_of(form.cover)
    if not len(border):
        return np.empty((0, 2)), np.empty((0, 2))
    chosen = random.integers(0, len(border), int(len(border) / max(APART * apart, 0.7)))
    roots, out = border[chosen], ways[chosen]
    # Not where another zone of the same head goes on.
    here, beyond = (_piece_at(scene, roots + corner + by * out) for by in (0.0, 4.0))
    kept = (beyond != here) & (here >= 0)
    roots = roots + corner + 0.5 + random.uniform(-0.5, 0.5, roots.shape)
    return roots[kept], out[kept]


def _piece_at(scene: Scene, places: Floats) -> NDArray[np.int32]:
    piece = seen_of(scene.painting).piece
    column, row = np.clip(np.rint(places).astype(int), 0, (piece.shape[1] - 1, piece.shape[0] - 1)).T
    return piece[row, column]
