"""How much light gets to what is seen: of the key light, and of all that is round about."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.light.rays import _kernels_filter as kernels
from japanner.light.rays.samples import about_light, kinds_of, over_half_space
from japanner.light.rays.tree import Floats, Tree
from japanner.raster.parallel import each

__all__ = ["Places", "lit", "neighbours", "opened", "rimmed"]

BAND: Final = 16
COARSE: Final = 2
RAYS: Final = 8
COARSE_RAYS: Final = 4
DRAWN: Final = 0.06
"""Where coarse pixels differ by less, others are drawn out from them."""
FAR: Final = 8.0
"""How far rays go, in sizes of the maquette."""
APART: Final = 1.5
"""How far off a plane, in widths of a pixel, a place may be and still count."""


@dataclass(frozen=True, eq=False)
class Places:
    """Where rays start: place and normal (3, h, w) in the maquette's axes, seen (h, w), -1 for nothing; off (h, w): how
    far from the surface rays start; pixel: its width in units; size of the maquette.
    """

    place: Floats
    normal: Floats
    seen: NDArray[np.int32]
    off: Floats
    pixel: float
    size: float

    def every(self, skip: int) -> Places:
        """Every so many pixels."""

        place, normal = (np.ascontiguousarray(one[:, ::skip, ::skip]) for one in (self.place, self.normal))
        seen, off = np.ascontiguousarray(self.seen[::skip, ::skip]), np.ascontiguousarray(self.off[::skip, ::skip])
        return Places(place, normal, seen, off, self.pixel * skip, self.size)


def opened(tree: Tree, places: Places, skip: int = COARSE, rays: int = RAYS) -> Floats:
    """How much of the half space over each place is free (h, w), 0..1, by cosine; found every `skip` px."""
    coarse = places.every(skip)
    raw = np.ones(coarse.seen.shape, np.float32)
    chosen = np.nonzero(coarse.seen >= 0)
    starts, normals = _starts(coarse, chosen)
    ways = over_half_space(rays)
    raw[chosen] = tree.round_about(starts, normals, ways, kinds_of(*chosen), FAR * places.size)
    found, _ = _spread(_even(raw, coarse, sharp=False), places, coarse, skip)
    found[places.seen < 0] = 1
    return found


def rimmed(tree: Tree, places: Places, towards: Floats, light_deg: float, skip: int = COARSE) -> Floats:
    """How much of a wide light from behind each place (h, w) gets, by cosine: nothing where a form lies behind."""
    coarse = places.every(skip)
    ways = about_light(towards, light_deg, 2 * RAYS)
    raw = np.zeros(coarse.seen.shape, np.float32)
    chosen = np.nonzero((coarse.seen >= 0) & (_facing(coarse, towards) > -np.sin(np.radians(light_deg) / 2)))
    starts, normals = _starts(coarse, chosen)
    raw[chosen] = tree.gathered(starts, normals, ways, kinds_of(*chosen), FAR * places.size)
    found, _ = _spread(_even(raw, coarse, sharp=False), places, coarse, skip)
    return found


def neighbours(tree: Tree, places: Places, sent: Floats, skip: int = COARSE, rays: int = RAYS) -> Floats:
    """The light (3, h, w) that each place gets from what else is there, of which triangle k sends sent[k] (m, 3)."""
    coarse = places.every(skip)
    chosen = np.nonzero(coarse.seen >= 0)
    starts, normals = _starts(coarse, chosen)
    light = tree.reflected(starts, normals, over_half_space(rays), kinds_of(*chosen), FAR * places.size, sent)
    planes = []
    for channel in range(3):
        raw = np.zeros(coarse.seen.shape, np.float32)
        raw[chosen] = light[:, channel]
        planes.append(_spread(_even(raw, coarse, sharp=False), places, coarse, skip)[0])
    return np.stack(planes)


def lit(
    tree: Tree, places: Places, towards: Floats, light_deg: float, skip: int = COARSE, rays: int = RAYS,
    *, exact: bool = True,
) -> Floats:  # fmt: skip
    """How much of a light `light_deg` wide gets to each place (h, w), 0..1; towards (3,): to it.

    Found every `skip` px, and where that differs from one to the next, if it is to be `exact`, at every px.
    """
    coarse = places.every(skip)
    ways = about_light(towards, light_deg, min(rays, COARSE_RAYS))
    low = np.float32(-np.sin(np.radians(light_deg) / 2))
    raw = _asked(tree, coarse, towards, ways, np.ones(coarse.seen.shape, bool), low)
    found, apart = _spread(_even(raw, coarse, sharp=True), places, coarse, skip)
    if exact:
        asked = apart > DRAWN
        ways = about_light(towards, light_deg, rays)
        fine = np.where(asked, _asked(tree, places, towards, ways, asked, low), found).astype(np.float32)
        found = np.where(asked, _even(fine, places, sharp=True), found).astype(np.float32)
    found[(places.seen < 0) | (_facing(places, towards) <= low)] = 0
    return found


def _facing(places: Places, towards: Floats) -> Floats:
    result: Floats = np.einsum("i,ihw->hw", towards, places.normal)
    return result


def _asked(
    tree: Tree, places: Places, towards: Floats, ways: Floats, asked: NDArray[np.bool_], low: np.float32
) -> Floats:
    """The share of the light where it is asked for and the surface looks to it."""
    raw = np.zeros(places.seen.shape, np.float32)
    chosen = np.nonzero(asked & (places.seen >= 0) & (_facing(places, towards) > low))
    starts, normals = _starts(places, chosen)
    raw[chosen] = tree.towards_light(starts, normals, ways, kinds_of(*chosen), FAR * places.size)
    return raw


def _starts(places: Places, chosen: tuple[NDArray[np.signedinteger], ...]) -> tuple[Floats, Floats]:
    normals = np.ascontiguousarray(places.normal[:, chosen[0], chosen[1]].T)
    starts = places.place[:, chosen[0], chosen[1]].T + normals * places.off[chosen][:, None]
    return np.ascontiguousarray(starts, np.float32), normals


def _even(raw: Floats, places: Places, *, sharp: bool) -> Floats:
    out, height = np.empty_like(raw), raw.shape[0]
    near = np.float32(APART * places.pixel)

    def band(top: int) -> None:
        kernels.even_out(raw, places.place, places.normal, places.seen, near, sharp, out, top, min(top + BAND, height))

    each(range(0, height, BAND), band, worth_it=2)
    return out


def _spread(values: Floats, places: Places, coarse: Places, skip: int) -> tuple[Floats, Floats]:
    if skip == 1:
        return values, np.zeros_like(values)
    out, apart = np.empty(places.seen.shape, np.float32), np.empty(places.seen.shape, np.float32)
    near, height = np.float32(APART * coarse.pixel), places.seen.shape[0]

    def band(top: int) -> None:
        kernels.spread(
            values, places.place, places.normal, places.seen, coarse.seen, skip, near, out, apart, top,
            min(top + BAND, height),
        )  # fmt: skip

    each(range(0, height, BAND), band, worth_it=2)
    return out, apart
