"""Small pictures of layers and silhouettes, framed by their part, made once per version of their pixels."""

from __future__ import annotations

from weakref import WeakKeyDictionary

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter

from japanner.desk.theme import surround_colour
from japanner.desk.widgets.images import image_of
from japanner.painting.model import Part
from japanner.raster.geometry import Rect, union
from japanner.raster.thumbnail import thumbnail
from japanner.raster.tiles import Raster

__all__ = ["draw_layer", "draw_part", "frame_of"]

SIDE = 128
_images: WeakKeyDictionary[Raster, tuple[Rect, QImage]] = WeakKeyDictionary()
_bounds: WeakKeyDictionary[Raster, Rect] = WeakKeyDictionary()


def frame_of(part: Part) -> Rect:
    """The piece of canvas that shows the part: around its silhouette, else around its paint, else all of it."""
    rasters = [layer.pixels for layer in part.flats] or [layer.pixels for layer in part.layers]
    around = union(_bounds_of(raster) for raster in rasters)
    if around.empty:
        return rasters[0].rect if rasters else around
    return around.grown(max(around.width, around.height) // 16 + 1).intersected(rasters[0].rect)


def draw_layer(painter: QPainter, rect: QRectF, raster: Raster, frame: Rect, ground: float | None = 50) -> None:
    """The layer's paint within `frame` on a grey of L* `ground`, or on what is there."""
    if ground is not None:
        painter.fillRect(rect, surround_colour(ground))
    _draw(painter, rect, raster, frame)


def draw_part(painter: QPainter, rect: QRectF, part: Part) -> None:
    """The part's flats, or its first layer, unblended: enough to know it by."""
    painter.fillRect(rect, surround_colour(50))
    for layer in part.flats or part.layers[:1]:
        _draw(painter, rect, layer.pixels, frame_of(part))


def _bounds_of(raster: Raster) -> Rect:
    if raster not in _bounds:
        _bounds[raster] = raster.bounds()
    return _bounds[raster]


def _image(raster: Raster, frame: Rect) -> QImage:
    made = _images.get(raster)
    if made is None or made[0] != frame:
        image = image_of(thumbnail(raster, SIDE, frame), premultiplied=True)
        made = _images[raster] = (frame, image)
    return made[1]


def _draw(painter: QPainter, rect: QRectF, raster: Raster, frame: Rect) -> None:
    image = _image(raster, frame)
    size = image.size().scaled(rect.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
    target = QRectF(0, 0, size.width(), size.height())
    target.moveCenter(rect.center())
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(target, image)
