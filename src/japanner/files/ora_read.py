"""Reading OpenRaster: our own files exactly, those of others with their look intact."""

from __future__ import annotations

import json
import math
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any, Final, NamedTuple
from xml.etree.ElementTree import Element, ParseError

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from japanner import checks
from japanner.errors import FileFormatError, InputError
from japanner.files import png
from japanner.files.container import Container
from japanner.files.ora_write import FORMAT
from japanner.light.maquette import Maquette
from japanner.painting.head_guide import HeadGuide
from japanner.painting.kept_grid import grid_from_record
from japanner.painting.model import LARGEST_AREA_PX, Frisket, Layer, Light, Made, Mask, Painting, Part, Pinned, Relief
from japanner.painting.record_lines import RecordReader
from japanner.raster import accumulate
from japanner.raster.geometry import Key, Rect
from japanner.raster.modes import BY_OPENRASTER, blend_tile
from japanner.raster.parallel import WORKERS
from japanner.raster.tiles import Raster, Sheet, premultiplied
from japanner.strand.comb import guides_from
from japanner.stroke.laid import LaidHair

__all__ = ["Content", "read"]

LARGEST_TEXT: Final = 64 << 20
LARGEST_JOURNAL: Final = 1 << 30
MOST_LAYERS: Final = 1000
DEEPEST: Final = 12
WHITE: Final = (1.0, 1.0, 1.0)
# Fields of a layer that are read on their own.
BESIDE: Final = ("picture", "spill", "mask", "relief", "made", "laid")


class Content(NamedTuple):
    """What an .ora file holds; `own`: it was written by us, so nothing is lost when it is saved again."""

    painting: Painting
    records: tuple[dict[str, Any], ...]
    remarks: tuple[str, ...]
    own: bool


def read(path: Path) -> Content:
    """The painting in an .ora file, its journal's records, and remarks; FileFormatError if it cannot be opened."""
    with Container(path) as container:
        try:
            if "japanner/painting.json" in container:
                return Content(_own(container, path.name), _journal(container, path.name), (), own=True)
            painting, remarks = _Foreign(container, path).painting()
            return Content(painting, (), remarks, own=False)
        except InputError as error:
            raise FileFormatError(f"{path.name} cannot be opened: {error}.") from error


def _own(container: Container, name: str) -> Painting:
    try:
        state = json.loads(container.read("japanner/painting.json", LARGEST_TEXT))
        if state["format"] > FORMAT:
            raise FileFormatError(f"{name} was saved by a newer Japanner and cannot be opened by this one.")
        painting = Painting(
            width=state["width"],
            height=state["height"],
            ppi=state["ppi"],
            title=state["title"],
            ground=tuple(state["ground"]),
            light=_light(state["light"]),
            next_uid=state["next_uid"],
        )
        board = tuple(
            Pinned(str(one["name"]), _pinned_data(container, str(one["src"]), name)) for one in state.get("board", ())
        )
        frisket = _frisket(painting, state["frisket"], container, name) if "frisket" in state else None
        parts = tuple(_part(painting, record, container, name) for record in state["parts"])
        maquette = Maquette.from_record(state["maquette"]) if "maquette" in state else Maquette()
    except (KeyError, TypeError, ValueError, AttributeError, RecursionError) as error:
        if isinstance(error, InputError):
            raise
        raise FileFormatError(f"{name} is damaged: its description of the painting makes no sense.") from error
    uids = [part.uid for part in parts] + [layer.uid for part in parts for layer in part.layers]
    if len(set(uids)) != len(uids) or any(uid >= painting.next_uid for uid in uids):
        raise FileFormatError(f"{name} is damaged: two of its layers carry the same number.")
    return replace(painting, parts=parts, frisket=frisket, board=board, maquette=maquette)


def _light(record: dict[str, Any]) -> Light:
    values: dict[str, Any] = {name: tuple(v) if isinstance(v, list) else v for name, v in record.items()}
    return Light(**values)


def _part(painting: Painting, record: dict[str, Any], container: Container, name: str) -> Part:
    def layer(fields: dict[str, Any]) -> Layer:
        rest = {key: value for key, value in fields.items() if key not in BESIDE}
        mask = None
        if "mask" in fields:
            mask = Mask(_pixels(painting, container, fields["mask"], name), fields["mask"]["ground"])
        relief = None
        if "relief" in fields:
            heights = _pixels(painting, container, fields["relief"], name)
            relief = Relief(heights, fields["relief"]["amount"], fields["relief"]["gloss"])
        made = Made(**checks.as_tuples(fields["made"])) if "made" in fields else None
        pixels = _own_pixels(painting, container, fields, name)
        laid = None
        if "laid" in fields:
            hair, ranks = (_pixels(painting, container, fields["laid"][one], name) for one in ("hair", "ranks"))
            laid = LaidHair(pixels, hair, ranks)
        return Layer(pixels=pixels, mask=mask, relief=relief, made=made, laid=laid, **rest)

    values = {**record, "scale": tuple(record["scale"])}
    if "mixed" in values:
        values["mixed"] = tuple(tuple(cell) for cell in values["mixed"])
    if "grid" in values:
        values["grid"] = grid_from_record(values["grid"])
    if "around" in values:
        values["around"] = tuple(values["around"])
    if "comb" in values:
        values["comb"] = guides_from(values["comb"])
    if "guide" in values:
        values["guide"] = HeadGuide(**values["guide"])
    layers = tuple(WORKERS.map(layer, values.pop("layers")))
    return Part(layers=layers, **values)


def _own_pixels(painting: Painting, container: Container, fields: dict[str, Any], name: str) -> Raster:
    """The layer as others see it, with what clipping took from it put back."""
    pixels = _pixels(painting, container, fields["picture"], name)
    if "spill" not in fields:
        return pixels
    whole = _pixels(painting, container, fields["spill"], name)
    for area in (Rect(*numbers).intersected(painting.rect) for numbers in fields["spill"]["areas"]):
        pixels = pixels.written(area.x0, area.y0, whole.read(area))
    return pixels


def _pixels(painting: Painting, container: Container, place: dict[str, Any], name: str) -> Raster:
    src, x, y = place["src"], place["x"], place["y"]
    picture = png.read(container.read(src), f"{name}: {src}", trusted=True)
    if not (isinstance(x, int) and isinstance(y, int)):
        raise FileFormatError(f"{name} is damaged: {src} has no place on the canvas.")
    return Raster(painting.width, painting.height).written(x, y, premultiplied(picture.pixels))


def _pinned_data(container: Container, src: str, name: str) -> bytes:
    data = container.read(src)
    png.read(data, f"{name}: {src}", trusted=True)
    return data


def _frisket(painting: Painting, record: dict[str, Any], container: Container, name: str) -> Frisket:
    grey = png.read(container.read(record["src"]), f"{name}: {record['src']}", trusted=True).pixels[:1]
    sheet = Sheet(painting.width, painting.height).written(int(record["x"]), int(record["y"]), grey)
    return Frisket(sheet, tuple(tuple(float(v) for v in node) for node in record["curve"]))


def _journal(container: Container, name: str) -> tuple[dict[str, Any], ...]:
    if "japanner/journal.jsonl" not in container:
        return ()
    try:
        lines = container.read("japanner/journal.jsonl", LARGEST_JOURNAL).decode().splitlines()
        reader = RecordReader()
        return tuple(reader.record(line) for line in lines if line)
    except ValueError as error:
        raise FileFormatError(f"{name} is damaged: its journal cannot be read.") from error


@dataclass
class _Foreign:
    """Turns a stack of another program into parts.

    Plain layers become *over* layers, which blend freely; an isolated stack of plain layers becomes a part
    whose body it is; a stack that is nested deeper or has a mode of its own is merged into one layer.
    """

    container: Container
    path: Path
    remarks: list[str] = field(default_factory=list)
    layers: int = 0
    decoded_px: int = 0
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
        parts: list[Part] = []
        loose: list[Layer] = []
        for node in self._passed_through(reversed(list(root)), 0):
            if node.tag == "layer":
                loose.append(self._layer(painting, node, "over"))
                continue
            if loose:
                parts.append(self._bundle(loose))
                loose = []
            parts.append(self._group(painting, node))
        if loose:
            parts.append(self._bundle(loose))
        return replace(painting, parts=tuple(parts), next_uid=self.uid), tuple(dict.fromkeys(self.remarks))

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
        merged = self._merged(painting, node, 0)
        layer = Layer(self._next(), name, "detail", merged, "over", self._mode(node), _opacity(node), _visible(node))
        return Part(self._next(), name, "drawing", (layer,))

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
        self.layers += 1
        if self.layers > MOST_LAYERS:
            raise FileFormatError(f"{self.path.name} is refused: it has more than {MOST_LAYERS} layers.")
        src = node.get("src", "")
        picture = png.read(self.container.read(src), f"{self.path.name}: {src}", trusted=True)
        self.decoded_px += picture.pixels.shape[1] * picture.pixels.shape[2]
        if self.decoded_px > 20 * LARGEST_AREA_PX:
            raise FileFormatError(f"{self.path.name} is refused: its layers are too large together.")
        empty = Raster(painting.width, painting.height)
        return empty.written(_whole(node, "x", 0), _whole(node, "y", 0), premultiplied(picture.pixels))

    def _mode(self, node: Element) -> str:
        op = node.get("composite-op", "svg:src-over")
        if op not in BY_OPENRASTER:
            self.remarks.append(f"The mode {op:.40} is not known here; Normal takes its place.")
            return "Normal"
        return BY_OPENRASTER[op].name

    def _next(self) -> int:
        self.uid += 1
        return self.uid - 1


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
