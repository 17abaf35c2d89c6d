"""Pictures in and out by the clipboard, by dropping them, and from files."""

from __future__ import annotations

import struct
from pathlib import Path
from typing import Final

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QMimeData, QObject, Signal
from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtWidgets import QWidget

from japanner.desk.session.session import Session
from japanner.desk.widgets.questions import ask_where_from
from japanner.desk.widgets.working import working
from japanner.errors import FileFormatError, InputError
from japanner.files import png
from japanner.files.pictures import PICTURE_NAMES, read_picture
from japanner.files.png import Picture
from japanner.files.shelf.references import pin_of
from japanner.painting.operations import AddPart, AddPicture, ClearPaint, Target
from japanner.painting.picture.compositor import flattened
from japanner.raster.codec import LARGEST_PICTURE_PX, to_text
from japanner.raster.limit import lifted
from japanner.raster.tiles import Raster, Sheet, premultiplied, straight
from japanner.stroke.brush import Brush
from japanner.stroke.brush.image_tip import LARGEST_TIP_PX, tip_from_pixels

__all__ = ["Clipboard"]

PNG: Final = "image/png"
PLACE: Final = "application/x-japanner-place"


class Clipboard(QObject):
    """Copy, cut, paste, clear; what comes in becomes a layer."""

    to_place = Signal()  # a texture has come in that wants its place

    def __init__(self, session: Session, window: QWidget) -> None:
        super().__init__(window)
        self._session, self._window = session, window

    def copy(self) -> bool:
        """What the frisket lets through of the layer worked on, or all of it."""
        session = self._session
        if session.layer is None:
            session.told.emit("There is no layer to copy from.")
            return False
        target = Target.of(session.painting, session.layer.uid, session.work.on)
        with working():
            return self._put(_let_through(target.pixels, target.limit.frisket))

    def copy_visible(self) -> None:
        """What the frisket lets through of all that shows."""
        frisket = self._session.painting.frisket
        with working():
            self._put(_let_through(flattened(self._session.painting), frisket.sheet if frisket else None))

    def cut(self) -> None:
        if self.copy():
            self.clear()

    def clear(self) -> None:
        session = self._session
        if session.work.active_layer is not None:
            session.apply(ClearPaint(session.work.active_layer, session.work.on))

    def paste(self) -> None:
        """The picture on the clipboard as a new layer: where it was copied from, or in the middle."""
        mime = QGuiApplication.clipboard().mimeData()
        with working():
            pixels = self._picture_in(mime)
        if pixels is None:
            self._session.told.emit("There is no picture on the clipboard.")
            return
        matrix: tuple[float, ...] = ()
        if mime.hasFormat(PLACE):
            x, y = struct.unpack(">ii", bytes(mime.data(PLACE).data())[:8].ljust(8, b"\0"))
            matrix = (1.0, 0.0, x, 0.0, 1.0, y, 0.0, 0.0, 1.0)
        self.add(pixels, "Pasted", "detail", matrix=matrix)

    def picture(self) -> Picture | None:
        """The picture on the clipboard, if there is one."""
        pixels = self._picture_in(QGuiApplication.clipboard().mimeData())
        return None if pixels is None else Picture(pixels, None)

    def dropped(self, mime: QMimeData) -> Picture | None:
        """The picture that something dropped holds or names, if there is one."""
        path = next((Path(url.toLocalFile()) for url in mime.urls() if url.isLocalFile()), None)
        if path is not None:
            return self.read(path)
        pixels = self._picture_in(mime)
        return None if pixels is None else Picture(pixels, None)

    def pin_mime(self, mime: QMimeData | None) -> bool:
        """A picture that was dropped on the reference board, or lies on the clipboard; False if there is none."""
        for url in mime.urls() if mime is not None else ():
            if url.isLocalFile():
                self.add_file(Path(url.toLocalFile()), "reference")
                return True
        pixels = self._picture_in(mime)
        return pixels is not None and bool(self._session.apply(pin_of(pixels, "Pasted")))

    def pin_pasted(self) -> None:
        """The picture on the clipboard onto the reference board."""
        if not self.pin_mime(QGuiApplication.clipboard().mimeData()):
            self._session.told.emit("There is no picture on the clipboard.")

    def take_mime(self, mime: QMimeData) -> bool:
        """A picture dropped on the easel, as a sketch; False if there is none."""
        for url in mime.urls():
            if url.isLocalFile():
                self.add_file(Path(url.toLocalFile()), "sketch")
                return True
        pixels = self._picture_in(mime)
        if pixels is not None:
            self.add(pixels, "Dropped", "sketch", fit="inside")
        return pixels is not None

    def import_file(self, use: str) -> None:
        """Ask for a picture file; it becomes a sketch or texture layer, or is pinned to the reference board."""
        path = self.ask_for_picture()
        if path is not None:
            self.add_file(path, use)

    def ask_for_picture(self) -> Path | None:
        """A picture file of the painter's choice."""
        self._session.rest_hand()
        return ask_where_from(self._window, "Import a picture", f"Pictures ({PICTURE_NAMES});;All files (*)")

    def read(self, path: Path) -> Picture | None:
        """The picture in a file; None, with a word to the painter, if it cannot be had."""
        try:
            return read_picture(path)
        except FileFormatError as error:
            self._session.told.emit(str(error))
            return None

    def add_file(self, path: Path, use: str) -> None:
        """A picture file as a sketch or texture layer, a stamp, or pinned to the reference board, kept or linked."""
        picture = self.read(path)
        if picture is None:
            return
        for remark in picture.remarks:
            self._session.told.emit(remark)
        title = "".join(c for c in path.stem if c.isprintable())[:60] or "Picture"
        if use == "stamp":
            _, height, width = picture.pixels.shape
            self._stamp_from(Raster(width, height).written(0, 0, premultiplied(picture.pixels)), title)
            return
        if use in ("reference", "linked"):
            self._session.apply(pin_of(picture.pixels, title, path if use == "linked" else None))
            return
        self.add(picture.pixels, title, use, fit="over" if use == "texture" else "inside")
        if use == "texture":
            self.to_place.emit()

    def add(
        self, pixels: NDArray[np.uint16], name: str, role: str, *, fit: str = "size", matrix: tuple[float, ...] = ()
    ) -> None:
        """Straight pixels (4, h, w) as a new layer; a sketch gets a drawing part of its own if there is none."""
        session, size = self._session, pixels.shape[1] * pixels.shape[2]
        if size > LARGEST_PICTURE_PX:
            session.told.emit(
                f"The picture has {size / 1e6:.0f} Mpx; at most {LARGEST_PICTURE_PX / 1e6:.0f} fit in here."
            )
            return
        part = session.part
        if role == "sketch" and (part is None or part.material != "drawing"):
            part = next((one for one in session.painting.parts if one.material == "drawing"), None)
        if part is None:
            material = "drawing" if role == "sketch" else "plain"
            session.apply(AddPart(name, material))
            part = session.painting.parts[-1]
        uid, place = session.painting.next_uid, "body" if part.flats else "over"
        mode, strength = ("Soft Light", 0.4) if role == "texture" else ("Normal", 1.0)
        operation = AddPicture(part.uid, to_text(pixels), name, role, place, mode, strength, fit, matrix)
        if session.apply(operation):
            session.work.work_on_layer(uid)

    def stamp(self) -> None:
        """A brush whose tip is what would be copied from the layer worked on."""
        session = self._session
        if session.layer is None:
            session.told.emit("There is no layer to make a stamp from.")
            return
        frisket = session.painting.frisket
        self._stamp_from(_let_through(session.layer.pixels, frisket.sheet if frisket else None), session.layer.name)

    def _stamp_from(self, raster: Raster, name: str) -> None:
        area = raster.bounds()
        try:
            if area.empty:
                raise InputError("There is nothing to make a stamp from: no paint here, or none inside the frisket")
            image = tip_from_pixels(straight(raster.read(area)))
        except InputError as error:
            self._session.told.emit(str(error))
            return
        size = float(min(max(area.width, area.height, 8), 2000))
        if max(area.width, area.height) > LARGEST_TIP_PX:
            self._session.told.emit(f"The stamp is kept at {LARGEST_TIP_PX} px; it was {max(area.width, area.height)}.")
        self._session.hand.add_brush(
            Brush(f"Stamp {name}"[:60], tip="image", image=image, size_px=size, spacing=1.0, even=False)
        )

    def _put(self, raster: Raster) -> bool:
        area = raster.bounds()
        if area.empty:
            self._session.told.emit("There is nothing to copy: no paint here, or none inside the frisket.")
            return False
        mime = QMimeData()
        mime.setData(PNG, png.encode(straight(raster.read(area)), self._session.painting.ppi))
        mime.setData(PLACE, struct.pack(">ii", area.x0, area.y0))
        QGuiApplication.clipboard().setMimeData(mime)
        return True

    def _picture_in(self, mime: QMimeData | None) -> NDArray[np.uint16] | None:
        if mime is None:
            return None  # a clipboard without an owner
        if mime.hasFormat(PNG):
            try:
                return png.read(bytes(mime.data(PNG).data()), "The picture on the clipboard").pixels
            except FileFormatError as error:
                self._session.told.emit(str(error))
                return None
        if mime.hasImage():
            image = QImage(mime.imageData()).convertToFormat(QImage.Format.Format_RGBA8888)
            rows = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine())
            codes = rows[:, : image.width() * 4].reshape(image.height(), image.width(), 4).transpose(2, 0, 1)
            return np.ascontiguousarray(codes.astype(np.uint16) * np.uint16(257))
        return None


def _let_through(pixels: Raster, frisket: Sheet | None) -> Raster:
    return pixels if frisket is None else lifted(pixels, frisket)[0]
