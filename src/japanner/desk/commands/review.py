"""The Review menu: what is off, and how it came about."""

from __future__ import annotations

from functools import partial

from japanner.desk.commands.command import Command, Need
from japanner.desk.commands.desk import Desk
from japanner.painting.makers import MAKERS

__all__ = ["review_commands"]


def review_commands(desk: Desk) -> list[Command]:
    """Their part of the table."""
    return [
        Command("Review", "Critique", partial(desk.tasks.toggle, "critique"), ("Alt+C",),
                "Measured checks of the picture, each with a map", "a"),
        Command("Review", "Compare", partial(desk.tasks.toggle, "compare"), ("Alt+X",),
                "With how it was, or with a pinned picture", "a"),
        Command("Review", "Measure", partial(desk.tasks.toggle, "measure"), ("Alt+M",),
                "Lines, dividers, plumb, level and a grid, on the painting and on a pinned picture", "a"),
        Command("Review", "Proportion", partial(desk.tasks.toggle, "proportion"), (),
                "Landmarks of the canvas against those of a pinned picture", "a"),
        Command("Review", "Finish", partial(desk.tasks.make, "finish"), (), MAKERS["finish"].words, "a"),
        Command("Review", "Watch it grow", desk.pages.watch_growth,
                tip="How the painting came about: played, scrubbed, compared, and gone on from", group="b",
                need=Need(lambda: bool(desk.session.document.moments) or len(desk.session.document.records) > 1,
                          "Nothing has been painted yet that could be watched.")),
        Command("Review", "Film", partial(desk.tasks.toggle, "film"), (), "How it grew, as WebM or GIF", "b"),
    ]  # fmt: skip
