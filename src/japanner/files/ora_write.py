"""Writing OpenRaster: what every reader understands, and our own state beside it.

Others see: each part as a stack, its body as an isolated stack inside, body layers clipped to the
silhouette. Ours lies under `japanner/`: painting.json, what clipping took from layers, and the journal.
Layout: freedesktop.org layered-raster specification (names from memory).
"""

from __future__ import annotations

import json
import xml.etree.ElementTree as ET  # writing only; reading goes through defusedxml
import zipfile
from collections.abc import Iterable, Sequence
from dataclasses import fields, replace
from pathlib import Path
from typing import BinaryIO, Final

import cv2

from japanner import __version__, checks
from japanner.files import png
from japanner.files.container import MIMETYPE, Source, put
from japanner.files.growth import write_moments
from japanner.files.ora_layers import GROUND, LayerPictures
from japanner.files.ora_state import FrisketState, LayerState, PaintingState, PartState, PinnedState
from japanner.files.stored import Stored
from japanner.files.writing import replacing
from japanner.light.maquette import Maquette
from japanner.painting.document.document import SAVED
from japanner.painting.document.engine import ENGINE
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.picture.compositor import flattened
from japanner.painting.picture.moments import Moment
from japanner.raster.modes import MODES
from japanner.raster.parallel import watched, watching
from japanner.raster.tiles import Raster
from japanner.records import to_record
from japanner.types import Record

__all__ = ["write"]

THUMBNAIL_SIDE: Final = 256
FLATTENING: Final = 0.3
"""About this share of the time to write a painting goes into its picture."""


def write(
    painting: Painting, path: Path, records: Sequence[Record] = (), moments: Iterable[Moment] = (), bits: int = 16,
    stored: Stored | None = None,
) -> Stored:  # fmt: skip
    """Save the painting as .ora, with the journal's records and the moments of its growth; SaveError leaves the old
    file as it was. bits: of the layers, 16 as they are, or 8 in a file half as large. stored: what lies in the file
    that it was read from or written to before; returns what lies in this one.
    """
    checks.one_of("bits", str(bits), ("8", "16"))
    before, fresh = stored if stored is not None and bits == 16 else Stored(), Stored(path)
    fresh.journal = before.journal
    painting = painting if bits == 16 else _unknown(painting)
    with before.opened() as source, replacing(path) as file:
        _write_zip(painting, file, LayerPictures(before, source, fresh, bits), moments, fresh, (source, records))
    fresh.seal()
    return fresh


def _unknown(painting: Painting) -> Painting:
    """With layers that no longer say what they were made from: in eight bits it is not the same any more."""
    for part in painting.parts:
        layers = tuple(one if one.made is None else replace(one, made=replace(one.made, seen=0)) for one in part.layers)
        painting = painting.with_part(part.uid, layers=layers)
    return painting


def _write_zip(
    painting: Painting, file: BinaryIO, pictures: LayerPictures, moments: Iterable[Moment], fresh: Stored,
    journal: tuple[Source, Sequence[Record]],
) -> None:  # fmt: skip
    told, about = watching(), sum(len(part.layers) for part in painting.parts) + 2
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(zipfile.ZipInfo("mimetype"), MIMETYPE, zipfile.ZIP_STORED)
        with watched(lambda done: told(FLATTENING * done)):
            merged = flattened(painting)
        _write_merged(painting, merged, archive)
        layers: dict[int, LayerState] = {}
        for one in pictures.layers(painting):
            layers[one.state.uid] = one.state
            for name, data in one.entries:
                put(archive, name, data)
            told(FLATTENING + (1 - FLATTENING) * len(layers) / about)
        put(archive, GROUND, pictures.ground(painting))
        state = _state(painting, layers, _frisket(painting, archive), _board(painting, archive))
        archive.writestr("stack.xml", ET.tostring(_stack(painting, layers), encoding="utf-8", xml_declaration=True))
        archive.writestr("japanner/painting.json", json.dumps(to_record(state, whole=True), indent=1))
        _write_journal(archive, fresh, *journal)
        write_moments(archive, moments)


def _write_journal(archive: zipfile.ZipFile, fresh: Stored, source: Source, records: Sequence[Record]) -> None:
    """Leave the journal out rather than write one that could not be read again: pixels are what counts."""
    if fresh.journal.add(records):
        more = [SAVED] if records and records[-1] != SAVED else []
        fresh.journal.write(archive, more, source.piece)


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
    entries = tuple(
        PinnedState(one.name, f"japanner/board{i}.png", one.link, one.width, one.height)
        for i, one in enumerate(painting.board)
    )
    for entry, one in zip(entries, painting.board, strict=True):
        archive.writestr(entry.src, one.data, zipfile.ZIP_STORED)
    return entries


def _write_merged(painting: Painting, merged: Raster, archive: zipfile.ZipFile) -> None:
    pixels = png.as_8_bit(merged.read(painting.rect))  # opaque, so straight as it is
    archive.writestr("mergedimage.png", png.encode(pixels, painting.ppi), zipfile.ZIP_STORED)
    scale = min(THUMBNAIL_SIDE / max(painting.width, painting.height), 1.0)
    size = (max(round(painting.width * scale), 1), max(round(painting.height * scale), 1))
    small = cv2.resize(pixels.transpose(1, 2, 0), size, interpolation=cv2.INTER_AREA)
    archive.writestr("Thumbnails/thumbnail.png", png.encode(small.transpose(2, 0, 1)), zipfile.ZIP_STORED)


def _stack(painting: Painting, layers: dict[int, LayerState]) -> ET.Element:
    ppi = str(round(painting.ppi))
    size = {"w": str(painting.width), "h": str(painting.height)}
    image = ET.Element("image", {"version": "0.0.3", **size, "name": painting.title, "xres": ppi, "yres": ppi})
    root = ET.SubElement(image, "stack", {"name": "root", "isolation": "isolate"})
    for part in reversed(painting.parts):  # the first child is the topmost
        _part(root, part, layers)
    ET.SubElement(root, "layer", {"name": "Ground", "src": GROUND, "x": "0", "y": "0"})
    return image


def _part(root: ET.Element, part: Part, layers: dict[int, LayerState]) -> None:
    visible = "visible" if part.shown else "hidden"
    stack = ET.SubElement(root, "stack", {"name": part.name, "isolation": "auto", "visibility": visible})
    for layer in reversed(part.standing("over")):
        _layer(stack, layer, part.strength, layers[layer.uid])
    if body_layers := part.standing("body"):
        opacity = {"opacity": _share(part.strength), "composite-op": "svg:src-over"}
        body = ET.SubElement(stack, "stack", {"name": f"{part.name} body", "isolation": "isolate", **opacity})
        for layer in reversed(body_layers):
            _layer(body, layer, 1.0, layers[layer.uid])
    for layer in reversed(part.in_place("behind")):
        _layer(stack, layer, part.strength, layers[layer.uid])


def _layer(stack: ET.Element, layer: Layer, strength: float, state: LayerState) -> None:
    ET.SubElement(
        stack,
        "layer",
        {
            "name": layer.name,
            "src": state.picture.src,
            "x": str(state.picture.x),
            "y": str(state.picture.y),
            "opacity": _share(layer.strength * strength),
            "visibility": "visible" if layer.shown else "hidden",
            "composite-op": MODES[layer.mode].openraster,
        },
    )


def _state(
    painting: Painting, layers: dict[int, LayerState], frisket: FrisketState | None, board: tuple[PinnedState, ...]
) -> PaintingState:
    """All that OpenRaster has no word for; numbers as JSON gives them back exactly."""
    maquette = None if painting.maquette == Maquette() else painting.maquette.to_record()
    return PaintingState(
        painting.width, painting.height, painting.ppi, painting.title, painting.ground, painting.light,
        painting.next_uid, tuple(_part_state(part, layers) for part in painting.parts), engine=ENGINE,
        written_by=f"japanner {__version__}", frisket=frisket, board=board, maquette=maquette,
        landmarks=painting.landmarks, measures=painting.measures,
    )  # fmt: skip


def _part_state(part: Part, layers: dict[int, LayerState]) -> PartState:
    as_they_are = {one.name: getattr(part, one.name) for one in fields(PartState) if one.name not in ("layers", "grid")}
    grid = None if part.grid is None else part.grid.to_record()
    return PartState(**as_they_are, grid=grid, layers=tuple(layers[layer.uid] for layer in part.layers))


def _share(value: float) -> str:
    return f"{value:.6g}"
