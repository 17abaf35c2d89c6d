"""A hard silhouette broken into strands along the comb lines: some wiped out of it, some laid over its edge."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.painting.form.combing import comb_of
from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.form.own_paint import own_paint
from japanner.painting.model import Layer, Painting, Part
from japanner.raster.geometry import Rect
from japanner.strand.comb import CombField
from japanner.strand.growing import grown
from japanner.strand.strands import Strands

__all__ = ["BrokenEdge", "broken_edge", "coat_layers"]

Floats = NDArray[np.floating]
NOTCHES_PX: Final = 2.6
HAIRS_PX: Final = 0.5
"""Distances of notches and of hairs along the edge."""
JOINTS: Final = 8
FRINGE_SOFT_PX: Final = 3.0
MESS_DEG: Final = 11.0
THINNEST_PX: Final = 0.6
STANDS: Final = 0.35
"""Hairs stand where so much of the surroundings is silhouette."""


def coat_layers(part: Part) -> list[Layer]:
    """The layers of a coat that has a fringe over the silhouette; none if there is no such coat."""
    made = [one for one in part.layers if one.made is not None and one.made.maker == "coat"]
    return made if any(one.role == "edge" for one in made) else []


@dataclass(frozen=True, eq=False)
class BrokenEdge:
    """What is wiped, and what is laid outside of the silhouette, over an area of the canvas.

    wiped (h, w): how much of the paint goes, 0..1. colour (3, h, w), cover (h, w): of the hairs that are laid.
    """

    area: Rect
    wiped: Floats
    colour: Floats
    cover: Floats


def broken_edge(painting: Painting, part: Part, length_px: float, seed: int) -> BrokenEdge:
    """Break a part's edge into hairs of about this length; InputError while it has no silhouette."""
    sheet, field = silhouette_sheet(painting, part), comb_of(painting, part)
    reach = int(np.ceil(3 * length_px)) + 4
    area = sheet.bounds().grown(reach).intersected(painting.rect)
    cover = sheet.coverage(area)
    if fringe := [one for one in coat_layers(part) if one.role == "edge"]:
        # The edge of a coat is where its fringe thins out, as a whole.
        hairs = np.max([one.pixels.read(area)[3].astype(np.float32) / 65535 for one in fringe], axis=0)
        cover = np.maximum(cover, np.minimum(cv2.GaussianBlur(hairs, (0, 0), FRINGE_SOFT_PX) * 2, 1))
    edge = _Edge.of(cover, area, field)
    random = np.random.Generator(np.random.PCG64(seed))
    wiped = edge.notches(length_px, random).drawn(area)[3]
    drawn = edge.hairs(length_px, own_paint(painting, part, area), random).drawn(area)
    # Whole where the silhouette only half covers a pixel; within it the paint is as it was.
    outside = drawn[3] * np.minimum(4 * (1 - cover * (1 - wiped)), 1)
    return BrokenEdge(area, wiped, drawn[:3] / np.maximum(drawn[3], 1e-6), outside)


@dataclass(frozen=True, eq=False)
class _Edge:
    """Places x, y (n,) along an outline, about a pixel apart, canvas px; out: how far hair leads out there, -1..1.
    soft: the silhouette (h, w) over the area, blurred.
    """

    area: Rect
    soft: Floats
    field: CombField
    x: Floats
    y: Floats
    out: Floats

    @staticmethod
    def of(cover: Floats, area: Rect, field: CombField) -> _Edge:
        outlines, _ = cv2.findContours((cover > 0.5).astype(np.uint8), cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
        places = np.concatenate([line[:, 0] for line in outlines]).astype(np.float32) + 0.5
        i, j = places.astype(int).T
        soft = cv2.GaussianBlur(cover.astype(np.float32), (0, 0), 4)
        away = np.stack((-cv2.Sobel(soft, cv2.CV_32F, 1, 0)[j, i], -cv2.Sobel(soft, cv2.CV_32F, 0, 1)[j, i]))
        away /= np.maximum(np.hypot(*away), 1e-6)
        x, y = places[:, 0] + area.x0, places[:, 1] + area.y0
        dx, dy = field.directions(x, y)
        return _Edge(area, soft, field, x, y, dx * away[0] + dy * away[1])

    def notches(self, length_px: float, random: np.random.Generator) -> Strands:
        """Wedges from outside into the silhouette, against the hair."""
        x, y, long, turn = self._some(1 / NOTCHES_PX, 0.5 * length_px, random)
        dx, dy = self.field.directions(x, y)
        out = 0.12 * long
        points = grown(self.field, x + out * dx, y + out * dy, long, turn + np.float32(np.pi), JOINTS)
        wide = np.maximum(0.1 * long * np.exp(0.35 * random.standard_normal(len(x))), 1.0)
        return Strands.of(points, wide, np.zeros((len(x), 3, 3)), 1.0, tip=0.8, soft=0.02, power=0.9)

    def hairs(self, length_px: float, paint: Floats, random: np.random.Generator) -> Strands:
        """Fine hairs that grow from within over the edge, in the colours that are painted where they stand."""
        x, y, long, turn = self._some(1 / HAIRS_PX, length_px, random)
        dx, dy = self.field.directions(x, y)
        back = (0.25 + 0.5 * random.random(len(x))).astype(np.float32) * long
        x, y = x - back * dx, y - back * dy
        i = np.clip((x - self.area.x0).astype(int), 0, self.area.width - 1)
        j = np.clip((y - self.area.y0).astype(int), 0, self.area.height - 1)
        # None stands outside, as where hair runs along the edge.
        x, y, long, turn, i, j = (one[self.soft[j, i] > STANDS] for one in (x, y, long, turn, i, j))
        points = grown(self.field, x, y, long, turn, JOINTS)
        value = np.exp(0.22 * random.standard_normal(len(x)))[:, None, None]
        stops = np.array((0.8, 1.0, 1.15))[None, :, None]
        colours = srgb.encode(np.clip(srgb.decode(paint[:, j, i].T)[:, None] * value * stops, 0, 1))
        wide = np.maximum(np.exp(0.25 * random.standard_normal(len(x))), THINNEST_PX)
        return Strands.of(points, wide, colours, 0.8, tip=0.6)

    def _some(
        self, per_px: float, length_px: float, random: np.random.Generator
    ) -> tuple[Floats, Floats, Floats, Floats]:
        """Places along the edge, more where hair leads out, none where it leads in; lengths, px, and turns, radians."""
        kept = random.random(len(self.x)) < per_px * np.clip(0.25 + self.out, 0, 1)
        x, y = self.x[kept], self.y[kept]
        long = length_px * self.field.at(self.field.length, x, y) * np.exp(0.4 * random.standard_normal(len(x)))
        turn = np.radians(MESS_DEG) * random.standard_normal(len(x))
        return x, y, np.minimum(long, 2.5 * length_px).astype(np.float32), turn.astype(np.float32)
