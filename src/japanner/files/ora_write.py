"""Writing OpenRaster: what every reader understands, and our own state beside it.

Others see: each part as a stack, its body as an isolated stack inside, body layers clipped to the
silhouette. Ours lies under `japanner/`: painting.json, what clipping took from layers, and the journal.
Layout: freedesktop.org layered-raster specification (names from memory).
"""

from __future__ import annotations

import json
import xml.etree.ElementTree as ET  # writing only; reading goes through defusedxml
import zipfile
from collections.abc import Iterable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import fields
from pathlib import Path
from typing import Any, BinaryIO, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import __version__, checks
from japanner.files import png
from japanner.files.container import LARGEST_JOURNAL, MIMETYPE, MOST_RECORDS
from japanner.files.moments import write_moments
from japanner.files.ora_state import (
    FrisketState,
    LaidState,
    LayerState,
    MaskState,
    PaintingState,
    PartState,
    PictureState,
    PinnedState,
    ReliefState,
    SpillState,
)
from japanner.files.writing import replacing
from japanner.light.maquette import Maquette
from japanner.painting.document.document import SAVED
from japanner.painting.document.engine import ENGINE
from japanner.painting.document.record_lines import RecordWriter
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.picture.compositor import FREE, flattened, limit_tile, shown_tile
from japanner.painting.picture.moments import Moment
from japanner.raster.geometry import Key, Rect
from japanner.raster.modes import MODES
from japanner.raster.parallel import Watcher, watched, watching
from japanner.raster.tiles import Raster, straight
from japanner.records import to_record
from japanner.types import Record

__all__ = ["write"]

THUMBNAIL_SIDE: Final = 256
FLATTENING: Final = 0.2
"""About this share of the time to write a painting goes into its picture."""


def write(
    painting: Painting, path: Path, records: Iterable[dict[str, Any]] = (), moments: Iterable[Moment] = (),
    bits: int = 16,
) -> None:  # fmt: skip
    """Save the painting as .ora, with the journal's records and the moments of its growth; SaveError leaves the old
    file as it was. bits: of the layers, 16 as they are, or 8 in a file half as large.
    """
    checks.one_of("bits", str(bits), ("8", "16"))
    marked = list(records)
    if marked and marked[-1] != SAVED:
        marked.append(SAVED)
    with replacing(path) as file:
        _write_zip(painting, file, marked, moments, bits)


def as_others_see(layer: Layer, part: Part) -> Raster:
    """The layer's pixels through its mask, inside the silhouette; the same raster if that takes nothing away."""
    pixels = layer.pixels
    if layer.mask is not None:
        pixels = pixels.with_tiles({key: tile for key in pixels.tiles if (tile := shown_tile(layer, key)) is not None})
    if layer.place != "body" or layer.role in FREE or not part.flats:
        return pixels
    return _clipped(pixels, layer, part)


def _clipped(pixels: Raster, layer: Layer, part: Part) -> Raster:
    fresh: dict[Key, NDArray[np.uint16]] = {}
    for key, tile in pixels.tiles.items():
        coverage = limit_tile(part, layer, key)
        limit = np.zeros(tile.shape[1:], np.float32) if coverage is None else coverage
        cut = np.rint(tile * limit.astype(np.float64)).astype(np.uint16)
        if not np.array_equal(cut, tile):
            fresh[key] = cut
    return pixels.with_tiles(fresh) if fresh else pixels


class _Writer:
    """Puts layer pictures into the zip, encoding on all cores, and keeps their entries in order."""

    def __init__(self, archive: zipfile.ZipFile, bits: int, told: Watcher) -> None:
        """told: how many pictures are written; it stops the work by raising."""
        self._archive, self._bits, self._told, self._written = archive, bits, told, 0
        self._pool = ThreadPoolExecutor(max_workers=2)
        self._waiting: list[tuple[str, Future[bytes]]] = []

    def add(self, name: str, raster: Raster) -> Rect:
        """Store the painted part of a raster; its place on the canvas."""
        bounds = raster.bounds()
        if bounds.empty:
            bounds = Rect(0, 0, 1, 1)
        self._waiting.append((name, self._pool.submit(lambda: self._encoded(straight(raster.read(bounds))))))
        self._drain(4)
        return bounds

    def _encoded(self, pixels: NDArray[np.uint16]) -> bytes:
        return png.encode(pixels if self._bits == 16 else png.as_8_bit(pixels))

    def finish(self) -> None:
        self._drain(0)
        self._pool.shutdown()

    def _drain(self, keep: int) -> None:
        # Few pictures wait at a time: encoded layers are large.
        while len(self._waiting) > keep:
            name, data = self._waiting.pop(0)
            self._archive.writestr(name, data.result(), zipfile.ZIP_STORED)
            self._written += 1
            self._told(self._written)


def _write_zip(
    painting: Painting, file: BinaryIO, records: list[Record], moments: Iterable[Moment], bits: int
) -> None:  # fmt: skip
    told, about = watching(), 2.0 * sum(len(part.layers) for part in painting.parts) + 1
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(zipfile.ZipInfo("mimetype"), MIMETYPE, zipfile.ZIP_STORED)
        with watched(lambda done: told(FLATTENING * done)):
            merged = flattened(painting)
        _write_merged(painting, merged, archive)
        pictures = _Writer(archive, bits, lambda count: told(min(FLATTENING + count / about, 1.0)))
        layers: dict[int, LayerState] = {}
        stack = _stack(painting, pictures, layers)
        pictures.finish()
        state = _state(painting, layers, _frisket(painting, archive), _board(painting, archive))
        archive.writestr("stack.xml", ET.tostring(stack, encoding="utf-8", xml_declaration=True))
        archive.writestr("japanner/painting.json", json.dumps(to_record(state, whole=True), indent=1))
        _write_journal(archive, records)
        write_moments(archive, moments)


def _write_journal(archive: zipfile.ZipFile, records: list[Record]) -> None:
    """Leave the journal out rather than write one that could not be read again: pixels are what counts."""
    if len(records) > MOST_RECORDS:
        return
    writer, lines, size = RecordWriter(), list[bytes](), 0
    for record in records:
        lines.append(writer.line(record).encode())
        size += len(lines[-1])
        if size > LARGEST_JOURNAL:
            return
    with archive.open("japanner/journal.jsonl", "w", force_zip64=True) as entry:
        for line in lines:
            entry.write(line)


def _frisket(painting: Painting, archive: zipfile.ZipFile) -> FrisketState | None:
    """Store the frisket as a grey picture; what the description says of it."""
    if painting.frisket is None:
        return None
    area = painting.frisket.sheet.bounds()
    data = png.encode(painting.frisket.sheet.read(area))
    archive.writestr("japanner/frisket.png", data, zipfile.ZIP_STORED)
    return FrisketState("japanner/frisket.png", area.x0, area.y0, painting.frisket.curve)


def _board(painting: Painting, archive: zipfile.ZipFile) -> tuple[PinnedState, ...]:
    """Store the pinned pictures; their names and entries."""
    entries = tuple(PinnedState(one.name, f"japanner/board{i}.png") for i, one in enumerate(painting.board))
    for entry, one in zip(entries, painting.board, strict=True):
        archive.writestr(entry.src, one.data, zipfile.ZIP_STORED)
    return entries


def _write_merged(painting: Painting, merged: Raster, archive: zipfile.ZipFile) -> None:
    pixels = png.as_8_bit(straight(merged.read(painting.rect)))
    archive.writestr("mergedimage.png", png.encode(pixels, painting.ppi), zipfile.ZIP_STORED)
    scale = min(THUMBNAIL_SIDE / max(painting.width, painting.height), 1.0)
    size = (max(round(painting.width * scale), 1), max(round(painting.height * scale), 1))
    small = cv2.resize(pixels.transpose(1, 2, 0), size, interpolation=cv2.INTER_AREA)
    archive.writestr("Thumbnails/thumbnail.png", png.encode(small.transpose(2, 0, 1)), zipfile.ZIP_STORED)


def _stack(painting: Painting, pictures: _Writer, layers: dict[int, LayerState]) -> ET.Element:
    ppi = str(round(painting.ppi))
    size = {"w": str(painting.width), "h": str(painting.height)}
    image = ET.Element("image", {"version": "0.0.3", **size, "name": painting.title, "xres": ppi, "yres": ppi})
    root = ET.SubElement(image, "stack", {"name": "root", "isolation": "isolate"})
    for part in reversed(painting.parts):  # the first child is the topmost
        _part(root, part, pictures, layers)
    _ground(root, painting, pictures)
    return image


def _part(root: ET.Element, part: Part, pictures: _Writer, layers: dict[int, LayerState]) -> None:
    visible = "visible" if part.shown else "hidden"
    stack = ET.SubElement(root, "stack", {"name": part.name, "isolation": "auto", "visibility": visible})
    for layer in reversed(part.standing("over")):
        _layer(stack, layer, part, part.strength, pictures, layers)
    if body_layers := part.standing("body"):
        opacity = {"opacity": _share(part.strength), "composite-op": "svg:src-over"}
        body = ET.SubElement(stack, "stack", {"name": f"{part.name} body", "isolation": "isolate", **opacity})
        for layer in reversed(body_layers):
            _layer(body, layer, part, 1.0, pictures, layers)
    for layer in reversed(part.in_place("behind")):
        _layer(stack, layer, part, part.strength, pictures, layers)


def _layer(
    stack: ET.Element, layer: Layer, part: Part, strength: float, pictures: _Writer, layers: dict[int, LayerState]
) -> None:
    src = f"data/layer{layer.uid}.png"
    inside = as_others_see(layer, part)
    bounds = pictures.add(src, inside)
    layers[layer.uid] = _layer_state(layer, inside, PictureState(src, bounds.x0, bounds.y0), pictures)
    ET.SubElement(
        stack,
        "layer",
        {
            "name": layer.name,
            "src": src,
            "x": str(bounds.x0),
            "y": str(bounds.y0),
            "opacity": _share(layer.strength * strength),
            "visibility": "visible" if layer.shown else "hidden",
            "composite-op": MODES[layer.mode].openraster,
        },
    )


def _layer_state(layer: Layer, inside: Raster, picture: PictureState, pictures: _Writer) -> LayerState:
    """What the description says of a layer; its pictures beside the one that others see are stored."""

    def stored(name: str, raster: Raster) -> tuple[str, int, int]:
        src = f"japanner/{name}{layer.uid}.png"
        bounds = pictures.add(src, raster)
        return src, bounds.x0, bounds.y0

    spill = mask = relief = laid = None
    if inside is not layer.pixels:
        taken = _spill(layer.pixels, inside)
        spill = SpillState(*stored("spill", taken), tuple((a.x0, a.y0, a.x1, a.y1) for a in _areas(taken)))
    if layer.mask is not None:
        mask = MaskState(*stored("mask", layer.mask.pixels), layer.mask.ground)
    if layer.relief is not None:
        relief = ReliefState(*stored("relief", layer.relief.heights), layer.relief.amount, layer.relief.gloss)
    if layer.laid is not None and (there := layer.laid.settled(layer.pixels)) is not None:
        laid = LaidState(PictureState(*stored("hair", there.paint)), PictureState(*stored("ranks", there.ranks)))
    return LayerState(
        layer.uid, layer.name, layer.role, layer.place, layer.mode, layer.strength, layer.shown, layer.hold_edges,
        picture, spill, mask, relief, laid, layer.made,
    )  # fmt: skip


def _spill(whole: Raster, inside: Raster) -> Raster:
    """In the tiles that clipping changed, the pixels that it changed, as they were."""
    tiles = {}
    for key, tile in whole.tiles.items():
        kept = inside.tiles.get(key)
        if kept is not tile:
            tiles[key] = tile if kept is None else np.where((tile != kept).any(axis=0), tile, np.uint16(0))
    return Raster(whole.width, whole.height, tiles)


def _areas(raster: Raster) -> list[Rect]:
    """The canvas pixels that a raster's tiles hold: a file must not depend on the size of tiles."""
    return [Rect.of_tile(key).intersected(raster.rect) for key in sorted(raster.tiles)]


def _ground(root: ET.Element, painting: Painting, pictures: _Writer) -> None:
    colour = np.rint(np.array((*painting.ground, 1.0)) * 65535).astype(np.uint16)
    pixels = np.broadcast_to(colour[:, None, None], (4, painting.height, painting.width))
    pictures.add("data/ground.png", Raster(painting.width, painting.height).written(0, 0, pixels))
    ET.SubElement(root, "layer", {"name": "Ground", "src": "data/ground.png", "x": "0", "y": "0"})


def _state(
    painting: Painting, layers: dict[int, LayerState], frisket: FrisketState | None, board: tuple[PinnedState, ...]
) -> PaintingState:
    """All that OpenRaster has no word for; numbers as JSON gives them back exactly."""
    maquette = None if painting.maquette == Maquette() else painting.maquette.to_record()
    return PaintingState(
        painting.width, painting.height, painting.ppi, painting.title, painting.ground, painting.light,
        painting.next_uid, tuple(_part_state(part, layers) for part in painting.parts), engine=ENGINE,
        written_by=f"japanner {__version__}", frisket=frisket, board=board, maquette=maquette,
    )  # fmt: skip


def _part_state(part: Part, layers: dict[int, LayerState]) -> PartState:
    as_they_are = {one.name: getattr(part, one.name) for one in fields(PartState) if one.name not in ("layers", "grid")}
    grid = None if part.grid is None else part.grid.to_record()
    return PartState(**as_they_are, grid=grid, layers=tuple(layers[layer.uid] for layer in part.layers))


def _share(value: float) -> str:
    return f"{value:.6g}"
