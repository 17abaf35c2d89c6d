"""Strokes that gather coverage and apply it to the paint as it was when the stroke began."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from japanner.color.tables import decode_table, value_table
from japanner.raster.geometry import TILE, Key, Rect
from japanner.raster.parallel import each
from japanner.raster.soften import area_sharpened, area_softened, area_stated
from japanner.raster.tiles import Raster
from japanner.stroke import _kernels_dab as kernels
from japanner.stroke import _kernels_mixing as mixing
from japanner.stroke import _kernels_tone as tones
from japanner.stroke.brush import Brush
from japanner.stroke.brush.grain import NO_GRAIN, grain_of
from japanner.stroke.brush.tips import tip_pictures, tip_thickness
from japanner.stroke.kinds.dabs import DabRows, around, extents
from japanner.stroke.kinds.exposure import gain_table, weight_table
from japanner.stroke.kinds.mixing_space import model_of, tables
from japanner.stroke.kinds.working import WorkingStroke
from japanner.types import Colour, Tile

__all__ = ["RESOLVERS", "CoverageStroke", "Paint", "TipKit"]

Planes = NDArray[np.float32]

NO_COLOURS: Final = np.zeros((3, 0, 0), np.float32)
NO_PICTURES: Final = np.zeros((0, 0, 0), np.float32)
TIP_NUMBERS: Final = {"mop": 0, "round": 1}


@dataclass(frozen=True)
class Paint:
    """What a coverage stroke paints with: the brush, the colour, the value steps that dodge and burn may aim at, and
    the layer as it was.
    """

    brush: Brush
    colour: Colour
    base: Raster
    steps: tuple[float, ...] = ()


@dataclass(frozen=True, eq=False)
class Piece:
    """A tile to be made anew in an area: as it was, what coverage and colours have come in, and where it goes."""

    key: Key
    base: Tile
    coverage: NDArray[np.float32]
    colours: Planes
    out: Tile
    area: Rect


Resolve = Callable[[Piece], None]
"""Fill the area of a piece's `out`."""


class TipKit:
    """The tip as kernels take it: its number, its pictures and its grain."""

    def __init__(self, brush: Brush) -> None:
        pictures = tip_pictures(brush)
        self.square = pictures is not None
        self.tip = 2 if pictures is not None else TIP_NUMBERS[brush.tip]
        self.pictures = NO_PICTURES if pictures is None else pictures
        self.thick = np.float32(1 if pictures is None else tip_thickness(pictures))
        self.reach = None if pictures is None else float(self.thick)
        """As `dabs.extents` takes it."""
        self.grain = grain_of(brush)

    def grain_over(self, area: Rect) -> Planes:
        """The grain's heights over an area of the canvas."""
        if not self.grain.size:
            return NO_GRAIN
        side = self.grain.shape[0]
        rows, columns = np.arange(area.y0, area.y1) % side, np.arange(area.x0, area.x1) % side
        return np.ascontiguousarray(self.grain[rows[:, None], columns[None, :]])


def _lay(paint: Paint) -> Resolve:
    r, g, b = (np.float32(c) for c in paint.colour)
    brush = paint.brush
    if brush.mixing == "encoded" and not (brush.jitter_hue or brush.jitter_value):
        return lambda piece: tones.lay_tile(
            piece.base, piece.coverage, r, g, b, piece.out, *piece.area.rows_and_columns
        )
    model = model_of(brush.mixing)
    return lambda piece: mixing.lay_mixed(
        model, piece.base, piece.coverage, piece.colours, r, g, b, *tables(), piece.out, *piece.area.rows_and_columns
    )


def _wipe(paint: Paint) -> Resolve:
    return lambda piece: tones.wipe_tile(piece.base, piece.coverage, piece.out, *piece.area.rows_and_columns)


def _with_colour(kernel_of: Callable[[], Callable[..., None]]) -> Callable[[Paint], Resolve]:
    def make(paint: Paint) -> Resolve:
        colour = tuple(np.float32(c) for c in paint.colour)
        kernel = kernel_of()
        return lambda piece: kernel(piece.base, piece.coverage, *colour, piece.out, *piece.area.rows_and_columns)

    return make


def _expose(sign: int) -> Callable[[Paint], Resolve]:
    def make(paint: Paint) -> Resolve:
        brush = paint.brush
        if brush.aim == "step":
            return _to_step(paint, up=sign > 0)
        decode, weight = decode_table(), weight_table(brush.tone)
        if brush.keep_hue:
            stops = np.float32(sign * brush.stops)
            return lambda piece: tones.expose_in_hue(
                piece.base, piece.coverage, stops, decode, weight, piece.out, *piece.area.rows_and_columns
            )
        gain = gain_table(sign * brush.stops)
        return lambda piece: tones.expose_tile(
            piece.base, piece.coverage, gain, decode, weight, piece.out, *piece.area.rows_and_columns
        )

    return make


def _to_step(paint: Paint, *, up: bool) -> Resolve:
    steps = np.ascontiguousarray(paint.steps, np.float32)
    own = (decode_table(), value_table(), steps)
    return lambda piece: tones.step_tile(piece.base, piece.coverage, *own, up, piece.out, *piece.area.rows_and_columns)


def _chroma(sign: int) -> Callable[[Paint], Resolve]:
    def make(paint: Paint) -> Resolve:
        change = np.float32(sign)
        return lambda piece: tones.chroma_tile(
            piece.base, piece.coverage, decode_table(), change, piece.out,
            *piece.area.rows_and_columns,
        )  # fmt: skip

    return make


def _filtered(make_area: Callable[[Raster, Rect, Brush], Planes]) -> Callable[[Paint], Resolve]:
    """From the paint as it was to the same paint filtered, as far as there is coverage.

    It is filtered in blocks, when a stroke first comes to them: no pen event waits for a whole tile.
    """

    def make(paint: Paint) -> Resolve:
        tiles: dict[Key, Planes] = {}
        done = set[tuple[Key, int, int]]()

        def filter_block(key: Key, y: int, x: int) -> None:
            block = Rect(x, y, x + BLOCK, y + BLOCK).moved(key[1] * TILE, key[0] * TILE).intersected(paint.base.rect)
            if not block.empty:
                made = make_area(paint.base, block, paint.brush)
                tiles[key][:, y : y + block.height, x : x + block.width] = made
            done.add((key, y, x))

        def resolve(piece: Piece) -> None:
            if piece.key not in tiles:
                tiles[piece.key] = np.zeros((4, TILE, TILE), np.float32)
            area = piece.area
            for y in range(area.y0 // BLOCK * BLOCK, area.y1, BLOCK):
                for x in range(area.x0 // BLOCK * BLOCK, area.x1, BLOCK):
                    if (piece.key, y, x) not in done:
                        filter_block(piece.key, y, x)
            tones.change_tile(piece.base, piece.coverage, tiles[piece.key], piece.out, *area.rows_and_columns)

        return resolve

    return make


SHARPEN_BY: Final = 1.5
BLOCK: Final = 128

RESOLVERS: Final[dict[str, Callable[[Paint], Resolve]]] = {
    "lay": _lay,
    "spots": _lay,
    "wipe": _wipe,
    "glaze": _with_colour(lambda: tones.glaze_tile),
    "scumble": _with_colour(lambda: tones.scumble_tile),
    "dodge": _expose(+1),
    "burn": _expose(-1),
    "saturate": _chroma(+1),
    "desaturate": _chroma(-1),
    **dict.fromkeys(("blur", "lose"), _filtered(lambda base, area, brush: area_softened(base, area, brush.soften_px))),
    "sharpen": _filtered(lambda base, area, brush: area_sharpened(base, area, SHARPEN_BY, brush.soften_px)),
    "find": _filtered(lambda base, area, brush: area_stated(base, area, SHARPEN_BY, brush.soften_px)),
}

# From how many tiles on both cores take them. Nine tiles of laying were no quicker that way, of exposure nearly twice
# as quick; where laying begins to gain has not been measured.
SLOW_TILES, QUICK_TILES = 2, 24
QUICK: Final = ("lay", "wipe", "glaze", "scumble")


class CoverageStroke(WorkingStroke):
    """Lay, wipe, dodge, burn: dabs add to a coverage, and the paint is made anew from it and the old paint.

    So nothing accumulates in the paint itself: overlapping passes inside one stroke leave no stripe.
    """

    BATCH = 512

    def __init__(self, base: Raster, paint: Paint, kind: str) -> None:
        self.tiles: dict[Key, Tile] = {}
        self._base = base
        self._brush = brush = paint.brush
        self._coverage: dict[Key, NDArray[np.float32]] = {}
        self._done: dict[Key, NDArray[np.float32]] = {}
        self._colours: dict[Key, Planes] = {}
        self._coloured = kind in ("lay", "spots") and bool(brush.jitter_hue or brush.jitter_value)
        self._kit = TipKit(brush)
        quick = kind in QUICK and not self._kit.square and not self._kit.grain.size and brush.mixing == "encoded"
        self._worth_it = QUICK_TILES if quick else SLOW_TILES
        self._resolve = RESOLVERS[kind](paint)
        self._kind = kind

    def repaint(self, paint: Paint) -> None:
        """Paint with something else; before the first dab."""
        self._resolve = RESOLVERS[self._kind](paint)

    def put(self, rows: DabRows) -> list[Rect]:
        """Stamp dabs and renew the paint under them; the changed canvas areas."""
        changed = []
        reached = extents(rows, self._kit.reach)

        def renew(key: Key) -> None:
            part = Rect.of_tile(key).intersected(self._base.rect)
            near = ((reached[:, :2] < part[2:]) & (reached[:, 2:] > part[:2])).all(axis=1)
            if near.any():
                area = around(reached[near]).intersected(part)
                risen = self._renew(key, rows[near], area.moved(-key[1] * TILE, -key[0] * TILE))
                if not risen.empty:
                    changed.append(risen.moved(key[1] * TILE, key[0] * TILE))

        keys = [key for key, _ in around(reached).intersected(self._base.rect).tiles()]
        each(keys, renew, worth_it=self._worth_it)
        return changed

    def _renew(self, key: Key, rows: DabRows, local: Rect) -> Rect:
        """Stamp dabs into a tile and make its paint anew where there is more coverage now; that area."""
        base = self._base.tile(key)
        if key not in self.tiles:
            self._coverage[key], self._done[key] = np.zeros((2, TILE, TILE), np.float32)
            self._colours[key] = np.zeros((3, TILE, TILE), np.float32) if self._coloured else NO_COLOURS
            self.tiles[key] = base.copy()
        brush, kit, coverage, colours = self._brush, self._kit, self._coverage[key], self._colours[key]
        kernels.stamp(
            coverage, colours, rows, np.float32(key[1] * TILE), np.float32(key[0] * TILE), kit.tip,
            np.float32(brush.edge), brush.even, kit.pictures, kit.thick, kit.grain, brush.grain_on == "tip",
            *local.rows_and_columns,
        )  # fmt: skip
        # The back half of a dab of an even stroke adds nothing.
        risen = _difference(coverage, self._done[key], local)
        if not risen.empty:
            part = np.s_[risen.y0 : risen.y1, risen.x0 : risen.x1]
            self._done[key][part] = coverage[part]
            self._resolve(Piece(key, base, coverage, colours, self.tiles[key], risen))
        return risen


def _difference(one: Planes, other: Planes, area: Rect) -> Rect:
    """The smallest rectangle around all pixels of an area in which two planes differ."""
    part = np.s_[area.y0 : area.y1, area.x0 : area.x1]
    differs = one[part] != other[part]
    rows = differs.any(axis=1).nonzero()[0]
    if not rows.size:
        return Rect(0, 0, 0, 0)
    columns = differs[rows[0] : rows[-1] + 1].any(axis=0).nonzero()[0]
    found = Rect(int(columns[0]), int(rows[0]), int(columns[-1]) + 1, int(rows[-1]) + 1)
    return found.moved(area.x0, area.y0)
