"""The whole table of commands, menu by menu."""

from __future__ import annotations

from japanner.desk.commands.command import Command
from japanner.desk.commands.desk import Desk
from japanner.desk.commands.edit import edit_commands
from japanner.desk.commands.frisket import frisket_commands
from japanner.desk.commands.help import help_commands
from japanner.desk.commands.layer import layer_commands
from japanner.desk.commands.look import look_commands
from japanner.desk.commands.painting import painting_commands
from japanner.desk.commands.part import part_commands
from japanner.desk.commands.review import review_commands
from japanner.desk.commands.stroke import stroke_commands

__all__ = ["all_commands"]

MENU_COMMANDS = (
    painting_commands, edit_commands, part_commands, layer_commands, stroke_commands, frisket_commands, look_commands,
    review_commands, help_commands,
)  # fmt: skip


def all_commands(desk: Desk) -> list[Command]:
    """Every command, in the order of the menus."""
    return [command for commands in MENU_COMMANDS for command in commands(desk)]
