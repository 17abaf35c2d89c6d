"""Writes the table of keys in docs/guide.md anew from the table of commands."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Iterable
from pathlib import Path

GUIDE = Path(__file__).resolve().parent.parent / "docs" / "guide.md"
BEGIN, END = "<!-- keys, by tools/guide_keys.py -->", "<!-- end of keys -->"


def rows(pairs: Iterable[tuple[str, str]]) -> str:
    """The table as Markdown; the keys of one command stand in one row."""
    by_words: dict[str, list[str]] = {}
    for keys, words in pairs:
        by_words.setdefault(words, []).append(keys)
    lines = ["| key | does |", "|---|---|"]
    lines += [f"| {', '.join(f'`{one}`' for one in keys)} | {words} |" for words, keys in by_words.items()]
    return "\n".join([BEGIN, *lines, END])


def replaced(text: str, table: str) -> str:
    """The guide with another table."""
    before, _, rest = text.partition(BEGIN)
    return before + table + rest.partition(END)[2]


def main() -> int:
    os.environ["JAPANNER_STATE"] = os.environ["JAPANNER_CONFIG"] = tempfile.mkdtemp(prefix="japanner-keys-")
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from japanner.desk.app import make_application  # noqa: PLC0415 - the state folder comes first
    from japanner.desk.window.keys_view import key_rows  # noqa: PLC0415
    from japanner.desk.window.main_window import MainWindow  # noqa: PLC0415

    make_application(["keys"])
    table = rows(key_rows(list(MainWindow().menus.commands.values())))
    GUIDE.write_text(replaced(GUIDE.read_text(encoding="utf-8"), table), encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
