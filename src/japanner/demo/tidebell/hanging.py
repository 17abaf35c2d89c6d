"""What hangs: the brass bell on its rope, the glass float in its net."""

from __future__ import annotations

from typing import Any, Final

import numpy as np

from japanner.demo.tidebell.brushwork import Lch, Painter, tapered
from japanner.demo.tidebell.sitter import BELL, FLOAT
from japanner.painting.operations import Make, SetLayer, SetPart
from japanner.scripting import shipped_brush

__all__ = ["bell_metal", "bell_values", "cords", "float_glass", "float_values", "net"]

HEMP: Final[Lch] = (42.0, 15.0, 76.0)
# What the bell mirrors, from below to above, as (height in %, L*): wet mud, the channel, the shore, glow, dusk.
AROUND: Final = ((0, 6), (16, 16), (27, 34), (34, 16), (42, 34), (48, 66), (52, 30), (55, 8), (60, 40), (67, 84),
                 (73, 58), (84, 24), (100, 12))  # fmt: skip


def float_glass(painter: Painter, part: int) -> None:
    """Thin glass with a window in it, and the ground behind."""
    painter.script.do(Make(part, "glass", {"kind": "hollow", "colour": 46.0, "rim": 40.0, "window": "window",
                                           "around": "window", "caustic": 0.0}, seed=2))  # fmt: skip
    for one in painter.script.painting.part(part).layers:
        if one.name == "Inner glow":  # as bright as the maker makes it, the float looks half full
            painter.script.do(SetLayer(one.uid, {"strength": 0.36}))


def bell_metal(painter: Painter, part: int) -> None:
    """Brass that mirrors the flats, with what the weather has left on it."""
    painter.script.do(SetPart(part, {"scale": [4.0, 16.0, 40.0, 66.0, 96.0]}))
    painter.script.do(Make(part, "metal", {"metal": "brass", "polish": 96.0, "strip": AROUND, "dents": 16.0,
                                           "patina": 15.0, "wear": 6.0}, seed=6))  # fmt: skip


def _cord(painter: Painter, layer: int, points: Any, size: float, colour: Lch, count: int = 24) -> None:
    """A laid cord through points."""
    through = np.array(points, float)
    share, fine = np.linspace(0, 1, len(through)), np.linspace(0, 1, count)
    cord = shipped_brush("Laid cord").with_changes(size_px=max(size, 3.0))
    painter.stroke(layer, cord, colour, [
        (float(np.interp(at, share, through[:, 0])), float(np.interp(at, share, through[:, 1])), 1.0) for at in fine
    ])  # fmt: skip


def cords(painter: Painter, bell: int, glass: int) -> None:
    """Both hang from the yard above the picture; the bell's rope goes through its loop."""
    (bx, by), unit = BELL
    rope = painter.script.layer(bell, "strands", place="behind", name="Rope")
    _cord(painter, rope, [(bx + 20, -90), (bx + 10, by - 0.62 * unit)], 27, HEMP, 40)
    knot = shipped_brush("Bun").with_changes(size_px=14.0, hair_wide=1.0)
    painter.stroke(rope, knot, (40.0, 15.0, 74.0), [(bx + 2, by - 1.24 * unit, 1.0), (bx + 28, by - 1.12 * unit, 1.0)])
    (x, y), radius = FLOAT
    line = painter.script.layer(glass, "strands", place="over", name="Cord")
    _cord(painter, line, [(x + 2, -90), (x + 15, y - radius + 24)], 13, HEMP, 30)


def net(painter: Painter, part: int) -> None:
    """Two meridians and a belt of thinner cord about the float, with what they darken of it."""
    (x, y), radius = FLOAT
    script = painter.script
    shadow = script.layer(part, "shadow", place="over", name="Net shadow", mode="Multiply", strength=0.7, neutral=True)
    layer = script.layer(part, "strands", place="over", name="Net")
    for tilt, squash, start, end, colour in ((82.0, 0.30, 4, 176, HEMP), (97.0, -0.44, 4, 176, HEMP),
                                             (-7.0, 0.34, 5, 175, (37.0, 15.0, 74.0))):  # fmt: skip
        turn, angle = np.radians(tilt), np.radians(np.linspace(start, end, 30))
        u, v = radius * np.cos(angle), radius * squash * np.sin(angle)
        places = np.stack((x + np.cos(turn) * u - np.sin(turn) * v, y + np.sin(turn) * u + np.cos(turn) * v), axis=1)
        _cord(painter, layer, places, 8.5, colour, 40)
        soft = tapered("Soft round", 11.0, 0.35, edge=0.8)
        painter.line(shadow, soft, (22.0, 10.0, 160.0), [(px + 5, py + 5) for px, py in places[2:-2]], (0.6, 1.0, 0.6))


def float_values(painter: Painter, part: int) -> None:
    """The ground is seen through it, upside down: dark above, the pale shore low; thick glass is darker at its rim."""
    (x, y), radius = FLOAT
    script, rng = painter.script, painter.rng
    deep = script.layer(part, "shadow", name="Depth", mode="Multiply", strength=0.85, neutral=True)
    for angle in np.linspace(0, 2 * np.pi, 26):
        rim = (x + 0.9 * radius * np.cos(angle), y + 0.9 * radius * np.sin(angle))
        painter.veil(deep, (34.0, 16.0, 165.0), rim, rim, 0.3 * radius, 0.22 + 0.10 * float(np.cos(angle - 0.7)))
    glow = script.layer(part, "bounce", name="Light through", mode="Screen", strength=0.6)
    for _ in range(16):
        # The light that comes in above on the left is gathered below on the right.
        angle, share = float(rng.normal(0.85, 0.35)), float(rng.uniform(0.45, 0.8))
        at = np.array((x + share * radius * np.cos(angle), y + share * radius * np.sin(angle)))
        along = np.array((-np.sin(angle), np.cos(angle))) * 0.25 * radius
        brush = tapered("Soft round", 0.22 * radius, 0.12, edge=0.9)
        painter.line(glow, brush, (62.0, 26.0, 155.0), [at - along, at, at + along], (0.4, 1.0, 0.4))
    bubbles = script.layer(part, "detail", name="Seeds", mode="Screen", strength=0.5)
    for _ in range(26):
        angle, share = float(rng.uniform(0, 2 * np.pi)), float(rng.random()) ** 0.5 * 0.82
        bx, by = x + share * radius * np.cos(angle), y + share * radius * np.sin(angle)
        size = float(rng.uniform(1.4, 3.4))
        dot = shipped_brush("Round").with_changes(size_px=size, strength=0.5, edge=0.5)
        painter.stroke(
            bubbles, dot, (float(rng.uniform(50, 80)), 14.0, 160.0), [(bx, by, 1.0), (bx + 0.5, by + size, 0.6)]
        )
    glint = script.layer(part, "highlight", place="over", name="Rim glint", mode="Screen", strength=0.8)
    for start, end, size, strength, value in (
        (195, 262, 4.5, 0.5, 70),
        (205, 240, 2.0, 0.9, 92),
        (20, 62, 3.0, 0.4, 62),
    ):
        angles = np.radians(np.linspace(start, end, 12))
        rows = [(x + 0.965 * radius * np.cos(a), y + 0.965 * radius * np.sin(a)) for a in angles]
        painter.line(
            glint, tapered("Soft round", size, strength, edge=0.6), (float(value), 12.0, 150.0), rows, (0.3, 1.0, 0.3)
        )


def _on_bell(across: float, down: float) -> tuple[float, float]:
    """A place of the bell as seen: across -1 to 1, down from its shoulder 0 to its lip 1."""
    (x, y), unit = BELL
    wide = 0.50 + 0.20 * down + 0.28 * max(down - 0.8, 0.0)
    return (x + 4 - 14 * down + across * wide * unit,
            y + (-0.30 + 1.06 * down) * unit + 0.05 * unit * float(np.sqrt(max(1 - across * across, 0.0))))  # fmt: skip


def bell_values(painter: Painter, part: int) -> None:
    """What brass does: a hard dark band at the turn, hot spots with hard edges, a cool light from the far side."""
    script, rng = painter.script, painter.rng
    dark = script.layer(part, "shadow", name="Bands", mode="Multiply", strength=0.85, neutral=True)
    for across, wide, strength, colour in (
        (-0.94, 26, 0.65, (20.0, 18.0, 70.0)), (-0.40, 30, 0.30, (38.0, 34.0, 70.0)),
        (0.30, 70, 0.22, (46.0, 36.0, 70.0)),
        (0.60, 66, 0.48, (26.0, 26.0, 66.0)), (0.93, 34, 0.75, (12.0, 14.0, 60.0)),
    ):  # fmt: skip
        sway = float(rng.normal(0, 0.02))
        places = [_on_bell(across + sway * np.sin(3 * v), v) for v in np.linspace(0.02, 0.99, 12)]
        painter.line(
            dark,
            tapered("Soft round", wide, strength, edge=0.8, taper_in=8.0, taper_out=8.0),
            colour,
            places,
            (0.8, 1.0, 0.9),
        )
    for down, strength in ((0.0, 0.5), (0.94, 0.5)):
        places = [_on_bell(across, down) for across in np.linspace(-0.96, 0.96, 14)]
        painter.line(
            dark,
            tapered("Soft round", 9.0, strength, edge=0.6, taper_in=6.0, taper_out=6.0),
            (18.0, 16.0, 62.0),
            places,
        )
    hot = script.layer(part, "highlight", name="Hot spots", mode="Screen", strength=0.85)
    for across, wide, strength, colour, start, end in (
        (-0.68, 30, 0.30, (72.0, 40.0, 82.0), 0.03, 0.92), (-0.70, 15, 0.42, (86.0, 34.0, 86.0), 0.08, 0.78),
        (-0.71, 6, 0.85, (98.0, 10.0, 92.0), 0.10, 0.60), (-0.14, 60, 0.22, (58.0, 48.0, 78.0), 0.06, 0.86),
        (0.84, 10, 0.30, (46.0, 10.0, 220.0), 0.20, 0.86),
    ):  # fmt: skip
        places = [_on_bell(across, v) for v in np.linspace(start, end, 14)]
        painter.line(hot, tapered("Soft round", wide, strength, edge=0.85), colour, places, (0.5, 1.0, 0.3), 0.6)
    (x, y), unit = BELL
    for dx, dy, size, value in ((-0.29, -0.475, 5.0, 96), (-0.12, -1.22, 4.0, 95)):
        glint = tapered("Soft round", size, 0.9, edge=0.7, taper_in=40.0, taper_out=40.0)
        at = np.array((x + dx * unit, y + dy * unit))
        painter.line(
            hot,
            glint,
            (float(value), 10.0, 90.0),
            [at - np.array((12, 1)), at, at + np.array((12, 0.5))],
            (0.3, 1.0, 0.3),
        )
