"""What the program remembers between runs: a small JSON file."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any, Final

import platformdirs

from japanner.errors import SaveError
from japanner.files.kept import kept_json
from japanner.files.writing import write_json

__all__ = ["recall", "recent_files", "remember", "remember_recent"]

MOST_RECENT: Final = 8
LARGEST: Final = 4 << 20


def _file() -> Path:
    root = os.environ.get("JAPANNER_STATE") or platformdirs.user_config_dir("japanner")
    return Path(root) / "settings.json"


def _all() -> dict[str, Any]:
    return kept_json(_file(), dict, LARGEST) or {}


def recall(name: str, default: Any) -> Any:
    """A remembered setting; `default` also when it has another type."""
    value = _all().get(name, default)
    same = isinstance(value, type(default)) and isinstance(value, bool) == isinstance(default, bool)
    return value if same else default


def remember(name: str, value: Any) -> None:
    """Remember a JSON-ready setting; a disk that refuses is no reason to stop."""
    try:
        write_json(_file(), {**_all(), name: value})
    except SaveError:
        return


def recent_files() -> list[Path]:
    """Paintings opened or saved lately that are still there."""
    return [Path(name) for name in recall("recent", []) if isinstance(name, str) and _is_file(name)]


def _is_file(name: str) -> bool:
    try:
        return Path(name).is_file()
    except (OSError, ValueError):  # a name that no file can have
        return False


def remember_recent(path: Path) -> None:
    """Put a painting first among the recent ones."""
    names = [str(path.resolve()), *(str(one) for one in recent_files())]
    remember("recent", list(dict.fromkeys(names))[:MOST_RECENT])
