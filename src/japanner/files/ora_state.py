"""What OpenRaster has no word for: our own state in an .ora file, as the records that writing and reading share."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Final

from japanner.painting.document.engine import FIRST_ENGINE
from japanner.painting.model import Landmarks, Light, Made, Measure
from japanner.painting.model.head_guide import HeadGuide
from japanner.strand.comb import Guide
from japanner.types import Colour

__all__ = [
    "FORMAT",
    "FrisketState",
    "LaidState",
    "LayerState",
    "MaskState",
    "PaintingState",
    "PartState",
    "PictureState",
    "PinnedState",
    "ReliefState",
    "SpillState",
]

FORMAT: Final = 2
"""1 knew no engine, and had a space in "written by"."""

Area = tuple[int, int, int, int]


@dataclass(frozen=True)
class PictureState:
    """A picture's entry, and where its upper left corner lies on the canvas."""

    src: str
    x: int
    y: int


@dataclass(frozen=True)
class SpillState(PictureState):
    """What clipping took from a layer. areas: the canvas px that it holds, as x0, y0, x1, y1."""

    areas: tuple[Area, ...]


@dataclass(frozen=True)
class MaskState(PictureState):
    ground: float


@dataclass(frozen=True)
class ReliefState(PictureState):
    amount: float
    gloss: float


@dataclass(frozen=True)
class FrisketState(PictureState):
    curve: tuple[tuple[float, ...], ...] = ()


@dataclass(frozen=True)
class LaidState:
    hair: PictureState
    ranks: PictureState


@dataclass(frozen=True)
class PinnedState:
    name: str
    src: str
    link: str = ""
    width: int = 0
    height: int = 0


@dataclass(frozen=True)
class LayerState:
    """As `Layer`, with pictures in the place of pixels."""

    uid: int
    name: str
    role: str
    place: str
    mode: str
    strength: float
    shown: bool
    hold_edges: bool
    picture: PictureState
    spill: SpillState | None = None
    mask: MaskState | None = None
    relief: ReliefState | None = None
    laid: LaidState | None = None
    made: Made | None = None


@dataclass(frozen=True)
class PartState:
    """As `Part`."""

    uid: int
    name: str
    material: str
    strength: float
    shown: bool
    scale: tuple[float, float, float, float, float]
    layers: tuple[LayerState, ...]
    guide: HeadGuide | None = None
    mixed: tuple[tuple[int, int, float, float, float], ...] = ()
    grid: dict[str, Any] | None = None
    around: Colour | None = None
    comb: tuple[Guide, ...] = ()
    bald: bool = False
    length_map: int = 0
    density_map: int = 0


@dataclass(frozen=True)
class PaintingState:
    """As `Painting`. engine: the version that its strokes and makers were worked out by."""

    width: int
    height: int
    ppi: float
    title: str
    ground: Colour
    light: Light
    next_uid: int
    parts: tuple[PartState, ...]
    format: int = FORMAT
    engine: int = FIRST_ENGINE
    written_by: str = ""
    frisket: FrisketState | None = None
    board: tuple[PinnedState, ...] = ()
    maquette: dict[str, Any] | None = field(default=None)
    landmarks: tuple[Landmarks, ...] = ()
    measures: tuple[Measure, ...] = ()
