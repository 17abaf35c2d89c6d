"""The Edit menu: undo, clipboard, moving, adjusting."""

from __future__ import annotations

from functools import partial

from japanner.desk.commands.command import Command, Need
from japanner.desk.commands.desk import Desk
from japanner.desk.settings import recall, remember
from japanner.desk.tasks.adjust import ADJUST_NAMES

__all__ = ["edit_commands"]


def edit_commands(desk: Desk) -> list[Command]:
    """Their part of the table."""
    session, clipboard, tasks = desk.session, desk.clipboard, desk.tasks
    done = Need(lambda: session.strokes.under_way or session.document.undo_words is not None, "Nothing to undo.")
    undone = Need(lambda: session.document.redo_words is not None, "Nothing to redo.")
    return [
        Command("Edit", "Undo", session.undo, ("Ctrl+Z",), need=done),
        Command("Edit", "Redo", session.redo, ("Ctrl+Shift+Z",), need=undone),
        Command("Edit", "Friskets are steps of undo", _toggle_frisket_steps, group="a",
                tip="Off: undo goes over friskets to the last change of the painting",
                checked=lambda: recall("friskets are steps", True)),
        Command("Edit", "Before and back", session.comparing.blink, ("B",),
                "Blink between now and the moment to compare with: before the last change, if no other is chosen",
                checked=lambda: session.comparing.before_shown),
        Command("Edit", "Cut", clipboard.cut, ("Ctrl+X",), "What the frisket lets through, or the whole layer",
                group="a2"),
        Command("Edit", "Copy", clipboard.copy, ("Ctrl+C",), "What the frisket lets through, or the whole layer",
                group="a2"),
        Command("Edit", "Copy all that shows", clipboard.copy_visible, ("Ctrl+Shift+C",), group="a2"),
        Command("Edit", "Paste", desk.pages.paste, ("Ctrl+V",), "The picture on the clipboard, as a new layer",
                group="a2"),
        Command("Edit", "Clear", clipboard.clear, ("Delete",), "Take the paint off inside the frisket", group="a2"),
        Command("Edit", "Find a command", desk.pages.find_command, ("Ctrl+K",), group="b"),
        Command("Edit", "Move, scale, turn", partial(tasks.toggle, "move"), ("M",),
                "With handles and numbers: layer, part, or what the frisket lets through", "c"),
        Command("Edit", "Cage", partial(tasks.toggle, "cage"), ("Shift+M",), "Warp by a grid of points", "c"),
        *(Command("Edit", name.capitalize(), partial(tasks.adjust, name), submenu="Adjust", group="c")
          for name in ADJUST_NAMES),
    ]  # fmt: skip


def _toggle_frisket_steps() -> None:
    remember("friskets are steps", not recall("friskets are steps", True))
