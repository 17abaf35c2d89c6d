"""Lines of the light over the picture, and the look that shows where paint is too light or too dark."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QObject, QPointF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen, QTransform

from japanner.color import srgb
from japanner.color.lab import luminance_from_lightness
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.images import image_of
from japanner.errors import InputError
from japanner.painting.live.light_guide import LightGuide, difference, light_guide
from japanner.painting.picture.looks import Pixels
from japanner.raster.tiles import Raster

__all__ = ["AGAINST_LIGHT", "LightGuides"]

AGAINST_LIGHT = "against the light"
"""The look that shows where the paint is lighter and darker than the light has it."""

STYLES = {
    "values": (Qt.PenStyle.DotLine, 1.0),
    "terminator": (Qt.PenStyle.SolidLine, 1.8),
    "highlight": (Qt.PenStyle.SolidLine, 1.0),
    "cast shadow": (Qt.PenStyle.DashLine, 1.4),
}
GAIN = 1.6
"""How much a difference is drawn out in the look."""


class LightGuides(QObject):
    """Works the guide of the part worked on out when it is wanted and something that it rests on has changed."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self._key: object = None
        self._guide: LightGuide | None = None
        self.lines_shown = False

    def guide(self) -> LightGuide | None:
        """The guide as it is now; None without a form."""
        part, painting = self._session.part, self._session.painting
        if part is None:
            return None
        flats: tuple[Raster, ...] = tuple(layer.pixels for layer in part.flats)
        key = (painting.light, painting.maquette, part.uid, part.scale, flats)
        if key != self._key:
            self._key = key
            try:
                self._guide = light_guide(painting, part)
            except InputError as error:
                self._guide = None
                self._session.told.emit(str(error))
        return self._guide

    def show_lines(self, on: bool) -> None:
        """Draw the lines, or no longer."""
        self.lines_shown = on
        self._session.looking.look_changed.emit()

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        """Draw the lines in easel px."""
        guide = self.guide() if self.lines_shown else None
        if guide is None:
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for kind, lines in guide.lines.items():
            style, width = STYLES[kind]
            for line in lines:
                points = [to_view.map(QPointF(float(x), float(y))) for x, y in line]
                painter.setPen(QPen(QColor(0, 0, 0, 130), width + 1.2))
                painter.drawPolyline(points)
                painter.setPen(QPen(theme["gold"], width, style))
                painter.drawPolyline(points)

    def look(self, pixels: Pixels, scale: int) -> QImage | None:
        """The picture as differences from the light: middle grey is right, darker and lighter is by how much. pixels:
        of the whole picture at 1 / `scale`.
        """
        guide = self.guide()
        if guide is None:
            return None
        channels = np.stack([pixels >> shift & 255 for shift in (16, 8, 0)], axis=-1) / 255
        out = np.full(pixels.shape, np.nan, np.float32)
        area = guide.area
        rows = np.arange(-(-area.y0 // scale), min(area.y1 // scale, pixels.shape[0]))
        columns = np.arange(-(-area.x0 // scale), min(area.x1 // scale, pixels.shape[1]))
        if not (len(rows) and len(columns)):
            return None
        at = np.ix_(rows * scale - area.y0, columns * scale - area.x0)
        small = LightGuide({}, area, guide.value[at])
        out[np.ix_(rows, columns)] = difference(small, channels[np.ix_(rows, columns)])
        grey = srgb.encode(luminance_from_lightness(np.clip(50 + GAIN * np.nan_to_num(out), 0, 100)))
        # What has no form stays as it is, dimmed.
        shown = np.where(np.isnan(out)[..., None], channels * 0.35, grey[..., None])
        return image_of(np.rint(shown * 255).astype(np.uint8))

    def words_at(self, x: float, y: float) -> str:
        """What the paint under a canvas position lacks, in words."""
        guide = self.guide()
        colour = self._session.picture.value_at(math.floor(x), math.floor(y))
        if guide is None or colour is None:
            return ""
        row, column = math.floor(y) - guide.area.y0, math.floor(x) - guide.area.x0
        if not (0 <= row < guide.value.shape[0] and 0 <= column < guide.value.shape[1]):
            return ""
        wanted = float(guide.value[row, column])
        if math.isnan(wanted):
            return ""
        one = LightGuide({}, guide.area, guide.value[row : row + 1, column : column + 1])
        off = float(difference(one, np.array(colour)[None, None])[0, 0])
        word = "as the light has it" if abs(off) < 1.5 else f"{abs(off):.0f} L* too {'light' if off > 0 else 'dark'}"
        return f"should be L* {wanted:.0f}: {word}"
