"""The stroke that the hand is at."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QObject, Signal

from japanner.desk.session.hand import Hand
from japanner.desk.session.pen_queue import PenQueue
from japanner.desk.session.worked_on import WorkedOn
from japanner.painting.live.landing import Landing, landing
from japanner.painting.live.showing import NOTHING, OUTSIDE, SHOWS, grew, what_shows
from japanner.painting.live.stroke import LiveStroke
from japanner.painting.model import Painting
from japanner.painting.operations import Change, Operation, Target
from japanner.raster.geometry import Rect

__all__ = ["Strokes"]

Samples = Sequence[Sequence[float]]
Commit = Callable[[Operation, Painting, Change], None]


class Strokes(QObject):
    """Puts the brush down, leads it, and lifts it again; what came of it is given to `commit`."""

    told = Signal(str)
    refused = Signal(str)  # why nothing is painted

    def __init__(
        self, painting: Callable[[], Painting], hand: Hand, work: WorkedOn, *,
        show: Callable[[Painting, list[Rect]], None], commit: Commit, apply: Callable[[Operation], bool],
        parent: QObject | None = None,
    ) -> None:  # fmt: skip
        """`show`: gets the painting as it looks meanwhile, and where it changed; `apply` makes the layer that a stroke
        needs.
        """
        super().__init__(parent)
        self._painting, self._hand, self._work = painting, hand, work
        self._show, self._commit, self._apply = show, commit, apply
        self._told_of_growing = False
        self._stroke: LiveStroke | None = None
        self._queue = PenQueue(self, self._paint_on)

    @property
    def under_way(self) -> bool:
        return self._stroke is not None

    @property
    def preview(self) -> Painting | None:
        """The painting with the stroke on it, as far as it has come."""
        return None if self._stroke is None else self._stroke.preview

    def begin(self, samples: Samples, *, wipe: bool = False) -> bool:
        """Put the brush down; False, with a word to the painter, if there is nothing to paint on.

        `wipe`: this stroke wipes (the other end of the pen), whatever the brush is set to.
        """
        self.end()
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
        self._stroke = LiveStroke(
            self._painting(), place.layer, hand.brush, hand.colour, wipe=wipes, on=self._work.on, lag_ms=hand.lag_ms,
            assist=hand.assist,
        )  # fmt: skip
        self._queue.drop()
        self._paint_on(samples)
        return True

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
        if self._stroke is not None:
            self._queue.take(samples)

    def _paint_on(self, samples: Samples) -> None:
        if self._stroke is not None:
            self._shown(self._stroke, self._stroke.add(samples))

    def end(self) -> None:
        """Lift the brush: the stroke becomes one operation."""
        stroke = self._stroke
        if stroke is None:
            return
        self._queue.flush()
        self._shown(stroke, stroke.finish())
        self._stroke = None
        outcome = stroke.outcome()
        if outcome is None:
            self.refused.emit(self._nothing())
            return
        before, after, uid = self._painting(), outcome[1], stroke.layer
        shows = what_shows(before, after, uid, stroke.areas) if self._work.on == "paint" else SHOWS
        if shows == NOTHING:
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
        self._queue.drop()
        if self._stroke is not None:
            areas, self._stroke = self._stroke.areas, None
            self._show(self._painting(), areas)

    def forget(self) -> None:
        """There is another painting."""
        self._queue.drop()
        self._stroke = None

    def _shown(self, stroke: LiveStroke, areas: list[Rect]) -> None:
        if areas:
            self._show(stroke.preview, areas)
