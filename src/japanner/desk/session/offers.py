"""What could be done about a stroke that could not be painted, one press away."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QObject, Signal

from japanner.desk.session.building import Building
from japanner.desk.session.session import Session
from japanner.painting.model import Layer, Part
from japanner.painting.operations import DropFrisket, SetLayer, SetPart
from japanner.painting.working_order import next_stage

__all__ = ["Offers"]

Offer = tuple[str, Callable[[], object]]


class Offers(QObject):
    """Hears why nothing was painted, and says it together with what is missing."""

    offered = Signal(str, str, object)  # a sentence, the words of a button, and what that does

    def __init__(self, session: Session, building: Building) -> None:
        super().__init__(session)
        self._session, self._building = session, building
        session.strokes.refused.connect(self._on_refused)

    def _on_refused(self, words: str) -> None:
        offer = self._offer()
        if offer is None:
            self._session.told.emit(words)
        else:
            self.offered.emit(words, *offer)

    def _offer(self) -> Offer | None:
        """What is missing just now."""
        part, layer = self._session.part, self._session.layer
        if part is None:
            return "Begin a drawing", partial(self._building.add_part, "drawing")
        if layer is None:
            stage = next_stage(part)
            role = stage.role if stage is not None else "detail"
            return f"Add a {role} layer", partial(self._building.add_layer, role)
        return self._on_layer(part, layer)

    def _on_layer(self, part: Part, layer: Layer) -> Offer | None:
        """What keeps strokes off a layer that is there, the first that does."""
        session = self._session
        apply = session.apply
        keeps: tuple[tuple[bool, str, Callable[[], object]], ...] = (
            (not part.shown, f"Show {part.name}", lambda: apply(SetPart(part.uid, {"shown": True}))),
            (not layer.shown, f"Show {layer.name}", lambda: apply(SetLayer(layer.uid, {"shown": True}))),
            (session.hand.brush.changes_paint and not layer.pixels.tiles, *self._another_brush()),
            (session.painting.frisket is not None, "Take the frisket off", lambda: apply(DropFrisket())),
            (layer.hold_edges, "Let go of its edges", lambda: apply(SetLayer(layer.uid, {"hold_edges": False}))),
            (layer.place == "body" and bool(part.flats), "Paint on a layer over", self._building.add_over),
        )
        return next(((words, act) for is_so, words, act in keeps if is_so), None)

    def _another_brush(self) -> Offer:
        """A brush that lays: the resting one, or one of the roll."""
        hand = self._session.hand
        lays = [hand.resting, *(i for i, one in enumerate(hand.brushes) if one.roll in (hand.roll, "basic"))]
        index = next(i for i in lays if hand.brushes[i].does.lays and not hand.brushes[i].changes_paint)
        return f"Take up {hand.brushes[index].name}", lambda: hand.take_brush(index)
