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
from dataclasses import asdict
from pathlib import Path
from typing import Any, BinaryIO, Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import __version__
from japanner.files import png
from japanner.files.container import MIMETYPE
from japanner.files.writing import replacing
from japanner.painting.compositor import flattened, shown_tile, silhouette_tile
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.record_lines import lines_of
from japanner.raster.geometry import Key, Rect
from japanner.raster.modes import MODES
from japanner.raster.tiles import Raster, straight

__all__ = ["FORMAT", "write"]

FORMAT: Final = 1
THUMBNAIL_SIDE: Final = 256


def write(painting: Painting, path: Path, records: Iterable[dict[str, Any]] = ()) -> None:
    """Save the painting as .ora, with the journal's records; SaveError leaves the old file as it was."""
    with replacing(path) as file:
        _write_zip(painting, file, list(records))


def as_others_see(layer: Layer, part: Part) -> Raster:
    """The layer's pixels through its mask, inside the silhouette; the same raster if that takes nothing away."""
    pixels = layer.pixels
    if layer.mask is not None:
        pixels = pixels.with_tiles({key: tile for key in pixels.tiles if (tile := shown_tile(layer, key)) is not None})
    if layer.place != "body" or layer in part.flats or not part.flats:
        return pixels
    return _clipped(pixels, part)


def _clipped(pixels: Raster, part: Part) -> Raster:
    fresh: dict[Key, NDArray[np.uint16]] = {}
    for key, tile in pixels.tiles.items():
        coverage = silhouette_tile(part, key)
        limit = np.zeros(tile.shape[1:], np.float32) if coverage is None else coverage
        cut = np.rint(tile * limit.astype(np.float64)).astype(np.uint16)
        if not np.array_equal(cut, tile):
            fresh[key] = cut
    return pixels.with_tiles(fresh) if fresh else pixels


class _Writer:
    """Puts layer pictures into the zip, encoding on all cores, and keeps their entries in order."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self._archive = archive
        self._pool = ThreadPoolExecutor(max_workers=2)
        self._waiting: list[tuple[str, Future[bytes]]] = []

    def add(self, name: str, raster: Raster) -> Rect:
        """Store the painted part of a raster; its place on the canvas."""
        bounds = raster.bounds()
        if bounds.empty:
            bounds = Rect(0, 0, 1, 1)
        self._waiting.append((name, self._pool.submit(lambda: png.encode(straight(raster.read(bounds))))))
        self._drain(4)
        return bounds

    def finish(self) -> None:
        self._drain(0)
        self._pool.shutdown()

    def _drain(self, keep: int) -> None:
        # Few pictures wait at a time: encoded layers are large.
        while len(self._waiting) > keep:
            name, data = self._waiting.pop(0)
            self._archive.writestr(name, data.result(), zipfile.ZIP_STORED)


def _write_zip(painting: Painting, file: BinaryIO, records: list[dict[str, Any]]) -> None:
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(zipfile.ZipInfo("mimetype"), MIMETYPE, zipfile.ZIP_STORED)
        merged = flattened(painting)
        _write_merged(painting, merged, archive)
        pictures = _Writer(archive)
        places: dict[int, dict[str, Any]] = {}
        stack = _stack(painting, pictures, places)
        pictures.finish()
        beside = {**_frisket(painting, archive), "board": _board(painting, archive)}
        archive.writestr("stack.xml", ET.tostring(stack, encoding="utf-8", xml_declaration=True))
        archive.writestr("japanner/painting.json", json.dumps({**_state(painting, places), **beside}, indent=1))
        archive.writestr("japanner/journal.jsonl", lines_of(records))


def _frisket(painting: Painting, archive: zipfile.ZipFile) -> dict[str, Any]:
    """Store the frisket as a grey picture; what the description says of it."""
    if painting.frisket is None:
        return {}
    area = painting.frisket.sheet.bounds()
    data = png.encode(painting.frisket.sheet.read(area))
    archive.writestr("japanner/frisket.png", data, zipfile.ZIP_STORED)
    curve = [list(node) for node in painting.frisket.curve]
    return {"frisket": {"src": "japanner/frisket.png", "x": area.x0, "y": area.y0, "curve": curve}}


def _board(painting: Painting, archive: zipfile.ZipFile) -> list[dict[str, str]]:
    """Store the pinned pictures; their names and entries."""
    entries = [{"name": one.name, "src": f"japanner/board{i}.png"} for i, one in enumerate(painting.board)]
    for entry, one in zip(entries, painting.board, strict=True):
        archive.writestr(entry["src"], one.data, zipfile.ZIP_STORED)
    return entries


def _write_merged(painting: Painting, merged: Raster, archive: zipfile.ZipFile) -> None:
    pixels = png.as_8_bit(straight(merged.read(painting.rect)))
    archive.writestr("mergedimage.png", png.encode(pixels, painting.ppi), zipfile.ZIP_STORED)
    scale = min(THUMBNAIL_SIDE / max(painting.width, painting.height), 1.0)
    size = (max(round(painting.width * scale), 1), max(round(painting.height * scale), 1))
    small = cv2.resize(pixels.transpose(1, 2, 0), size, interpolation=cv2.INTER_AREA)
    archive.writestr("Thumbnails/thumbnail.png", png.encode(small.transpose(2, 0, 1)), zipfile.ZIP_STORED)


def _stack(painting: Painting, pictures: _Writer, places: dict[int, dict[str, Any]]) -> ET.Element:
    ppi = str(round(painting.ppi))
    size = {"w": str(painting.width), "h": str(painting.height)}
    image = ET.Element("image", {"version": "0.0.3", **size, "name": painting.title, "xres": ppi, "yres": ppi})
    root = ET.SubElement(image, "stack", {"name": "root", "isolation": "isolate"})
    for part in reversed(painting.parts):  # the first child is the topmost
        _part(root, part, pictures, places)
    _ground(root, painting, pictures)
    return image


def _part(root: ET.Element, part: Part, pictures: _Writer, places: dict[int, dict[str, Any]]) -> None:
    visible = "visible" if part.shown else "hidden"
    stack = ET.SubElement(root, "stack", {"name": part.name, "isolation": "auto", "visibility": visible})
    for layer in reversed(part.in_place("over")):
        _layer(stack, layer, part, part.strength, pictures, places)
    if part.in_place("body"):
        opacity = {"opacity": _share(part.strength), "composite-op": "svg:src-over"}
        body = ET.SubElement(stack, "stack", {"name": f"{part.name} body", "isolation": "isolate", **opacity})
        flats = part.flats
        for layer in reversed([*flats, *(one for one in part.in_place("body") if one not in flats)]):
            _layer(body, layer, part, 1.0, pictures, places)
    for layer in reversed(part.in_place("behind")):
        _layer(stack, layer, part, part.strength, pictures, places)


def _layer(
    stack: ET.Element,
    layer: Layer,
    part: Part,
    strength: float,
    pictures: _Writer,
    places: dict[int, dict[str, Any]],
) -> None:
    src = f"data/layer{layer.uid}.png"
    inside = as_others_see(layer, part)
    bounds = pictures.add(src, inside)
    places[layer.uid] = {"picture": _place(src, bounds)}
    if inside is not layer.pixels:
        spill = _spill(layer.pixels, inside)
        beside = f"japanner/spill{layer.uid}.png"
        places[layer.uid]["spill"] = {**_place(beside, pictures.add(beside, spill)), "areas": _areas(spill)}
    if layer.mask is not None:
        sheet = f"japanner/mask{layer.uid}.png"
        mask = _place(sheet, pictures.add(sheet, layer.mask.pixels))
        places[layer.uid]["mask"] = {**mask, "ground": layer.mask.ground}
    if layer.relief is not None:
        sheet = f"japanner/relief{layer.uid}.png"
        heights = _place(sheet, pictures.add(sheet, layer.relief.heights))
        places[layer.uid]["relief"] = {**heights, "amount": layer.relief.amount, "gloss": layer.relief.gloss}
    if layer.laid is not None and (laid := layer.laid.settled(layer.pixels)) is not None:
        places[layer.uid]["laid"] = {
            name: _place(sheet, pictures.add(sheet, raster))
            for name, raster in (("hair", laid.paint), ("ranks", laid.ranks))
            for sheet in (f"japanner/{name}{layer.uid}.png",)
        }
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


def _place(src: str, bounds: Rect) -> dict[str, Any]:
    return {"src": src, "x": bounds.x0, "y": bounds.y0}


def _spill(whole: Raster, inside: Raster) -> Raster:
    """The tiles that clipping changed, as they were."""
    tiles = {key: tile for key, tile in whole.tiles.items() if inside.tiles.get(key) is not tile}
    return Raster(whole.width, whole.height, tiles)


def _areas(raster: Raster) -> list[Rect]:
    """The canvas pixels that a raster's tiles hold: a file must not depend on the size of tiles."""
    return [Rect.of_tile(key).intersected(raster.rect) for key in sorted(raster.tiles)]


def _ground(root: ET.Element, painting: Painting, pictures: _Writer) -> None:
    colour = np.rint(np.array((*painting.ground, 1.0)) * 65535).astype(np.uint16)
    pixels = np.broadcast_to(colour[:, None, None], (4, painting.height, painting.width))
    pictures.add("data/ground.png", Raster(painting.width, painting.height).written(0, 0, pixels))
    ET.SubElement(root, "layer", {"name": "Ground", "src": "data/ground.png", "x": "0", "y": "0"})


def _state(painting: Painting, places: dict[int, dict[str, Any]]) -> dict[str, Any]:
    """All that OpenRaster has no word for; numbers as JSON gives them back exactly."""
    parts = [
        {
            "uid": part.uid,
            "name": part.name,
            "material": part.material,
            "strength": part.strength,
            "shown": part.shown,
            "scale": list(part.scale),
            **({"guide": asdict(part.guide)} if part.guide else {}),
            **({"mixed": [list(cell) for cell in part.mixed]} if part.mixed else {}),
            **({"grid": part.grid.to_record()} if part.grid else {}),
            **({"around": list(part.around)} if part.around else {}),
            **({"bald": True} if part.bald else {}),
            **{name: uid for name in ("length_map", "density_map") if (uid := getattr(part, name))},
            **({"comb": [asdict(one) for one in part.comb]} if part.comb else {}),
            "layers": [_layer_state(layer, places[layer.uid]) for layer in part.layers],
        }
        for part in painting.parts
    ]
    return {
        "format": FORMAT,
        "written by": f"japanner {__version__}",
        "width": painting.width,
        "height": painting.height,
        "ppi": painting.ppi,
        "title": painting.title,
        "ground": list(painting.ground),
        "light": asdict(painting.light),
        "next_uid": painting.next_uid,
        **({"maquette": painting.maquette.to_record()} if painting.maquette.pieces else {}),
        "parts": parts,
    }


def _layer_state(layer: Layer, place: dict[str, Any]) -> dict[str, Any]:
    return {
        "uid": layer.uid,
        "name": layer.name,
        "role": layer.role,
        "place": layer.place,
        "mode": layer.mode,
        "strength": layer.strength,
        "shown": layer.shown,
        "hold_edges": layer.hold_edges,
        **({"made": asdict(layer.made)} if layer.made else {}),
        **place,
    }


def _share(value: float) -> str:
    return f"{value:.6g}"
