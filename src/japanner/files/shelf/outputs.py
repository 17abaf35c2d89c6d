"""Output: what of a painting is written, how large, how it is looked at, and in which formats; kept as presets."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from japanner import checks
from japanner.color import srgb
from japanner.errors import InputError
from japanner.files import png
from japanner.files.formats import EXPORTS
from japanner.files.png import as_8_bit
from japanner.files.writing import replacing
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.picture.compositor import flattened
from japanner.painting.picture.looks import LOOKS, look
from japanner.raster.adjust import encoded
from japanner.raster.geometry import Rect
from japanner.raster.tiles import Raster, straight
from japanner.told import Told, silent

__all__ = ["KINDS", "PICTURE", "PRESETS", "WHAT", "Output", "prepared", "write_output"]

PICTURE, PARTS, LAYERS = "the picture", "parts", "layers"
WHAT: Final = (PICTURE, PARTS, LAYERS)
LONGEST: Final = 30000
SHARPEN_SIGMA: Final = 0.55
SHARPEN_MOST: Final = 0.7
"""Sharpening undoes what averaging so many px into one has softened: its radius is that of a px."""


KINDS: Final = {export.words.rstrip("…"): (kind.ending, export.write) for kind, export in EXPORTS if not export.layered}
"""Formats that a picture is written in, as the menus call them: their endings, and what writes them."""


@dataclass(frozen=True)
class Output:
    """What is to be written.

    what: the picture, or every part or layer by itself, on nothing, as PNG. long_px: its longer side; 0: as it is.
    sharpen: as the reduction has softened it. look: as it is looked at. crop: left, top, right, bottom in shares of the
    canvas, 0..1; () for all of it.
    """

    name: str
    kind: str = "8-bit PNG"
    what: str = PICTURE
    long_px: int = 0
    sharpen: bool = True
    look: str = "colour"
    crop: tuple[float, ...] = ()

    def __post_init__(self) -> None:
        checks.text("name", self.name, 60)
        checks.one_of("kind", self.kind, KINDS)
        checks.one_of("what", self.what, WHAT)
        checks.integer("long_px", self.long_px, 0, LONGEST)
        checks.one_of("look", self.look, LOOKS)
        if self.crop:
            x0, y0, x1, y1 = checks.in_range("crop", self.crop, 0, 1)
            if x1 <= x0 or y1 <= y0:
                raise InputError(f"crop: expected left, top, right, bottom, got {self.crop!r}")

    @property
    def ending(self) -> str:
        return KINDS[self.kind][0] if self.what == PICTURE else ".png"


PRESETS: Final = (
    Output("share", "JPEG", long_px=2000),
    Output("small", "WebP", long_px=1080),
    Output("for print", "16-bit TIFF"),
    Output("page", "PDF"),
    Output("values", "8-bit PNG", long_px=2000, look="values"),
    Output("parts", "8-bit PNG", PARTS),
)


def write_output(painting: Painting, output: Output, path: Path, told: Told = silent) -> list[Path]:
    """Write it to `path`, or, of parts or layers, to a file each whose name begins as `path` does; the files that came
    of it. told may end it by raising: what is written then stays.
    """
    if output.what == PICTURE:
        told(0.1, path.name)
        KINDS[output.kind][1](prepared(painting, output), path)
        return [path]
    pieces = _pieces(painting, output.what)
    if not pieces:
        raise InputError("There is nothing painted that could be written by itself.")
    written: list[Path] = []
    for number, (name, alone) in enumerate(pieces):
        told(number / len(pieces), name)
        target = path.with_name(f"{path.stem} {number + 1:02} {_safe(name)}.png")
        codes = _sized(straight(_cropped(alone, painting, output)), output)
        wide = "16" in output.kind
        data = png.encode(codes if wide else as_8_bit(codes), _ppi(painting, output))
        with replacing(target) as file:
            file.write(data)
        written.append(target)
    return written


def _safe(name: str) -> str:
    """A name as a file may have it."""
    return re.sub(r"[^\w .,()-]", "_", name).strip(" .")[:60] or "piece"


def _pieces(painting: Painting, what: str) -> list[tuple[str, Raster]]:
    """Parts as they are seen, or layers, that have paint; from back to front, by their names."""
    if what == LAYERS:
        return [
            (f"{part.name} {one.name}", one.pixels)
            for part, one in painting.layers()
            if part.shown and one.shown and one.pixels.tiles
        ]
    found = []
    for part in painting.parts:
        if part.shown and any(one.shown and one.pixels.tiles for one in part.layers):
            found.append((part.name, _alone(painting, part)))
    return found


def _alone(painting: Painting, part: Part) -> Raster:
    """A part on nothing: what it covers is found by composing it on black and on white."""
    on = [
        flattened(replace(painting, parts=(part,), ground=(grey, grey, grey))).read(painting.rect)[:3].astype(np.int32)
        for grey in (0.0, 1.0)
    ]
    bare = np.clip((on[1] - on[0]).max(axis=0), 0, 65535)
    cover = (65535 - bare).astype(np.uint16)
    colours = np.minimum(on[0].astype(np.uint16), cover)
    return Raster(painting.width, painting.height).written(0, 0, np.concatenate((colours, cover[None])))


def _area(painting: Painting, output: Output) -> Rect:
    if not output.crop:
        return painting.rect
    x0, y0, x1, y1 = output.crop
    left, top = round(x0 * painting.width), round(y0 * painting.height)
    return Rect(left, top, max(round(x1 * painting.width), left + 1), max(round(y1 * painting.height), top + 1))


def _cropped(raster: Raster, painting: Painting, output: Output) -> NDArray[np.uint16]:
    return raster.read(_area(painting, output).intersected(painting.rect))


def _ppi(painting: Painting, output: Output) -> float:
    """On paper it stays as large as it was."""
    area = _area(painting, output)
    factor = output.long_px / max(area.width, area.height) if output.long_px else 1.0
    return min(max(painting.ppi * min(factor, 1.0), 1.0), 10000.0)


def prepared(painting: Painting, output: Output) -> Painting:
    """The picture as it is to be written, as a painting of one layer; the painting itself where nothing is asked of
    it.
    """
    if not output.crop and not output.long_px and output.look == "colour":
        return painting
    codes = _sized(_cropped(flattened(painting), painting, output)[:3], output)
    if output.look != "colour":
        codes = _looked_at(codes, painting, output.look)
    cover = np.full((1, *codes.shape[1:]), 65535, np.uint16)
    height, width = codes.shape[1:]
    pixels = Raster(width, height).written(0, 0, np.concatenate((codes, cover)))
    part = Part(1, "Picture", "plain", (Layer(2, "Picture", "flat", pixels),))
    return Painting(width, height, _ppi(painting, output), painting.title, parts=(part,), next_uid=3)


def _looked_at(codes: NDArray[np.uint16], painting: Painting, name: str) -> NDArray[np.uint16]:
    small = as_8_bit(codes).astype(np.uint32)
    pixels = np.uint32(0xFF000000) | small[0] << np.uint32(16) | small[1] << np.uint32(8) | small[2]
    scale = painting.parts[-1].scale if painting.parts else ()
    seen = look(name, pixels, scale)
    return np.stack([(seen >> np.uint32(s) & np.uint32(255)).astype(np.uint16) * np.uint16(257) for s in (16, 8, 0)])


def _sized(codes: NDArray[np.uint16], output: Output) -> NDArray[np.uint16]:
    """Straight codes (c, h, w) with the longer side asked for; a picture is never made larger. Light is averaged."""
    factor = output.long_px / max(codes.shape[1:]) if output.long_px else 1.0
    if factor >= 1:
        return codes
    size = tuple(max(round(side * factor), 1) for side in (codes.shape[2], codes.shape[1]))
    cover = codes[3] / np.float32(65535) if len(codes) == 4 else None
    planes, weight = [], None if cover is None else cv2.resize(cover, size, interpolation=cv2.INTER_AREA)
    for one in codes[:3]:
        light = np.asarray(srgb.decode(one / np.float32(65535)), np.float32)
        small = cv2.resize(light if cover is None else light * cover, size, interpolation=cv2.INTER_AREA)
        if weight is not None:
            small = small / np.maximum(weight, 1e-6)
        planes.append(_sharpened(small, factor) if output.sharpen else small)
    result = [np.rint(encoded(np.clip(one, 0, 1)) * 65535).astype(np.uint16) for one in planes]
    if weight is not None:
        result.append(np.rint(np.clip(weight, 0, 1) * 65535).astype(np.uint16))
    return np.stack(result)


def _sharpened(light: NDArray[np.float32], factor: float) -> NDArray[np.float32]:
    """Less where little was reduced: at half the size and below all of it. In encoded values, as the eye sees them."""
    amount = SHARPEN_MOST * min(np.log2(1 / factor), 1.0)
    seen = encoded(np.clip(light, 0, 1))
    sharp = seen + np.float32(amount) * (seen - cv2.GaussianBlur(seen, (0, 0), SHARPEN_SIGMA))
    found: NDArray[np.float32] = np.asarray(srgb.decode(np.clip(sharp, 0, 1)), np.float32)
    return found
