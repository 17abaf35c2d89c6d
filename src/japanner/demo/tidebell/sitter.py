"""What stands before the canvas: the otter, the bell and the float, as maquettes, and how the coat lies."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.shipped import shipped_maquette
from japanner.scripting.on_form import Comb

__all__ = ["BELL", "EYE", "FLOAT", "NOSE", "bell", "coat_lies", "glass_float", "otter"]

Floats = NDArray[np.floating]

# Canvas px at the size of SIZE in `stages`: middle and px to a unit.
BELL: Final = ((236.0, 700.0), 208.0)
FLOAT: Final = ((432.0, 250.0), 118.0)
OTTER: Final = ((1052.0, 452.0), 690.0)
EYE: Final = (0.203, 0.090, 0.286)
"""The middle of the near eyeball in the otter's axes; the far one is its mirror image."""
NOSE: Final = (0.0, -0.010, 0.640)

# What is changed of the shipped otter: an old one, heavier in the pads, with lids that hang over its eyes.
CHANGES: Final[dict[str, dict[str, Any]]] = {
    "Whisker pad": {"size": (0.166, 0.112, 0.174)},
    "Lid": {"size": (0.0725, 0.066, 0.067), "blend": 0.070},
    "Lid opening": {"place": (0.231, 0.086, 0.352), "size": (0.066, 0.0385, 0.075), "turn": (28.0, 0.0, 0.0)},
    "Brow": {"size": (0.05, 0.010, 1.0)},
    "Nostril": {"size": (0.022, 0.016, 0.038)},
    "Nostril slit": {"size": (0.014, 0.007, 1.0)},
}
# The skull behind the eye and the cheek under it are fuller than the shipped ones, and the near pad runs into them.
FULLER: Final = (
    Piece("Temple", "ball", (0.285, 0.03, 0.115), (0, 0, 0), (0.07, 0.10, 0.14), blend=0.10, mirror=True),
    Piece("Cheek fill", "ball", (0.272, -0.035, 0.215), (0, 0, 0), (0.075, 0.085, 0.11), blend=0.11, mirror=True),
    Piece("Pad fill", "ball", (0.235, -0.118, 0.315), (0, 0, 0), (0.085, 0.075, 0.11), blend=0.09, mirror=True),
)
NOSE_PIECES: Final = ("Nose dome", "Nose wedge", "Nostril", "Nostril slit")


def otter(fur: int, nose: int, near: int, far: int) -> Maquette:
    """Brindle, three quarters to the left, with pieces for each of the four parts."""
    pieces: list[Piece] = []
    for one in shipped_maquette("otter").pieces:
        piece = replace(one, part=nose if one.name in NOSE_PIECES else fur, **CHANGES.get(one.name, {}))
        if one.name == "Lid":
            pieces += [replace(more, part=fur) for more in FULLER]
        if one.name == "Eyeball":
            ball = replace(piece, place=(EYE[0], EYE[1], EYE[2] - 0.002), size=(0.058,) * 3, mirror=False)
            x, y, z = ball.place
            pieces.append(replace(ball, name="Near eyeball", part=near))
            pieces.append(replace(ball, name="Far eyeball", part=far, place=(-x, y, z)))
        else:
            pieces.append(piece)
    return Maquette(tuple(pieces), *OTTER, (-27.0, -7.0, 3.0), 7.0)


def bell(part: int) -> Maquette:
    """The tide bell: beads at shoulder, waist and lip instead of the shipped bands."""
    beads = ((0.40, 0.505, 0.022), (0.33, 0.535, 0.016), (-0.56, 0.685, 0.022))
    pieces = [one for one in shipped_maquette("bell").pieces if one.name not in ("Band", "Upper band")]
    pieces += [Piece(f"Bead {i}", "ring", (0, y, 0), (0, 0, 0), (wide, thick, 1.0), blend=0.02)
               for i, (y, wide, thick) in enumerate(beads, 1)]  # fmt: skip
    return Maquette(_all(pieces, part), *BELL, (12.0, -7.0, -4.0), 9.0)


def glass_float(part: int) -> Maquette:
    """A blown net float with its seal."""
    middle, radius = FLOAT
    return Maquette(_all(shipped_maquette("glass float").pieces, part), middle, radius / 0.9, (20.0, -14.0, -8.0), 9.0)


def _all(pieces: Iterable[Piece], part: int) -> tuple[Piece, ...]:
    return tuple(replace(one, part=part) for one in pieces)


# --- how the coat lies ------------------------------------------------------------------------------------


def _rise(start: float, end: float, value: float) -> float:
    """0 at `start`, 1 at `end`, eased; `start` may be the greater."""
    t = min(max((value - start) / (end - start), 0.0), 1.0)
    return t * t * (3 - 2 * t)


def _mixed(one: Floats, other: Floats, share: float) -> Floats:
    return one * (1 - share) + other * share


def coat_lies(point: Floats, normal: Floats, name: str) -> Comb:
    """Away from the nose, back over the skull, down the cheeks, in a fan on the pads, down the neck; round the eyes."""
    x, y, z = point
    side = 1.0 if x >= 0 else -1.0
    if name.startswith("Ear"):
        return Comb(point - (0.44 * side, 0.06, -0.25), length=0.42, lift=0.25)
    way = point - (0, -0.01, 0.64)
    way = way / np.linalg.norm(way)
    way = _mixed(way, np.array((0.12 * side, -0.02, -1.0)), _rise(0.34, 0.10, z))
    cheek = _rise(0.10, 0.30, abs(x)) * _rise(0.08, -0.12, y) * _rise(0.45, 0.2, z)
    way = _mixed(way, np.array((0.35 * side, -0.75, -0.6)), 0.6 * cheek)
    pad = _rise(0.36, 0.46, z) * _rise(0.0, -0.05, y) * _rise(-0.17, -0.14, y)
    way = _mixed(way, np.array((0.75 * side, -0.45 - 1.5 * max(0.08 - abs(x), 0.0), -0.35)), 0.7 * pad)
    chin = _rise(-0.15, -0.2, y) * _rise(0.15, 0.3, z)
    way = _mixed(way, np.array((0.25 * side, -0.8, -0.5)), chin)
    neck = _rise(-0.26, -0.42, y)
    # On the chest the coat parts along the breastbone and falls outward.
    chest = _rise(-0.75, -1.1, y)
    way = _mixed(way, np.array((0.7 * x + 0.25 * side * chest, -1.0, 0.1)), neck)
    way = way / max(float(np.linalg.norm(way)), 1e-6)
    near_eye = 1.0
    for eye in (EYE, (-EYE[0], EYE[1], EYE[2])):
        off = point - np.array((eye[0], eye[1], eye[2] + 0.014))
        far = float(np.linalg.norm(off))
        near_eye = min(near_eye, 0.4 + 0.6 * _rise(0.07, 0.17, far))
        if far < 0.15:
            off = off / far
            share = _rise(0.15, 0.075, far)
            way = way - share * min(float(way @ off), 0.0) * off + 0.45 * share * off
    muzzle = _rise(0.28, 0.5, z)
    length = (0.80 - 0.42 * muzzle + 0.35 * _rise(0.15, -0.2, z) + 0.75 * neck + 0.35 * chest) * near_eye
    return Comb(way, length, 0.14 + 0.16 * neck + 0.05 * muzzle)
