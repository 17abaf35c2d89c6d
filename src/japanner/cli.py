"""The command line."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path

from japanner import __version__
from japanner._kernel_cache import all_compiled
from japanner.errors import JapannerError

__all__ = ["main"]

NO_SCREEN = (
    "There is no screen: neither DISPLAY nor WAYLAND_DISPLAY is set.\n"
    "Start Japanner from a desktop, or on a virtual screen: xvfb-run --auto-servernum japanner"
)


def has_screen() -> bool:
    """Whether there is anything that a window could be shown on."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


def main(arguments: list[str] | None = None) -> int:
    """Run Japanner; returns the exit status."""
    given = sys.argv[1:] if arguments is None else arguments
    # A file of that name is opened as ./demo.
    return _demo(given[1:]) if given[:1] == ["demo"] else _window(given)


def _epilog() -> str:
    from japanner.demo import DEMOS  # noqa: PLC0415 - who only starts need not wait for it

    return f"""\
japanner FILE            open a painting (.ora) or a picture (.png)
japanner demo NAME       open a demo: {", ".join(DEMOS)}
japanner demo --help     stages, sizes, and painting one without a window
"""


def _window(arguments: list[str]) -> int:
    wants_help = bool({"-h", "--help"} & set(arguments))
    parser = argparse.ArgumentParser(
        prog="japanner", description="A bench for rendering characters and creatures, value first, from dark to light.",
        epilog=_epilog() if wants_help else None, formatter_class=argparse.RawDescriptionHelpFormatter,
    )  # fmt: skip
    parser.add_argument("file", nargs="?", type=Path, metavar="FILE", help="a painting or picture to open")
    parser.add_argument("--version", action="version", version=f"japanner {__version__}")
    options = parser.parse_args(arguments)
    return _run(options.file)


def _demo(arguments: list[str]) -> int:
    from japanner.demo import DEMOS, SIZES  # noqa: PLC0415 - as above

    parser = argparse.ArgumentParser(
        prog="japanner demo", description="Open a demo painting, as it is shipped or painted anew before your eyes."
    )
    parser.add_argument("name", choices=list(DEMOS), metavar="NAME", help=", ".join(DEMOS))
    stages = "; ".join(f"{name}: {', '.join(one.stages)}" for name, one in DEMOS.items() if one.stages)
    parser.add_argument("--stage", metavar="STAGE", help=f"paint it up to a stage of its script, and stop: {stages}")
    parser.add_argument("--size", choices=SIZES, help="paint it as large as it is shipped, or in full")
    parser.add_argument("--save", type=Path, metavar="FILE", help="paint it to a file (.ora or .png), with no window")
    options = parser.parse_args(arguments)
    demo = DEMOS[options.name]
    if options.stage is not None and options.stage not in demo.stages:
        known = f"one of {', '.join(demo.stages)}" if demo.stages else "none: it is painted in one go"
        parser.error(f"--stage: expected {known}, got {options.stage!r}")
    if options.save is not None:
        return _save(options.name, options.stage or "", options.size or "shipped", options.save)
    return _run(demo=options.name, stage=options.stage or "", size=options.size or "")


def _run(file: Path | None = None, **asked: str) -> int:
    """Open the window, once everything is compiled."""
    if not has_screen():
        print(NO_SCREEN, file=sys.stderr)
        return 1
    if not all_compiled():
        from japanner.desk.first_start import compiled_first  # noqa: PLC0415 - without a window, Qt is not needed

        if not compiled_first():
            return 1
    from japanner.desk.coming import Coming, application  # noqa: PLC0415 - as above
    from japanner.desk.settings import recall  # noqa: PLC0415 - as above
    from japanner.desk.theme_colours import THEMES  # noqa: PLC0415 - as above

    application(sys.argv[:1])
    coming = Coming("The bench is being laid out.", THEMES.get(recall("theme", ""), THEMES["Lacquer"]))
    coming.show_now()
    from japanner.desk.app import run  # noqa: PLC0415 - all that takes its time

    return run(file, coming, **asked)


def _save(name: str, stage: str, size: str, path: Path) -> int:
    from japanner.demo import DEMOS  # noqa: PLC0415 - as above

    def told(done: float, words: str) -> None:
        print(f"\r{done * 100:3.0f} %  {words:<50}", end="", flush=True)

    try:
        script = DEMOS[name].paint(told, until=stage, size=size)
        print()
        script.write(path)
    except JapannerError as error:
        print(error, file=sys.stderr)
        return 1
    return 0
