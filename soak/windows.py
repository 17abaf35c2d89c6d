"""The real window: everything pressed in every state, and walks of a random hand."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

__all__ = ["press", "walk"]

ROOT = Path(__file__).resolve().parent.parent


def press(count: int, seed: int) -> list[str]:
    """Everything, in every state, in every look and while a trial runs."""
    return _pytest("every_state", str(count), seed)


def walk(count: int, seed: int) -> list[str]:
    """A walk of so many steps, in pieces, each from another seed."""
    return _pytest("long_walk", str(count), seed)


def _pytest(what: str, count: str, seed: int) -> list[str]:
    command = [sys.executable, "-m", "pytest", "-q", "-x", str(ROOT / "soak" / "trials.py"), "-k", what]
    command += ["-p", "no:cacheprovider", "--rootdir", str(ROOT), "-c", str(ROOT / "pyproject.toml")]
    import os

    environment = {**os.environ, "SOAK_COUNT": count, "SOAK_SEED": str(seed)}
    done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)
    return [] if done.returncode == 0 else [line for line in done.stdout.splitlines() if line.startswith("E ")][:8]
