"""The maquettes that come with the program, as JSON."""

from __future__ import annotations

import json
from functools import cache
from importlib import resources

from japanner import checks
from japanner.light.maquette import Maquette

__all__ = ["shipped_maquette", "shipped_maquettes"]


@cache
def shipped_maquettes() -> tuple[str, ...]:
    """Their names."""
    folder = resources.files(__package__).joinpath("maquettes")
    return tuple(sorted(one.name.removesuffix(".json") for one in folder.iterdir() if one.name.endswith(".json")))


@cache
def shipped_maquette(name: str) -> Maquette:
    """One of them."""
    checks.one_of("maquette", name, shipped_maquettes())
    text = resources.files(__package__).joinpath("maquettes", f"{name}.json").read_text(encoding="utf-8")
    return Maquette.from_record(json.loads(text))
