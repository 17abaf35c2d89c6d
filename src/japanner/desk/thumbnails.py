"""Small pictures of layers and silhouettes, made once per version of their pixels."""

from __future__ import annotations

from weakref import WeakKeyDictionary

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter

from japanner.desk.theme import surround_colour
from japanner.painting.model import Part
from japanner.raster.thumbnail import thumbnail
from japanner.raster.tiles import Raster

__all__ = ["draw_layer", "draw_part"]

SIDE = 128
_images: WeakKeyDictionary[Raster, QImage] = WeakKeyDictionary()


def _image(raster: Raster) -> QImage:
    image = _images.get(raster)
    if image is None:
        codes = thumbnail(raster, SIDE)
        height, width, _ = codes.shape
        image = QImage(codes.data, width, height, width * 4, QImage.Format.Format_RGBA8888_Premultiplied).copy()
        _images[raster] = image
    return image


def draw_layer(painter: QPainter, rect: QRectF, raster: Raster) -> None:
    """The layer's paint, whole canvas, on a middle grey."""
    painter.fillRect(rect, surround_colour(50))
    _draw(painter, rect, _image(raster))


def draw_part(painter: QPainter, rect: QRectF, part: Part) -> None:
    """All shown body layers of a part, unblended: enough to know it by."""
    painter.fillRect(rect, surround_colour(50))
    for layer in part.flats or part.layers[:1]:
        _draw(painter, rect, _image(layer.pixels))


def _draw(painter: QPainter, rect: QRectF, image: QImage) -> None:
    size = image.size().scaled(rect.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
    target = QRectF(0, 0, size.width(), size.height())
    target.moveCenter(rect.center())
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(target, image)
