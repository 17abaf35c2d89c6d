"""Short hairs that stand out over the edge of cloth."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner.color import lab
from japanner.painting.form.outlines import border_of
from japanner.painting.makers.base import Plane, Scene, Sheet
from japanner.strand.strands import Strands

__all__ = ["nap"]

APART: Final = 0.22
"""Distance of hairs along the edge, in their lengths."""
JOINTS: Final = 5


def nap(scene: Scene, lit: Plane, long_px: float, strength: float) -> list[Sheet]:
    """Hairs about `long_px` long over the part's silhouette, as light as the cloth is there."""
    form, random = scene.form, scene.chance("nap")
    border, ways = border_of(form.cover)
    if not len(border) or long_px < 0.8:
        return []
    count = int(len(border) / max(APART * long_px, 0.7) * strength)
    chosen = random.integers(0, len(border), count)
    roots, out = border[chosen], ways[chosen]
    column, row = np.rint(roots).astype(int).T
    turn = random.normal(0, 0.7, count)
    x, y = out.T
    way = np.stack((x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)), axis=1)
    bend = np.stack((-way[:, 1], way[:, 0]), axis=1) * random.normal(0, 0.5, count)[:, None]
    long_ = (long_px * random.gamma(2.5, 0.4, count))[:, None, None]
    share = np.linspace(0, 1, JOINTS)[None, :, None]
    corner = np.array((form.area.x0, form.area.y0), float) + 0.5
    points = (roots + corner - 0.6 * long_[:, 0] * out)[:, None] + long_ * (
        way[:, None] * share + bend[:, None] * share**2
    )
    light = np.clip(0.25 + 0.6 * (x * scene.light[0] - y * scene.light[1]) + 0.35 * lit[row, column], 0.1, 1.1)
    own = lab.lab_from_srgb(np.asarray(scene.local))
    values = own[0] * (0.45 + 0.65 * light)
    colours = np.clip(
        lab.srgb_from_lab(np.stack((values, *(np.full(count, one * 0.85) for one in own[1:])), axis=1)), 0, 1
    )
    alpha = np.clip(random.uniform(0.25, 0.7, count) * strength, 0, 1)
    strands = Strands.of(
        points, max(0.13 * long_px, 0.6), np.repeat(colours[:, None], 3, axis=1), alpha, tip=0.3, power=1.2
    )
    area = form.area.grown(int(2.5 * long_px) + 3).intersected(scene.painting.rect)
    drawn = strands.drawn(area)
    return [Sheet("Nap", "strays", area, drawn[:3] / np.maximum(drawn[3], 1e-6), drawn[3], place="over")]
