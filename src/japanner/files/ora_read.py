"""Reading OpenRaster: our own files exactly, those of others with their look intact."""

from __future__ import annotations

import json
import math
from dataclasses import dataclass, field, fields, replace
from pathlib import Path
from threading import Lock
from typing import Any, Final
from xml.etree.ElementTree import Element, ParseError

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring
from numpy.typing import NDArray

from japanner.errors import FileFormatError, InputError
from japanner.files import png
from japanner.files.container import Container
from japanner.files.growth import JournalText, read_journal, read_moments
from japanner.files.opened import Opened
from japanner.files.ora_state import FORMAT, LayerState, PaintingState, PartState, PictureState
from japanner.files.reading import memory_for_pixels_px
from japanner.files.seen import stored_as
from japanner.light.maquette import Maquette
from japanner.painting.model import LARGEST_AREA_PX, Frisket, Layer, Mask, Painting, Part, Pinned, Relief
from japanner.painting.model.kept_grid import grid_from_record
from japanner.raster import accumulate
from japanner.raster.geometry import Key, Rect
from japanner.raster.modes import BY_OPENRASTER, blend_tile
from japanner.raster.parallel import team
from japanner.raster.tiles import Raster, Sheet, premultiplied
from japanner.records import from_record
from japanner.stroke.kinds.laid import LaidHair
from japanner.types import Record

__all__ = ["opened"]

LARGEST_TEXT: Final = 64 << 20
MOST_LAYERS: Final = 1000
DEEPEST: Final = 12
WHITE: Final = (1.0, 1.0, 1.0)
FULL: Final = 65535


def opened(path: Path) -> Opened:
    """The painting in an .ora file, its journal's records, and remarks; FileFormatError if it cannot be opened."""
    with Container(path) as container:
        pictures = _Pictures(container, path.name)
        try:
            if "japanner/painting.json" in container:
                state = _state(container, path.name)
                painting = _Own(state, pictures).painting()
                stored = stored_as(painting, state, path)
                records, remarks = _journal(container, path.name, stored.journal)
                moments = read_moments(container)
                return Opened(painting, records, remarks, True, state.engine, moments, stored)
            painting, remarks = _Foreign(container, path, pictures).painting()
            return Opened(painting, (), remarks)
        except InputError as error:
            raise FileFormatError(f"{path.name} cannot be opened: {error}.") from error


class _Pictures:
    """The pictures of layers in a file, with a limit on how many and how large they are together."""

    def __init__(self, container: Container, name: str) -> None:
        self._container, self._name = container, name
        self._layers, self._px, self._counting = 0, 0, Lock()
        self._most_px = min(20 * LARGEST_AREA_PX, memory_for_pixels_px())

    def count_layer(self) -> None:
        self._layers += 1
        if self._layers > MOST_LAYERS:
            raise FileFormatError(f"{self._name} is refused: it has more than {MOST_LAYERS} layers.")

    def read(self, src: str) -> NDArray[np.uint16]:
        """Straight pixels (4, h, w)."""
        data = self._container.read(src)
        width, height = png.size_of(data, f"{self._name}: {src:.60}")
        with self._counting:
            self._px += width * height
        if self._px > self._most_px:
            raise FileFormatError(f"{self._name} is refused: its layers are too large together for this machine.")
        return png.read(data, f"{self._name}: {src:.60}").pixels

    def data(self, src: str) -> bytes:
        """A picture as it is stored, once it has been seen to be one."""
        self.read(src)
        return self._container.read(src)


def _state(container: Container, name: str) -> PaintingState:
    try:
        record = json.loads(container.read("japanner/painting.json", LARGEST_TEXT))
    except (ValueError, RecursionError) as error:
        raise FileFormatError(f"{name} is damaged: its description of the painting makes no sense.") from error
    written = record.get("format") if isinstance(record, dict) else None
    if isinstance(written, int) and written > FORMAT:
        raise FileFormatError(f"{name} was saved by a newer Japanner and cannot be opened by this one.")
    if written == 1:
        record.pop("written by", None)
    return from_record(PaintingState, record, "its description")


class _Own:
    """Turns our own state and its pictures into the painting that was saved."""

    def __init__(self, state: PaintingState, pictures: _Pictures) -> None:
        self._state, self._pictures = state, pictures
        self._empty = Raster(state.width, state.height)

    def painting(self) -> Painting:
        state = self._state
        bare = Painting(
            state.width, state.height, state.ppi, state.title, state.ground, state.light, next_uid=state.next_uid
        )
        self._empty = Raster(bare.width, bare.height)  # only now its size is known to be one
        parts = tuple(self._part(one) for one in state.parts)
        uids = [part.uid for part in parts] + [layer.uid for part in parts for layer in part.layers]
        if len(set(uids)) != len(uids) or any(uid >= bare.next_uid for uid in uids):
            raise InputError("two of its layers carry the same number")
        board = tuple(
            Pinned(one.name, self._pictures.data(one.src), one.link, one.width, one.height) for one in state.board
        )
        maquette = Maquette() if state.maquette is None else Maquette.from_record(state.maquette)
        return replace(bare, parts=parts, frisket=self._frisket(), board=board, maquette=maquette,
                       landmarks=state.landmarks, measures=state.measures)  # fmt: skip

    def _part(self, state: PartState) -> Part:
        for _ in state.layers:
            self._pictures.count_layer()
        as_they_are = {
            one.name: getattr(state, one.name) for one in fields(PartState) if one.name not in ("layers", "grid")
        }
        grid = None if state.grid is None else grid_from_record(state.grid)
        return Part(**as_they_are, grid=grid, layers=tuple(team().map(self._layer, state.layers)))

    def _layer(self, state: LayerState) -> Layer:
        mask = relief = laid = None
        if state.mask is not None:
            mask = Mask(self._raster(state.mask), state.mask.ground)
        if state.relief is not None:
            relief = Relief(self._raster(state.relief), state.relief.amount, state.relief.gloss)
        pixels = self._with_spill(self._raster(state.picture), state)
        if state.laid is not None:
            laid = LaidHair(pixels, self._raster(state.laid.hair), self._raster(state.laid.ranks))
        return Layer(
            state.uid, state.name, state.role, pixels, state.place, state.mode, state.strength, state.shown,
            state.hold_edges, mask, relief, made=state.made, laid=laid,
        )  # fmt: skip

    def _raster(self, picture: PictureState) -> Raster:
        return self._empty.written(picture.x, picture.y, premultiplied(self._pictures.read(picture.src)))

    def _with_spill(self, pixels: Raster, state: LayerState) -> Raster:
        """The layer as others see it, with what clipping took from it put back."""
        if state.spill is None:
            return pixels
        whole = self._raster(state.spill)
        for area in (Rect(*numbers).intersected(whole.rect) for numbers in state.spill.areas):
            was = whole.read(area)
            # What clipping changed had some coverage before; files of old hold the other pixels of an area, too.
            pixels = pixels.written(area.x0, area.y0, np.where(was[3] > 0, was, pixels.read(area)))
        return pixels

    def _frisket(self) -> Frisket | None:
        state = self._state.frisket
        if state is None:
            return None
        grey = self._pictures.read(state.src)[:1]
        return Frisket(Sheet(self._state.width, self._state.height).written(state.x, state.y, grey), state.curve)


def _journal(container: Container, name: str, text: JournalText) -> tuple[tuple[Record, ...], tuple[str, ...]]:
    """How the painting came about, and a remark if that cannot be told: the painting itself is whole all the same."""
    try:
        return tuple(read_journal(container, text)), ()
    except (ValueError, FileFormatError):
        return (), (f"{name} is whole, but how it was painted cannot be read; its film begins anew.",)


@dataclass
class _Foreign:
    """Turns a stack of another program into parts.

    Plain layers become *over* layers, which blend freely; an isolated stack of plain layers becomes a part
    whose body it is; a stack that is nested deeper or has a mode of its own is merged into one layer. Where modes
    would act on our ground instead of on nothing, all of it becomes the body of one part.
    """

    container: Container
    path: Path
    pictures: _Pictures
    remarks: list[str] = field(default_factory=list)
    rasters: dict[Element, Raster] = field(default_factory=dict)
    uid: int = 1

    def painting(self) -> tuple[Painting, tuple[str, ...]]:
        image = self._xml()
        width, height = _whole(image, "w", 0), _whole(image, "h", 0)
        painting = Painting(
            width, height, float(_whole(image, "xres", 72) or 72), self.path.stem[:200] or "Untitled", WHITE
        )
        root = image.find("stack")
        if root is None:
            raise FileFormatError(f"{self.path.name} has no layers.")
        nodes = list(self._passed_through(reversed(list(root)), 0))
        isolated = self._act_on_nothing(painting, nodes)
        parts = (self._isolated(painting, nodes),) if isolated else self._apart(painting, nodes)
        return replace(painting, parts=parts, next_uid=self.uid), tuple(dict.fromkeys(self.remarks))

    def _act_on_nothing(self, painting: Painting, nodes: list[Element]) -> bool:
        """Whether a mode may meet a place where nothing is beneath; there, ours would act on the ground."""
        if all(self._mode(node) == "Normal" for node in nodes):
            return False
        lowest = nodes[0]
        if lowest.tag != "layer" or not _visible(lowest) or _opacity(lowest) < 1 or self._mode(lowest) != "Normal":
            return True
        return not _opaque(self._picture(painting, lowest))

    def _isolated(self, painting: Painting, nodes: list[Element]) -> Part:
        """Everything as the body of one part, which is blended by itself before it comes on the ground."""
        layers = []
        for node in nodes:
            if node.tag == "layer":
                layers.append(self._layer(painting, node, "body"))
                continue
            self.remarks.append("Its groups are merged, so that its modes look as they did.")
            layers.append(self._merged_layer(painting, node, "body"))
        return Part(self._next(), "Layers", "drawing", tuple(layers))

    def _apart(self, painting: Painting, nodes: list[Element]) -> tuple[Part, ...]:
        """Plain layers as *over* layers, which blend freely; stacks as parts between them."""
        parts: list[Part] = []
        loose: list[Layer] = []
        for node in nodes:
            if node.tag == "layer":
                loose.append(self._layer(painting, node, "over"))
                continue
            if loose:
                parts.append(self._bundle(loose))
                loose = []
            parts.append(self._group(painting, node))
        if loose:
            parts.append(self._bundle(loose))
        return tuple(parts)

    def _xml(self) -> Element:
        name = self.path.name
        try:
            image: Element = fromstring(self.container.read("stack.xml", LARGEST_TEXT), forbid_dtd=True)
        except DefusedXmlException as error:
            raise FileFormatError(f"{name} is refused: its stack.xml defines entities.") from error
        except (ParseError, ValueError, RecursionError) as error:
            raise FileFormatError(f"{name} is damaged: its stack.xml cannot be read.") from error
        if image.tag != "image":
            raise FileFormatError(f"{name} is damaged: its stack.xml describes no image.")
        return image

    def _passed_through(self, nodes: Any, depth: int) -> Any:
        """Layers and isolated stacks from back to front; a stack that isolates nothing is replaced by its content."""
        if depth > DEEPEST:
            raise FileFormatError(f"{self.path.name} is refused: its stacks are nested too deeply.")
        for node in nodes:
            if node.tag == "stack" and not _isolates(node):
                if _visible(node):
                    yield from self._passed_through(reversed(list(node)), depth + 1)
            elif node.tag in ("layer", "stack"):
                yield node

    def _bundle(self, layers: list[Layer]) -> Part:
        return Part(self._next(), "Layers", "drawing", tuple(layers))

    def _group(self, painting: Painting, node: Element) -> Part:
        children = list(self._passed_through(reversed(list(node)), 0))
        name = _name(node, "Group")
        if all(child.tag == "layer" for child in children) and self._mode(node) == "Normal":
            body = tuple(self._layer(painting, child, "body") for child in children)
            return Part(self._next(), name, "drawing", body, _opacity(node), _visible(node))
        return Part(self._next(), name, "drawing", (self._merged_layer(painting, node, "over"),))

    def _merged_layer(self, painting: Painting, node: Element, place: str) -> Layer:
        merged, name = self._merged(painting, node, 0), _name(node, "Group")
        return Layer(self._next(), name, "detail", merged, place, self._mode(node), _opacity(node), _visible(node))

    def _merged(self, painting: Painting, node: Element, depth: int) -> Raster:
        tiles: dict[Key, accumulate.Accumulator] = {}
        for child in self._passed_through(reversed(list(node)), depth):
            if not _visible(child):
                continue
            raster = (
                self._picture(painting, child) if child.tag == "layer" else self._merged(painting, child, depth + 1)
            )
            for key, tile in raster.tiles.items():
                acc = tiles.setdefault(key, accumulate.blank())
                blend_tile(self._mode(child), acc, tile, _opacity(child))
        stored = {key: accumulate.stored(acc) for key, acc in tiles.items()}
        return Raster(painting.width, painting.height).with_tiles(stored)

    def _layer(self, painting: Painting, node: Element, place: str) -> Layer:
        pixels = self._picture(painting, node)
        name, mode = _name(node, "Layer"), self._mode(node)
        return Layer(self._next(), name, "detail", pixels, place, mode, _opacity(node), _visible(node))

    def _picture(self, painting: Painting, node: Element) -> Raster:
        if node not in self.rasters:
            self.pictures.count_layer()
            pixels = self.pictures.read(node.get("src", ""))
            empty = Raster(painting.width, painting.height)
            placed = empty.written(_whole(node, "x", 0), _whole(node, "y", 0), premultiplied(pixels))
            self.rasters[node] = placed
        return self.rasters[node]

    def _mode(self, node: Element) -> str:
        op = node.get("composite-op", "svg:src-over")
        if op not in BY_OPENRASTER:
            self.remarks.append(f"The mode {op:.40} is not known here; Normal takes its place.")
            return "Normal"
        return BY_OPENRASTER[op].name

    def _next(self) -> int:
        self.uid += 1
        return self.uid - 1


def _opaque(raster: Raster) -> bool:
    """Whether a raster covers the whole canvas."""
    return bool((raster.read(raster.rect)[3] == FULL).all())


def _isolates(node: Element) -> bool:
    plain = _opacity(node) == 1.0 and node.get("composite-op", "svg:src-over") == "svg:src-over"
    return not plain or node.get("isolation", "isolate") == "isolate"


def _visible(node: Element) -> bool:
    return node.get("visibility", "visible") != "hidden"


def _opacity(node: Element) -> float:
    try:
        value = float(node.get("opacity", "1"))
    except ValueError:
        return 1.0
    return 1.0 if math.isnan(value) else min(max(value, 0.0), 1.0)


def _whole(node: Element, attribute: str, default: int) -> int:
    try:
        return round(float(node.get(attribute, default)))
    except (ValueError, OverflowError):
        return default


def _name(node: Element, default: str) -> str:
    text = "".join(c for c in node.get("name", "") if c.isprintable())[:80]
    return text or default
