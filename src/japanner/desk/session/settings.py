"""What the program remembers between runs: a small JSON file."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

import platformdirs

__all__ = ["recall", "recent_files", "remember", "remember_recent"]

MOST_RECENT = 8


def _file() -> Path:
    root = os.environ.get("JAPANNER_STATE") or platformdirs.user_config_dir("japanner")
    return Path(root) / "settings.json"


def _all() -> dict[str, Any]:
    try:
        data = json.loads(_file().read_text(encoding="utf-8"))
    except (OSError, ValueError):
        return {}
    return data if isinstance(data, dict) else {}


def recall(name: str, default: Any) -> Any:
    """A remembered setting; `default` also when it has another type."""
    value = _all().get(name, default)
    return value if isinstance(value, type(default)) else default


def remember(name: str, value: Any) -> None:
    """Remember a JSON-ready setting; a disk that refuses is no reason to stop."""
    file = _file()
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
        temporary = file.with_suffix(".part")
        temporary.write_text(json.dumps({**_all(), name: value}, indent=1), encoding="utf-8")
        temporary.replace(file)
    except OSError:
        return


def recent_files() -> list[Path]:
    """Paintings opened or saved lately that are still there."""
    return [Path(name) for name in recall("recent", []) if isinstance(name, str) and Path(name).is_file()]


def remember_recent(path: Path) -> None:
    names = [str(path.resolve()), *(str(one) for one in recent_files())]
    remember("recent", list(dict.fromkeys(names))[:MOST_RECENT])
