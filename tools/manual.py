"""The manual page from the parser's own words; run by `make manual`. With --check: is it so?"""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from japanner.cli.parser import COMMANDS, WORDS, parser

PAGE = Path(__file__).parents[1] / "packaging" / "japanner.1"
TAIL = r""".SH ENVIRONMENT
.TP
.B JAPANNER_STATE
The folder of journals, settings and the log, in place of the one below.
.TP
.B JAPANNER_CONFIG
The folder of a painter's own working orders.
.SH FILES
.TP
.I ~/.local/state/japanner
Journals of what is not saved yet, settings, former versions of paintings, and the log.
.TP
.I ~/.cache/japanner
Compiled kernels; they are made anew when they are gone.
.SH EXIT STATUS
0 when it ended as it was asked to, 1 when something could not be done, which is said in one sentence, or when
.B check
finds a problem, 2 for arguments that it does not know, 130 when it was stopped.
"""


def plain(words: str) -> str:
    """Words as roff takes them."""
    return words.replace("\\", "\\\\").replace("-", "\\-")


def option_lines(one: argparse.ArgumentParser) -> list[str]:
    """An entry for every argument of a command but its help."""
    lines = []
    for action in one._actions:
        if isinstance(action, (argparse._HelpAction, argparse._SubParsersAction)):
            continue
        value = str(action.metavar or ("|".join(map(str, action.choices)) if action.choices else action.dest.upper()))
        takes = "" if action.nargs == 0 else value
        names = ", ".join(action.option_strings)
        lines += [
            ".TP",
            f".B {plain(f'{names} {takes}'.strip() if names else value)}",
            plain(sentence(action.help, keep=bool(action.choices))),
        ]
    return lines


def sentence(words: str | None, keep: bool = False) -> str:
    text = (words or "").strip()
    return f"{text[:1] if keep else text[:1].upper()}{text[1:]}{'' if text.endswith('.') else '.'}"


def page() -> str:
    """The whole page."""
    whole = parser()
    rooms = next(one for one in whole._actions if isinstance(one, argparse._SubParsersAction)).choices
    lines = [
        '.TH JAPANNER 1 "" "Japanner" "User commands"', ".SH NAME",
        f"japanner \\- {plain(WORDS[0].lower() + WORDS[1:-1])}",
        ".SH SYNOPSIS", ".B japanner", ".RI [ FILE ]", ".br", ".B japanner", ".I COMMAND", ".RI [ ARGUMENTS ]",
        ".SH DESCRIPTION", "Without arguments, the window opens where it was left, or with its start view. With a",
        ".IR FILE ,", "a painting or a picture, it opens that.", ".SH OPTIONS", *option_lines(whole),
    ]  # fmt: skip
    lines += [".SH COMMANDS"]
    for name, command in COMMANDS.items():
        lines += [f".SS {name}", f"{plain(sentence(command.words))}", *option_lines(rooms[name])]
    return "\n".join(lines) + "\n" + TAIL


if __name__ == "__main__":
    if "--check" in sys.argv:
        raise SystemExit(PAGE.read_text() != page())
    PAGE.write_text(page())
