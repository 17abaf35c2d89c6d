"""Kernels come when somebody first uses one: together they take a second, which no start should wait for."""

from __future__ import annotations

import importlib
import sys
from pathlib import Path
from types import ModuleType
from typing import Any

__all__ = ["LazyModule", "kernels_when_used"]


class LazyModule(ModuleType):
    """Stands for a module until somebody asks for something in it."""

    def __getattr__(self, name: str) -> Any:
        if name.startswith("__"):
            raise AttributeError(name)
        module = importlib.import_module(self.__name__)
        # From now on names are found here, without a detour.
        self.__dict__.update(vars(module))
        return getattr(module, name)


def kernels_when_used(package: str, file: str) -> None:
    """Let `from package import _kernels...` give a module that comes when it is used; for a package's own __init__."""
    for path in Path(file).parent.glob("_kernels*.py"):
        setattr(sys.modules[package], path.stem, LazyModule(f"{package}.{path.stem}"))
