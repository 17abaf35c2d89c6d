"""Demo paintings, made by stroke scripts through the public scripting interface."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from japanner.scripting import Script

__all__ = ["DEMOS", "Demo", "Progress"]

Progress = Callable[[float, str], None]


@dataclass(frozen=True)
class Demo:
    """A painting that paints itself."""

    title: str
    words: str
    paint: Callable[[Progress], Script]


def _studies(progress: Progress) -> Script:
    from japanner.demo import studies  # noqa: PLC0415 - who only paints need not wait for what it imports

    return studies.paint(progress)


def _materials(progress: Progress) -> Script:
    from japanner.demo import materials  # noqa: PLC0415 - as above

    return materials.paint(progress)


def _hair(progress: Progress) -> Script:
    from japanner.demo import hair  # noqa: PLC0415 - as above

    return hair.paint(progress)


DEMOS: Final = {
    "studies": Demo("Studies sheet", "A ball, an egg and a tube, from flat to highlight.", _studies),
    "materials": Demo("Materials sheet", "Eye, brass, steel, glass, cloth and skin, by their makers.", _materials),
    "hair": Demo("Hair sheet", "Six coats, twelve locks, lashes, a brow and whiskers.", _hair),
}
