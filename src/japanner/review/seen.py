"""What checks look at: the picture reduced, in several readings, and where each part is seen in it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.color import lab, srgb
from japanner.errors import InputError
from japanner.painting.form.forms import Form, form_of
from japanner.painting.model import Painting, Part
from japanner.painting.picture.compositor import flattened
from japanner.painting.picture.reduced import reduced
from japanner.raster.geometry import Rect

__all__ = ["REFERENCE_PX", "Seen", "SeenPart"]

REFERENCE_PX: Final = 2000.0
"""Lengths in checks are px of a picture whose longer side is so long."""
LONGEST_PX: Final = 1400
LEAST: Final = 0.0004
"""A part of which less of the picture is seen is not looked at."""
EVEN: Final = 0.15
"""Deviation of L* of what nobody has painted on."""
Plane = NDArray[np.float32]
Mask = NDArray[np.bool_]


@dataclass(frozen=True, eq=False)
class SeenPart:
    """A part as it is seen: where (h, w), what of its silhouette nothing covers, and all of its silhouette."""

    part: Part
    mask: Mask
    whole: Mask


@dataclass(frozen=True, eq=False)
class Seen:
    """The picture for checks.

    painting: reduced by `step`. codes (h, w, 3): encoded colours of its picture, 0..1. parts: those that are seen, from
    back to front. before: the same of a kept moment.
    """

    painting: Painting
    step: int
    codes: Plane
    parts: tuple[SeenPart, ...]
    before: Plane | None = None

    @staticmethod
    def of(painting: Painting, before: Painting | None = None) -> Seen:
        """Reduced by a power of two."""
        step = 1
        while max(painting.width, painting.height) / step > LONGEST_PX:
            step *= 2
        small = reduced(painting, step)
        former = None if before is None else _codes(reduced(before, step))
        if former is not None and former.shape[:2] != (small.height, small.width):
            former = None
        return Seen(small, step, _codes(small), _parts(small), former)

    def with_codes(self, codes: Plane) -> Seen:
        """The same painting with another picture."""
        return replace(self, codes=codes)

    @property
    def px(self) -> float:
        """Pixels here to one of `REFERENCE_PX`."""
        return max(self.codes.shape[:2]) / REFERENCE_PX

    @cached_property
    def lab(self) -> Plane:
        """L*, a*, b* (h, w, 3)."""
        return lab.lab_from_srgb(self.codes).astype(np.float32)

    @cached_property
    def values(self) -> Plane:
        """L* (h, w)."""
        return np.ascontiguousarray(self.lab[..., 0])

    @cached_property
    def luminance(self) -> Plane:
        """Linear luminance (h, w)."""
        return srgb.luminance(srgb.decode(self.codes)).astype(np.float32)

    @cached_property
    def bare(self) -> Mask:
        """Where the picture is one even colour, as a flat is filled, and neither black nor white (h, w)."""
        soft = self.blurred(self.values, 1.0)
        deviation = np.sqrt(np.maximum(self.blurred(soft * soft, 6.0) - self.blurred(soft, 6.0) ** 2, 0))
        even = (deviation < EVEN) & (self.values > 1) & (self.values < 99)
        # As far as the paint beside it reached into what was measured.
        size = 2 * max(round(24 * self.px), 1) + 1
        found: Mask = cv2.dilate(even.astype(np.uint8), np.ones((size, size), np.uint8)) > 0
        return found

    @cached_property
    def ground(self) -> Mask:
        """Where the ground is: no part, or a plain one that reaches along most of the border (h, w)."""
        free = np.ones(self.codes.shape[:2], bool)
        for one in self.parts:
            if not self.is_ground(one):
                free &= ~one.mask
        return free

    def is_ground(self, one: SeenPart) -> bool:
        """Whether a part is a ground: plain, and over a quarter of the picture or a third of its border."""
        border = np.concatenate((one.mask[0], one.mask[-1], one.mask[:, 0], one.mask[:, -1]))
        broad = float(border.mean()) > 1 / 3 or float(one.mask.mean()) > 1 / 4
        return broad and one.part.material in ("plain", "drawing")

    def made_of(self, *materials: str) -> Iterator[SeenPart]:
        """Parts of some materials."""
        return (one for one in self.parts if one.part.material in materials)

    def blurred(self, plane: Plane, sigma_px: float) -> Plane:
        """Blurred by so many px of the reference."""
        soft: Plane = cv2.GaussianBlur(plane, (0, 0), max(sigma_px * self.px, 0.3), borderType=cv2.BORDER_REFLECT)
        return soft

    def form(self, one: SeenPart) -> Form | None:
        """A part's form; None where it has none."""
        try:
            return form_of(self.painting, one.part)
        except InputError:
            return None

    def planes_of(self, form: Form) -> tuple[slice, slice]:
        """Rows and columns of a form's area."""
        area = form.area
        return slice(area.y0, area.y1), slice(area.x0, area.x1)


def _codes(painting: Painting) -> Plane:
    area = Rect(0, 0, painting.width, painting.height)
    codes = flattened(painting).read(area)[:3].astype(np.float32) / np.float32(65535)
    return np.ascontiguousarray(np.moveaxis(codes, 0, -1))


def _parts(painting: Painting) -> tuple[SeenPart, ...]:
    shape = painting.height, painting.width
    free, found = np.ones(shape, np.float32), list[SeenPart]()
    for part in reversed(painting.parts):
        if not part.shown or not part.flats:
            continue
        cover = np.zeros(shape, np.float32)
        # Hair that leaves the flats is the part's, too.
        outer = [one for one in part.layers if one.role == "edge" or (one.role == "strands" and one.place == "over")]
        for layer in (*part.flats, *outer):
            if layer.shown:
                cover = np.maximum(cover, layer.pixels.read(painting.rect)[3].astype(np.float32) / 65535)
        whole = cover > 0.5
        mask = whole & (free > 0.5)
        free *= 1 - cover * part.strength
        if mask.mean() > LEAST:
            found.append(SeenPart(part, mask, whole))
    return tuple(reversed(found))
