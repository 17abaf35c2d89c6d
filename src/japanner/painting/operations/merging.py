"""Merging layers without changing the picture.

A merged layer is Normal. On the backdrop that is there it must give what its layers gave: with B beneath and C as the
outcome, coverage a and colour c have to satisfy a c + (1 - a) B = C. On an opaque backdrop it gets the coverage of its
Normal layers and, if the other modes have moved the colour further, the least that reaches it: a shade becomes a veil
and does not take the backdrop along. Where the backdrop is not opaque, a follows from the coverage that has to come
out.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from japanner.errors import InputError
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.operations.base import Change, areas_of
from japanner.painting.picture.compositor import FREE, Step, part_plan, plan, shown_tile, state_after
from japanner.raster.geometry import TILE, Key
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster

__all__ = ["FlattenPart", "FlattenRelief", "MergeDown", "beneath"]

Planes = NDArray[np.float32]


def beneath(part: Part, layer: Layer) -> Layer | None:
    """The layer of the same place that `layer` lies on: flats come before the rest of the body."""
    line = part.standing(layer.place)
    at = line.index(layer)
    return line[at - 1] if at else None


@dataclass(frozen=True)
class MergeDown:
    """Merge a layer into the one of its place that it lies on; the picture stays as it is."""

    op: ClassVar[str] = "merge down"
    layer: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, upper = painting.find(self.layer)
        lower = beneath(part, upper)
        _check(part, upper, lower)
        assert lower is not None
        pixels = _merged(painting, [lower, upper])
        fresh = replace(lower, pixels=pixels, mode="Normal", strength=1.0, mask=None, relief=None)
        layers = tuple(fresh if one is lower else one for one in part.layers if one is not upper)
        change = Change(f"merge {upper.name} into {lower.name}", areas_of([upper, lower]), structure=True)
        return painting.with_part(part.uid, layers=layers), change


def _check(part: Part, upper: Layer, lower: Layer | None) -> None:
    if lower is None:
        raise InputError(f"{upper.name} lies on no other layer of its place: there is nothing to merge it into")
    roles = {upper.role, lower.role}
    if upper.place == "body" and part.flats and "edge" in roles and not roles.issubset(FREE):
        held, edge = sorted((upper, lower), key=lambda layer: layer.role == "edge")
        raise InputError(f"{edge.name} leaves the silhouette and {held.name} does not: flatten the part instead")
    if not (part.shown and upper.shown and lower.shown and upper.strength and lower.strength):
        raise InputError(f"Show {upper.name} and {lower.name} first: what is hidden cannot be merged")
    if part.strength < 1 and upper.place != "body":
        raise InputError(f"Set the strength of {part.name} to 100 % first, or flatten the part")
    if lower in part.flats and upper not in part.flats and len(part.flats) > 1:
        raise InputError(f"Merge the flats of {part.name} into one first")


@dataclass(frozen=True)
class FlattenRelief:
    """Paint a layer as the key light shows its relief now, and drop the relief; the picture stays as it is."""

    op: ClassVar[str] = "flatten relief"
    layer: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part, layer = painting.find(self.layer)
        if layer.relief is None:
            raise InputError(f"{layer.name} has no relief")
        if not (part.shown and layer.shown and layer.strength):
            raise InputError(f"Show {layer.name} first: what is hidden cannot be flattened")
        if part.strength < 1 and layer.place != "body":
            raise InputError(f"Set the strength of {part.name} to 100 % first")
        fresh = replace(
            layer,
            pixels=_merged(painting, [layer]),
            mode="Normal",
            strength=1.0,
            mask=None,
            relief=None,
            warp=None,
            laid=None,
        )
        layers = tuple(fresh if one is layer else one for one in part.layers)
        change = Change(f"flatten relief of {layer.name}", areas_of([layer]), structure=True)
        return painting.with_part(part.uid, layers=layers), change


@dataclass(frozen=True)
class FlattenPart:
    """Make one layer of all that a part shows behind, in and over its body; the picture stays as it is.

    The body becomes the flat, so that the silhouette holds. Hidden layers go.
    """

    op: ClassVar[str] = "flatten part"
    part: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        part = painting.part(self.part)
        if not part.shown:
            raise InputError(f"Show {part.name} first: what is hidden cannot be flattened")
        layers, uid = list[Layer](), painting.next_uid
        for place, role in (("behind", "detail"), ("body", "flat"), ("over", "detail")):
            shown = [layer for layer in part.standing(place) if layer.shown and layer.strength > 0]
            if shown:
                name = shown[0].name if len(shown) == 1 else part.name
                layers.append(Layer(uid, name, role, _merged(painting, shown), place))
                uid += 1
        if not layers:
            raise InputError(f"{part.name} shows nothing that could be flattened")
        fresh = painting.with_part(part.uid, layers=tuple(layers), strength=1.0)
        change = Change(f"flatten {part.name}", areas_of(part.layers), structure=True)
        return replace(fresh, next_uid=uid), change


def _merged(painting: Painting, layers: list[Layer]) -> Raster:
    """The pixels of one Normal layer that does what `layers`, neighbours in one place, do now."""
    steps = plan(painting)
    own = [i for i, step in enumerate(steps) if step.layer in layers]
    part, _ = painting.find(layers[0].uid)
    whole_body = layers[0].place == "body" and len(layers) == sum(s.grouped for s in part_plan(part))
    share = part.strength if whole_body else 1.0
    tiles: dict[Key, NDArray[np.uint16]] = {}

    def work(key: Key) -> None:
        grouped = steps[own[0]].grouped
        before = state_after(painting, steps[: own[0]], key, grouped=grouped)
        after = state_after(painting, steps[: own[-1] + 1], key, grouped=grouped)
        rest, plain = np.ones((2, TILE, TILE), np.float32)
        for step in (steps[i] for i in own):
            if step.layer is None or step.atop != steps[own[0]].atop:
                continue  # what lies atop flats takes their coverage
            cover = 1 - _coverage(step, key)
            rest *= cover
            if step.layer.mode == "Normal":
                plain *= cover
        tiles[key] = _stored(before, after, 1 - rest, 1 - plain, share, atop=steps[own[0]].atop)

    each(sorted({key for layer in layers for key in layer.pixels.tiles}), work)
    return Raster(painting.width, painting.height).with_tiles(tiles)


def _coverage(step: Step, key: Key) -> Planes:
    assert step.layer is not None
    tile = shown_tile(step.layer, key)
    if tile is None:
        return np.zeros((TILE, TILE), np.float32)
    return tile[3].astype(np.float32) * np.float32(step.strength / 65535)


def _stored(
    before: Planes, after: Planes, cover: Planes, plain: Planes, share: float, *, atop: bool
) -> NDArray[np.uint16]:
    """The merged tile.

    before, after: premultiplied accumulators. cover, plain: union of the coverages of all layers, and of the Normal
    ones. share: strength that the part had.
    """
    B, C, under = before[:3], after[:3], before[3]
    if atop:
        # Inside a silhouette colours blend as if it were opaque.
        over = np.where(under > 0, 1 / np.maximum(under, 1e-6), 0)
        B, C, under = B * over, C * over, (under > 0).astype(np.float32)
    least = np.maximum((B - C) / np.maximum(B, 1e-6), (C - B) / np.maximum(1 - B, 1e-6)).max(axis=0)
    needed = (after[3] - before[3]) / np.maximum(1 - before[3], 1e-6)
    a = np.clip(np.where(under >= 1, np.maximum(plain, least), np.maximum(cover, needed)), 0, 1)
    colour = np.clip(C - (1 - a) * B, 0, a)
    return np.rint(np.concatenate((colour, a[None])) * np.float32(share * 65535)).astype(np.uint16)
