"""Earlier versions of a painting's file, kept when it is saved over."""

from __future__ import annotations

import contextlib
import hashlib
import os
import shutil
import time
from pathlib import Path
from typing import Final

from japanner.painting.document.journal import state_folder
from japanner.raster.parallel import ASIDE

__all__ = ["MOST_VERSIONS", "PLACES", "keep_version", "versions_of"]

MOST_VERSIONS: Final = 3
PLACES: Final = ("state", "beside", "none")
"""Where they are kept: in the program's own folder, in a folder beside the painting, or not at all."""
BESIDE: Final = "earlier versions"
TIME: Final = "%Y-%m-%d %H.%M.%S"


def keep_version(path: Path, place: str = "state") -> Path | None:
    """Keep the file that is about to be replaced; older ones beyond MOST_VERSIONS go. None if there is nothing to keep.

    A name for the same file costs nothing where the file system allows it, for the file is replaced and not written
    into; elsewhere it is copied. A disk that refuses is no reason not to save.
    """
    if place not in PLACES or place == "none" or not path.is_file():
        return None
    folder = _folder(path, place)
    with contextlib.suppress(OSError):
        folder.mkdir(parents=True, exist_ok=True)
        stamp = time.strftime(TIME, time.localtime(path.stat().st_mtime))
        kept = folder / f"{path.stem} {stamp}{path.suffix}"
        if not kept.exists():
            try:
                os.link(path.resolve(), kept)
            except OSError:
                shutil.copy2(path, kept)
        for old in sorted(folder.glob(f"{_escaped(path.stem)} ????-??-?? *{path.suffix}"))[:-MOST_VERSIONS]:
            ASIDE.submit(old.unlink, missing_ok=True)  # of a large file, this takes the system seconds
        return kept
    return None


def versions_of(path: Path) -> list[Path]:
    """The versions that were kept of a file, newest first."""
    found: list[Path] = []
    for place in ("state", "beside"):
        with contextlib.suppress(OSError):
            found += _folder(path, place).glob(f"{_escaped(path.stem)} ????-??-?? *{path.suffix}")
    return sorted(found, key=lambda one: one.name, reverse=True)


def _folder(path: Path, place: str) -> Path:
    if place == "beside":
        return path.parent / BESIDE
    name = hashlib.sha256(str(path.resolve()).encode(errors="surrogateescape")).hexdigest()[:16]
    return state_folder() / "versions" / name


def _escaped(stem: str) -> str:
    return "".join(f"[{sign}]" if sign in "[]*?" else sign for sign in stem)
