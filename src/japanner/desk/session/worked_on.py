"""What is worked on: a part, one of its layers, and of that its paint or its mask."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from japanner.painting.model import Layer, Painting, Part

__all__ = ["WorkedOn"]


class WorkedOn(QObject):
    """Remembers uids, and finds what they name in the present painting."""

    active_changed = Signal()  # part or layer worked on
    target_changed = Signal()  # paint or mask; layers marked
    told = Signal(str)

    def __init__(self, painting: Callable[[], Painting], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._painting = painting
        self.active_layer: int | None = None
        self.active_part: int | None = None
        self.on = "paint"
        self.marked: frozenset[int] = frozenset()
        self.begin_anew()

    @property
    def part(self) -> Part | None:
        return next((part for part in self._painting().parts if part.uid == self.active_part), None)

    @property
    def layer(self) -> Layer | None:
        return next((layer for _, layer in self._painting().layers() if layer.uid == self.active_layer), None)

    def work_on_layer(self, uid: int) -> None:
        part, _ = self._painting().find(uid)
        self.active_layer, self.active_part = uid, part.uid
        self._target("paint")
        self.active_changed.emit()

    def work_on_part(self, uid: int) -> None:
        part = self._painting().part(uid)
        self.active_part = uid
        self.active_layer = part.layers[-1].uid if part.layers else None
        self._target("paint")
        self.active_changed.emit()

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

    def begin_anew(self) -> None:
        """Another painting: its last layer."""
        layers = list(self._painting().layers())
        part, layer = layers[-1] if layers else (None, None)
        parts = self._painting().parts
        self.active_layer = layer.uid if layer else None
        self.active_part = part.uid if part else (parts[-1].uid if parts else None)
        self.on, self.marked = "paint", frozenset()

    def work_on_named(self, part: str, layer: str) -> None:
        """The first layer of a name in a part of a name, if there is one."""
        for found, one in self._painting().layers():
            if (found.name, one.name) == (part, layer):
                self.work_on_layer(one.uid)
                return

    def keep_valid(self) -> None:
        """The painting has changed: what is gone is worked on no more."""
        before = (self.active_part, self.active_layer)
        if self.part is None:
            self.begin_anew()
        elif self.layer is None or self.layer not in self.part.layers:
            self.active_layer = self.part.layers[-1].uid if self.part.layers else None
        if before != (self.active_part, self.active_layer):
            self.active_changed.emit()
        if self.on == "mask" and (self.layer is None or self.layer.mask is None):
            self._target("paint")
        there = {layer.uid for _, layer in self._painting().layers()}
        if self.marked - there:
            self.marked &= there
            self.target_changed.emit()

    def _target(self, on: str) -> None:
        self.on, self.marked = on, frozenset()
        self.target_changed.emit()
