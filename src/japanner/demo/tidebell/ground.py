"""The flats of Hallow Sound at dusk: air, far shore, the channel that fills, wet mud, and the posts along it."""

from __future__ import annotations

from typing import Final

import numpy as np

from japanner.demo.tidebell.brushwork import Lch, Painter, tapered
from japanner.scripting import shipped_brush

__all__ = ["HORIZON", "air", "calmed", "mud", "posts", "shore", "water"]

HORIZON: Final = 812.0
# Canvas px at the size of SIZE in `stages`.
WIDE, HIGH = 1600, 1200
# Middle of the channel and half its width, from the horizon down: it comes towards us and goes out to the left.
CHANNEL: Final = ((812, 610, 96), (828, 560, 120), (856, 640, 130), (900, 470, 210), (960, 560, 170), (1040, 250, 330),
                  (1120, 330, 260), (1200, 60, 420))  # fmt: skip
POSTS: Final = ((872, 838, 54, 5.0), (812, 834, 38, 4.0), (770, 830, 30, 3.2), (735, 826, 23, 2.6), (708, 822, 18, 2.2),
                (688, 819, 14, 1.8), (672, 817, 11, 1.5))  # fmt: skip


def air(painter: Painter, layer: int) -> None:
    """The sky in three sizes of stroke: dull olive above, a pale band where the sun went down behind the shore."""
    rng = painter.rng
    for size, count, spread, strength in ((300, 60, 1.2, 0.9), (190, 120, 1.9, 0.5), (110, 150, 2.2, 0.36)):
        brush = shipped_brush("Skin lay-in").with_changes(
            size_px=float(size), strength=strength, jitter_value=0.03, bristles=60, stiffness=0.7
        )
        for _ in range(count):
            x, y = float(rng.uniform(-60, WIDE + 60)), float(rng.uniform(-60, HORIZON + 10))
            value, chroma, hue = _sky(x, y)
            level = np.exp(-(((y - HORIZON) / 170) ** 2))
            way = float(rng.normal(0.55 * (1 - level), 0.12 + 0.5 * (1 - level)))
            reach = size * float(rng.uniform(0.5, 1.1))
            dx, dy = reach * np.cos(way), reach * np.sin(way)
            colour = (max(value + float(rng.normal(0, spread)), 4.0), chroma, hue + float(rng.normal(0, 6)))
            painter.stroke(layer, brush, colour, [(x - dx, y - dy, 0.7), (x, y, 1.0), (x + dx, y + dy, 0.6)])


def _sky(x: float, y: float) -> Lch:
    """Colour of the air: darkest where the lit side of the head comes against it, lighter behind the dark side."""
    value = 19.0
    value += 8 * np.exp(-(((x - 1440) / 260) ** 2) - ((y - 470) / 420) ** 2)
    value -= 6 * np.exp(-(((x - 700) / 260) ** 2) - ((y - 330) / 300) ** 2)
    value -= 4 * np.exp(-((y / 220) ** 2))
    glow = np.exp(-(((y - HORIZON) / 105) ** 2)) * (0.25 + 0.75 * np.exp(-(((x - 560) / 330) ** 2)))
    return float(value + 25 * glow), 6.0 + 9 * float(glow), float(112 - 46 * glow)


def shore(painter: Painter, layer: int) -> None:
    """Two headlands, one behind the other, dry and broken along the top; the farther one paler."""
    rng = painter.rng
    for base, height, value, start, end in ((HORIZON + 2, 20, 24.0, -40, 560), (HORIZON + 3, 13, 27.5, 380, 900)):
        for x in np.arange(start, end, 13.0):
            share = (x - start) / (end - start)
            top = height * np.sin(np.pi * share) ** 0.7 * (0.7 + 0.3 * np.sin(x / 47)) + rng.normal(0, 1.2)
            brush = tapered("Soft round", float(rng.uniform(8, 16)), 0.7, edge=0.5, taper_in=10.0, taper_out=20.0)
            colour = (value + float(rng.normal(0, 1)), 6.0, 105.0)
            y = base - max(top - 4, 1)
            painter.stroke(layer, brush, colour, [(x - 14, y + rng.normal(0, 1), 0.8), (x + 16, y, 0.8)])
            painter.stroke(layer, brush, colour, [(x - 20, base - 3, 1.0), (x + 20, base - 3, 1.0)])


def mud(painter: Painter, layer: int) -> None:
    """Level strokes, larger towards us: banks of mud, warmer and darker near, cool where it holds water."""
    rng = painter.rng
    for size, count, strength in ((120, 90, 0.9), (60, 230, 0.6), (26, 360, 0.5)):
        for _ in range(count):
            near = float(rng.random()) ** 0.8
            y = HORIZON + 4 + (HIGH + 30 - HORIZON) * near
            x = float(rng.uniform(-80, WIDE + 80))
            ripple = 3.0 * np.sin(x / 90 + y / 14) + 2.2 * np.sin(x / 37 - y / 9)
            value = 21.0 - 11 * near + ripple + 4 * np.exp(-(((x - 420) / 420) ** 2)) * (1 - near)
            scale = 0.25 + 0.75 * near
            brush = tapered("Soft round", size * scale * float(rng.uniform(0.6, 1.1)), strength, edge=0.7)
            reach = size * scale * float(rng.uniform(1.4, 3.2))
            colour = (max(float(value + rng.normal(0, 1.3)), 3.0), 5.5, float(88 + 16 * np.sin(x / 170)))
            bend = float(rng.normal(0, 2 + 4 * near))
            painter.stroke(layer, brush, colour, [(x - reach, y + bend, 0.5), (x, y, 1.0), (x + reach, y - bend, 0.4)])


def water(painter: Painter, layer: int) -> None:
    """The channel: long level strokes of the sky's light, pale in the distance and broken by the mud near us."""
    rng = painter.rng
    rows, middles, halves = (np.array(column, float) for column in zip(*CHANNEL, strict=True))
    for _ in range(430):
        near = float(rng.random()) ** 1.5
        y = HORIZON + 3 + (HIGH - HORIZON) * near
        middle, half = np.interp(y, rows, middles), np.interp(y, rows, halves)
        off = float(rng.normal(0, 0.55))
        x = middle + off * half
        glow = np.exp(-(((x - 560) / 300) ** 2))
        value = 24 + 24 * (1 - near) ** 1.6 * glow - 5 * near - 6 * off**2
        if value < 15 or abs(off) > 1.3:
            continue
        scale = 0.18 + 0.82 * near
        reach = scale * half * float(rng.uniform(0.15, 0.55))
        brush = tapered("Soft round", max(float(rng.uniform(3, 17)) * scale * 1.5, 1.6), 0.5, edge=0.6)
        colour = (float(value + rng.normal(0, 2.5)), 5.0 + 4 * (1 - near), float(100 - 25 * (1 - near) * glow))
        painter.stroke(layer, brush, colour, [(x - reach, y, 0.3), (x, y + 0.6, 0.9), (x + reach, y, 0.3)])
    # Small bright ripples where the tide has just turned.
    for _ in range(90):
        near = float(rng.random()) ** 1.2
        y = HORIZON + 6 + 0.9 * (HIGH - HORIZON) * near
        x = np.interp(y, rows, middles) + float(rng.normal(0, 0.4)) * np.interp(y, rows, halves)
        reach = 4 + 26 * near * float(rng.uniform(0.4, 1.2))
        brush = tapered("Soft round", 1.4 + 3.2 * near, 0.55, edge=0.5)
        painter.stroke(layer, brush, (float(rng.uniform(38, 56)) - 16 * near, 7.0, 88.0),
                       [(x - reach, y, 0.2), (x, y, 1.0), (x + reach, y + 0.5, 0.2)])  # fmt: skip


def posts(painter: Painter, layer: int) -> None:
    """Mooring posts go out along the channel, each with its broken reflection, a rope slung from the first to the
    second.
    """
    rng = painter.rng
    for x, y, high, wide in POSTS:
        lean = float(rng.normal(0, 0.06)) * high
        value = 9.0 + 14 * (1 - high / 54)
        brush = tapered("Soft round", wide * 1.5, 0.95, edge=0.35, taper_in=0.0, taper_out=0.0, drives=())
        painter.stroke(layer, brush, (value, 5.0, 80.0), [(x + lean, y - high, 0.8), (x + lean / 2, y - high / 2, 1.0),
                                                           (x, y, 1.0)])  # fmt: skip
        lit = tapered("Soft round", max(wide * 0.35, 1.0), 0.5, edge=0.4)
        painter.stroke(layer, lit, (value + 22, 8.0, 75.0), [(x + lean - wide * 0.4, y - high + 2, 0.8),
                                                              (x - wide * 0.4, y - 4, 0.4)])  # fmt: skip
        for k in range(5):
            at = y + 2 + high * 0.8 * (k + float(rng.uniform(0, 0.6))) / 5
            reach = wide * float(rng.uniform(0.6, 1.3))
            glint = tapered("Soft round", max(wide * 0.7, 1.4), 0.55 - 0.08 * k, edge=0.6)
            painter.stroke(layer, glint, (value, 5.0, 85.0), [(x - reach, at, 0.5), (x + reach, at, 0.5)])
    (x0, y0, h0, _), (x1, y1, h1, _) = POSTS[:2]
    sag = [((1 - t) * x0 + t * x1, (1 - t) * (y0 - h0 * 0.8) + t * (y1 - h1 * 0.8) + 16 * np.sin(np.pi * t))
           for t in np.linspace(0, 1, 9)]  # fmt: skip
    painter.line(layer, tapered("Soft round", 2.2, 0.8, edge=0.3), (11.0, 5.0, 75.0), sag, (0.8, 0.6))


def calmed(painter: Painter, layer: int) -> None:
    """Strokes of the air drawn into each other, grain kept."""
    rng = painter.rng
    feather = shipped_brush("Grain feather").with_changes(size_px=150.0, keep_grain_px=6.0)
    for _ in range(36):
        x, y = float(rng.uniform(0, WIDE)), float(rng.uniform(0, HORIZON - 40))
        painter.stroke(
            layer, feather, (0.0, 0.0, 0.0), [(x - 130, y, 0.7), (x + 130, y + float(rng.normal(0, 40)), 0.7)]
        )
