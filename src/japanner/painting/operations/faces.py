"""The parts of a figure's face, and a cape round its shoulders, each with its flat."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Final, NamedTuple

from japanner import checks
from japanner.color import lab
from japanner.color.value import srgb_from_lch
from japanner.errors import InputError
from japanner.light.pieces import Piece
from japanner.light.rows import worn_by
from japanner.painting.model import Painting
from japanner.painting.operations.base import Change, Operation
from japanner.painting.operations.fills import Fill
from japanner.painting.operations.maquettes import SetMaquette
from japanner.painting.operations.structure import AddLayer, AddPart, SetPart
from japanner.painting.value.value_scale import proposed_scale
from japanner.stroke.engine import checked_colour
from japanner.types import Colour

__all__ = ["DressFigure", "LayFace"]


class _Feature(NamedTuple):
    """A part of a face: its material, its zones, and its L*, C* and h, from the skin's: factor and what is added."""

    name: str
    material: str
    zones: tuple[str, ...]
    value: tuple[float, float]
    chroma: tuple[float, float]
    hue: tuple[float, float]


FEATURES: Final = (
    _Feature("Mouth", "skin", ("inside of the mouth", "tongue"), (0.45, 4), (0.6, 12), (0.0, 28)),
    _Feature("Teeth", "skin", ("upper teeth", "lower teeth"), (0.0, 60), (0.0, 11), (0.0, 82)),
    _Feature("Lips", "skin", ("lips",), (0.84, 0), (1.0, 5), (1.0, -18)),
    _Feature("Eyes", "eye", ("left eye", "right eye"), (0.0, 58), (0.0, 8), (0.0, 70)),
    _Feature("Hair", "hair", ("scalp",), (0.0, 15), (0.0, 7), (0.0, 55)),
)
"""From behind; common practice: teeth are never white."""


@dataclass(frozen=True)
class LayFace:
    """Lay a figure's skin flat in a colour, and lips, eyes, hair and, where they are seen, mouth and teeth as parts of
    their own in colours that go with it. piece: the figure's number in the maquette.
    """

    op: ClassVar[str] = "lay face"
    piece: int
    colour: Colour

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        colour = checked_colour(self.colour)
        skin = painting.part(_figure(painting, self.piece, "a face").part).uid
        painting = _laid(painting, skin, "skin", colour)
        value, chroma, hue = (float(one) for one in lab.lch_from_srgb(colour))
        for feature in FEATURES:
            rules = zip(feature[3:], (value, chroma, hue), strict=True)
            lightness, colourful, turn = (factor * own + more for (factor, more), own in rules)
            painting = self._with(painting, feature, srgb_from_lch(min(lightness, 100.0), colourful, turn % 360))
        return painting, Change("lay face", (painting.rect,), structure=True)

    def _with(self, painting: Painting, feature: _Feature, colour: Colour) -> Painting:
        """With one more part, right in front of what there is of the face; as it was if nothing is seen of it."""
        uid = painting.next_uid
        piece = painting.maquette.pieces[self.piece]
        free = [zone for zone in feature.zones if zone not in dict(piece.parts)]
        if not free:
            return painting
        owners = {piece.part, *(part for _, part in piece.parts)}
        last = max(number for number, one in enumerate(painting.parts) if one.uid in owners)
        fresh = _done(painting, AddPart(feature.name, feature.material, last + 1))
        pieces = list(painting.maquette.pieces)
        pieces[self.piece] = replace(piece, parts=(*piece.parts, *((zone, uid) for zone in free)))
        fresh = _done(fresh, SetMaquette(replace(painting.maquette, pieces=tuple(pieces)).to_record()))
        try:
            return _laid(fresh, uid, feature.material, colour)
        except InputError:
            return painting  # nothing is seen of it


@dataclass(frozen=True)
class DressFigure:
    """Put a cape round a figure's shoulders: a form that falls on it, as a part of cloth with its flat, right in front
    of the figure. piece: the figure's number in the maquette.
    """

    op: ClassVar[str] = "dress figure"
    piece: int
    colour: Colour

    def apply(self, painting: Painting) -> tuple[Painting, Change]:
        figure, colour = _figure(painting, self.piece, "shoulders"), checked_colour(self.colour)
        pieces, uid = painting.maquette.pieces, painting.next_uid
        last = max((n for n, one in enumerate(painting.parts) if one.uid in figure.owners), default=-1)
        place = last + 1 if last >= 0 else len(painting.parts)
        painting = _done(painting, AddPart("Cape", "cloth", place))
        worn = replace(painting.maquette, pieces=(*pieces, replace(worn_by(figure), part=uid)))
        painting = _laid(_done(painting, SetMaquette(worn.to_record())), uid, "cloth", colour)
        return painting, Change("dress figure", (painting.rect,), structure=True)


def _figure(painting: Painting, number: int, what: str) -> Piece:
    """The piece of a number, which is to be a figure: only that has `what` is asked for."""
    pieces = painting.maquette.pieces
    checks.integer("piece", number, 0, max(len(pieces) - 1, 0))
    if not pieces or pieces[number].kind != "figure":
        raise InputError(f"Only a figure has {what}: begin from one in the maquette")
    return pieces[number]


def _laid(painting: Painting, part: int, material: str, colour: Colour) -> Painting:
    """With the part laid flat from the maquette, on its first flat or a new one, and its scale fitted."""
    flats = painting.part(part).flats
    uid = flats[0].uid if flats else painting.next_uid
    if not flats:
        painting = _done(painting, AddLayer(part, "flat", "Flat"))
    painting = _done(painting, Fill(uid, colour, "maquette"))
    if material == "eye":
        return painting
    scale = proposed_scale(float(lab.lightness_from_srgb(colour)), material, painting.light)
    return _done(painting, SetPart(part, {"scale": list(scale)}))


def _done(painting: Painting, operation: Operation) -> Painting:
    return operation.apply(painting)[0]
