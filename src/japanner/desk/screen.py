"""Colours as the screen needs them: through the profile that the desktop keeps for it, or one that was chosen."""

from __future__ import annotations

import time
from collections.abc import Sequence
from concurrent.futures import Future
from functools import lru_cache
from pathlib import Path
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QCoreApplication, QObject, Signal
from PySide6.QtGui import QColor, QGuiApplication, QImage, QScreen
from PySide6.QtWidgets import QWidget
from shiboken6 import isValid

from japanner.desk.settings import recall, remember
from japanner.desk.widgets.images import image_of, pixels_in
from japanner.desk.x_profile import desktop_profile
from japanner.errors import FileFormatError
from japanner.painting.picture.looks import through_table
from japanner.raster.parallel import ASIDE

__all__ = ["DESKTOP", "OFF", "Screens", "screens"]

DESKTOP, OFF = "the desktop's", "off"
SETTING: Final = "screen profiles"
ALL_COLOURS: Final = 1 << 24
SIDE: Final = 1 << 12
Pixels = NDArray[np.uint32]


def _every_colour(data: bytes) -> Pixels:
    """What a screen shows each of all colours with: one look into this table takes less time than any arithmetic."""
    from japanner.files.colour.profiles import profile_of, screen_table  # noqa: PLC0415 - it takes a moment

    table = screen_table(profile_of(data))
    return through_table(np.arange(ALL_COLOURS, dtype=np.uint32).reshape(SIDE, SIDE), table).reshape(-1)


class Screens(QObject):
    """One profile a screen, by the screen's name; a setting that is remembered: the desktop's, a file, or off."""

    changed = Signal()
    told = Signal(str)
    _made = Signal(str, str, object)

    def __init__(self) -> None:
        super().__init__()
        self.easel: QWidget | None = None
        self._tables: dict[str, tuple[str, Pixels | None]] = {}
        self._at_work: Future[None] | None = None
        self._made.connect(self._take)

    # --- what is shown ------------------------------------------------------------------------------------

    def through(self, pixels: Pixels, widget: QWidget) -> Pixels:
        """0xffRRGGBB pixels (h, w) for the screen that a widget is on; themselves where it has no profile."""
        table = self._table(widget)
        return pixels if table is None else table[pixels & np.uint32(0xFFFFFF)]

    def has_profile(self, widget: QWidget) -> bool:
        """Whether colours are another thing on the widget's screen."""
        return self._table(widget) is not None

    def codes_through(self, codes: NDArray[np.uint8], widget: QWidget) -> NDArray[np.uint8]:
        """The same for codes (h, w, 3)."""
        if not self.has_profile(widget):
            return codes
        r, g, b = (codes[..., k].astype(np.uint32) for k in range(3))
        found = self.through(np.uint32(0xFF000000) | r << np.uint32(16) | g << np.uint32(8) | b, widget)
        return np.stack([found >> np.uint32(shift) & np.uint32(255) for shift in (16, 8, 0)], axis=-1).astype(np.uint8)

    def image(self, image: QImage, widget: QWidget | None = None) -> QImage:
        """The same for an image without gaps; without a widget, for the screen that the easel is on."""
        where = widget or self.easel
        if where is None or not isValid(where) or not self.has_profile(where):  # a window may be gone
            return image
        whole = image.convertToFormat(QImage.Format.Format_RGB32)
        return image_of(self.through(pixels_in(whole, whole.rect()), where))

    def colour(self, colour: Sequence[float], widget: QWidget) -> QColor:
        """An encoded colour, held to 0..1, for the widget's screen."""
        plain = QColor.fromRgbF(*(min(max(float(c), 0.0), 1.0) for c in colour))
        table = self._table(widget)
        return plain if table is None else QColor.fromRgb(int(table[plain.rgb() & 0xFFFFFF]))

    def _table(self, widget: QWidget) -> Pixels | None:
        screen = widget.screen()
        if screen is None or (not self._tables and not self._chosen):
            return None
        name = screen.name()
        if name not in self._tables:
            self._load(screen)
        return self._tables[name][1]

    # --- which profile ------------------------------------------------------------------------------------

    @property
    def _chosen(self) -> dict[str, Any]:
        return _remembered()

    def choice(self, screen: QScreen) -> str:
        """The desktop's, off, or the path of a file."""
        return str(self._chosen.get(screen.name(), OFF))

    def choose(self, screen: QScreen, which: str) -> None:
        """Show colours on a screen through this from now on; says what comes of it."""
        if which not in (OFF, DESKTOP):
            from japanner.files.colour.profiles import profile_at, screen_table  # noqa: PLC0415 - it takes a moment

            try:
                screen_table(profile_at(Path(which)))
            except FileFormatError as error:
                self.told.emit(str(error))
                return
        remember(SETTING, {**self._chosen, screen.name(): which})
        _remembered.cache_clear()
        self._load(screen)
        if which == OFF:
            self.told.emit("Colours are shown as they are, as on an sRGB screen.")
        elif which == DESKTOP and not self._tables[screen.name()][0]:
            self.told.emit("The desktop keeps no profile for this screen: colours are shown as on an sRGB screen.")
        else:
            self.told.emit("Colours are shown through the screen's profile.")
        self.changed.emit()

    def forget(self) -> None:
        """Read everything anew."""
        self._tables.clear()
        _remembered.cache_clear()
        self.changed.emit()

    def wait(self) -> None:
        """Until a table that was begun is there."""
        while self._at_work is not None and not self._at_work.done():
            time.sleep(0.005)
        QCoreApplication.processEvents()

    def _load(self, screen: QScreen) -> None:
        name, which = screen.name(), self.choice(screen)
        data = self._data(screen, which)
        self._tables[name] = (which if data else "", None)
        if data:
            self._at_work = ASIDE.submit(self._work, name, which, data)

    def _work(self, name: str, which: str, data: bytes) -> None:
        """Beside the window, so that nobody waits for it."""
        try:
            self._made.emit(name, which, _every_colour(data))
        except FileFormatError as error:
            self.told.emit(str(error))

    def _take(self, name: str, which: str, table: Pixels) -> None:
        if self._tables.get(name, ("", None))[0] == which:
            self._tables[name] = (which, table)
            self.changed.emit()

    @staticmethod
    def _data(screen: QScreen, which: str) -> bytes:
        if which == OFF:
            return b""
        if which == DESKTOP:
            return desktop_profile(QGuiApplication.screens().index(screen))
        try:
            return Path(which).read_bytes()
        except OSError:
            return b""


@lru_cache(maxsize=1)
def _remembered() -> dict[str, Any]:
    found: dict[str, Any] = recall(SETTING, {})
    return found


screens = Screens()
"""Those that the program is shown on."""
