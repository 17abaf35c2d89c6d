"""The command line."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from japanner import __version__
from japanner.demo import DEMOS
from japanner.errors import JapannerError

__all__ = ["main"]


def main(arguments: list[str] | None = None) -> int:
    """Run Japanner; returns the exit status."""
    parser = argparse.ArgumentParser(
        prog="japanner", description="A bench for rendering characters and creatures, value first, from dark to light."
    )
    parser.add_argument("file", nargs="?", type=Path, help="a painting (.ora) or picture (.png) to open")
    parser.add_argument("--demo", choices=sorted(DEMOS), help="paint a demo and open it")
    parser.add_argument("--save", type=Path, metavar="FILE", help="with --demo: save it as .ora or .png, no window")
    parser.add_argument("--version", action="version", version=f"japanner {__version__}")
    options = parser.parse_args(arguments)
    if options.save is not None and options.demo is None:
        parser.error("--save needs --demo")
    if options.save is not None:
        return _save_demo(options.demo, options.save)
    from japanner.desk.app import run  # noqa: PLC0415 - without a window, Qt is not needed

    return run(options.file, options.demo)


def _save_demo(name: str, path: Path) -> int:
    script = DEMOS[name].paint(lambda done, words: print(f"\r{done * 100:3.0f} %  {words:<40}", end="", flush=True))
    print()
    try:
        script.write(path)
    except JapannerError as error:
        print(error, file=sys.stderr)
        return 1
    return 0
