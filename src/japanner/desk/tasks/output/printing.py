"""Print: the sheet of paper over the easel, what is to be known before, and the way to a printer or to a PDF file."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, Final, NamedTuple

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen, QTransform

from japanner.desk.easel.task import Task, draw_word
from japanner.desk.easel.wipe_line import step_for
from japanner.desk.screen import screens
from japanner.desk.session.latest import Latest
from japanner.desk.session.session import Session
from japanner.desk.settings import recall, remember
from japanner.desk.tasks.output import paper
from japanner.desk.theme import surround_colour
from japanner.desk.widgets.images import image_of
from japanner.desk.widgets.option_row import Options, refill, set_quietly
from japanner.desk.widgets.questions import ask_where_to
from japanner.errors import InputError
from japanner.files.colour.profiles import known_profiles, proof_of
from japanner.files.colour.sheet_of_paper import AS_PICTURE, PAPERS, BeforePrint, Sheet, before_print
from japanner.painting.model import Painting
from japanner.painting.picture.looks import through_table
from japanner.painting.picture.picture import Picture
from japanner.painting.picture.reduced import reduced

__all__ = ["PrintTask"]

SETTING: Final = "print"
PDF_FILE: Final = "PDF file"
UPRIGHT, ACROSS = "upright", "across"
WORDS_PX: Final = 520
ROOM: Final = 26
"""Easel px around the paper; above it stands the task's line."""
PAPER: Final = QColor(250, 249, 246)
BELOW: Final = QPointF(0, 16)


class Wish(NamedTuple):
    """What is to be seen on the paper."""

    painting: Painting
    profile: str
    proof: bool
    marked: bool
    sheet: Sheet


class Seen(NamedTuple):
    """How it is seen, and what is to be known."""

    image: QImage
    told: BeforePrint


def _work(wish: Wish, deliver: Callable[[Seen], None], told: Callable[[float], None]) -> None:
    small = reduced(wish.painting, step_for(wish.painting))
    pixels = Picture(small).levels[0]
    told(0.4)
    proof = proof_of(wish.profile)
    told(0.6)
    codes = np.stack([pixels >> np.uint32(s) & np.uint32(255) for s in (16, 8, 0)], -1)[::2, ::2] / np.float32(255)
    known = before_print(codes, wish.painting.width, wish.sheet, proof)
    told(0.9)
    if wish.proof or wish.marked:
        pixels = through_table(pixels, proof.warned if wish.marked else proof.seen)
    deliver(Seen(image_of(pixels), known))


class PrintTask(Task):
    """Nothing of the painting changes; the easel shows the paper instead of the canvas."""

    title = "PRINT"
    hint = "the sheet of paper as it will be; nothing of the painting changes"
    unfolds = True
    cursor = Qt.CursorShape.ArrowCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.sheet: Sheet | None = None
        self.seen: Seen | None = None
        self._latest = Latest(self, _work)
        self._latest.delivered.connect(self._take)
        self._latest.failed.connect(session.told)
        self.row = row = Options()
        self.options = row
        self.printer = row.choice("printer", [""], "A printer of this computer, or a file that stands for one")
        self.paper = row.choice(
            "paper", [*PAPERS, AS_PICTURE], "ISO 216; or a sheet as large as the picture", self._ask
        )
        self.way = row.choice("", [UPRIGHT, ACROSS], "How the paper lies", self._ask)
        self.width = row.number("width", 0, 2000, 0, "Of the picture on the paper; 0: as large as fits", unit=" mm",
                                changed=self._ask)  # fmt: skip
        row.button("own size", "As large as its ppi says", self.own_size)
        row.button("fit", "As large as fits between the margins", self.fit)
        self.margin = row.number("margin", 0, 100, 12, "Kept free around", unit=" mm", changed=self._ask)
        self.print_button = row.button("print…", "Print it, or write the file", self.ask)
        row.row()
        self.profile = row.choice("profile", [""], "What it is printed through: a paper's profile", self._ask)
        self.proof = row.switch("proof", True, "As the print will look, through the profile", self._ask)
        self.marked = row.switch("mark what is lost", False, "Colours out of reach in violet, darks that close in blue",
                                 self._ask)  # fmt: skip
        row.row()
        self.words = row.words(WORDS_PX)
        session.changed.connect(self._changed)

    # --- taken up and left ----------------------------------------------------------------------------------

    def begin(self) -> None:
        kept: dict[str, Any] = recall(SETTING, {})
        refill(self.printer, [PDF_FILE, *paper.printers()], str(kept.get("printer", "")))
        refill(self.profile, [name for name, _ in known_profiles()], str(kept.get("profile", "")))
        self.paper.setCurrentText(str(kept.get("paper", "A4")))
        painting = self.session.painting
        self.way.setCurrentText(ACROSS if painting.width > painting.height else UPRIGHT)
        self._ask()

    def end(self) -> None:
        self._latest.stop()
        self.seen = None
        chosen = {"printer": self.printer, "paper": self.paper, "profile": self.profile}
        remember(SETTING, {name: box.currentText() for name, box in chosen.items()})

    def wait(self) -> None:
        """Until the paper is as it will be."""
        self._latest.settle()

    def _changed(self, *_: object) -> None:
        if self.row.isVisible():
            self._ask()

    def own_size(self) -> None:
        """As large as the canvas's ppi says."""
        painting = self.session.painting
        set_quietly(self.width, painting.width / painting.ppi * 25.4)
        self._ask()

    def fit(self) -> None:
        """As large as the paper allows."""
        set_quietly(self.width, 0)
        self._ask()

    def _ask(self, *_: object) -> None:
        painting = self.session.painting
        as_picture = self.paper.currentText() == AS_PICTURE
        width = self.width.value() or (painting.width / painting.ppi * 25.4 if as_picture else 0.0)
        try:
            self.sheet = Sheet.of(
                self.paper.currentText(), across=self.way.currentText() == ACROSS, margin=self.margin.value(),
                width_mm=width, size_px=(painting.width, painting.height),
            )  # fmt: skip
        except InputError as error:
            self.sheet = None
            self._tell(f"{error}.")
            return
        self._latest.want(
            Wish(painting, self.profile.currentText(), self.proof.isChecked(), self.marked.isChecked(), self.sheet)
        )

    def _take(self, wish: Wish, seen: Seen) -> None:
        self.seen = seen._replace(image=screens.image(seen.image))
        self._tell(f"{wish.sheet.width:.0f} × {wish.sheet.height:.0f} mm · {seen.told.words}")

    def _tell(self, words: str) -> None:
        self.words.setText(words)
        self.print_button.setEnabled(self.sheet is not None)
        self.row.refilled.emit()
        self.redraw.emit()

    # --- onto paper ---------------------------------------------------------------------------------------

    def ask(self) -> None:
        """To the printer, or where the file is to be."""
        if self.sheet is None:
            return
        self.session.rest_hand()
        if self.printer.currentText() != PDF_FILE:
            self.send(None)
            return
        start = f"{self.session.painting.title} print.pdf"
        path = ask_where_to(self.row.window(), "Print to a file", start, "PDF page (*.pdf)", ".pdf")
        if path is not None:
            self.send(path)

    def send(self, path: Path | None) -> None:
        """Print beside the hand: to a file, or to the printer that is chosen."""
        sheet, painting, printer = self.sheet, self.session.painting, self.printer.currentText()
        assert sheet is not None
        where = path.name if path else printer
        self.session.jobs.run(
            f"Printing to {where}", lambda told: paper.print_sheet(painting, sheet, path, printer, told),
            lambda _: self.session.told.emit(f"Printed to {where}."), writes=True,
        )  # fmt: skip

    # --- what is seen -------------------------------------------------------------------------------------

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        view, sheet = QRectF(painter.window()), self.sheet
        painter.save()
        painter.fillRect(view, surround_colour(self.session.looking.surround))
        if sheet is not None:
            room = view.adjusted(ROOM, ROOM + self.row.window().height() * 0.16, -ROOM, -2 * ROOM)
            scale = min(room.width() / sheet.wide, room.height() / sheet.high)
            page = QRectF(0, 0, sheet.wide * scale, sheet.high * scale)
            page.moveCenter(room.center())
            painter.fillRect(page.translated(3, 3), QColor(0, 0, 0, 70))
            painter.fillRect(page, PAPER)
            place = QRectF(page.x() + sheet.x * scale, page.y() + sheet.y * scale, sheet.width * scale,
                           sheet.height * scale)  # fmt: skip
            if self.seen is not None:
                painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
                painter.drawImage(place, self.seen.image)
            self._draw_margin(painter, page, scale)
            draw_word(painter, page.bottomLeft() + BELOW, f"{sheet.wide:.0f} × {sheet.high:.0f} mm")
        painter.restore()

    def _draw_margin(self, painter: QPainter, page: QRectF, scale: float) -> None:
        margin = self.margin.value() * scale
        if margin > 1:
            painter.setPen(QPen(QColor(120, 110, 90, 120), 1, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(page.adjusted(margin, margin, -margin, -margin))
