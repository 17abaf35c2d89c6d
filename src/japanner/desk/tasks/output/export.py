"""Output: a crop of the picture, parts or layers, at a size and in a format; presets, and several of them at once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Final

from PySide6.QtWidgets import QCheckBox, QLabel

from japanner.desk.session.session import Session
from japanner.desk.settings import recall, remember
from japanner.desk.tasks.framed import FramedTask
from japanner.desk.widgets.option_row import Options, set_quietly
from japanner.desk.widgets.questions import ask_for_name, ask_where_to, ask_which_folder
from japanner.errors import InputError
from japanner.files.shelf.outputs import KINDS, PRESETS, WHAT, Output, write_output
from japanner.painting.picture.looks import LOOKS
from japanner.raster.geometry import Rect
from japanner.records import from_record, to_record

__all__ = ["OutputTask", "own_outputs"]

SETTING: Final = "outputs"
SHAPES: Final = {"free": 0.0, "1 : 1": 1.0, "4 : 5": 0.8, "2 : 3": 2 / 3, "3 : 2": 1.5, "16 : 9": 16 / 9}
OWN: Final = "as set here"
WORDS_PX: Final = 280


def own_outputs() -> list[Output]:
    """Presets that the painter kept; what cannot be understood is left out."""
    found = []
    for record in recall(SETTING, []):
        try:
            found.append(from_record(Output, record))
        except InputError:
            continue
    return found


class OutputTask(FramedTask):
    """The frame says what of the canvas is written; nothing of the painting changes."""

    title = "OUTPUT"
    hint = "the frame says what of the canvas is written: drag its sides, its corners, or all of it · Enter: write it"
    unfolds = True

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.row = row = Options()
        self.options = row
        self._checks: dict[str, QCheckBox] = {}
        self._fill()
        session.changed.connect(self._changed)

    def _fill(self) -> None:
        row = self.row
        row.clear()
        self.preset = row.choice("preset", [OWN, *self._presets()], "How it was set before", self.take_preset)
        row.button("keep…", "Keep what is set here under a name", self.keep)
        row.button("forget", "Forget the preset that is named, if it is your own", self.forget)
        self.write_button = row.button("write…", "Choose a file, and write it beside the hand", self.ask)
        self.words = QLabel("")
        self.words.setMinimumWidth(WORDS_PX)
        row.add(self.words)
        row.row()
        self.what = row.choice("of", WHAT, "The picture, or every part or layer by itself on nothing (PNG)", self._told)
        self.kind = row.choice("as", list(KINDS), "The format", self._told)
        self.long = row.number("longer side", 0, 30000, 0, "0: as it is", unit=" px", changed=self._told)
        self.sharpen = row.switch("sharpen", True, "As much as the reduction softens", self._told)
        self.look = row.choice("look", list(LOOKS), "As it is looked at", self._told)
        self.shape = row.choice("shape", list(SHAPES), "Of the frame", self._take_shape)
        row.button("all of it", "The frame goes round the whole canvas", self.whole)
        row.row()
        self._checks = {
            name: row.switch(name, False, "Written with the others that are chosen") for name in self._presets()
        }
        row.button("write these…", "All presets that are chosen, into a folder", self.ask_folder)
        row.refilled.emit()

    @staticmethod
    def _presets() -> dict[str, Output]:
        return {one.name: one for one in (*PRESETS, *own_outputs())}

    # --- what is set ----------------------------------------------------------------------------------------

    @property
    def output(self) -> Output:
        """What is set."""
        x0, y0, x1, y1 = self.handles.frame.intersected(self.session.painting.rect)
        wide, high = self.session.painting.width, self.session.painting.height
        whole = (x0, y0, x1, y1) == self.session.painting.rect
        crop = () if whole else (x0 / wide, y0 / high, x1 / wide, y1 / high)
        return Output(
            "output", self.kind.currentText(), self.what.currentText(), round(self.long.value()),
            self.sharpen.isChecked(), self.look.currentText(), crop,
        )  # fmt: skip

    def begin(self) -> None:
        self.whole()

    def take_preset(self, name: str) -> None:
        """Set everything as a preset has it."""
        one = self._presets().get(name)
        if one is None:
            return
        for box, words in ((self.kind, one.kind), (self.what, one.what), (self.look, one.look)):
            box.setCurrentText(words)
        set_quietly(self.long, one.long_px)
        self.sharpen.setChecked(one.sharpen)
        wide, high = self.session.painting.width, self.session.painting.height
        x0, y0, x1, y1 = one.crop or (0.0, 0.0, 1.0, 1.0)
        self.take_frame(Rect(round(x0 * wide), round(y0 * high), round(x1 * wide), round(y1 * high)))

    def keep(self) -> None:
        """Keep what is set under a name of the painter's."""
        self.session.rest_hand()
        name = ask_for_name(self.row.window(), "Keep as a preset", "my output")
        if not name:
            return
        if name in {one.name for one in PRESETS} | {OWN}:
            self.session.told.emit(f"{name} comes with the program: choose another name.")
            return
        kept = [one for one in own_outputs() if one.name != name]
        try:
            fresh = replace(self.output, name=name)
        except InputError as error:
            self.session.told.emit(str(error))
            return
        self._remember([*kept, fresh], name)

    def forget(self) -> None:
        """Forget an own preset."""
        name = self.preset.currentText()
        kept = own_outputs()
        if name not in {one.name for one in kept}:
            self.session.told.emit("Only presets of your own can be forgotten.")
            return
        self._remember([one for one in kept if one.name != name], OWN)

    def _remember(self, outputs: list[Output], chosen: str) -> None:
        remember(SETTING, [to_record(one) for one in outputs])
        set_now = self.output
        self._fill()
        self.preset.setCurrentText(chosen)
        for box, words in ((self.kind, set_now.kind), (self.what, set_now.what), (self.look, set_now.look)):
            box.setCurrentText(words)
        set_quietly(self.long, set_now.long_px)
        self.sharpen.setChecked(set_now.sharpen)
        self._told()

    # --- the frame ----------------------------------------------------------------------------------------

    def whole(self) -> None:
        """All of the canvas."""
        self.shape.setCurrentText("free")
        self.handles.ratio = 0.0
        self.take_frame(self.session.painting.rect)

    def _take_shape(self, name: str) -> None:
        """The largest frame of this shape within the one there is."""
        self.handles.ratio = SHAPES[name]
        self.take_frame(self.handles.frame)

    def take_frame(self, frame: Rect) -> None:
        within = frame.intersected(self.session.painting.rect)
        if not within.empty:
            self.handles.frame = self._in_shape(within)
        self._told()
        self.redraw.emit()

    def _in_shape(self, frame: Rect) -> Rect:
        """The largest frame of the shape within one."""
        ratio = self.handles.ratio
        if not ratio:
            return frame
        x0, y0, x1, y1 = frame
        width = min(float(x1 - x0), (y1 - y0) * ratio)
        left, top = (x0 + x1 - width) / 2, (y0 + y1 - width / ratio) / 2
        right, bottom = round(left + width), round(top + width / ratio)
        return Rect(round(left), round(top), max(right, round(left) + 1), max(bottom, round(top) + 1))

    def _changed(self, *_: object) -> None:
        if self.row.isVisible():
            self.take_frame(self.handles.frame)

    def _told(self, *_: object) -> None:
        frame, output = self.handles.frame, self.output
        factor = min(output.long_px / max(frame.width, frame.height), 1.0) if output.long_px else 1.0
        size = f"{round(frame.width * factor)} × {round(frame.height * factor)} px"
        larger = " · a picture is never made larger" if output.long_px > max(frame.width, frame.height) else ""
        self.words.setText(size + larger)

    # --- into files -----------------------------------------------------------------------------------------

    def done(self) -> None:
        """Enter writes it."""
        self.ask()

    def ask(self) -> None:
        """Where the file is to be."""
        self.session.rest_hand()
        output = self.output
        start = f"{self.session.painting.title}{output.ending}"
        kinds = f"{output.kind if output.what == WHAT[0] else 'PNG'} (*{output.ending})"
        path = ask_where_to(self.row.window(), "Write the output", start, kinds, output.ending)
        if path is not None:
            self.write([(output, path)])

    def ask_folder(self) -> None:
        """Into which folder the chosen presets go."""
        chosen = [self._presets()[name] for name, box in self._checks.items() if box.isChecked()]
        if not chosen:
            self.session.told.emit("Choose presets to be written: each has a switch here.")
            return
        self.session.rest_hand()
        folder = ask_which_folder(self.row.window(), "Write into a folder")
        if folder is not None:
            title = self.session.painting.title
            self.write([(one, folder / f"{title} {one.name}{one.ending}") for one in chosen])

    def write(self, wanted: list[tuple[Output, Path]]) -> None:
        """Write all of them, one after another, with progress and a stop."""
        painting = self.session.painting

        def work(progress: Callable[[float, str], None]) -> int:
            count = 0
            for number, (output, path) in enumerate(wanted):
                count += len(write_output(painting, output, path, _share_of(progress, number, len(wanted))))
            return count

        self.session.jobs.run(
            "Writing the output", work, lambda count: self.session.told.emit(_written(wanted, count)), writes=True
        )


def _written(wanted: list[tuple[Output, Path]], count: int) -> str:
    return f"Wrote {wanted[0][1].name}." if count == 1 else f"Wrote {count} files into {wanted[0][1].parent.name}."


def _share_of(progress: Callable[[float, str], None], number: int, count: int) -> Callable[[float, str], None]:
    return lambda share, words: progress((number + share) / count, words)
