"""Edge lines on the easel: of the frisket, of silhouettes."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np
from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPixmap, QPolygonF, QTransform

from japanner.desk.theme import theme
from japanner.raster.tiles import Sheet

__all__ = ["EdgeLine", "edge_path"]


def edge_path(sheet: Sheet, step: int) -> QPainterPath:
    """The line at half coverage in canvas positions, found at every `step`-th pixel."""
    area = sheet.bounds()
    # One bare pixel around it, so that the line also runs along the border of the canvas.
    inside = np.pad((sheet.read(area)[0, ::step, ::step] >> 15).astype(np.uint8), 1)
    outlines, _ = cv2.findContours(inside, cv2.RETR_LIST, cv2.CHAIN_APPROX_SIMPLE)
    path = QPainterPath()
    for outline in outlines:
        if len(outline) > 2:
            points = cv2.approxPolyDP(outline, 0.5, True)[:, 0, :]
            places = ((points - 1) * float(step) + (area.x0 + 0.5, area.y0 + 0.5)).tolist()
            path.addPolygon(QPolygonF([QPointF(x, y) for x, y in places]))
            path.closeSubpath()
    return path


class EdgeLine:
    """Draws the edges of sheets once per view, and copies them from then on: painting goes on at full speed."""

    def __init__(self, *, dashed: bool = True) -> None:
        self._dashed = dashed
        self._sheets: list[Sheet] = []
        self._path, self._step = QPainterPath(), 0
        self._made_for: tuple[object, ...] = ()
        self._pixmap = QPixmap()

    def draw(
        self, painter: QPainter, sheets: Sequence[Sheet], to_view: QTransform, size: QSize, exposed: QRect
    ) -> None:
        """Draw the edges into the `exposed` part of an easel of `size`."""
        zoom = float(np.hypot(to_view.m11(), to_view.m12()))
        step = max(int(0.5 / zoom), 1)
        same = len(sheets) == len(self._sheets) and all(a is b for a, b in zip(sheets, self._sheets, strict=True))
        if not same or step != self._step:
            self._sheets, self._step, self._path = list(sheets), step, QPainterPath()
            for sheet in sheets:
                self._path.addPath(edge_path(sheet, step))
            self._made_for = ()
        made_for = (to_view, size)
        if made_for != self._made_for:
            self._made_for = made_for
            self._render(to_view, size)
        painter.drawPixmap(QRectF(exposed), self._pixmap, QRectF(exposed))

    def _render(self, to_view: QTransform, size: QSize) -> None:
        self._pixmap = QPixmap(size)
        self._pixmap.fill(Qt.GlobalColor.transparent)
        with QPainter(self._pixmap) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            path = to_view.map(self._path)
            for colour, width, over in ((QColor(0, 0, 0, 170), 2.4, False), (theme["gold"], 1.1, True)):
                pen = QPen(colour, width)
                if over and self._dashed:
                    pen.setDashPattern([7.0, 4.0])
                painter.strokePath(path, pen)
