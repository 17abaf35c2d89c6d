"""The session: the one object that changes the painting; it joins the document, the picture and the hand."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from japanner.desk.session.aiming import Aiming
from japanner.desk.session.comparing import Comparing
from japanner.desk.session.hand import Hand
from japanner.desk.session.jobs import Jobs
from japanner.desk.session.looking import Looking
from japanner.desk.session.measuring import Measuring
from japanner.desk.session.out_of_date import OutOfDate
from japanner.desk.session.strokes import Strokes
from japanner.desk.session.trials import Trials
from japanner.desk.session.worked_on import WorkedOn
from japanner.desk.settings import recall, remember_recent
from japanner.desk.widgets.working import working
from japanner.errors import InputError
from japanner.files import ora_write
from japanner.files.open_file import OpenFile
from japanner.painting.document.document import Document, same_but_frisket
from japanner.painting.document.journal import state_folder
from japanner.painting.document.keeper import JournalKeeper
from japanner.painting.document.packed import Packer
from japanner.painting.live.ahead import Ahead
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.operations import Change, Operation
from japanner.painting.picture.looks import nearest_step
from japanner.painting.picture.picking import picked
from japanner.painting.picture.picture import Picture
from japanner.painting.picture.small import Small, SmallKeeper
from japanner.raster.geometry import Rect
from japanner.raster.parallel import watched
from japanner.types import Colour

__all__ = ["Session"]

MOST_WAITING = 20

LARGE_PX = 1 << 19
"""Changes of a larger area are shown reduced first, where that is how they are seen."""
TILES_AT_ONCE, LATER_MS, PREPARE_MS = 4, 100, 250


def _friskets_skipped() -> bool:
    return not recall("friskets are steps", True)


class Session(QObject):
    """Widgets read from here and from its helpers, and listen to their signals; none keeps a second copy of the truth.

    hand: brushes, colour, pens. aiming: values as outcomes. work: what is worked on. looking: how the picture is seen.
    strokes, trials, comparing: what is shown in the place of the painting meanwhile. measuring: lines of proportion.
    jobs: long work beside the window.
    keeper: the journal. out_of_date: which made layers are.
    """

    opened = Signal()  # another document
    changed = Signal(object)  # a core Change: the painting is another one
    shown = Signal(object)  # list of canvas Rects whose pixels were renewed
    resized = Signal()  # the canvas has another size, or another picture shows it
    saved = Signal()
    hand_rested = Signal()  # whatever the pen still says belongs to nothing any more
    told = Signal(str)  # one sentence for the painter

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.picture, self.smalls = Picture(document.painting), SmallKeeper()
        self.file: OpenFile | None = None
        self.saved_at: float | None = None
        self.stored_at: float | None = None  # when file and painting were last the same
        self._saved_painting: Painting = document.painting
        self._nowhere = False  # it was opened from what no file holds
        self._waiting: list[Callable[[], object]] = []  # asked for while a long operation runs
        self._occupied = False  # while a long operation runs, the painting must not change under it
        self._instead: Painting | None = None  # what is shown in the place of the painting
        self.jobs, self.hand = Jobs(self), Hand(self)
        self.work = WorkedOn(lambda: self.painting, self)
        self.looking = Looking(self.work, self)
        self.aiming = Aiming(lambda: self.painting, self.hand, self.work, self)
        self.keeper = JournalKeeper(self.told.emit, ora_write.write)
        self._packer = Packer(state_folder())
        self.strokes = Strokes(
            lambda: self.painting, self.hand, self.work, show=self._renew, commit=self._commit,
            apply=self.apply, small=self._small, show_small=self._show_small, parent=self,
        )  # fmt: skip
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.timeout.connect(self._compose_rest)
        self._prepare = QTimer(self)
        self._prepare.setSingleShot(True)
        self._prepare.setInterval(PREPARE_MS)
        self._prepare.timeout.connect(lambda: self.smalls.prepare(self.painting, self.looking.step))
        self.trials = Trials(
            lambda: self.painting, lambda: self.work.active_layer, rest=self.rest_hand, show=self._show_instead,
            parent=self,
        )  # fmt: skip
        self.comparing = Comparing(
            lambda: self.painting, last_change=self._before_last_change, last_save=lambda: self._saved_painting,
            rest=self.rest_hand, show=self._renew, parent=self,
        )  # fmt: skip
        self.measuring = Measuring(lambda: self.painting, self.apply, self)
        self.out_of_date = OutOfDate(lambda: self.painting, self)
        for signal in (self.opened, self.changed):
            signal.connect(self.out_of_date.ask)
        self.jobs.ended.connect(self._set_free)
        self.looking.whole_changed.connect(self._compose)
        self.comparing.blinked.connect(self.looking.look_changed)
        for one in (self.jobs, self.hand, self.work, self.strokes, self.trials, self.comparing, self.measuring):
            one.told.connect(self.told)

    # --- the document ---------------------------------------------------------------------------------

    @property
    def painting(self) -> Painting:
        return self.document.painting

    @property
    def part(self) -> Part | None:
        return self.work.part

    @property
    def layer(self) -> Layer | None:
        return self.work.layer

    @property
    def unsaved(self) -> bool:
        """Whether anything would be lost; where a frisket lies is nothing to save for."""
        if self.painting is self._saved_painting:
            return False
        return self._nowhere or not same_but_frisket(self.painting, self._saved_painting)

    @property
    def path(self) -> Path | None:
        """The native file that it came from, or was saved to."""
        return None if self.file is None else self.file.path

    def open_document(
        self, document: Document, file: OpenFile | None = None, *, keep: bool = False, saved: bool = True
    ) -> None:
        """Work on another document, which has come from `file`; keep: the journal of the one that is left stays."""
        self.rest_hand()
        self.leave_document(keep=keep, file=file)
        self.document = document
        self.bound_history()
        self.saved_at = None  # it was saved before, by somebody
        self.stored_at = time.monotonic() if file else None
        self._saved_painting = document.painting if saved else replace(document.painting)
        self._nowhere = not saved
        self._instead = self.trials.trial = None
        self.strokes.forget()
        self._waiting.clear()
        self.comparing.forget()
        self.work.begin_anew()
        self.picture = Picture(document.painting, self.looking.sketch_on_top)
        self.smalls.forget()
        self.hand.fit_canvas(max(document.painting.width, document.painting.height))
        self.opened.emit()
        self.work.active_changed.emit()

    def bound_history(self) -> None:
        """How far back undo goes, as the painter wants it."""
        self.document.limit_bytes = recall("undo GB", 1) << 30
        self.document.limit_steps = recall("undo steps", 1000)

    def tick(self, *, idle: bool) -> None:
        """To be called every second: what is done is kept on disk, and what was long ago takes less room."""
        self.keeper.tick(idle=idle)
        if not self.strokes.under_way:
            self.document.count_held(one.painting for one in self.comparing.moments.kept)
            self._packer.tick(self.document)

    def leave_document(self, *, keep: bool, file: OpenFile | None = None) -> None:
        """Let go of the document's journal, and of its file unless it is `file` that is worked on from now."""
        self.keeper.close(keep=keep)
        if self.file is not None and self.file is not file:
            self.file.release()
        self.file = file

    def mark_saved(self, painting: Painting, file: OpenFile) -> None:
        """`painting`, which may no longer be the present one, is safe in `file`."""
        # During a stroke, the painting that it is laid on must not be put in another's place.
        settled = painting is self.painting and not self.strokes.under_way
        if settled:
            self.document.settle()
            painting = self.painting
        self.keeper.saved(file.path, settled=settled)
        self._saved_painting = painting
        if self.file is not None and self.file is not file:
            self.file.release()
        self.file, self._nowhere = file, False
        self.saved_at = self.stored_at = time.monotonic()
        remember_recent(file.path)
        self.saved.emit()

    # --- changing it ----------------------------------------------------------------------------------

    def rest_hand(self) -> None:
        """End what the hand is at, before anything else begins: a stroke counts as far as it has come."""
        self.strokes.end()
        self.hand_rested.emit()

    def begin_stroke(self, samples: list[tuple[float, ...]], *, wipe: bool = False) -> bool:
        """Put the brush down; False, with a word to the painter, if that cannot be now."""
        looks_back = self.comparing.before_shown or self._instead is not None
        if not self._occupied and not looks_back and self.strokes.follow_on(samples, wipe=wipe):
            return True
        return self._free() and self.strokes.begin(samples, wipe=wipe)

    def apply(self, operation: Operation) -> bool:
        """Run an operation; a refusal is told to the painter. While long work runs, it waits for that."""
        if not self._free(lambda: self.apply(operation)):
            return False
        try:
            with working():
                change = self.document.apply(operation)
        except InputError as error:
            self.told.emit(str(error))
            return False
        with working():
            self._after(change)
        return True

    def carry_out(
        self, operation: Operation, then: Callable[[], None] = lambda: None, ahead: Ahead | None = None
    ) -> None:
        """Run an operation that may take long, beside the window; `then` follows if it counts. ahead: it has begun
        already, if it is this one.
        """
        if not self._free(lambda: self.carry_out(operation, then, ahead)):
            return
        painting = self.painting
        begun = ahead is not None and ahead.painting is painting and ahead.operation == operation

        def work(progress: Callable[[float, str], None]) -> tuple[Painting, Change]:
            if ahead is not None and begun:
                return ahead.result(lambda done: progress(done, words))
            with watched(lambda done: progress(done, words)):
                return operation.apply(painting)

        def end(result: tuple[Painting, Change]) -> None:
            if self.painting is not painting:
                self.told.emit("The painting changed meanwhile; nothing was done.")
                return
            self.document.commit(operation, *result)
            self._after(result[1])
            then()

        words = f"{operation.op.capitalize()} …"
        if self.jobs.run(words, work, end):
            self._occupied = True

    def undo(self) -> None:
        """Go back one step; friskets are steps of their own if the painter wants them to be."""
        self._step(self.undo, partial(self.document.undo, skip_friskets=_friskets_skipped()), "Nothing to undo.")

    def redo(self) -> None:
        """Go forward again."""
        self._step(self.redo, partial(self.document.redo, skip_friskets=_friskets_skipped()), "Nothing to redo.")

    def _step(self, later: Callable[[], None], step: Callable[[], Change | None], nothing: str) -> None:
        if not self._free(later):
            return
        # By name: putting the hand to rest may have made the step that is taken back.
        with working():
            change = step()
            self._packer.tick(self.document)  # the next one is unpacked ahead
            if change is not None:
                self._after(change)
        if change is None:
            self.told.emit(nothing)

    def _free(self, later: Callable[[], object] | None = None) -> bool:
        """Whether the painting may be changed now; if so, the hand rests, and the present painting is shown.

        If not, `later` follows as soon as it may be: what was asked for is not lost.
        """
        if self._occupied:
            if later is None or len(self._waiting) >= MOST_WAITING:
                self.told.emit("Still busy with the last thing.")
            else:
                self._waiting.append(later)
                self.told.emit("That follows as soon as the last thing is done.")
            return False
        self.rest_hand()
        self._instead = None
        self.comparing.end()
        return True

    def _set_free(self) -> None:
        self._occupied = False
        QTimer.singleShot(0, self, self._catch_up)  # what the job has made counts first

    def _catch_up(self) -> None:
        """Do what was asked for meanwhile, in its order."""
        waiting, self._waiting = self._waiting, []
        for one in waiting:
            one()

    def _commit(self, operation: Operation, painting: Painting, change: Change) -> None:
        """A stroke that was shown while it was painted."""
        self.document.commit(operation, painting, change)
        if self.picture.ahead:
            self._put_off(painting, list(change.areas))
        self.changed.emit(change)

    def _after(self, change: Change) -> None:
        self.comparing.before_shown = False
        self.work.keep_valid()
        if self.picture.painting.rect != self.painting.rect:
            self.picture = Picture(self.painting, self.looking.sketch_on_top)
            self.smalls.forget()
            self.hand.fit_canvas(max(self.painting.width, self.painting.height))
            self.resized.emit()
        else:
            self._renew(self.painting, list(change.areas))
        self.changed.emit(change)

    # --- values ---------------------------------------------------------------------------------------

    def take_step(self, index: int) -> None:
        """Take a value step of the part, 0 accent to 4 highlight, in the present hue."""
        if self.part is not None:
            self.aiming.set_value(self.part.scale[index])

    def lift(self, steps: int) -> None:
        """Lift (or lower) the colour to the next value step of the part."""
        if self.part is None:
            return
        scale, value = self.part.scale, self.aiming.value
        at = nearest_step(scale, value)
        # Between two steps, the first lift goes to the next one in that direction, not past it.
        if abs(scale[at] - value) > 0.75 and (scale[at] - value) * steps > 0:
            steps -= 1 if steps > 0 else -1
        self.take_step(min(max(at + steps, 0), 4))

    def pick_up(self, x: float, y: float) -> Colour | None:
        """The colour at a canvas position: the mean of as many px as are set, of the picture or of the layer."""
        looking, layer = self.looking, self.work.active_layer
        if looking.pick_source == "layer" and layer is None:
            return None
        return picked(self.painting, x, y, looking.pick_source, layer or 0, looking.pick_side)

    # --- what is shown --------------------------------------------------------------------------------

    def _before_last_change(self) -> tuple[Painting, list[Rect]] | None:
        former = self.document.former
        return None if former is None else (former[0], list(former[1].areas))

    def _show_instead(self, painting: Painting, areas: list[Rect]) -> None:
        self._instead = painting
        self._renew(painting, areas)

    def _compose(self) -> None:
        """Other parts or sketches show: everything anew, as it stands, a stroke that is under way included."""
        self.picture.sketch_on_top = self.looking.sketch_on_top
        self._renew(self.strokes.preview or self._instead or self.painting, [self.painting.rect])
        self.strokes.again()

    def _renew(self, painting: Painting, areas: list[Rect]) -> None:
        """Show a painting where it has changed: what is shown reduced at once, and the rest when there is time."""
        small = self._small() if sum(one.width * one.height for one in areas) > LARGE_PX else None
        if small is None:
            # The hand waits for what it sees, and for nothing else.
            seen = self.looking.area if self.strokes.under_way else None
            self.picture.refresh(self.looking.seen(painting), areas, self.work.active_layer, seen)
            if self.picture.behind:
                self._rest.start(0)
        else:
            self._show_small(
                small.of(painting), [area.reduced(small.step).grown(1) for area in areas], small.step, tell=False
            )
            self._put_off(painting, areas)
        if areas:
            self.shown.emit(areas)

    def see_at(self, step: int, area: Rect) -> None:
        """Of the picture a canvas `area` is shown, with one px for `step` of the canvas."""
        self.looking.step, self.looking.area = step, area
        self._prepare.start()

    def _small(self) -> Small | None:
        """The painting at the size that it is shown at, if that is at hand."""
        return None if self.looking.look == "mask" else self.smalls.ready(self.looking.step)

    def _show_small(self, small: Painting, areas: list[Rect], step: int, *, tell: bool = True) -> None:
        level = step.bit_length() - 1
        self.picture.show_small(self.looking.seen(small), areas, level, self.work.active_layer)
        if tell:
            self.shown.emit([area.scaled(step).intersected(self.painting.rect) for area in areas])

    def _put_off(self, painting: Painting, areas: list[Rect]) -> None:
        self.picture.put_off(self.looking.seen(painting), areas, self.work.active_layer)
        self._rest.start(0)

    def _compose_rest(self) -> None:
        """Some of what is shown reduced so far, as it is in full; never while the hand paints."""
        if not self.picture.behind:
            return
        if self.strokes.under_way:
            self._rest.start(LATER_MS)
            return
        small = self._small()
        if small is not None and not small.knows(self.painting):
            small.of(self.painting)  # the next stroke needs it
        else:
            self.shown.emit(self.picture.catch_up(TILES_AT_ONCE))
        self._rest.start(0)
