"""The Painting menu: new, open, save, export, the canvas, and what is kept."""

from __future__ import annotations

from functools import partial

from japanner.desk.commands.command import Command, Need
from japanner.desk.commands.desk import Desk
from japanner.desk.settings import recall, remember
from japanner.desk.widgets.questions import ask_for_name
from japanner.files.formats import EXPORTS
from japanner.files.versions import MOST_VERSIONS
from japanner.painting.operations import SetPainting

__all__ = ["AUTOSAVE_MIN", "painting_commands"]

AUTOSAVE_MIN = (0, 5, 15, 30)
"""Minutes between saves that nobody asked for; 0: there are none."""
LARGER = (1.5, 2.0, 3.0)
UNDO_GB = (1, 2, 4, 8)
UNDO_STEPS = (100, 1000, 10000)
VERSION_WORDS = {
    "state": f"Last {MOST_VERSIONS} versions, in Japanner's own folder",
    "beside": f"Last {MOST_VERSIONS} versions, beside the painting",
    "none": "No earlier versions",
}


def painting_commands(desk: Desk) -> list[Command]:
    """Their part of the table."""
    files, session, clipboard, tasks, pages = desk.files, desk.session, desk.clipboard, desk.tasks, desk.pages
    return [
        Command("Painting", "New…", pages.show_start, ("Ctrl+N",), "The start view: new, recent, recover, demo", "a"),
        Command("Painting", "Open…", partial(files.open, None), ("Ctrl+O",), group="a"),
        Command("Painting", "Back to the bench", pages.show_bench, group="a"),
        Command("Painting", "Save", files.save, ("Ctrl+S",), group="b"),
        Command("Painting", "Save as…", files.save_as, ("Ctrl+Shift+S",), group="b"),
        *_versions(desk),
        *(Command("Painting", export.words, partial(files.export, kind, export), group="b", submenu="Export",
                  tip=f"Keeps {kind.keeps}") for kind, export in EXPORTS),
        Command("Painting", "The look, as it is…", files.export_look, group="b", submenu="Export",
                tip="What values, steps or colour show, as a PNG"),
        Command("Painting", "As a sketch…", partial(clipboard.import_file, "sketch"), group="b",
                submenu="Import a picture"),
        Command("Painting", "As a texture…", partial(clipboard.import_file, "texture"), group="b",
                submenu="Import a picture"),
        Command("Painting", "To the reference board…", partial(clipboard.import_file, "reference"), group="b",
                tip="A copy of it is kept in the painting", submenu="Import a picture"),
        Command("Painting", "From the clipboard to the reference board", clipboard.pin_pasted, group="b",
                submenu="Import a picture"),
        Command("Painting", "To the reference board, linked…", partial(clipboard.import_file, "linked"), group="b",
                tip="The painting shows the file, and keeps a small copy for when it is gone",
                submenu="Import a picture"),
        Command("Painting", "Output…", partial(tasks.toggle, "output"), (),
                "A crop, parts or layers, at a size; presets, several at once", "b"),
        Command("Painting", "Print…", partial(tasks.toggle, "print"), ("Ctrl+P",), "On paper, seen before", "b"),
        Command("Painting", "Frame the canvas", partial(tasks.toggle, "frame"), tip="Crop or extend it", group="c"),
        Command("Painting", "Scale the picture", partial(tasks.toggle, "scale"), group="c"),
        *(Command("Painting", f"{times:g} times", partial(files.larger, times), group="c", submenu="Paint it larger",
                  tip="Painted anew from its strokes: as fine as if it had been painted so large") for times in LARGER),
        Command("Painting", "Title…", partial(_ask_title, desk), group="c"),
        Command("Painting", "Ground colour from the hand",
                lambda: session.apply(SetPainting({"ground": session.hand.colour})),
                tip="Give the ground the colour in hand", group="c"),
        *_keeping(desk),
        Command("Painting", "Quit", pages.leave, ("Ctrl+Q",), group="e"),
    ]  # fmt: skip


def _ask_title(desk: Desk) -> None:
    title = ask_for_name(desk.easel.window(), "Title", desk.session.painting.title)
    if title and title != desk.session.painting.title:
        desk.session.apply(SetPainting({"title": title}))


def _versions(desk: Desk) -> list[Command]:
    """The versions that were kept of the file, newest first; the table has a place for each."""
    files = desk.files

    def command(index: int) -> Command:
        return Command(
            "Painting", f"Version {index + 1}", partial(files.open_version, index), submenu="Earlier versions",
            group="b", tip="Open it as a copy; the painting's own file stays as it is",
            need=Need(lambda: index < len(files.versions()), "No such version was kept of this painting yet."),
            words=lambda: files.version_words(index),
        )  # fmt: skip

    return [command(index) for index in range(MOST_VERSIONS)]


def _keeping(desk: Desk) -> list[Command]:
    """What is kept without being asked for."""

    def saving(minutes: int) -> Command:
        words = f"Save by itself every {minutes} min" if minutes else "Save only when asked"
        return Command(
            "Painting", words, partial(remember, "autosave", minutes), submenu="Keeping", group="d",
            checked=lambda: recall("autosave", 0) == minutes,
        )  # fmt: skip

    def versions(place: str) -> Command:
        return Command(
            "Painting", VERSION_WORDS[place], partial(remember, "versions", place), submenu="Keeping", group="d",
            checked=lambda: recall("versions", "state") == place,
        )  # fmt: skip

    def bound(name: str, value: int) -> None:
        remember(name, value)
        desk.session.bound_history()

    def undo(size: int) -> Command:
        return Command(
            "Painting", f"Undo holds {size} GB", partial(bound, "undo GB", size), submenu="Keeping", group="d",
            checked=lambda: recall("undo GB", 1) == size,
            tip="How much memory former versions may take; four times as much lies packed on disk",
        )  # fmt: skip

    def steps(count: int) -> Command:
        return Command(
            "Painting", f"Undo goes back {count} steps", partial(bound, "undo steps", count), submenu="Keeping",
            group="d", checked=lambda: recall("undo steps", 1000) == count,
        )  # fmt: skip

    return [
        *(saving(minutes) for minutes in AUTOSAVE_MIN),
        *(versions(place) for place in VERSION_WORDS),
        *(undo(size) for size in UNDO_GB),
        *(steps(count) for count in UNDO_STEPS),
        Command("Painting", "Begin where I left off", lambda: remember("resume", not recall("resume", True)),
                submenu="Keeping", group="d", checked=lambda: recall("resume", True),
                tip="Open the last painting when Japanner starts, as it was left"),
    ]  # fmt: skip
