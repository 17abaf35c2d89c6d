"""The workbench: the one object that changes the painting and knows what the painter holds."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, Signal

from japanner.desk.session.hand import Hand
from japanner.desk.session.jobs import Jobs
from japanner.desk.session.pen_queue import PenQueue
from japanner.desk.settings import remember_recent
from japanner.errors import InputError
from japanner.files import ora_write
from japanner.files.open_file import OpenFile
from japanner.painting.document.document import Document
from japanner.painting.document.keeper import JournalKeeper
from japanner.painting.live.moments import LAST_SAVE, Moments
from japanner.painting.live.stroke import LiveStroke
from japanner.painting.live.trial import Triable, Trial
from japanner.painting.model import DEFAULT_SCALE, Layer, Painting, Part
from japanner.painting.operations import Change, Operation, Target
from japanner.painting.picture.looks import LOOKS, even_scale, nearest_step
from japanner.painting.picture.picture import Picture
from japanner.painting.value.picking import picked
from japanner.raster.geometry import Rect
from japanner.raster.parallel import watched

__all__ = ["Workbench"]


class Workbench(Hand):
    """Holds the document, its picture, and the hand: brushes, colour, layer worked on, look.

    Widgets read from here and listen to its signals; none keeps a second copy of the truth.
    """

    opened = Signal()  # another document
    changed = Signal(object)  # a core Change: the painting is another one
    shown = Signal(object)  # list of canvas Rects whose pixels were renewed
    active_changed = Signal()  # part or layer worked on
    look_changed = Signal()
    tried = Signal()  # the trial shows something else, or there is none any more
    target_changed = Signal()  # paint or mask; layers marked
    resized = Signal()  # the canvas has another size, or another picture shows it
    saved = Signal()
    hand_rested = Signal()  # whatever the pen still says belongs to nothing any more

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.picture = Picture(document.painting)
        self.jobs = Jobs(self)
        self.jobs.told.connect(self.told)
        self._occupied = False  # while a long operation runs, the painting must not change under it
        self.jobs.ended.connect(self._set_free)
        self.trial: Trial | None = None
        self.file: OpenFile | None = None
        self.saved_at: float | None = None
        self._saved_painting: Painting = document.painting
        self.keeper = JournalKeeper(self.told.emit, ora_write.write)
        self.active_layer: int | None = None
        self.active_part: int | None = None
        self.on = "paint"
        self.marked: frozenset[int] = frozenset()
        self.look = "colour"
        self.line_shown = True
        self.outlines_shown = False
        self.part_alone = False
        self.even_steps = 0  # 0: the steps look shows the part's own scale
        self.squint = 3
        self.pick_side, self.pick_source = 1, "visible"
        self.guides_shown = True
        self.before_shown = False
        self.moments = Moments()
        self._stroke: LiveStroke | None = None
        self._pen_queue = PenQueue(self, self._paint_on)
        self._preview: Painting | None = None
        self._choose_first_layer()

    # --- the document ---------------------------------------------------------------------------------

    @property
    def painting(self) -> Painting:
        return self.document.painting

    @property
    def unsaved(self) -> bool:
        return self.painting is not self._saved_painting

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
        self.saved_at = time.monotonic() if file else None
        self._saved_painting = document.painting if saved else replace(document.painting)
        self._stroke = self._preview = self.trial = None
        self.before_shown = False
        self.moments.forget()
        self._choose_first_layer()
        self.picture = Picture(document.painting, self.picture.sketch_on_top)
        self.opened.emit()
        self.active_changed.emit()

    def leave_document(self, *, keep: bool, file: OpenFile | None = None) -> None:
        """Let go of the document's journal, and of its file unless it is `file` that is worked on from now."""
        self.keeper.close(keep=keep)
        if self.file is not None and self.file is not file:
            self.file.release()
        self.file = file

    def mark_saved(self, painting: Painting, file: OpenFile) -> None:
        """`painting`, which may no longer be the present one, is safe in `file`."""
        # During a stroke, the painting that it is laid on must not be put in another's place.
        settled = painting is self.painting and self._stroke is None
        if settled:
            self.document.settle()
            painting = self.painting
        self.keeper.saved(file.path, settled=settled)
        self._saved_painting = painting
        if self.file is not None and self.file is not file:
            self.file.release()
        self.file, self.saved_at = file, time.monotonic()
        remember_recent(file.path)
        self.saved.emit()

    def rest_hand(self) -> None:
        """End what the hand is at, before anything else begins: a stroke counts as far as it has come."""
        self.end_stroke()
        self.hand_rested.emit()

    def apply(self, operation: Operation) -> bool:
        """Run an operation; a refusal is told to the painter."""
        if not self._free():
            return False
        try:
            change = self.document.apply(operation)
        except InputError as error:
            self.told.emit(str(error))
            return False
        self._after(change)
        return True

    def _free(self) -> bool:
        """Whether the painting may be changed now; if so, the hand rests, and the present painting is shown."""
        if self._occupied:
            self.told.emit("Still busy with the last thing.")
            return False
        self.rest_hand()
        self._show_present()
        return True

    def carry_out(self, operation: Operation, then: Callable[[], None] = lambda: None) -> None:
        """Run an operation that may take long, beside the window; `then` follows if it counts."""
        if not self._free():
            return
        painting = self.painting

        def work(progress: Callable[[float, str], None]) -> tuple[Painting, Change]:
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

    def _set_free(self) -> None:
        self._occupied = False

    # --- trying out -----------------------------------------------------------------------------------

    def begin_trial(self) -> None:
        """Have a small copy of the painting to try operations on; the easel shows it until `end_trial`."""
        self.rest_hand()
        self.trial = Trial(self.painting, self.active_layer)

    def try_out(self, operation: Triable | None) -> bool:
        """Show what an operation would do; a refusal is told, and the picture stays."""
        if self.trial is None:
            self.begin_trial()
        assert self.trial is not None
        try:
            self.trial.show(operation)
        except InputError as error:
            self.told.emit(str(error))
            return False
        self.tried.emit()
        return True

    def end_trial(self) -> None:
        self.trial = None
        self.tried.emit()

    def blink(self) -> None:
        """Show the painting as it was at the moment chosen to compare with; again to come back."""
        self.rest_hand()
        former = self._former()
        if former is None:
            self.told.emit("There is nothing to compare with yet.")
            return
        painting, areas = former
        if (painting.width, painting.height) != (self.painting.width, self.painting.height):
            self.told.emit("The canvas had another size then; undo to see it.")
            return
        self.before_shown = not self.before_shown
        self._renew(painting if self.before_shown else self.painting, areas)
        self.look_changed.emit()

    def _former(self) -> tuple[Painting, list[Rect]] | None:
        """The painting to compare with, and where it may differ."""
        chosen, whole = self.moments.chosen, [self.painting.rect]
        if chosen == LAST_SAVE:
            return self._saved_painting, whole
        if isinstance(chosen, int):
            return self.moments.kept[chosen].painting, whole
        former = self.document.former
        return None if former is None else (former[0], list(former[1].areas) or whole)

    def keep_moment(self) -> None:
        """Keep the painting as it is now to compare with later."""
        self.moments.keep(time.strftime("%H:%M:%S"), self.painting)
        self.told.emit("This moment is kept: B compares with it. Look › Compare with chooses others.")

    def compare_with(self, what: str | int) -> None:
        """Choose what `blink` shows: LAST_CHANGE, LAST_SAVE or the index of a kept moment."""
        if self.before_shown:
            self.blink()
        self.moments.chosen = what
        self.look_changed.emit()

    def _show_present(self) -> None:
        """End whatever is shown instead of the present painting."""
        self._preview = None
        if self.before_shown:
            self.blink()

    def preview(self, operation: Operation) -> None:
        """Show what an operation would do, while a handle is being dragged; `apply` makes it count."""
        self.rest_hand()
        try:
            self._preview, change = operation.apply(self.painting)
        except InputError as error:
            self.told.emit(str(error))
            return
        self._renew(self._preview, list(change.areas))

    def undo(self) -> None:
        self._step(self.document.undo, "Nothing to undo.")

    def redo(self) -> None:
        self._step(self.document.redo, "Nothing to redo.")

    def _step(self, step: Any, nothing: str) -> None:
        if not self._free():
            return
        change = step()
        if change is None:
            self.told.emit(nothing)
        else:
            self._after(change)

    def _after(self, change: Change) -> None:
        self.before_shown = False
        if change.structure:
            self._keep_active_valid()
        if self.picture.painting.rect != self.painting.rect:
            self._new_picture()
        else:
            self._renew(self.painting, list(change.areas))
        self._keep_target_valid()
        self.changed.emit(change)

    def _new_picture(self) -> None:
        self.picture = Picture(self.painting, self.picture.sketch_on_top)
        self.resized.emit()

    def show_sketch_on_top(self, on: bool) -> None:
        """Draw sketches over everything, light on dark and dark on light; the layers stay as they are."""
        self.rest_hand()
        self.picture.sketch_on_top = on
        self._renew(self.painting, [self.painting.rect])
        self.look_changed.emit()

    def _seen(self, painting: Painting) -> Painting:
        """The painting as it is looked at: all of it, or one part alone on the ground."""
        if not self.part_alone:
            return painting
        return replace(painting, parts=tuple(part for part in painting.parts if part.uid == self.active_part))

    def show_part_alone(self, on: bool) -> None:
        """Look at the part worked on without the others."""
        self.rest_hand()
        self.part_alone = on
        self._renew(self.painting, [self.painting.rect])
        self.look_changed.emit()

    def set_view(self, **settings: Any) -> None:
        """Change how the picture is looked at: outlines_shown, even_steps, squint, pick_side, pick_source."""
        for name, value in settings.items():
            setattr(self, name, value)
        self.look_changed.emit()

    def pick_up(self, x: float, y: float) -> tuple[float, float, float] | None:
        """The colour at a canvas position: the mean of as many px as are set, of the picture or of the layer."""
        if self.pick_source == "layer" and self.active_layer is None:
            return None
        return picked(self.painting, x, y, self.pick_source, self.active_layer or 0, self.pick_side)

    def show_frisket_line(self, on: bool) -> None:
        self.line_shown = on
        self.look_changed.emit()

    def show_guides(self, on: bool) -> None:
        self.guides_shown = on
        self.look_changed.emit()

    def _renew(self, painting: Painting, areas: list[Rect]) -> None:
        self.picture.refresh(self._seen(painting), areas, self.active_layer)
        if areas:
            self.shown.emit(areas)

    # --- what is worked on ----------------------------------------------------------------------------

    @property
    def part(self) -> Part | None:
        return next((part for part in self.painting.parts if part.uid == self.active_part), None)

    @property
    def layer(self) -> Layer | None:
        return next((layer for _, layer in self.painting.layers() if layer.uid == self.active_layer), None)

    def work_on_layer(self, uid: int) -> None:
        part, _ = self.painting.find(uid)
        other = part.uid != self.active_part
        self.active_layer, self.active_part = uid, part.uid
        self._target("paint")
        if other:
            self._part_changed()
        self.active_changed.emit()

    def work_on_part(self, uid: int) -> None:
        part = self.painting.part(uid)
        self.active_part = uid
        self.active_layer = part.layers[-1].uid if part.layers else None
        self._part_changed()
        self.active_changed.emit()

    def _part_changed(self) -> None:
        if self.part_alone:
            self.rest_hand()
            self._renew(self.painting, [self.painting.rect])

    def mark_layer(self, uid: int) -> None:
        """Mark a layer to be moved together with the one worked on, or take the mark off."""
        self.marked = self.marked ^ {uid}
        self.target_changed.emit()

    def work_on(self, on: str) -> None:
        """Work on the layer's paint or on its mask."""
        if on == "mask" and (self.layer is None or self.layer.mask is None):
            self.told.emit("This layer has no mask; add one first.")
            return
        self._target(on)

    def _target(self, on: str) -> None:
        self.on, self.marked = on, frozenset()
        self.target_changed.emit()

    def _keep_target_valid(self) -> None:
        if self.on == "mask" and (self.layer is None or self.layer.mask is None):
            self._target("paint")
        there = {layer.uid for _, layer in self.painting.layers()}
        if self.marked - there:
            self.marked &= there
            self.target_changed.emit()

    def _choose_first_layer(self) -> None:
        layers = list(self.painting.layers())
        part, layer = layers[-1] if layers else (None, None)
        self.active_layer = layer.uid if layer else None
        self.active_part = part.uid if part else (self.painting.parts[-1].uid if self.painting.parts else None)

    def _keep_active_valid(self) -> None:
        before = (self.active_part, self.active_layer)
        if self.part is None:
            self._choose_first_layer()
        elif self.layer is None or self.layer not in self.part.layers:
            self.active_layer = self.part.layers[-1].uid if self.part.layers else None
        if before != (self.active_part, self.active_layer):
            self.active_changed.emit()

    # --- values and looks --------------------------------------------------------------------------------

    def take_step(self, index: int) -> None:
        """Take a value step of the part, 0 accent to 4 highlight, in the present hue."""
        if self.part is not None:
            self.set_value(self.part.scale[index])

    def lift(self, steps: int) -> None:
        """Lift (or lower) the colour to the next value step of the part."""
        if self.part is None:
            return
        scale, value = self.part.scale, self.value
        at = nearest_step(scale, value)
        # Between two steps, the first lift goes to the next one in that direction, not past it.
        if abs(scale[at] - value) > 0.75 and (scale[at] - value) * steps > 0:
            steps -= 1 if steps > 0 else -1
        self.take_step(min(max(at + steps, 0), 4))

    def set_look(self, look: str) -> None:
        self.look = look
        self.look_changed.emit()

    @property
    def look_scale(self) -> tuple[float, ...]:
        """The steps that the steps look shows."""
        if self.even_steps:
            return even_scale(self.even_steps)
        return self.part.scale if self.part is not None else DEFAULT_SCALE

    def next_look(self) -> None:
        at = LOOKS.index(self.look) if self.look in LOOKS else -1
        self.set_look(LOOKS[(at + 1) % len(LOOKS)])

    # --- strokes --------------------------------------------------------------------------------------

    @property
    def painting_now(self) -> bool:
        return self._stroke is not None

    def begin_stroke(self, samples: Sequence[Sequence[float]], *, wipe: bool = False) -> bool:
        """Put the brush down; False, with a word to the painter, if there is nothing to paint on.

        `wipe`: this stroke wipes (the other end of the pen), whatever the brush is set to.
        """
        self.end_stroke()
        layer = self.layer
        if layer is None:
            self.told.emit("There is no layer to paint on yet: add a part and a layer first.")
            return False
        if self._occupied:
            self.told.emit("Still busy with the last thing.")
            return False
        self._show_present()
        if not layer.shown or (self.part is not None and not self.part.shown):
            self.told.emit(f"{layer.name} is hidden; show it to paint on it.")
            return False
        wipes = wipe or self.wiping
        target = Target.of(self.painting, layer.uid, self.on)
        if wipes and target.limit.hold_edges:
            self.told.emit(f"{layer.name} holds its edges, so nothing can be wiped off it.")
            return False
        if self.brush.changes_paint and not wipes and not target.pixels.tiles:
            self.told.emit(f"{layer.name} is empty: {self.brush.kind} changes paint that is there.")
            return False
        self._stroke = LiveStroke(
            self.painting, layer.uid, self.brush, self.colour, wipe=wipes, on=self.on, lag_ms=self.lag_ms,
            assist=self.assist,
        )  # fmt: skip
        self._pen_queue.drop()
        self._paint_on(samples)
        return True

    def continue_stroke(self, samples: Sequence[Sequence[float]]) -> None:
        if self._stroke is not None:
            self._pen_queue.take(samples)

    def _paint_on(self, samples: Sequence[Sequence[float]]) -> None:
        if self._stroke is not None:
            self._show_stroke(self._stroke.add(samples))

    def end_stroke(self) -> None:
        """Lift the brush: the stroke becomes one operation."""
        stroke = self._stroke
        if stroke is None:
            return
        self._pen_queue.flush()
        self._show_stroke(stroke.finish())
        self._stroke = None
        outcome = stroke.outcome()
        if outcome is None:
            return
        if stroke.colour != self.colour:
            self.set_colour(stroke.colour)
        if stroke.brush.kind == "lay" and not stroke.wipes:
            self.remember_colour()
        self.document.commit(*outcome)
        self.changed.emit(outcome[2])

    def cancel_stroke(self) -> None:
        """Give the stroke up."""
        self._pen_queue.drop()
        if self._stroke is not None:
            areas, self._stroke = self._stroke.areas, None
            self._renew(self.painting, areas)

    def _show_stroke(self, areas: list[Rect]) -> None:
        if areas and self._stroke is not None:
            self._renew(self._stroke.preview, areas)
