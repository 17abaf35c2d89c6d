"""Pictures that come in: as layers, pasted, imported or made as textures; or pinned to the reference board."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Final

import numpy as np

from japanner import checks
from japanner.painting.model import Layer, Painting, Pinned
from japanner.painting.operations.base import Change, areas_of
from japanner.raster.codec import data_of, from_text
from japanner.raster.geometry import Rect
from japanner.raster.resample import checked_matrix, placed
from japanner.raster.textures import texture
from japanner.raster.tiles import Raster, premultiplied

__all__ = ["FITS", "AddPicture", "AddTexture", "PinPicture", "UnpinPicture", "fitted_matrix"]

FITS: Final = ("size", "inside", "over")
"""A picture at its own size in the middle, as large as fits on the canvas, or as covers it."""


def fitted_matrix(width: int, height: int, canvas: Rect, fit: str, times: float = 1.0) -> np.ndarray:
    """Where a picture goes: its pixels to canvas positions, 3x3."""
    checks.one_of("fit", fit, FITS)
    across, down = canvas.width / width, canvas.height / height
    scale = {"size": times, "inside": min(across, down), "over": max(across, down)}[fit]
    x, y = (canvas.width - width * scale) / 2, (canvas.height - height * scale) / 2
    if fit == "size" and times == 1:
        x, y = round(x), round(y)
    return np.array([[scale, 0, x], [0, scale, y], [0, 0, 1]], float)


@dataclass(frozen=True)
class AddPicture:
    """A new layer, last in its part's build, with a picture on it.

    data: PNG of straight pixels as text (`japanner.raster.codec`). matrix: from the picture's pixels to the canvas,
    9 numbers; else `fit` says where it goes. times: how much larger than it is it is laid at its own size.
    """

    op: ClassVar[str] = "add picture"
    part: int
    data: str
    name: str = "Picture"
    role: str = "texture"
    place: str = "body"
    mode: str = "Normal"
    strength: float = 1.0
    fit: str = "size"
    matrix: tuple[float, ...] = ()
    times: float = 1.0

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        pixels = premultiplied(from_text(self.data))
        _, height, width = pixels.shape
        whole = Rect(0, 0, width, height)
        matrix = (
            checked_matrix(self.matrix, whole)
            if self.matrix
            else fitted_matrix(width, height, painting.rect, self.fit, self.times)
        )
        raster = placed(pixels, matrix, painting.width, painting.height)
        return _with_layer(painting, self.part, raster, self.name, self.role, self.place, self.mode, self.strength)

    def scaled(self, factor: float) -> AddPicture:
        """The same on a painting `factor` times as large."""
        scale = np.diag((factor, factor, 1.0))
        matrix = tuple(map(float, (scale @ np.reshape(self.matrix, (3, 3))).ravel())) if self.matrix else ()
        return replace(self, matrix=matrix, times=self.times * factor)


@dataclass(frozen=True)
class AddTexture:
    """A new layer with a made texture all over it (`japanner.raster.textures`)."""

    op: ClassVar[str] = "add texture"
    part: int
    kind: str
    scale: float = 1.0
    contrast: float = 1.0
    seed: int = 1
    place: str = "body"
    mode: str = "Overlay"
    strength: float = 0.4

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        grey = texture(self.kind, painting.width, painting.height, self.scale, self.contrast, self.seed)
        codes = np.rint(grey * np.float32(65535)).astype(np.uint16)
        pixels = np.stack((codes, codes, codes, np.full_like(codes, 65535)))
        raster = Raster(painting.width, painting.height).written(0, 0, pixels)
        name = self.kind.capitalize()
        return _with_layer(painting, self.part, raster, name, "texture", self.place, self.mode, self.strength)

    def scaled(self, factor: float) -> AddTexture:
        """The same on a painting `factor` times as large."""
        return replace(self, scale=min(max(self.scale * factor, 0.1), 20.0))


def _with_layer(
    painting: Painting, part_uid: int, raster: Raster, name: str, role: str, place: str, mode: str, strength: float
) -> tuple[Painting, Change]:
    part = painting.part(part_uid)
    layer = Layer(painting.next_uid, name, role, raster, place, mode, strength)
    fresh = replace(painting.with_part(part.uid, layers=(*part.layers, layer)), next_uid=layer.uid + 1)
    return fresh, Change(f"add {name}", areas_of([layer]), structure=True)


@dataclass(frozen=True)
class PinPicture:
    """Pin a picture, given as PNG text (`japanner.raster.codec`), to the reference board; link, width, height: as in
    `Pinned`.
    """

    op: ClassVar[str] = "pin picture"
    name: str
    data: str
    link: str = ""
    width: int = 0
    height: int = 0

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        pinned = Pinned(self.name, data_of(self.data), self.link, self.width, self.height)
        return replace(painting, board=(*painting.board, pinned)), Change(f"pin {self.name}")


@dataclass(frozen=True)
class UnpinPicture:
    """Take a picture off the reference board."""

    op: ClassVar[str] = "unpin picture"
    index: int

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        checks.integer("index", self.index, 0, len(painting.board) - 1)
        board = (*painting.board[: self.index], *painting.board[self.index + 1 :])
        return replace(painting, board=board), Change(f"unpin {painting.board[self.index].name}")
