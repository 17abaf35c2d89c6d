"""Parts and layers: adding, naming, ordering them, and what comes into the hand with them."""

from __future__ import annotations

import secrets

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QWidget

from japanner.color.srgb import srgb_from_hex
from japanner.desk.session.scale import fit_scale
from japanner.desk.session.session import Session
from japanner.desk.widgets.questions import ask_for_name
from japanner.painting.live.landing import over_role
from japanner.painting.operations import AddPart, BreakEdge, DuplicateLayer, MoveLayer, MovePart, SetLayer, SetPart
from japanner.painting.working_order import Stage, stage_for, working_order

__all__ = ["Building"]

EDGE_PX = 24.0
LONGEST_EDGE_PX = 600.0


class Building(QObject):
    """What panels and commands do to the structure of the painting."""

    def __init__(self, session: Session, window: QWidget) -> None:
        super().__init__(window)
        self._session, self._window = session, window

    # --- parts ----------------------------------------------------------------------------------------

    def add_part(self, material: str) -> None:
        """A new part in front with the first layer of its working order."""
        session = self._session
        number = sum(part.material == material for part in session.painting.parts) + 1
        name = material.capitalize() if number == 1 else f"{material.capitalize()} {number}"
        if session.apply(AddPart(name, material)):
            uid = session.painting.parts[-1].uid
            stage = working_order(material)[0]
            session.apply(stage.layer_for(session.painting.part(uid)))
            session.work.work_on_part(uid)
            self._take_up(stage)

    def rename_part(self, uid: int) -> None:
        part = self._session.painting.part(uid)
        name = ask_for_name(self._window, "Rename part", part.name)
        if name and name != part.name:
            self._session.apply(SetPart(uid, {"name": name}))

    def move_part(self, uid: int, shift: int) -> None:
        """Move a part by `shift` places towards the front."""
        parts = self._session.painting.parts
        index = next(i for i, part in enumerate(parts) if part.uid == uid)
        target = min(max(index + shift, 0), len(parts) - 1)
        if target != index:
            self._session.apply(MovePart(uid, target))

    def propose_scale(self) -> None:
        """Give the part five steps for its flat's value, its material and the light."""
        if not fit_scale(self._session):
            self._session.told.emit("The scale follows the flat: fill it first.")

    def break_edge(self) -> None:
        """Strands out of the part's silhouette, as long as the hairs of a brush for fur, if one is in hand."""
        session, part, brush = self._session, self._session.part, self._session.hand.brush
        if part is not None:
            length = brush.hair_px if brush.does.coat else EDGE_PX
            session.carry_out(BreakEdge(part.uid, round(min(length, LONGEST_EDGE_PX), 1), secrets.randbits(31)))

    # --- layers ---------------------------------------------------------------------------------------

    def add_layer(self, role: str, index: int | None = None) -> None:
        """Add a layer of `role`, set up as the part's working order has it, and work on it."""
        part = self._session.part
        if part is None:
            self._session.told.emit("Add a part first: a layer belongs to a part.")
            return
        self.add_stage(stage_for(part, role), index)

    def add_stage(self, stage: Stage, index: int | None = None) -> None:
        """Add a layer set up in some way, and work on it."""
        session, uid = self._session, self._session.painting.next_uid
        if session.part is not None and session.apply(stage.layer_for(session.part, index)):
            session.work.work_on_layer(uid)
            self._take_up(stage)

    def _take_up(self, stage: Stage) -> None:
        """What a stage begins with comes into the hand; the former brush rests."""
        hand = self._session.hand
        hand.take_brush_named(stage.brush)
        if stage.colour:
            hand.set_colour(srgb_from_hex(stage.colour))

    def duplicate_layer(self, uid: int) -> None:
        """A copy after the layer, which is worked on from now."""
        copy = self._session.painting.next_uid
        if self._session.apply(DuplicateLayer(uid)):
            self._session.work.work_on_layer(copy)

    def add_over(self) -> None:
        """A layer over the part, where nothing is cut off by its silhouette; the brush in hand stays."""
        part = self._session.part
        if part is not None:
            self.add_stage(Stage(over_role(part), place="over"))

    def rename_layer(self, uid: int) -> None:
        layer = self._session.painting.layer(uid)
        name = ask_for_name(self._window, "Rename layer", layer.name)
        if name and name != layer.name:
            self._session.apply(SetLayer(uid, {"name": name}))

    def move_layer(self, uid: int, shift: int) -> None:
        """Move a layer by `shift` places in the build."""
        part, layer = self._session.painting.find(uid)
        index = part.layers.index(layer)
        target = min(max(index + shift, 0), len(part.layers) - 1)
        if target != index:
            self._session.apply(MoveLayer(uid, target))
