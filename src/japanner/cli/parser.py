"""What can be asked for at the command line: one table of commands, from which help, completion and manual are made."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from typing import Any, Final

from japanner import __version__

__all__ = ["COMMANDS", "ENDINGS", "parser"]

WORDS: Final = "A bench for rendering characters and creatures, value first, from dark to light."
ENDINGS: Final = ".png, .tif, .jpg, .webp, .pdf or .ora"


def _late(room: str, name: str) -> Callable[[argparse.Namespace], int]:
    """What a command does, imported when it is asked for: whoever opens the window need not wait for the rest."""

    def run(options: argparse.Namespace) -> int:
        done: int = getattr(import_module(f"japanner.cli.{room}"), name)(options)
        return done

    return run


@dataclass(frozen=True)
class Command:
    """A command: what it does in one sentence, its arguments, and what runs it."""

    words: str
    add: Callable[[argparse.ArgumentParser], None]
    run: Callable[[argparse.Namespace], int]


def _file(parser: argparse.ArgumentParser, words: str = "a painting or picture", **how: Any) -> None:
    parser.add_argument("file", type=Path, metavar="FILE", help=words, **how)


def _json(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--json", action="store_true", help="answer in JSON")


def _open(parser: argparse.ArgumentParser) -> None:
    _file(parser, nargs="?")


def _new(parser: argparse.ArgumentParser) -> None:
    _file(parser, "the painting to make (.ora)")
    parser.add_argument("--size", metavar="WxH", default="2400x1800", help="its width and height in px (2400x1800)")
    parser.add_argument("--ppi", type=float, default=300.0, help="pixels to an inch (300)")
    parser.add_argument("--title", default="", help="its title (the file's name)")


def _demo(parser: argparse.ArgumentParser) -> None:
    from japanner.demo import DEMOS, SIZES  # noqa: PLC0415 - as above

    parser.add_argument("name", choices=list(DEMOS), metavar="NAME", help=", ".join(DEMOS))
    parser.add_argument("--stage", metavar="STAGE", help="paint it up to a stage of its script, and stop")
    parser.add_argument("--size", choices=SIZES, help="paint it as large as it is shipped, or in full")
    parser.add_argument("--save", type=Path, metavar="FILE", help=f"paint it to a file ({ENDINGS}), with no window")


def _export(parser: argparse.ArgumentParser) -> None:
    _file(parser, "the painting")
    parser.add_argument("to", type=Path, nargs="+", metavar="TO", help=f"what to write: {ENDINGS}")
    parser.add_argument("--bits", type=int, choices=(8, 16), default=8, help="bits a channel of PNG and TIFF (8)")
    parser.add_argument("--layers", action="store_true", help="TIFF: every layer as a page")
    parser.add_argument("--long", type=int, default=0, metavar="PX", help="its longer side; it is never made larger")
    parser.add_argument("--soft", action="store_true", help="not sharpened as the reduction softens it")
    parser.add_argument("--look", default="colour", help="as it is looked at: colour, values, steps, edges")
    parser.add_argument("--crop", metavar="L,T,R,B", help="what of it: left, top, right, bottom in shares, 0 to 1")
    parser.add_argument("--each", choices=("parts", "layers"), help="PNG: every part or layer by itself, on nothing")
    parser.add_argument("--bleed", type=float, default=0.0, metavar="MM", help="PDF: so much is cut off on every side")
    parser.add_argument("--marks", action="store_true", help="PDF: with crop marks")


def _film(parser: argparse.ArgumentParser) -> None:
    _file(parser, "the painting, with its journal")
    parser.add_argument("to", type=Path, nargs="?", metavar="TO", help="what to write, .webm or .gif (beside FILE)")
    parser.add_argument("--long", type=int, default=1280, metavar="PX", help="its longer side (1280)")
    parser.add_argument("--seconds", type=float, default=20.0, help="how long the growth takes (20)")
    parser.add_argument("--hold", type=float, default=2.0, metavar="S", help="how long the end stands (2)")
    parser.add_argument("--even", choices=("strokes", "time"), default="strokes", help="in strokes, or in time")
    parser.add_argument("--undone", action="store_true", help="with ways that were undone")
    parser.add_argument("--camera", metavar="L,T,R,B", help="a part of the canvas: left, top, right, bottom in px")


def _check(parser: argparse.ArgumentParser) -> None:
    _file(parser)
    parser.add_argument("--only", action="append", default=[], metavar="CHECK", help="one check; may be given again")
    parser.add_argument("--report", type=Path, metavar="FILE", help="write a page with maps, .html, or data, .json")
    _json(parser)


def _info(parser: argparse.ArgumentParser) -> None:
    _file(parser)
    _json(parser)


def _run(parser: argparse.ArgumentParser) -> None:
    _file(parser, "a Python script that paints (docs/scripting.md)")
    parser.add_argument("arguments", nargs="*", help="handed to the script")


COMMANDS: Final[dict[str, Command]] = {
    "open": Command("open the window, with a painting or a picture", _open, _late("windowed", "open_window")),
    "new": Command("make an empty painting", _new, _late("batch", "new")),
    "demo": Command("open a demo painting, or paint it to a file", _demo, _late("windowed", "open_demo")),
    "export": Command("write a painting's picture in other formats", _export, _late("batch", "export")),
    "film": Command("write a film of how a painting grew", _film, _late("batch", "film")),
    "check": Command("run the critique; status 1 where it finds a problem", _check, _late("batch", "check")),
    "info": Command("say what is in a file", _info, _late("batch", "info")),
    "run": Command("run a script that paints", _run, _late("batch", "run")),
    "warm": Command("compile what is compiled at the first start", lambda parser: None, _late("batch", "warm")),
}


def parser() -> argparse.ArgumentParser:
    """The parser with all commands."""
    whole = argparse.ArgumentParser(
        prog="japanner",
        description=WORDS,
        epilog="japanner FILE opens the window with it; without FILE, as it was.",
    )
    whole.add_argument("--version", action="version", version=f"japanner {__version__}")
    whole.add_argument("--completion", choices=("bash", "zsh", "tcsh"), action=_Completion,
                       help="print what a shell needs to complete these words")  # fmt: skip
    rooms = whole.add_subparsers(dest="command", metavar="COMMAND", required=True)
    for name, command in COMMANDS.items():
        one = rooms.add_parser(name, help=command.words, description=f"{command.words.capitalize()}.")
        command.add(one)
        one.set_defaults(run=command.run)
    return whole


class _Completion(argparse.Action):
    """Prints the completion, and ends."""

    def __call__(self, parser: argparse.ArgumentParser, namespace: Any, values: Any, option_string: Any = None) -> None:
        import shtab  # noqa: PLC0415 - hardly ever wanted

        print(shtab.complete(parser, shell=values))
        parser.exit(0)
