"""The stroke that the hand is at."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QObject, QTimer, Signal

from japanner.desk.session.hand import Hand
from japanner.desk.session.pen_queue import PenQueue
from japanner.desk.session.worked_on import WorkedOn
from japanner.painting.live.followed import FollowedStroke
from japanner.painting.live.landing import Landing, landing
from japanner.painting.live.showing import NOTHING, OUTSIDE, SHOWS, grew, what_shows
from japanner.painting.live.stroke import LiveStroke
from japanner.painting.model import Painting
from japanner.painting.operations import Change, Operation, Target
from japanner.painting.picture.small import Small
from japanner.raster.geometry import Rect

__all__ = ["Strokes"]

Samples = Sequence[Sequence[float]]
Commit = Callable[[Operation, Painting, Change], None]
AT_ONCE_S, LOOK_MS = 0.02, 15
ShowSmall = Callable[[Painting, list[Rect], int], None]


@dataclass
class _Next:
    """A stroke that the hand is at already, while the one before still comes to its end behind."""

    samples: list[Sequence[float]]
    wipe: bool
    lifted: bool = False


class Strokes(QObject):
    """Puts the brush down, leads it, and lifts it again; what came of it is given to `commit`."""

    told = Signal(str)
    refused = Signal(str)  # why nothing is painted

    def __init__(
        self, painting: Callable[[], Painting], hand: Hand, work: WorkedOn, *,
        show: Callable[[Painting, list[Rect]], None], commit: Commit, apply: Callable[[Operation], bool],
        small: Callable[[], Small | None] = lambda: None, show_small: ShowSmall = lambda *_: None,
        parent: QObject | None = None,
    ) -> None:  # fmt: skip
        """`show`: gets the painting as it looks meanwhile, and where it changed; `apply` makes the layer that a stroke
        needs. `small`: at the size that is shown, if that is at hand: then strokes are painted there first, and
        `show_small` gets the small painting, where it changed, and its step.
        """
        super().__init__(parent)
        self._painting, self._hand, self._work = painting, hand, work
        self._show, self._commit, self._apply = show, commit, apply
        self._told_of_growing = False
        self._small, self._show_small = small, show_small
        self._stroke: LiveStroke | FollowedStroke | None = None
        self._next: _Next | None = None
        self._queue = PenQueue(self, self._paint_on)
        self._soon = QTimer(self)
        self._soon.setInterval(LOOK_MS)
        self._soon.timeout.connect(self._look)

    @property
    def under_way(self) -> bool:
        return self._stroke is not None or self._next is not None

    @property
    def preview(self) -> Painting | None:
        """The painting with the stroke on it, as far as it has come."""
        return self._stroke.preview if isinstance(self._stroke, LiveStroke) else None

    def begin(self, samples: Samples, *, wipe: bool = False) -> bool:
        """Put the brush down; False, with a word to the painter, if there is nothing to paint on.

        `wipe`: this stroke wipes (the other end of the pen), whatever the brush is set to.
        """
        self.end()
        return self._begin(samples, wipe)

    def follow_on(self, samples: Samples, *, wipe: bool = False) -> bool:
        """While the exact stroke before is still painted: the brush is put down when that counts, and catches up; the
        window does not wait. False if there is none.
        """
        stroke = self._stroke
        if self._next is not None or not isinstance(stroke, FollowedStroke) or not stroke.lifted or stroke.done():
            return False
        self._next = _Next(list(samples), wipe)
        return True

    def _begin(self, samples: Samples, wipe: bool) -> bool:
        wipes = wipe or self._hand.wiping
        trouble = self._trouble(wipes)
        layer = self._work.layer
        if trouble or layer is None:
            self.refused.emit(trouble)
            return False
        hand = self._hand
        place = landing(self._painting(), layer.uid, hand.brush, wipes=wipes, on=self._work.on)
        if place.make is not None:
            uid = self._painting().next_uid
            if not self._apply(place.make):
                return False
            place = Landing(uid)
        assert place.layer is not None
        self._stroke = self._put_down(place.layer, wipes=wipes)
        self._queue.drop()
        self._paint_on(samples)
        return True

    def _put_down(self, layer: int, *, wipes: bool) -> LiveStroke | FollowedStroke:
        """A stroke on a layer; where the picture is shown reduced, it is seen there first, and painted behind."""
        hand, painting, small = self._hand, self._painting(), self._small()
        lag_ms = hand.lag_ms if small is None else 0.0
        exact = LiveStroke(
            painting, layer, hand.brush, hand.colour, wipe=wipes, on=self._work.on, lag_ms=lag_ms, assist=hand.assist,
            unseen=small is not None,
        )  # fmt: skip
        if small is None:
            return exact
        return FollowedStroke(exact, small.of(painting), small.step, hand.brush, hand.colour, lag_ms=hand.lag_ms)

    def again(self) -> None:
        """Show once more what is only seen on the small painting."""
        if isinstance(self._stroke, FollowedStroke):
            self._show_small(self._stroke.preview, self._stroke.shown_areas, self._stroke.step)

    def _trouble(self, wipes: bool) -> str:
        """Why no stroke can begin; "" if one can."""
        layer, part, brush = self._work.layer, self._work.part, self._hand.brush
        if layer is None:
            return "There is no layer to paint on yet: add a part and a layer first."
        if not layer.shown or (part is not None and not part.shown):
            return f"{layer.name} is hidden; show it to paint on it."
        target = Target.of(self._painting(), layer.uid, self._work.on)
        if wipes and target.limit.hold_edges:
            return f"{layer.name} holds its edges, so nothing can be wiped off it."
        if brush.changes_paint and not wipes and not target.pixels.tiles:
            return f"{layer.name} is empty: {brush.kind} changes paint that is there."
        return ""

    def go_on(self, samples: Samples) -> None:
        if self._next is not None:
            self._next.samples += samples
        elif self._stroke is not None:
            self._queue.take(samples)

    def _paint_on(self, samples: Samples) -> None:
        if self._stroke is not None:
            self._shown(self._stroke, self._stroke.add(samples))

    def lift(self) -> None:
        """Lift the brush: the stroke becomes one operation, at once or, where the exact one is far behind, soon."""
        stroke = self._stroke
        if self._next is not None:
            self._next.lifted = True
            return
        if isinstance(stroke, FollowedStroke):
            self._queue.flush()
            stroke.lift()
            if not stroke.done(AT_ONCE_S):
                self._soon.start()
                return
        self.end()

    def _look(self) -> None:
        """Whether the exact stroke has come to its end by now."""
        if not isinstance(self._stroke, FollowedStroke) or not self._stroke.lifted:
            self._soon.stop()
        elif self._stroke.done():
            try:
                self._count()
            finally:
                self._go_over()

    def _go_over(self) -> None:
        """To the stroke that the hand is at by now."""
        following, self._next = self._next, None
        if following is not None and self._begin(following.samples, following.wipe) and following.lifted:
            self.lift()

    def end(self) -> None:
        """The stroke counts now, however long the exact one still takes; and so does one that follows it already."""
        try:
            self._count()
        finally:
            self._go_over()
            self._count()

    def _count(self) -> None:
        self._soon.stop()
        stroke = self._stroke
        if stroke is None:
            return
        try:
            self._queue.flush()
            self._shown(stroke, stroke.finish())
        except BaseException:
            self._take_back(stroke)  # whatever went wrong, the hand is free again
            raise
        finally:
            self._stroke = None
        outcome = stroke.outcome()
        if outcome is None:
            self._take_back(stroke)
            self.refused.emit(self._nothing())
            return
        before, after, uid = self._painting(), outcome[1], stroke.layer
        shows = what_shows(before, after, uid, stroke.areas) if self._work.on == "paint" else SHOWS
        if shows == NOTHING:
            self._take_back(stroke)
            self.refused.emit(self._nothing())
            return
        hand = self._hand
        if stroke.colour != hand.colour:
            hand.set_colour(stroke.colour)
        if stroke.brush.does.plain and not stroke.wipes:
            hand.remember_colour()
        part, layer = after.find(uid)
        # Before it is kept, for trouble in keeping it has the last word.
        if shows == OUTSIDE:
            self.refused.emit(f"It lies outside the silhouette of {part.name}, inside which {layer.name} is kept, and "
                              "does not show.")  # fmt: skip
        elif not self._told_of_growing and grew(before, after, uid, stroke.areas):
            self._told_of_growing = True
            self.told.emit(f"The silhouette of {part.name} has grown: this is its flat.")
        self._commit(*outcome)

    def _nothing(self) -> str:
        """Why a stroke has left nothing."""
        layer = self._work.layer
        if self._painting().frisket is not None:
            return "Nothing was painted: the frisket keeps the brush off there."
        if layer is not None and layer.hold_edges:
            return f"Nothing was painted: {layer.name} holds its edges, and has no paint there."
        return "The stroke has changed nothing."

    def cancel(self) -> None:
        """Give the stroke up."""
        if self._next is not None:
            self._next = None  # the one before has been finished by the hand
            return
        self._queue.drop()
        stroke, self._stroke = self._stroke, None
        if stroke is not None:
            self._take_back(stroke)

    def _take_back(self, stroke: LiveStroke | FollowedStroke) -> None:
        """Show the painting without it."""
        if isinstance(stroke, FollowedStroke):
            stroke.drop()
            self._show(self._painting(), [area.scaled(stroke.step) for area in stroke.shown_areas])
        else:
            self._show(self._painting(), stroke.areas)

    def forget(self) -> None:
        """There is another painting."""
        self._queue.drop()
        self._stroke = self._next = None

    def _shown(self, stroke: LiveStroke | FollowedStroke, areas: list[Rect]) -> None:
        if areas and isinstance(stroke, FollowedStroke):
            self._show_small(stroke.preview, areas, stroke.step)
        elif areas:
            self._show(stroke.preview, areas)
