"""What commands work with."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol, TypeVar

from japanner.desk.commands.command import Need
from japanner.desk.easel.easel import Easel
from japanner.desk.easel.trace_player import TracePlayer
from japanner.desk.session.building import Building
from japanner.desk.session.clipboard import Clipboard
from japanner.desk.session.files_desk import FilesDesk
from japanner.desk.session.grid_keeper import GridKeeper
from japanner.desk.session.session import Session
from japanner.desk.tasks.registry import Tasks
from japanner.painting.operations import Operation

__all__ = ["Bench", "Desk", "Pages", "has", "on"]

Item = TypeVar("Item")


class Bench(Protocol):
    """The panels around the easel."""

    alone: bool

    def begin_with(self, window_width: int) -> None: ...

    def form_of(self, name: str) -> str: ...

    def set_form(self, name: str, form: str) -> None: ...

    def next_form(self, name: str) -> None: ...


class Pages(Protocol):
    """What the window itself can show."""

    def show_start(self) -> None: ...

    def show_bench(self) -> None: ...

    def show_brush_sheet(self) -> None: ...

    def toggle_brush_sheet(self) -> None: ...

    def show_second_window(self) -> None: ...

    def show_reference(self, where: str, index: int = 0) -> None: ...

    def show_keys(self) -> None: ...

    def show_guide(self, topic: str = "", page: str = "guide") -> None: ...

    def begin_tour(self) -> None: ...

    def watch_growth(self) -> None: ...

    def show_about(self) -> None: ...

    def show_report(self) -> None: ...

    def show_messages(self) -> None: ...

    def find_command(self) -> None: ...

    def paste(self) -> None: ...

    def leave(self) -> None: ...

    def toggle_alone(self) -> None: ...

    def toggle_full_screen(self) -> None: ...

    def use_theme(self, name: str) -> None: ...

    @property
    def bench(self) -> Bench: ...

    @property
    def full_screen(self) -> bool: ...


@dataclass(frozen=True)
class Desk:
    """The session with all that stands around it."""

    session: Session
    easel: Easel
    tasks: Tasks
    files: FilesDesk
    building: Building
    clipboard: Clipboard
    grids: GridKeeper
    traces: TracePlayer
    pages: Pages

    # --- what must be there ---------------------------------------------------------------------------

    @property
    def a_part(self) -> Need:
        return Need(lambda: self.session.part is not None, "There is no part yet: add one first.")

    @property
    def a_layer(self) -> Need:
        return Need(lambda: self.session.layer is not None, "There is no layer yet: add a part and a layer first.")

    @property
    def a_frisket(self) -> Need:
        return Need(lambda: self.session.painting.frisket is not None, "There is no frisket on: lay one first.")

    @property
    def a_mask(self) -> Need:
        session = self.session
        return Need(
            lambda: session.layer is not None and session.layer.mask is not None,
            "This layer has no mask; add one first.",
        )

    @property
    def a_relief(self) -> Need:
        session = self.session
        return Need(
            lambda: session.layer is not None and session.layer.relief is not None,
            "The paint of this layer has no thickness: paint with a thick brush, or take it from the form.",
        )

    # --- ways to run ----------------------------------------------------------------------------------

    def on_part(self, make: Callable[[int], Operation]) -> Callable[[], None]:
        """Apply an operation on the part worked on."""
        return on(lambda: self.session.work.active_part, lambda uid: self.session.apply(make(uid)))

    def on_layer(self, make: Callable[[int], Operation]) -> Callable[[], None]:
        """Apply an operation on the layer worked on."""
        return on(lambda: self.session.work.active_layer, lambda uid: self.session.apply(make(uid)))


def on(current: Callable[[], Item | None], act: Callable[[Item], object]) -> Callable[[], None]:
    """What a command does with the part, layer or what else is there; without one it does nothing."""

    def run() -> None:
        item = current()
        if item is not None:
            act(item)

    return run


def has(current: Callable[[], object], name: str, value: object) -> Callable[[], bool]:
    """Whether the present part, layer or tool has a setting at `value`."""
    return lambda: bool(getattr(current(), name, None) == value)
