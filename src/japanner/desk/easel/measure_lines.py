"""Lines of proportion as they are drawn over the canvas and over pinned pictures, and the grid on both."""

from __future__ import annotations

from typing import Final

import numpy as np
from PySide6.QtCore import QLineF, QPointF
from PySide6.QtGui import QColor, QPainter, QPen, QTransform

from japanner.desk.easel.task import draw_handle, draw_line, draw_word
from japanner.desk.session.measuring import Measuring
from japanner.painting.model import Measure
from japanner.review.measuring import laid_on_canvas, line_words

__all__ = ["draw_grid", "draw_measures"]

AWAY: Final = QPointF(7, -7)
TICK_PX: Final = 5.0
FAR: Final = 1e5
GRID: Final = QColor(201, 164, 83, 120)


def draw_measures(painter: QPainter, measuring: Measuring, picture: str, to_view: QTransform) -> None:
    """All lines on the canvas (""), or on a pinned picture; with ends and words while the hand measures."""
    for one in measuring.lines_on(picture):
        chosen = measuring.on and one.number == measuring.chosen
        start, end = (to_view.map(QPointF(x, y)) for x, y in one.ends)
        if one.kind in ("plumb", "level"):
            across = QPointF(0, FAR) if one.kind == "plumb" else QPointF(FAR, 0)
            middle = QPointF(one.x0, one.y0)
            draw_line(painter, [to_view.map(middle - across), to_view.map(middle + across)], thin=not chosen)
            continue
        draw_line(painter, [start, end], thin=not chosen)
        steps = _draw_steps(painter, measuring, one, to_view) if one.kind == "divider" else 0.0
        if not measuring.on:
            continue
        for at in (start, end):
            draw_handle(painter, at, hot=chosen)
        words = f"{one.number}: {steps:.2f} × line {one.by}" if one.kind == "divider" else f"{one.number}"
        if chosen and one.kind == "line":
            words = f"{one.number}: {line_words(one)}"
        draw_word(painter, (start + end) / 2 + AWAY, words)


def _draw_steps(painter: QPainter, measuring: Measuring, one: Measure, to_view: QTransform) -> float:
    """A tick across the line where each step of a divider ends; how many there are."""
    places, count = measuring.steps_of(one)
    start, end = (to_view.map(QPointF(x, y)) for x, y in one.ends)
    across = QLineF(start, end).normalVector()
    across.setLength(TICK_PX)
    off = QPointF(across.dx(), across.dy())
    for x, y in ((one.x0, one.y0), *places):
        at = to_view.map(QPointF(x, y))
        draw_line(painter, [at - off, at + off])
    return count


def draw_grid(painter: QPainter, measuring: Measuring, width: int, height: int, to_view: QTransform,
              picture: str = "") -> None:  # fmt: skip
    """The canvas's grid of squares, from its upper left corner; on the picture that is measured against, where it is
    laid.
    """
    fit = measuring.laying() if picture else None
    if not measuring.cells or (picture and (fit is None or picture != measuring.against)):
        return
    side = max(width, height) / measuring.cells
    painter.setPen(QPen(GRID, 1))
    lines = [(x, 0.0, x, float(height)) for x in np.arange(0, width + side / 2, side).tolist()]
    lines += [(0.0, y, float(width), y) for y in np.arange(0, height + side / 2, side).tolist()]
    for ends in lines:
        line = Measure("line", 1, *ends)
        if fit is not None:
            line = laid_on_canvas(line, fit, back=True)
        painter.drawLine(*(to_view.map(QPointF(x, y)) for x, y in line.ends))
