"""The picture as the easel shows it: at the right level, through the look, squinted, or as a trial has it."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QRect, QRectF, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QWidget

from japanner.desk.easel.light_guides import AGAINST_LIGHT, LightGuides
from japanner.desk.easel.view_transform import ViewTransform
from japanner.desk.screen import screens
from japanner.desk.session.session import Session
from japanner.desk.widgets.images import image_of, pixels_in, shared_image
from japanner.painting.form.coverages import mask_sheet
from japanner.painting.model import Mask
from japanner.painting.picture.looks import EDGES_REACH_PX, LOOKS, Pixels, look, squinted, through_table
from japanner.raster.geometry import Rect

__all__ = ["ShownPicture", "level_at"]

# From this zoom on, pixels are shown as squares: who looks that closely wants to see them.
PIXELS_FROM = 3.0
# Px of a level that a squint's deviation goes over at least.
SQUINT_PX = 3.0
SCREEN_FORMAT = QImage.Format.Format_RGB32


def level_at(zoom: float, levels: int) -> int:
    """The coarsest of so many levels that still has a px for every px on screen."""
    return min(max(math.floor(-math.log2(zoom) + 0.02), 0), levels - 1)


class ShownPicture:
    """Draws what is to be seen of the session's picture."""

    def __init__(self, session: Session, light_guides: LightGuides, widget: QWidget) -> None:
        self._widget = widget
        self._session, self._light_guides = session, light_guides
        self._against: tuple[int, QImage | None] | None = None
        for signal in (session.shown, session.looking.look_changed, session.work.active_changed, session.changed):
            signal.connect(self._forget)
        self._images: list[QImage] = []
        self._mask_image: tuple[Mask, QImage] | None = None

    def _forget(self, *_: object) -> None:
        self._against = None

    def renew(self) -> None:
        """There is another picture."""
        self._forget()
        self._images = [shared_image(level) for level in self._session.picture.levels]

    def draw(
        self, painter: QPainter, view: ViewTransform, exposed: QRectF, *, squinting: bool, ratio: float = 1.0
    ) -> None:  # fmt: skip
        """Draw what an `exposed` rectangle of the easel shows of the canvas; the painter maps from canvas px.

        ratio: pixels of the screen for one of the easel, where the desktop is scaled.
        """
        if squinting:
            self._draw_squinted(painter, view, exposed)
            return
        pixels, image, scale = self._level(view.zoom * ratio)
        mask = self._mask_alone()
        if mask is not None:
            image, scale = mask, 1
        elif self._session.looking.look == AGAINST_LIGHT and self._session.trials.trial is None:
            image = self._against_light(pixels, scale) or image
        reach = scale * (EDGES_REACH_PX if self._session.looking.look == "edges" else 2)
        visible = view.to_canvas().mapRect(exposed).adjusted(-reach, -reach, reach, reach)
        self._settle(scale.bit_length() - 1, visible)
        source = QRectF(visible.x() / scale, visible.y() / scale, visible.width() / scale, visible.height() / scale)
        part = source.toAlignedRect().intersected(image.rect())
        if part.isEmpty():
            return
        # Who looks closely at the canvas sees its pixels; those of a coarse trial are nothing to be seen.
        smooth = view.zoom * ratio * scale < PIXELS_FROM or self._session.trials.trial is not None
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, smooth)
        canvas = QRectF(0, 0, self._session.painting.width, self._session.painting.height)
        painter.setClipRect(canvas, Qt.ClipOperation.IntersectClip)
        target = QRectF(part.x() * scale, part.y() * scale, part.width() * scale, part.height() * scale)
        if self._session.looking.look in ("colour", AGAINST_LIGHT) or mask is not None:
            self._draw_part(painter, target, image, part)
        else:
            painter.drawImage(target, image_of(self._through(self._looked_at(pixels, part))))

    def _draw_part(self, painter: QPainter, target: QRectF, image: QImage, part: QRect) -> None:
        if self._session.looking.proof is None and not screens.has_profile(self._widget):
            painter.drawImage(target, image, QRectF(part))
            return
        whole = image if image.format() == QImage.Format.Format_RGB32 else image.convertToFormat(SCREEN_FORMAT)
        painter.drawImage(target, image_of(self._through(np.ascontiguousarray(pixels_in(whole, part)))))

    def _through(self, pixels: Pixels) -> Pixels:
        """As the print has it, if that is wanted, and as the screen needs it."""
        table = self._session.looking.proof_table
        return screens.through(pixels if table is None else through_table(pixels, table), self._widget)

    def _settle(self, level: int, visible: QRectF) -> None:
        """Have all of what is seen of the picture at a level."""
        seen = visible.toAlignedRect()
        within = Rect(seen.left(), seen.top(), seen.right() + 1, seen.bottom() + 1)
        self._session.picture.settle(level, within)

    def _level(self, zoom: float) -> tuple[Pixels, QImage, int]:
        """The smallest picture that still has a pixel for every pixel on screen, and how much smaller it is."""
        trial = self._session.trials.trial
        step = 1 if trial is None else trial.step
        levels = self._session.picture.levels if trial is None else trial.picture.levels
        level = level_at(zoom * step, len(levels))
        if trial is None:  # who looks closer in the middle of a stroke sees it coarsely, but sees it
            level = max(level, self._session.picture.ahead)
        image = self._images[level] if trial is None else shared_image(levels[level])
        return levels[level], image, step << level

    def _draw_squinted(self, painter: QPainter, view: ViewTransform, exposed: QRectF) -> None:
        """What is seen through half-closed eyes: the blur counts on the screen, so it is the same at every zoom."""
        sigma = self._session.looking.squint / 100 * max(view.size.width(), view.size.height())
        levels = self._session.picture.levels
        # A level whose pixels are so small that the blur still goes over some of them.
        level = min(max(math.floor(math.log2(max(sigma / (view.zoom * SQUINT_PX), 1))), 0), len(levels) - 1)
        scale, reach = 1 << level, 3 * sigma / view.zoom
        visible = view.to_canvas().mapRect(exposed).adjusted(-reach, -reach, reach, reach)
        self._settle(level, visible)
        source = QRectF(visible.x() / scale, visible.y() / scale, visible.width() / scale, visible.height() / scale)
        height, width = levels[level].shape
        part = source.toAlignedRect().intersected(QRect(0, 0, width, height))
        if part.isEmpty():
            return
        crop = levels[level][part.y() : part.y() + part.height(), part.x() : part.x() + part.width()]
        seen = squinted(crop, min(sigma / (view.zoom * scale) / max(crop.shape), 0.2))
        name = self._session.looking.look
        if name in LOOKS:
            seen = look(name, seen, self._session.looking.look_scale)
        canvas = QRectF(0, 0, self._session.painting.width, self._session.painting.height)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setClipRect(canvas, Qt.ClipOperation.IntersectClip)
        target = QRectF(part.x() * scale, part.y() * scale, part.width() * scale, part.height() * scale)
        painter.drawImage(target, image_of(self._through(seen)))

    def _against_light(self, pixels: Pixels, scale: int) -> QImage | None:
        """Where the paint is lighter and darker than the light has it."""
        if self._against is None or self._against[0] != scale:
            self._against = (scale, self._light_guides.look(pixels, scale))
        return self._against[1]

    def _mask_alone(self) -> QImage | None:
        """The mask of the layer worked on as a picture, if that is what the painter wants to see."""
        layer = self._session.layer
        if self._session.looking.look != "mask" or layer is None or layer.mask is None:
            return None
        if self._mask_image is None or self._mask_image[0] is not layer.mask:
            grey = (mask_sheet(self._session.painting, layer).read(self._session.painting.rect)[0] >> 8).astype(
                np.uint8
            )
            self._mask_image = (layer.mask, image_of(grey))
        return self._mask_image[1]

    def _looked_at(self, pixels: Pixels, part: QRect) -> Pixels:
        crop = pixels[part.y() : part.y() + part.height(), part.x() : part.x() + part.width()]
        name = self._session.looking.look if self._session.looking.look in LOOKS else "colour"
        return look(name, crop, self._session.looking.look_scale)
