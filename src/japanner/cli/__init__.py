"""The command line: `japanner FILE` opens the window, and words before it do what needs none."""

from __future__ import annotations

import sys

from japanner.cli.parser import COMMANDS, parser
from japanner.errors import InputError, JapannerError

__all__ = ["main"]


def main(arguments: list[str] | None = None) -> int:
    """Run Japanner; returns the exit status: 0 done, 1 could not be done, 2 not understood."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    # A file of a command's name is opened as ./check.
    if not given or (given[0] not in COMMANDS and given[0] not in ("-h", "--help", "--version", "--completion")):
        given.insert(0, "open")
    whole = parser()
    options = whole.parse_args(given)
    try:
        return int(options.run(options))
    except InputError as error:
        if options.command == "demo" and "--stage" in str(error):
            whole.error(str(error))
        print(error, file=sys.stderr)
        return 1
    except JapannerError as error:
        print(error, file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        print("\nStopped.", file=sys.stderr)
        return 130
