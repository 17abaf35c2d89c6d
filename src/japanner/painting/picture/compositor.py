"""From a painting to its picture, tile by tile.

A part's *behind* layers blend on what is beneath. Its *body* is an isolated group: the flats make it,
their coverage is the silhouette, and the other body layers blend atop, as if the flats were opaque, so
that an edge pixel has no fringe. A layer with the role *edge* is not held in: its hairs leave the silhouette, and what
is painted over them ends where they do. The group lies on what is beneath at the part's strength. *Over* layers blend
freely on all of it. A body without a shown flat is a plain isolated group.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator
from dataclasses import dataclass
from threading import Lock
from typing import Final
from weakref import WeakKeyDictionary

import numpy as np
from numpy.typing import NDArray

from japanner.painting.model import Layer, Light, Painting, Part
from japanner.painting.picture.relief import light_layer, neighbours
from japanner.raster import accumulate
from japanner.raster.accumulate import Accumulator
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.modes import WHOLE, blend_tile
from japanner.raster.neutral import is_neutral
from japanner.raster.parallel import each
from japanner.raster.tiles import Raster

__all__ = [
    "FREE",
    "Compositor",
    "Step",
    "flattened",
    "limit_tile",
    "part_plan",
    "plan",
    "shown_tile",
    "silhouette_tile",
    "sketch_layers",
    "state_after",
]


WORTH_KEEPING: Final = 2
"""Bodies of so few layers are made again as quickly."""
FREE: Final = ("flat", "edge")
"""Roles of the layers of a body that are not held inside its silhouette."""


@dataclass(frozen=True, eq=False)
class Step:
    """One move of the compositor: blend a layer, or open or close (`layer` None) a part's group."""

    layer: Layer | None
    strength: float = 1.0
    atop: bool = False
    grouped: bool = False
    """Blend into the open group instead of the picture."""

    @property
    def closes(self) -> bool:
        return self.layer is None


def plan(painting: Painting) -> tuple[Step, ...]:
    """The steps that make the picture, from back to front; what is hidden is left out."""
    return tuple(step for part in painting.parts if part.shown for step in part_plan(part))


_PLANS: Final[WeakKeyDictionary[Part, list[Step]]] = WeakKeyDictionary()


def part_plan(part: Part) -> list[Step]:
    """The steps of one part, shown or not: always the same ones."""
    found = _PLANS.get(part)
    if found is None:
        found = _PLANS[part] = _planned(part)
    return found


def _planned(part: Part) -> list[Step]:
    steps = [Step(layer, layer.strength * part.strength) for layer in _shown(part, "behind")]
    steps += _body(part)
    steps += [Step(layer, layer.strength * part.strength) for layer in _shown(part, "over")]
    return steps


def _shown(part: Part, place: str) -> list[Layer]:
    return [layer for layer in part.standing(place) if layer.shown and layer.strength > 0]


def _body(part: Part) -> list[Step]:
    body = _shown(part, "body")
    if not body:
        return []
    held = body[0].role == "flat"
    steps = [Step(layer, layer.strength, atop=held and layer.role not in FREE, grouped=True) for layer in body]
    return [*steps, Step(None, part.strength)]


def silhouette_tile(part: Part, key: Key) -> NDArray[np.float32] | None:
    """Coverage 0..1 (TILE, TILE) of the part's silhouette, shown or not; None where there is none."""
    tiles = [tile for layer in part.flats if (tile := shown_tile(layer, key)) is not None]
    if not tiles:
        return None
    acc = accumulate.blank()
    for tile in tiles:
        blend_tile("Normal", acc, tile)
    return acc[3]


def limit_tile(part: Part, layer: Layer, key: Key) -> NDArray[np.float32] | None:
    """Coverage 0..1 (TILE, TILE) that a layer of the body is held to: the silhouette and the edges that it lies on.
    None where there is none.
    """
    cover = silhouette_tile(part, key)
    line = part.standing("body")
    for edge in line[: line.index(layer)]:
        if edge.role != "edge" or not edge.shown or (tile := shown_tile(edge, key)) is None:
            continue
        hairs = tile[3] * np.float32(edge.strength / 65535)
        cover = hairs if cover is None else cover + hairs * (1 - cover)
    return cover


def sketch_layers(painting: Painting) -> Iterator[Layer]:
    """The shown layers that are sketches, by their role or because their part is a drawing."""
    for part, layer in painting.layers():
        if part.shown and layer.shown and (layer.role == "sketch" or part.material == "drawing"):
            yield layer


def shown_tile(layer: Layer, key: Key) -> NDArray[np.uint16] | None:
    """The layer's tile through its mask; None where there is no paint."""
    tile = layer.pixels.tiles.get(key)
    if tile is None or layer.mask is None:
        return tile
    return accumulate.masked(tile, layer.mask.pixels.tile(key), layer.mask.ground)


@dataclass(eq=False)
class _State:
    """The picture so far, and the open group if there is one."""

    acc: Accumulator
    light: Light
    group: Accumulator | None = None

    @property
    def size(self) -> int:
        """Of how many accumulators it consists."""
        return (self.acc.size > 0) + (self.group is not None)

    def copied(self, area: Rect, light: Light) -> _State:
        """A copy to go on with, under the light as it is now."""
        group = None if self.group is None else accumulate.copied(self.group, area)
        return _State(accumulate.copied(self.acc, area), light, group)

    def take(self, step: Step, key: Key, area: Rect) -> None:
        if step.layer is None:
            if self.group is not None:
                accumulate.merge(self.acc, self.group, step.strength, area)
                self.group = None
            return
        tile = shown_tile(step.layer, key)
        # White on Multiply changes nothing, but its thickness shows, and slopes reach a pixel into the next tile.
        if tile is not None and is_neutral(tile, step.layer.mode):
            tile = None
        if tile is None and step.layer.relief is None:
            return
        if step.grouped and self.group is None:
            if step.atop:
                return  # nothing of the silhouette here
            self.group = accumulate.blank()
        grouped = step.grouped and self.group is not None
        target = self.group if grouped and self.group is not None else self.acc
        # The picture lies on the ground, which is opaque; only a group has coverage of its own.
        if tile is not None:
            blend_tile(step.layer.mode, target, tile, step.strength, atop=step.atop, opaque=not grouped, area=area)
        if step.layer.relief is not None:
            light_layer(step.layer, self.light, target, key, step.strength, opaque=not grouped, area=area)


def state_after(painting: Painting, steps: tuple[Step, ...], key: Key, *, grouped: bool) -> Accumulator:
    """What comes of `steps`: the open group (`grouped`; an empty one if none is open), else the picture so far."""
    state = _State(accumulate.filled(painting.ground), painting.light)
    for step in steps:
        state.take(step, key, WHOLE)
    if grouped:
        return accumulate.blank() if state.group is None else state.group
    return state.acc


@dataclass(frozen=True, eq=False)
class _Kept:
    """A state, and all that it was made of."""

    steps: tuple[Step, ...]
    prints: tuple[tuple[object, ...], ...]
    ground: object
    light: Light
    state: _State

    def holds(self, painting: Painting, steps: tuple[Step, ...], key: Key) -> bool:
        """Whether the same would come of these steps. Parts that nobody has touched have the very same steps."""
        if len(steps) != len(self.steps) or painting.ground != self.ground:
            return False
        lit = painting.light is self.light
        return all(
            (lit and now is then) or _fingerprint(now, key, painting.light) == made
            for now, then, made in zip(steps, self.steps, self.prints, strict=True)
        )


class Compositor:
    """Composes tiles and remembers, for the layer being worked on, what lies under it and the bodies of parts above.

    What is remembered is checked against the very tiles and settings it was made from, so it cannot be stale.
    """

    def __init__(self, most: int = 256) -> None:
        """`most`: so many accumulators are remembered, a MiB each; those that were needed least lately go first."""
        self._most, self._count, self._guard = most, 0, Lock()
        self._kept: OrderedDict[tuple[Key, int], _Kept] = OrderedDict()

    def tile(
        self, painting: Painting, steps: tuple[Step, ...], key: Key, area: Rect = WHOLE, active: int | None = None
    ) -> Accumulator:
        """The picture's accumulator of one tile; only `area` of it is defined.

        `active` is the uid of the layer being worked on: what is around it is kept for the next call.
        """
        split = next((i for i, step in enumerate(steps) if step.layer is not None and step.layer.uid == active), 0)
        if not split:
            state = _State(accumulate.filled(painting.ground, area), painting.light)
            for step in steps:
                state.take(step, key, area)
            return state.acc
        state = self._under(painting, steps[:split], key).copied(area, painting.light)
        at = _behind_open_group(steps, split)
        for step in steps[split:at]:
            state.take(step, key, area)
        while at < len(steps):
            end = _behind_open_group(steps, at) if steps[at].grouped else at + 1
            if end - at > WORTH_KEEPING:
                state.group = self._body(painting, steps[at : end - 1], key)
                state.take(steps[end - 1], key, area)
            else:
                for step in steps[at:end]:
                    state.take(step, key, area)
            at = end
        return state.acc

    def _under(self, painting: Painting, steps: tuple[Step, ...], key: Key) -> _State:
        return self._remembered(key, 0, steps, painting, _State(accumulate.filled(painting.ground), painting.light))

    def _body(self, painting: Painting, steps: tuple[Step, ...], key: Key) -> Accumulator | None:
        """The group that steps make, all of them within it; None where nothing of it is there."""
        layer = steps[0].layer
        assert layer is not None
        bare = np.empty((4, 0, 0), np.float32)  # it takes no part
        return self._remembered(key, layer.uid, steps, painting, _State(bare, painting.light)).group

    def _remembered(
        self, key: Key, name: int, steps: tuple[Step, ...], painting: Painting, bare: _State
    ) -> _State:  # fmt: skip
        with self._guard:
            found = self._kept.get((key, name))
        if found is not None and found.holds(painting, steps, key):
            with self._guard:
                if (key, name) in self._kept:
                    self._kept.move_to_end((key, name))
            return found.state
        for step in steps:
            bare.take(step, key, WHOLE)
        prints = tuple(_fingerprint(step, key, painting.light) for step in steps)
        with self._guard:
            if (former := self._kept.pop((key, name), None)) is not None:
                self._count -= former.state.size
            self._kept[key, name] = _Kept(steps, prints, painting.ground, painting.light, bare)
            self._count += bare.size
            while self._count > self._most and len(self._kept) > 1:
                self._count -= self._kept.popitem(last=False)[1].state.size
        return bare


def _behind_open_group(steps: tuple[Step, ...], at: int) -> int:
    """The first step from `at` on that is behind the group that is open there; `at` itself where none is."""
    if not (steps[at].grouped or steps[at].closes):
        return at
    return next(i for i in range(at, len(steps)) if steps[i].closes) + 1


class _Same:
    """Compares by identity and keeps its object alive, so that the identity stays unique."""

    __slots__ = ("value",)

    def __init__(self, value: object) -> None:
        self.value = value

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and self.value is other.value

    def __hash__(self) -> int:
        return id(self.value)


def _fingerprint(step: Step, key: Key, light: Light) -> tuple[object, ...]:
    if step.layer is None:
        return (step.strength,)
    layer = step.layer
    tile = layer.pixels.tiles.get(key)
    mode = layer.mode if tile is not None else ""
    mask = () if layer.mask is None else (_Same(layer.mask.pixels.tiles.get(key)), layer.mask.ground)
    relief: tuple[object, ...] = ()
    if layer.relief is not None:
        heights = layer.relief.heights.tiles
        around = tuple(_Same(heights.get(near)) for near in neighbours(key))
        relief = (light, layer.relief.amount, layer.relief.gloss, *around)
    return (_Same(tile), mode, step.strength, step.atop, step.grouped, *mask, *relief)


def flattened(painting: Painting) -> Raster:
    """The whole picture as an opaque raster: what export and the merged image of a file show."""
    steps, tiles = plan(painting), dict[Key, NDArray[np.uint16]]()
    compositor = Compositor()

    def work(key: Key) -> None:
        acc = compositor.tile(painting, steps, key)
        inside = painting.rect.moved(-key[1] * TILE, -key[0] * TILE)
        acc[:, max(inside.y1, 0) :, :] = 0
        acc[:, :, max(inside.x1, 0) :] = 0
        tiles[key] = accumulate.stored(acc)

    each([key for key, _ in painting.rect.tiles()], work)
    return Raster(painting.width, painting.height).with_tiles(tiles)
