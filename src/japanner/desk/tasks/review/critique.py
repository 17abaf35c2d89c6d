"""The critique over the easel: every check as a word and a number, and on the picture what the chosen one is about."""

from __future__ import annotations

from collections.abc import Callable
from html import escape
from pathlib import Path
from typing import Any, Final

import numpy as np
from PySide6.QtCore import QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QImage, QPainter, QTransform
from PySide6.QtWidgets import QLabel, QPushButton, QWidget

from japanner.desk.easel.task import Task
from japanner.desk.session.latest import Latest
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.images import image_of
from japanner.desk.widgets.option_row import Options
from japanner.desk.widgets.questions import ask_where_to
from japanner.errors import JapannerError
from japanner.files.writing import write_text
from japanner.painting.model import Painting
from japanner.review.checks import CHECKS
from japanner.review.critique import as_html, as_json, critique
from japanner.review.finding import GOOD, PROBLEM, WORDS, Finding
from japanner.review.seen import Seen

__all__ = ["CritiqueTask"]

Wish = tuple[Painting, Painting | None]
SIGNS: Final = {PROBLEM: "!", WORDS[1]: "?", GOOD: ""}
WHY_PX: Final = 560
REST_MS: Final = 1500
"""Once the hand has rested for so long, what has changed is looked at again."""
DIM: Final = 120
NEVER, STAGE, REST = "never", "after a stage", "whenever the hand rests"
WHEN: Final = (NEVER, STAGE, REST)
REPORTS: Final = "Page with maps (*.html);;Data (*.json)"


def _work(wish: Wish, deliver: Callable[[Any], None], told: Callable[[float], None]) -> None:
    painting, before = wish
    deliver(critique(painting, before, lambda done, words: told(done)))


class CritiqueTask(Task):
    """Looks at the picture behind the hand, which goes on painting; the chosen check's map lies over the picture."""

    title = "CRITIQUE"
    hint = "press a check to see what it is about; ! is a problem, ? is worth another look"
    unfolds = True
    cursor = Qt.CursorShape.ArrowCursor
    tool_wanted = Signal(str)  # a brush by its name, or a command by its path

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.found: list[Finding] = []
        self.chosen: Finding | None = None
        self.chips: list[QPushButton] = []
        self._seen: Seen | None = None
        self._map: QImage | None = None
        self._latest = Latest(self, _work)
        self._latest.delivered.connect(self._take)
        self._latest.failed.connect(session.told)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self.look)
        self.row = row = Options()
        self.options = row
        row.button("again", "Look once more", self.look)
        self.when = row.choice("by itself", WHEN, "When it looks again without being asked; after a stage also while "
                               "something else is worked on")  # fmt: skip
        self.report_button = row.button("report…", "Write all of it as a page with maps, or as data", self.report)
        self.state = QLabel("")
        row.add(self.state)
        row.row()
        session.changed.connect(self._changed)
        session.work.active_changed.connect(self._staged)
        self._role, self._ended = "" if session.layer is None else session.layer.role, ""
        """Of the layer worked on, and of the stage that ended last."""

    def begin(self) -> None:
        self._show()
        self.look()

    def end(self) -> None:
        self._rest.stop()

    def wait(self) -> None:
        """Until all checks have said what they have to say."""
        self._latest.settle()

    def look(self) -> None:
        """Look at the picture as it is now."""
        kept = self.session.comparing.moments.kept
        self.state.setText("looking …")
        self._latest.want((self.session.painting, kept[0].painting if kept else None))

    def _changed(self, *_: object) -> None:
        wish = self._latest.wish
        if self.found and (wish is None or wish[0] is not self.session.painting):
            self.state.setText("the picture has changed since")
            if self.when.currentText() == REST and self._on:
                self._rest.start()

    def _staged(self) -> None:
        """Another layer is worked on: if it has another role, a stage is over."""
        layer = self.session.layer
        role, before = "" if layer is None else layer.role, self._role
        self._role = role
        wish = self._latest.wish
        fresh = wish is None or wish[0] is not self.session.painting
        if role != before and before and fresh and self.when.currentText() == STAGE:
            self._ended = before
            self.look()

    @property
    def _on(self) -> bool:
        return self.options.isVisible()

    def _take(self, _: Wish, made: tuple[Seen, list[Finding]]) -> None:
        self._seen, every = made
        # Of what is good one for each check is enough.
        firsts = {one.check: one for one in reversed(every)}
        self.found = [one for one in every if one.word != GOOD or firsts[one.check] is one]
        name = self.chosen.check if self.chosen is not None else ""
        self.choose(next((one for one in self.found if one.check == name), None))
        faults = sum(one.word != GOOD for one in self.found)
        words = "nothing is off" if not faults else f"{faults} to look at"
        self.state.setText(words)
        if not self._on and self._ended:
            self.session.told.emit(f"Critique after {self._ended}: {words}.")
        self._ended = ""

    def choose(self, finding: Finding | None) -> None:
        """Show what a finding is about; None: of none."""
        self.chosen = finding
        self._map = None
        if finding is not None and finding.where is not None:
            self._map = _image(finding.where)
        self._show()
        self.redraw.emit()

    def _show(self) -> None:
        """The checks as they are now, and the chosen one in words."""
        self.row.clear(last_row=True)
        self.chips = []
        for one in self.found:
            sign = SIGNS[one.word]
            several = sum(other.check == one.check for other in self.found) > 1
            about = f", {one.about}" if one.about and several else ""
            chip = self.row.button(f"{sign} {one.check}{about}".strip(), f"{one.word}: {one.figure}", self._press(one))
            colour = theme["warning"] if one.word == PROBLEM else theme["gold"] if sign else theme["quiet"]
            edge = f"border: 1px solid {theme['gold'].name()};" if one is self.chosen else ""
            chip.setStyleSheet(f"color: {colour.name()};{edge}")
            self.chips.append(chip)
        if self.chosen is not None:
            self._show_chosen(self.chosen)
        for widget in self.row.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly):
            widget.show()  # what is not shown yet would take no room
        self.row.refilled.emit()

    def _press(self, finding: Finding) -> Callable[[], None]:
        return lambda: self.choose(None if finding is self.chosen else finding)

    def _show_chosen(self, one: Finding) -> None:
        check = CHECKS[one.check]
        words = QLabel(f"<b>{one.word}: {one.figure}</b> (good: {one.range.words}). {escape(one.why)}")
        words.setWordWrap(True)
        words.setFixedWidth(WHY_PX)
        self.row.add(words)
        name = check.tool.split(" › ")[-1]
        tool = check.tool
        self.try_button = self.row.button(f"try: {name}", f"{check.advice}.", lambda: self.tool_wanted.emit(tool))

    def report(self) -> None:
        """Write the findings to a file."""
        if self._seen is None:
            self.session.told.emit("There is nothing to report yet.")
            return
        window = self.options.window()
        path = ask_where_to(window, "Write the critique", f"{self.session.painting.title}.html", REPORTS, ".html")
        if path is not None:
            self.write(path)

    def write(self, path: Path) -> None:
        """The findings as a page, or by the file's ending as data."""
        assert self._seen is not None
        painting = self.session.painting
        data = path.suffix.lower() == ".json"
        try:
            write_text(path, as_json(painting, self.found) if data else as_html(painting, self._seen, self.found))
        except JapannerError as error:
            self.session.told.emit(str(error))
        else:
            self.session.told.emit(f"{path.name} is written.")

    def draw(self, painter: QPainter, to_view: QTransform) -> None:
        """The map, over a picture that is dimmed where it is not about anything."""
        if self._map is None:
            return
        painting = self.session.painting
        painter.save()
        painter.setTransform(to_view, True)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(QRectF(0, 0, painting.width, painting.height), self._map)
        painter.restore()


def _image(where: np.ndarray[Any, Any]) -> QImage:
    """A map as an image: cinnabar where it is about something, else a veil of grey."""
    share = np.clip(where, 0, 1)
    red = QColor(theme["cinnabar"])
    codes = np.empty((*where.shape, 4), np.uint8)
    alpha = DIM * (1 - share) + 190 * share
    for channel, value in enumerate((red.red(), red.green(), red.blue())):
        codes[..., channel] = np.rint((value * share + 60 * (1 - share)) * alpha / 255)
    codes[..., 3] = np.rint(alpha)
    return image_of(codes, premultiplied=True)
