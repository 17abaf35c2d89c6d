"""The form of a part: from the maquette where it has pieces for it, else its silhouette blown up."""

from __future__ import annotations

import math
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from threading import Lock
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner.color import srgb
from japanner.errors import InputError
from japanner.light.inflate import inflated
from japanner.light.maquette import Maquette
from japanner.light.rays.contours import Contours, contours
from japanner.light.rays.mirrored import Met, mirrored_by
from japanner.light.rays.owners import belongs, coverage
from japanner.light.rays.surface import Surface, from_neighbours, opened_up, relit, rim_light, seen, surface
from japanner.light.sources import Sources
from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.model import Painting, Part
from japanner.painting.picture.lighting import sources_of
from japanner.painting.value.mixing_grid import local_colour
from japanner.raster.geometry import Rect
from japanner.raster.outwards import outwards
from japanner.raster.tiles import Sheet
from japanner.types import Colour

__all__ = ["Form", "albedos", "contours_of", "form_of", "has_pieces", "maquette_sheet", "mirrored_in", "rough_normals"]
__all__ += ["seen_of", "surface_of"]

Plane = NDArray[np.float32]
Told = Callable[[float], None]
ROOM: Final = 400 << 20
"""Bytes of surfaces that are kept for whoever asks again."""


@dataclass(frozen=True, eq=False)
class Form:
    """A part as a body, over an `area` of the canvas.

    cover: coverage of the silhouette (h, w) 0..1. normal: (3, h, w), x right, y up, z to the viewer. height: towards
    the viewer, px, from wherever. lit, openness: as in `Surface`. modelled: it comes from the maquette. from_around:
    see `extra`. ends: contours inside it.
    """

    area: Rect
    cover: Plane
    normal: Plane
    height: Plane
    lit: Plane
    openness: Plane
    modelled: bool
    from_around: Callable[[], Plane]
    ends: Contours | None = None

    @cached_property
    def extra(self) -> Plane:
        """Linear light (3, h, w) that it gets from a rim light and from its neighbours; worked out when first asked."""
        return self.from_around()


_kept: OrderedDict[Any, Any] = OrderedDict()
_lock = Lock()


def _keep(key: Any, make: Callable[[], Any]) -> Any:
    """What was made for a key, made if it has to be; the latest are kept, as far as there is room."""
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    found = make()
    with _lock:
        _kept[key] = found
        sizes = list(map(_bytes, _kept.values()))
        # On a large canvas one surface takes nearly all of it, and its light has to stay with it.
        room = max(ROOM, 2 * max(sizes))
        while len(_kept) > 1 and sum(sizes) > room:
            _kept.popitem(last=False)
            sizes.pop(0)
    return found


def _bytes(found: Surface | Contours | Plane) -> int:
    if isinstance(found, Contours):
        return 5 * found.pixels.nbytes // 2
    return found.nbytes if isinstance(found, np.ndarray) else 8 * found.depth.nbytes


def seen_of(painting: Painting, step: int = 1, told: Told = lambda done: None) -> Surface:
    """What is seen of the painting's maquette, without any light; kept by what shapes it, for whoever asks again."""
    maquette, area = painting.maquette, painting.rect
    return _keep(_geometry(painting, step), lambda: seen(maquette, area, step=step, told=told))


def surface_of(painting: Painting, step: int = 1, told: Told = lambda done: None) -> Surface:
    """The same with its openness, under the painting's key light."""
    light, maquette, key = painting.light, painting.maquette, _geometry(painting, step)
    found = seen_of(painting, step, lambda done: told(0.5 * done))
    openness = _keep(("openness", key), lambda: opened_up(found, maquette).openness)
    told(0.8)
    direction, size = light.direction, light.size_deg
    lit = _keep(("lit", key, direction, size), lambda: relit(found, maquette, direction, light_deg=size).lit)
    told(1.0)
    return replace(found, openness=openness, lit=lit)


def contours_of(painting: Painting) -> Contours:
    """The contours inside its maquette; kept as the rest."""
    found = seen_of(painting)
    ends: Contours = _keep(("contours", _geometry(painting, 1)), lambda: contours(found, painting.maquette))
    return ends


def extra_light(painting: Painting, step: int = 1) -> Plane:
    """Linear light (3, h, w) that the maquette gets from the rim light, and its forms from each other."""
    light, maquette, key = painting.light, painting.maquette, _geometry(painting, step)
    found, sources = seen_of(painting, step), sources_of(light)
    colours, around = albedos(painting), _around(sources)
    owners = tuple(one.part for one in maquette.pieces)
    total: Plane = _keep(
        ("neighbours", key, sources, tuple(sorted(colours.items())), owners),
        lambda: from_neighbours(found, maquette, sources.key, sources.key_colour, around, colours),
    )
    if not light.rim:
        return total
    rim = _keep(("rim", key, sources.rim, sources.rim_deg),
                lambda: rim_light(found, maquette, sources.rim, sources.rim_deg))  # fmt: skip
    result: Plane = total + np.asarray(sources.rim_colour, np.float32)[:, None, None] * rim
    return result


def albedos(painting: Painting) -> dict[int, Colour]:
    """The linear colours of the parts' flats."""
    return {part.uid: local for part in painting.parts if (local := _albedo(painting, part)) is not None}


def _around(sources: Sources) -> Colour:
    """The light from all around."""
    red, green, blue = ((a + b) / 2 for a, b in zip(sources.sky_colour, sources.bounce_colour, strict=True))
    return red, green, blue


def mirrored_in(painting: Painting, part: Part, area: Rect, direction: Plane) -> Met:
    """What rays from the part's pieces of the maquette, in directions (3, h, w) over an area, meet of the maquette."""
    maquette, sources = painting.maquette, sources_of(painting.light)
    found = seen_of(painting)
    asked = belongs(found, maquette, part.uid)[area.y0 : area.y1, area.x0 : area.x1]
    here = found.cropped(area.y0, area.x0, area.y1, area.x1)
    return mirrored_by(here, found, maquette, direction, asked, sources.key, sources.key_colour, _around(sources),
                       albedos(painting))  # fmt: skip


def _albedo(painting: Painting, part: Part) -> Colour | None:
    """The linear colour of a part's flat."""
    local = local_colour(painting, part)
    if local is None:
        return None
    red, green, blue = (float(one) for one in srgb.decode(np.asarray(local)))
    return red, green, blue


def _geometry(painting: Painting, step: int) -> Any:
    return painting.maquette.unnamed(), painting.rect, step


def has_pieces(painting: Painting, part: Part) -> bool:
    """Whether the maquette says what form the part has."""
    return any(part.uid in piece.owners for piece in painting.maquette.pieces)


def maquette_sheet(painting: Painting, part: Part) -> Sheet:
    """Where the maquette's pieces of a part are seen, below those of the parts above it; InputError if they are not."""
    number = painting.parts.index(part)
    above = [one.uid for one in painting.parts[number + 1 :]]
    cover = coverage(seen_of(painting), painting.maquette, part.uid, above)
    if not cover.any():
        raise InputError(f"The maquette has no forms of {part.name} on the canvas")
    return Sheet.of(cover, 0, 0, painting.width, painting.height)


def form_of(painting: Painting, part: Part, depth: float = 1.0) -> Form:
    """The part's form; InputError while it has no silhouette. depth: of a silhouette that is blown up."""
    sheet = silhouette_sheet(painting, part)
    area = sheet.bounds()
    cover = sheet.coverage(area)
    if has_pieces(painting, part):
        return _modelled(painting, part, area, cover)
    flats = tuple((layer.pixels, layer.mask) for layer in part.flats)
    blown = _keep(
        ("blown up", flats, depth), lambda: np.concatenate([np.atleast_3d(one.T).T for one in inflated(cover, depth)])
    )
    normal, height = blown[:3], blown[3]
    facing = np.einsum("i,ihw->hw", np.asarray(painting.light.direction, np.float32), normal)
    return Form(area, cover, normal, height, (facing > 0).astype(np.float32), np.ones_like(cover), False,
                lambda: sources_of(painting.light).on_rims(normal).astype(np.float32))  # fmt: skip


def _blown_up(cover: Plane, depth: float) -> Plane:
    """Normals and height (4, h, w) of a silhouette that is blown up."""
    normal, height = inflated(cover, depth)
    return np.concatenate((normal, height[None]))


def rough_normals(painting: Painting, part: Part, area: Rect, step: int) -> Plane | None:
    """Normals (3, h, w) of the maquette's pieces of a part, every `step` px of an area; None if they are not there."""
    rough = _rough(painting.maquette, area, step)
    own = belongs(rough, painting.maquette, part.uid)
    if not own.any():
        return None
    (normal,) = outwards(own, rough.normal)
    return normal


@lru_cache(maxsize=4)
def _rough(maquette: Maquette, area: Rect, step: int) -> Surface:
    return surface(maquette, area, (0.0, 0.0, 1.0), step=step, quick=True)


def _modelled(painting: Painting, part: Part, area: Rect, cover: Plane) -> Form:
    """What the maquette's pieces of this part look like; where the silhouette reaches past them, as next to it."""
    found = surface_of(painting)
    rows, columns = slice(area.y0, area.y1), slice(area.x0, area.x1)
    own = belongs(found, painting.maquette, part.uid)[rows, columns]
    if not own.any():
        raise InputError(f"The pieces of the maquette for {part.name} are not where its silhouette is")
    parts = [plane[..., rows, columns] for plane in (found.depth, found.lit, found.openness, found.normal)]
    depth, lit, openness, normal = outwards(own, *parts)
    ends = contours_of(painting).within(own, area.y0, area.x0)
    height = (depth.max() - depth) * painting.maquette.unit_px
    if not math.isfinite(float(height.max())):
        raise InputError("The maquette has no surface here")
    return Form(area, cover, normal, height.astype(np.float32), lit, openness, True,
                lambda: outwards(own, extra_light(painting)[:, rows, columns])[0], ends)  # fmt: skip
