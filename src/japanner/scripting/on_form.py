"""Places on a maquette as it stands before the canvas: by piece, by point, along outlines and curves."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from japanner import checks
from japanner.errors import InputError
from japanner.light.faces import points_of
from japanner.light.figure.data import figure_data
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.contours import edges
from japanner.light.rays.owners import belongs, zone
from japanner.light.rays.surface import Surface, seen_at
from japanner.light.rays.surface import seen as seen_of
from japanner.light.turning import turned
from japanner.raster.geometry import Rect

__all__ = ["Comb", "CombRule", "OnForm"]

Point = Sequence[float] | NDArray[np.floating]
Seen = tuple[float, float]
Floats = NDArray[np.floating]
ROUGH_PX: Final = 6
FLATTEST: Final = 0.15
"""Hair that points at the viewer, or into the form, has no way to be combed."""


@dataclass(frozen=True)
class Comb:
    """Which way hair lies at a place: a direction in the maquette's axes, length as a factor, lift 0..1."""

    way: Point
    length: float = 1.0
    lift: float = 0.2


CombRule = Callable[[Floats, Floats, str], Comb | None]
"""From a point of the surface (3,), its normal (3,) and the name of its piece to how hair lies there."""


@dataclass(frozen=True)
class OnForm:
    """A maquette before a canvas of `width` x `height` px; all that is asked of it is answered in px of that canvas."""

    maquette: Maquette
    width: int
    height: int

    # --- places -------------------------------------------------------------------------------------------

    def at(self, point: Point) -> Seen:
        """Where a point in the maquette's axes is seen, whether or not something is in front of it."""
        x, y, z = (float(one) for one in point)
        return seen_at(self.maquette, (x, y, z))

    def piece(self, name: str) -> Piece:
        """The piece of a name."""
        for one in self.maquette.pieces:
            if one.name == name:
                return one
        raise InputError(f"piece: expected one of {', '.join(one.name for one in self.maquette.pieces)}, got {name!r}")

    def place(self, name: str, offset: Point = (0.0, 0.0, 0.0), *, mirrored: bool = False) -> Seen:
        """Where the middle of a piece is seen, or a point by `offset` units from it; `mirrored`: its other side."""
        middle = np.add(self.piece(name).place, offset)
        return self.at(middle * (-1, 1, 1) if mirrored else middle)

    def on(self, name: str) -> Seen:
        """Where a landmark of a figure is seen, or the middle of a zone or a piece: of what is seen of it, if it is."""
        for piece in self.maquette.pieces:
            if piece.kind == "figure" and name in figure_data().landmarks:
                own = points_of(piece)[figure_data().landmarks[name]] * piece.size
                return self.at(turned(piece.turn) @ own + piece.place)
        rough = self.seen(ROUGH_PX)
        weight = np.maximum(zone(rough, name), np.isin(rough.piece, self._numbers(name)))
        if weight.max() > 0.5:
            rows, columns = np.nonzero(weight > 0.5)
            middle = np.average(np.stack((columns, rows), 1), axis=0, weights=weight[rows, columns])
            nearest = np.hypot(columns - middle[0], rows - middle[1]).argmin()
            return (float(columns[nearest] + 0.5) * ROUGH_PX, float(rows[nearest] + 0.5) * ROUGH_PX)
        return self.place(name)

    def _numbers(self, name: str) -> list[int]:
        return [number for number, one in enumerate(self.maquette.pieces) if one.name == name]

    def curve(self, points: Iterable[Point], count: int = 24) -> list[Seen]:
        """A smooth curve through points in the maquette's axes, as `count` places of the canvas."""
        through = np.array([[float(one) for one in point] for point in points])
        checks.integer("count", count, 2, 10_000)
        if len(through) < 2:
            raise InputError(f"points: expected two or more, got {len(through)}")
        run = np.r_[0, np.cumsum(np.linalg.norm(np.diff(through, axis=0), axis=1))]
        if not (np.diff(run) > 0).all():
            raise InputError("points: expected no point twice in a row")
        fine = np.linspace(0, run[-1], count)
        course = scipy.interpolate.CubicSpline(run, through)(fine) if len(through) > 2 else np.array(
            [np.interp(fine, run, column) for column in through.T]
        ).T  # fmt: skip
        return [self.at(point) for point in course]

    def under(self, x: float, y: float) -> tuple[Floats, Floats, str] | None:
        """What is seen at a canvas position: point and normal in the maquette's axes, name of the piece; or nothing."""
        left, top = int(np.floor(x)), int(np.floor(y))
        seen = seen_of(self.maquette, Rect(left, top, left + 1, top + 1))
        return self._found(seen, 0, 0)

    # --- outlines -----------------------------------------------------------------------------------------

    def outline(self, *names: str, part: int | None = None, step: int = 2) -> list[Seen]:
        """The largest outline of what is seen of some pieces or zones, or of all that belong to a part, clockwise from
        its top left; to `step` px, smoothed.
        """
        # Where they are is found roughly first: most outlines are small.
        rough = self.seen(ROUGH_PX)
        rows, columns = np.nonzero(self._wanted(rough, names, part))
        if not len(rows):
            raise InputError(f"outline: nothing is seen of {', '.join(names) or f'part {part}'}")
        area = Rect(int(columns.min()), int(rows.min()), int(columns.max()) + 1, int(rows.max()) + 1)
        area = Rect(*(ROUGH_PX * (one + by) for one, by in zip(area, (-2, -2, 2, 2), strict=True)))
        area = area.intersected(Rect(0, 0, self.width, self.height))
        seen = seen_of(self.maquette, area, step=step)
        mask = np.pad(self._wanted(seen, names, part), 1).astype(np.uint8)
        found, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
        ring = max(found, key=cv2.contourArea)[:, 0].astype(float)
        smooth = scipy.ndimage.gaussian_filter1d(ring, 1.5, axis=0, mode="wrap")
        if cv2.contourArea(smooth.astype(np.float32), oriented=True) < 0:
            smooth = smooth[::-1]
        smooth = np.roll(smooth, -int(np.argmin(smooth.sum(axis=1))), axis=0)
        return [(area.x0 + (x - 0.5) * step, area.y0 + (y - 0.5) * step) for x, y in smooth.tolist()]

    def _wanted(self, seen: Surface, names: Sequence[str], part: int | None) -> NDArray[np.bool_]:
        """Where pieces or zones of these names are seen, or all of a part."""
        own = np.isin(seen.piece, [i for i, one in enumerate(self.maquette.pieces) if one.name in names])
        for name in names:
            own |= zone(seen, name) >= 0.5
        return own if part is None else own | belongs(seen, self.maquette, part)

    def seen(self, step: int) -> Surface:
        """What is seen of it, every `step` px; kept for who asks again."""
        if step not in self._surfaces:
            whole = Rect(0, 0, self.width, self.height)
            self._surfaces[step] = seen_of(self.maquette, whole, step=step)
        return self._surfaces[step]

    @cached_property
    def _surfaces(self) -> dict[int, Surface]:
        return {}

    def edges(self, step: int = 2) -> NDArray[np.bool_]:
        """Where a surface ends before another one or before nothing: (height, width) of a grid every `step` px."""
        return edges(self.seen(step), self.maquette)

    # --- comb guides --------------------------------------------------------------------------------------

    def combed(self, part: int, rule: CombRule, apart_px: int = 24) -> tuple[dict[str, Any], ...]:
        """Comb guides for a part by a rule, one every `apart_px` or so over what is seen of its pieces."""
        seen, guides = self.seen(checks.integer("apart_px", apart_px, 2, 256)), []
        for row, column in zip(*np.nonzero(belongs(seen, self.maquette, part)), strict=True):
            if (row + column) % 2:
                continue
            found = self._found(seen, int(row), int(column))
            if found is not None:
                guide = self._guide(*found, rule, 0.7 * apart_px)
                guides += [] if guide is None else [guide]
        return tuple(guides)

    def combed_along(self, points: Iterable[Point], length: float = 1.0, lift: float = 0.2) -> dict[str, Any]:
        """One comb guide along a curve on the form."""
        return {"points": tuple(self.curve(points, 12)), "length": float(length), "lift": float(lift)}

    def _guide(self, point: Floats, normal: Floats, name: str, rule: CombRule, long_px: float) -> dict[str, Any] | None:
        combed = rule(point, normal, name)
        if combed is None:
            return None
        way = np.asarray(combed.way, float)
        way = way - normal * (way @ normal)  # hair lies on the form
        size = float(np.linalg.norm(way))
        if size < FLATTEST:
            return None
        small = 0.01 * way / size
        start, end = np.array(self.at(point - small)), np.array(self.at(point + small))
        drawn = float(np.hypot(*(end - start)))
        if drawn < FLATTEST * 0.02 * self.maquette.unit_px:
            return None
        end = start + (end - start) / drawn * long_px
        return {"points": (tuple(start.tolist()), tuple(end.tolist())), "length": float(combed.length),
                "lift": float(combed.lift)}  # fmt: skip

    def _found(self, seen: Surface, row: int, column: int) -> tuple[Floats, Floats, str] | None:
        if not seen.seen[row, column]:
            return None
        maquette, turn = self.maquette, turned(self.maquette.turn)
        x = seen.area.x0 + (column + 0.5) * seen.step
        y = seen.area.y0 + (row + 0.5) * seen.step
        ray = np.array(((x - maquette.middle[0]) / maquette.unit_px, (maquette.middle[1] - y) / maquette.unit_px,
                        -maquette.eye))  # fmt: skip
        place = np.array((0, 0, maquette.eye)) + ray / np.linalg.norm(ray) * float(seen.depth[row, column])
        return turn.T @ place, turn.T @ seen.normal[:, row, column], maquette.pieces[seen.piece[row, column]].name
