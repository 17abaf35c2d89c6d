"""What differs between the zones of a figure's skin, as planes over a part's form."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner.light.figure.shape import HEAD_UNITS
from japanner.light.rays.owners import zone
from japanner.painting.form.forms import seen_of
from japanner.painting.makers.base import Plane, Scene

__all__ = ["Zones"]

COARSE: Final = 4
"""Fields that change slowly are worked out at a share of the size."""


@dataclass(eq=False)
class Zones:
    """The zones of the figures that a part is of, over its form's area."""

    scene: Scene

    def __post_init__(self) -> None:
        self._kept: dict[str, Plane] = {}
        self._small: dict[str, NDArray[Any]] = {}
        self._soft_ones: dict[tuple[str, float], Plane] = {}

    @cached_property
    def head_px(self) -> float:
        """Height of the largest figure's head on the canvas; 0 without a figure."""
        maquette, uid = self.scene.painting.maquette, self.scene.part.uid
        sizes = [one.size[1] for one in maquette.pieces if one.kind == "figure" and uid in one.owners]
        return HEAD_UNITS * max(sizes, default=0.0) * maquette.unit_px

    @property
    def any(self) -> bool:
        """Whether there is a figure."""
        return self.head_px > 0

    def share(self, name: str) -> Plane:
        """How much each place (h, w) is of a zone, 0..1."""
        if name not in self._kept:
            area = self.scene.form.area
            found = zone(seen_of(self.scene.painting), name)[area.y0 : area.y1, area.x0 : area.x1]
            self._kept[name] = np.ascontiguousarray(found)
        return self._kept[name]

    def find(self, names: Iterable[str]) -> None:
        """Have zones at hand, for work that goes on at the same time."""
        for name in names:
            self.share(name)

    def soft(self, name: str, heads: float) -> Plane:
        """The same with its border softened over a share of the head's height."""
        return self.whole(self._soft(name, heads))

    def field(self, values: Mapping[str, Any], rest: Any, heads: float = 0.02) -> Plane:
        """Numbers (h, w), or vectors (k, h, w), that zones have: blended over a share of the head's height; elsewhere,
        and without a figure, as `rest`.
        """
        shape = self.scene.form.cover.shape
        base = np.asarray(rest, np.float32)
        if not self.any:
            return np.broadcast_to(base[..., None, None], (*base.shape, *shape)).astype(np.float32)
        coarse = self.coarse_shape
        total, out = np.zeros(coarse, np.float32), np.zeros((*base.shape, *coarse), np.float32)
        for name, value in values.items():
            share = self._soft(name, heads)
            total += share
            out += np.asarray(value, np.float32)[..., None, None] * share
        out += base[..., None, None] * np.maximum(1 - total, 0)
        return self.whole(out / np.maximum(total, 1))

    @property
    def coarse_shape(self) -> tuple[int, int]:
        """That of what changes slowly."""
        height, width = self.scene.form.cover.shape
        return -(-height // COARSE), -(-width // COARSE)

    def _soft(self, name: str, heads: float) -> Plane:
        return self.broad(name, heads * self.head_px)

    def broad(self, name: str, px: float) -> Plane:
        """How much each place is of a zone, softened over px, at the coarse size (see `whole`)."""
        if name not in self._small:
            height, width = self.coarse_shape
            self._small[name] = cv2.resize(self.share(name), (width, height), interpolation=cv2.INTER_AREA)
        key = name, round(px, 3)
        if key not in self._soft_ones:
            self._soft_ones[key] = cv2.GaussianBlur(self._small[name], (0, 0), max(px / COARSE, 0.3))
        return self._soft_ones[key]

    def whole(self, coarse: NDArray[Any]) -> Plane:
        """Planes of the coarse size at every pixel."""
        height, width = self.scene.form.cover.shape
        if coarse.ndim == 2:
            flat: Plane = cv2.resize(coarse, (width, height), interpolation=cv2.INTER_LINEAR)
            return flat
        out = np.empty((len(coarse), height, width), np.float32)
        for one, whole in zip(coarse, out, strict=True):
            cv2.resize(one, (width, height), dst=whole, interpolation=cv2.INTER_LINEAR)
        return out
