"""Where compiled kernels are kept.

Numba checks only the file that holds a kernel, not the files of the functions it inlines. The
folder's name therefore carries a hash of every kernel source: a change in any of them starts a
fresh folder, so that no stale machine code is ever run.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
from pathlib import Path

import platformdirs

PACKAGE = Path(__file__).parent


def kernel_sources() -> list[Path]:
    """All files that hold kernels, in a fixed order."""
    return sorted(PACKAGE.rglob("_kernels*.py"))


def kernel_modules() -> list[str]:
    """Dotted names of the modules that hold kernels."""
    return [".".join(("japanner", *path.relative_to(PACKAGE).with_suffix("").parts)) for path in kernel_sources()]


def cache_folder() -> Path:
    """The folder for compiled kernels that belongs to the present sources."""
    digest = hashlib.sha256()
    for path in kernel_sources():
        digest.update(path.read_bytes())
    return Path(platformdirs.user_cache_dir("japanner")) / f"kernels-{digest.hexdigest()[:12]}"


def _mark() -> Path:
    return Path(os.environ.get("NUMBA_CACHE_DIR") or cache_folder()) / "all-compiled"


def all_compiled() -> bool:
    """Whether every kernel of the present sources has been compiled on this machine."""
    return _mark().is_file()


def mark_compiled() -> None:
    """Remember that; where nothing can be written, the next start looks again."""
    with contextlib.suppress(OSError):
        _mark().parent.mkdir(parents=True, exist_ok=True)
        _mark().touch()


def use_user_cache() -> None:
    """Point numba at the user's cache folder, unless the user has set another."""
    os.environ.setdefault("NUMBA_CACHE_DIR", str(cache_folder()))
