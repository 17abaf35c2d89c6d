"""A film of how the painting grew: how large, how long, of what, and written beside the hand."""

from __future__ import annotations

from pathlib import Path
from typing import Final

from japanner.desk.easel.task import Task
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options
from japanner.desk.widgets.questions import ask_where_to
from japanner.errors import InputError
from japanner.files.exchange.film import EVEN, FilmPlan, write_film
from japanner.painting.document.larger import beginning
from japanner.painting.model import Part

__all__ = ["FilmTask"]

KINDS: Final = "WebM film (*.webm);;GIF (*.gif)"
WHOLE, PART = "all of the canvas", "the part"
AROUND: Final = 0.12
"""So much of its size is seen around a part."""


class FilmTask(Task):
    """Nothing on the easel changes; the film is painted anew from the journal."""

    title = "FILM"
    hint = "the painting is painted anew from its journal, as large as the film is, and written to a file"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.row = row = Options()
        self.options = row
        self.write_button = row.button("write…", "Choose a file; the film is made beside the hand", self.ask)
        self.long = row.number("longer side", 64, 3840, 1280, "How large the film is", unit=" px")
        self.seconds = row.number("growth", 1, 600, 20, "How long the growth takes", unit=" s")
        self.hold = row.number("end", 0, 30, 2, "How long the finished picture stands", unit=" s")
        self.even = row.choice("even in", list(EVEN), "Every stroke takes as long, or as long as the hand took for it")
        self.camera = row.choice("of", [WHOLE, PART], "What of the canvas is seen")
        self.undone = row.switch("with what was undone", False, "Ways that were undone are gone, and come back")

    @property
    def plan(self) -> FilmPlan:
        """What film the options ask for; InputError where there is nothing to be filmed."""
        part, camera = self.session.part, None
        if self.camera.currentText() == PART:
            if part is None:
                raise InputError("There is no part to film: add one first.")
            camera = _around(part)
        return FilmPlan(
            round(self.long.value()), self.seconds.value(), self.hold.value(), self.even.currentText(),
            self.undone.isChecked(), camera,
        )  # fmt: skip

    def ask(self) -> None:
        """Where to write it, if it can be made at all."""
        try:
            beginning(self.session.document.records)
            assert self.plan
        except InputError as error:
            self.session.told.emit(str(error))
            return
        self.session.rest_hand()
        start = f"{self.session.painting.title}.webm"
        path = ask_where_to(self.row.window(), "Write the film", start, KINDS, ".webm")
        if path is not None:
            self.write(path)

    def write(self, path: Path) -> None:
        """Make the film, with progress and a stop at the head of the easel."""
        plan, records = self.plan, list(self.session.document.records)
        self.session.jobs.run(
            f"Filming {path.name}",
            lambda progress: write_film(records, path, plan, progress),
            lambda _: self.session.told.emit(f"{path.name} is written."),
        )


def _around(part: Part) -> tuple[float, float, float, float]:
    areas = [one.pixels.bounds() for one in part.flats or part.layers]
    areas = [one for one in areas if not one.empty]
    if not areas:
        raise InputError(f"There is nothing of {part.name} to film yet.")
    whole = areas[0]
    for one in areas[1:]:
        whole = whole.united(one)
    edge = AROUND * max(whole.width, whole.height)
    return whole.x0 - edge, whole.y0 - edge, whole.x1 + edge, whole.y1 + edge
