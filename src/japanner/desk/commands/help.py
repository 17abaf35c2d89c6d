"""The Help menu."""

from __future__ import annotations

from functools import partial

from japanner.desk.commands.command import Command
from japanner.desk.commands.desk import Desk

__all__ = ["help_commands"]


def help_commands(desk: Desk) -> list[Command]:
    """Their part of the table."""
    pages = desk.pages
    return [
        Command("Help", "Guide", pages.show_guide, ("F1",), "At the page of what is being done"),
        Command("Help", "Keys", pages.show_keys, ("Ctrl+F1",)),
        Command("Help", "Words", partial(pages.show_guide, "", "words"), tip="What the words of this program mean"),
        Command("Help", "What's new", partial(pages.show_guide, "", "changes")),
        Command("Help", "Tour", pages.begin_tour, tip="Shade a ball in three minutes, step by step"),
        Command("Help", "What was said", pages.show_messages, tip="The last fifty messages"),
        Command("Help", "Report…", pages.show_report,
                tip="What somebody needs to know who looks into a trouble: version, machine, log"),
        Command("Help", "About Japanner", pages.show_about),
    ]  # fmt: skip
