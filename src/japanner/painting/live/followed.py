"""A stroke that is seen on the small painting at once, while the exact one follows behind from the same samples."""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor, wait
from threading import Event, Lock
from typing import Final

from japanner.painting.live.stroke import LiveStroke
from japanner.painting.model import Painting
from japanner.painting.operations import Change, Operation
from japanner.raster.geometry import Rect
from japanner.raster.parallel import in_front, stand_alone
from japanner.stroke.brush import Brush
from japanner.stroke.pen.samples import PenSample
from japanner.stroke.pen.steadying import Steady
from japanner.types import Colour

__all__ = ["FollowedStroke"]

EXACT: Final = ThreadPoolExecutor(1, "exact", initializer=stand_alone)
"""There is one hand: one exact stroke is painted at a time."""
GATHER_S: Final = 0.03
"""Samples of so long are painted together: nobody sees them, and each bundle has its price."""


class _Behind:
    """Paints a stroke in another thread: whatever samples are waiting, at once."""

    def __init__(self, stroke: LiveStroke) -> None:
        self.stroke = stroke
        self._waiting: list[Sequence[float]] = []
        self._lock, self._lifted = Lock(), Event()
        self._going: Future[None] | None = None

    def add(self, samples: Sequence[Sequence[float]]) -> None:
        with self._lock:
            self._waiting += samples
        if self._going is None or self._going.done():
            if self._going is not None:
                self._going.result()
            self._going = EXACT.submit(self._paint)

    def _paint(self) -> None:
        while True:
            self._lifted.wait(GATHER_S)
            with self._lock:
                samples, self._waiting = self._waiting, []
            if not samples:
                return
            self.stroke.add(samples)

    def lift(self) -> Future[None]:
        """Paint it to its end: now that the hand rests, on all cores."""
        self._lifted.set()
        return EXACT.submit(self._end)

    def _end(self) -> None:
        if self._going is not None:
            self._going.result()
        with in_front():
            self._paint()
            self.stroke.finish()

    def drop(self) -> None:
        """Nothing comes of it; what it is at ends by itself."""
        self._lifted.set()
        with self._lock:
            self._waiting = []


class FollowedStroke:
    """Stands in for a `LiveStroke`: what it paints is shown on `small`, the painting reduced by `step`."""

    def __init__(
        self, exact: LiveStroke, small: Painting, step: int, brush: Brush, colour: Colour, *, lag_ms: float = 0.0,
    ) -> None:  # fmt: skip
        """exact: not yet begun, and without a lag of its own. small, step: see `japanner.painting.picture.small`."""
        self._behind, self.step = _Behind(exact), step
        self._steady = Steady(lag_ms)
        self._shown = LiveStroke(
            small, exact.layer, brush.scaled(1 / step), colour, wipe=exact.wipes, on=exact.on, seed=exact.seed, px=step
        )
        self._end: Future[None] | None = None
        self.shown_areas: list[Rect] = []
        """Of the small painting: what the stroke has changed so far."""

    @property
    def layer(self) -> int:
        return self._behind.stroke.layer

    @property
    def wipes(self) -> bool:
        return self._behind.stroke.wipes

    @property
    def brush(self) -> Brush:
        return self._behind.stroke.brush

    @property
    def colour(self) -> Colour:
        return self._behind.stroke.colour

    @property
    def preview(self) -> Painting:
        """The small painting with the stroke on it."""
        return self._shown.preview

    @property
    def areas(self) -> list[Rect]:
        """Canvas areas that the exact stroke has changed, once it is finished."""
        return self._behind.stroke.areas

    def add(self, samples: Sequence[Sequence[float]]) -> list[Rect]:
        """Paint on; the areas of the small painting that look different now."""
        return self._put(self._steady.follow(samples))

    def _put(self, pens: Sequence[PenSample]) -> list[Rect]:
        self._behind.add(pens)
        areas = self._shown.add([pen._replace(x=pen.x / self.step, y=pen.y / self.step) for pen in pens])
        self.shown_areas += areas
        return areas

    def lift(self) -> None:
        """The pen is lifted: the exact stroke goes on to its end."""
        if self._end is None:
            self._behind.add(self._steady.end())
            self._end = self._behind.lift()

    @property
    def lifted(self) -> bool:
        return self._end is not None

    def done(self, within_s: float = 0.0) -> bool:
        """Whether the exact stroke has come to its end, or does within so long."""
        return self._end is not None and bool(wait((self._end,), within_s).done)

    def finish(self) -> list[Rect]:
        """Wait for the exact stroke; nothing more is painted on the small painting."""
        self.lift()
        assert self._end is not None
        self._end.result()
        return []

    def outcome(self) -> tuple[Operation, Painting, Change] | None:
        return self._behind.stroke.outcome()

    def drop(self) -> None:
        """The stroke is given up."""
        self._behind.drop()
