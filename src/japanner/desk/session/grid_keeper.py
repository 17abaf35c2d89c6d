"""Keeping mixing grids under names, in the painting and in files, and saying what surrounds a part."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QObject
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import QInputDialog, QMenu, QWidget

from japanner.desk.session.hand import Colour
from japanner.desk.session.session import Session
from japanner.desk.widgets.questions import ask_where_from, ask_where_to
from japanner.errors import JapannerError, SaveError
from japanner.files.reading import read_bytes
from japanner.files.writing import write_text
from japanner.painting.model import Part
from japanner.painting.model.kept_grid import KeptGrid, grid_from_text, text_of_grid
from japanner.painting.operations import SetPart
from japanner.painting.value.mixing_grid import kept
from japanner.review.region import region_of
from japanner.review.values import surroundings

__all__ = ["GridKeeper"]

FILES = "Mixing grids (*.json)"
LARGEST_FILE = 1 << 20
# Surroundings are read from a picture of about this width.
SAMPLE_WIDTH = 1100


class GridKeeper(QObject):
    """Each method works on the part worked on; without one it does nothing."""

    def __init__(self, session: Session, window: QWidget) -> None:
        super().__init__(window)
        self._session, self._window = session, window

    def keep(self) -> None:
        """Keep the grid in the part under a name, as it is now."""
        part = self._session.part
        if part is None:
            return
        given = part.grid.name if part.grid is not None else part.name
        name, agreed = QInputDialog.getText(self._window, "Keep the mixing grid", "Name", text=given)
        if agreed:
            self._hold(part, name.strip())

    def save(self) -> None:
        """Write the grid to a file; the part keeps it under the file's name."""
        part = self._session.part
        if part is None:
            return
        given = part.grid.name if part.grid is not None else part.name
        path = ask_where_to(self._window, "Write the mixing grid", f"{given}.json", FILES, ".json")
        if path is None:
            return
        try:
            grid = kept(self._session.painting, part, path.stem[:60], self._session.hand.colour)
            write_text(path, text_of_grid(grid))
        except (SaveError, JapannerError) as error:
            self._session.told.emit(str(error))
            return
        self._take(part, grid)
        self._session.told.emit(f"The mixing grid is kept in {path.name}.")

    def open(self) -> None:
        """Take a grid from a file, with the value scale that it was mixed for."""
        part = self._session.part
        path = None if part is None else ask_where_from(self._window, "Mixing grid", FILES)
        if part is None or path is None:
            return
        try:
            grid = grid_from_text(read_bytes(path, LARGEST_FILE).decode("utf-8", errors="replace"))
        except JapannerError as error:
            self._session.told.emit(f"{path.name} was not taken: {error}")
            return
        self._take(part, grid)

    def from_other_part(self) -> None:
        """Choose another part whose grid this one takes."""
        part = self._session.part
        if part is None:
            return
        menu = QMenu(self._window)
        for other in self._session.painting.parts:
            if other is not part:
                menu.addAction(other.name, partial(self.take_from, other.uid))
        if menu.isEmpty():
            self._session.told.emit("There is no other part to take a mixing grid from.")
        else:
            menu.popup(QCursor.pos())

    def take_from(self, uid: int) -> None:
        """Take the grid of another part, with its value scale."""
        session, other = self._session, self._session.painting.part(uid)
        if session.part is not None:
            name = other.grid.name if other.grid is not None else other.name[:60]
            self._take(session.part, kept(session.painting, other, name, session.hand.colour))

    def work_out(self) -> None:
        """Go back to the grid that is worked out from the flat, and to its own cells."""
        part = self._session.part
        if part is not None and (part.grid is not None or part.mixed):
            self._session.apply(SetPart(part.uid, {"grid": None, "mixed": []}))

    def surround(self, source: str) -> None:
        """Say what surrounds the part: "picture", the mean around it; "hand", the colour in hand; "ground"."""
        session, part = self._session, self._session.part
        if part is None:
            return
        colour: Colour | None = session.hand.colour if source == "hand" else None
        if source == "picture":
            level, pixels = session.picture.level_for(SAMPLE_WIDTH)
            colour = surroundings(pixels, region_of(part, pixels.shape, level))
            if colour is None:
                session.told.emit("Nothing shows around this part: give it a flat first.")
                return
        session.apply(SetPart(part.uid, {"around": None if colour is None else list(colour)}))

    def _hold(self, part: Part, name: str) -> None:
        try:
            grid = kept(self._session.painting, part, name, self._session.hand.colour)
        except JapannerError as error:
            self._session.told.emit(str(error))
            return
        self._take(part, grid)

    def _take(self, part: Part, grid: KeptGrid) -> None:
        changes = {"grid": grid.to_record(), "scale": list(grid.scale), "mixed": []}
        self._session.apply(SetPart(part.uid, changes))
