"""Templates: parts kept for other paintings, and dropped where they are wanted."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import QCheckBox

from japanner.desk.easel.task import CommitTask, Press
from japanner.desk.session.session import Session
from japanner.desk.widgets.option_row import Options, set_quietly
from japanner.desk.widgets.questions import ask_for_name
from japanner.desk.widgets.working import working
from japanner.errors import FileFormatError, InputError, SaveError
from japanner.files.shelf.templates import Kept, forget_template, keep_template, kept_templates, template_in
from japanner.painting.operations import AddParts

__all__ = ["TemplateTask"]

NONE = "none kept yet"
ICON_PX = 40


class TemplateTask(CommitTask):
    """The template that is chosen is seen on the easel, and dropped when that counts."""

    title = "TEMPLATES"
    hint = (
        "drag what is dropped to where it belongs; Enter drops it · keep: the parts that are switched on, under a name"
    )
    unfolds = True
    cursor = Qt.CursorShape.SizeAllCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._template: AddParts | None = None
        self._grip: tuple[QPointF, AddParts] | None = None
        self._parts: dict[int, QCheckBox] = {}
        self.kept: list[Kept] = []
        self.row = row = Options()
        self.options = row
        self.which = row.choice("template", [NONE], "Kept from this or another painting", lambda _: self._take())
        self.which.setIconSize(QSize(ICON_PX, ICON_PX))
        self.size = row.number(
            "size", 1, 1000, 100, "How large it is dropped", unit=" %", changed=lambda _: self._sized()
        )
        row.button("drop", "Make it count (Enter)", self.done)
        row.button("forget", "Take the template that is chosen off the shelf", self.forget)
        row.row()
        session.changed.connect(self._changed)

    def begin(self) -> None:
        self._fill_shelf()
        self._fill_parts()

    def end(self) -> None:
        self.session.trials.end()
        self._template = self._grip = None

    def _changed(self, *_: object) -> None:
        if self.row.isVisible() and {part.uid for part in self.session.painting.parts} != set(self._parts):
            self._fill_parts()

    # --- the shelf ------------------------------------------------------------------------------------------

    def _fill_shelf(self, chosen: str = "") -> None:
        self.kept = kept_templates()
        self.which.blockSignals(True)
        self.which.clear()
        for one in self.kept:
            picture = QPixmap()
            picture.loadFromData(one.picture or b"")
            self.which.addItem(QIcon(picture) if not picture.isNull() else QIcon(), one.name)
        if not self.kept:
            self.which.addItem(NONE)
        self.which.setCurrentIndex(max(self.which.findText(chosen), 0))
        self.which.blockSignals(False)

    def _fill_parts(self) -> None:
        row, on = self.row, self.session.work.active_part
        kept = {uid for uid, box in self._parts.items() if box.isChecked()} or {on or 0}
        row.clear(last_row=True)
        self._parts = {
            part.uid: row.switch(part.name, part.uid in kept, "It belongs to the template")
            for part in self.session.painting.parts
        }
        row.button("keep…", "Keep the parts that are switched on as a template, under a name", self.keep)
        for box in self._parts.values():
            box.show()
        row.refilled.emit()

    def keep(self) -> None:
        """Keep parts as a template."""
        uids = [uid for uid, box in self._parts.items() if box.isChecked()]
        part = self.session.part
        self.session.rest_hand()
        name = ask_for_name(self.row.window(), "Keep as a template", part.name if part else "Template")
        if not name:
            return
        try:
            with working():
                keep_template(self.session.painting, uids, name)
        except (InputError, SaveError) as error:
            self.session.told.emit(str(error))
            return
        self._fill_shelf(name)
        self.session.told.emit(f"{name} is kept: it can be dropped into any painting.")

    def forget(self) -> None:
        """Take the chosen template away."""
        index = self.which.currentIndex()
        if not self.kept:
            self.session.told.emit("No template is kept yet: switch parts on, and keep them.")
            return
        try:
            forget_template(self.kept[index].path)
        except SaveError as error:
            self.session.told.emit(str(error))
        self._fill_shelf()
        self._leave_out()

    # --- what is dropped ------------------------------------------------------------------------------------

    def _take(self) -> None:
        """Read the chosen one, and show it."""
        if not self.kept:
            return
        try:
            with working():
                self._template = template_in(self.kept[self.which.currentIndex()].path)
        except (FileFormatError, InputError) as error:
            self.session.told.emit(str(error))
            self._leave_out()
            return
        set_quietly(self.size, 100)
        self._show()

    def _leave_out(self) -> None:
        self._template = None
        self.session.trials.end()
        self.redraw.emit()

    def _sized(self) -> None:
        if self._template is not None:
            self._template = replace(self._template, times=self.size.value() / 100)
            self._show()

    def _show(self) -> None:
        if self._template is not None:
            if self.session.trials.trial is None:
                self.session.trials.begin()
            self.session.trials.show(self._template)

    def press(self, press: Press) -> None:
        if self._template is not None:
            self._grip = press.at, self._template

    def move(self, press: Press, *, down: bool) -> None:
        if down and self._grip is not None:
            start, before = self._grip
            by = press.at - start
            self._template = replace(before, x=round(before.x + by.x(), 1), y=round(before.y + by.y(), 1))
            self._show()

    def release(self, press: Press) -> None:
        self._grip = None

    def done(self) -> None:
        """Drop it; its first part is worked on then."""
        if self._template is None:
            if self.kept:
                self._take()
                self.session.told.emit("Drag it to where it belongs, and drop it.")
            else:
                self.session.told.emit("No template is kept yet: switch parts on, and keep them.")
            return
        count = len(self.session.painting.parts)
        self.session.carry_out(self._template, lambda: self._dropped(count))

    def _dropped(self, count: int) -> None:
        parts = self.session.painting.parts
        if len(parts) > count:
            self.session.work.work_on_part(parts[count].uid)
        self.finished.emit()
