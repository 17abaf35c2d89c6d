"""What opens the window: a painting, a picture, or a demo."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path

from japanner._kernel_cache import all_compiled
from japanner.errors import InputError

__all__ = ["NO_SCREEN", "has_screen", "open_demo", "open_window"]

NO_SCREEN = (
    "There is no screen: neither DISPLAY nor WAYLAND_DISPLAY is set.\n"
    "Start Japanner from a desktop, or on a virtual screen: xvfb-run --auto-servernum japanner"
)


def has_screen() -> bool:
    """Whether there is anything that a window could be shown on."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


def open_window(options: argparse.Namespace) -> int:
    """The window, with a file if one is given."""
    return _run(options.file)


def open_demo(options: argparse.Namespace) -> int:
    """A demo in the window, or painted to a file."""
    from japanner.demo import DEMOS  # noqa: PLC0415 - who only starts need not wait for it

    demo = DEMOS[options.name]
    if options.stage is not None and options.stage not in demo.stages:
        known = f"one of {', '.join(demo.stages)}" if demo.stages else "none: it is painted in one go"
        raise InputError(f"--stage: expected {known}, got {options.stage!r}")
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
        print(f"\r{done * 100:3.0f} %  {words:<50}", end="", flush=True, file=sys.stderr)

    script = DEMOS[name].paint(told, until=stage, size=size)
    print(file=sys.stderr)
    script.write(path)
    return 0
