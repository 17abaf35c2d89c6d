"""Demo paintings, made by stroke scripts through the public scripting interface, and shipped ready."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

from japanner import checks

if TYPE_CHECKING:
    from japanner.scripting import Script

__all__ = ["DEMOS", "PAINTINGS", "SIZES", "Demo", "Progress"]

Progress = Callable[[float, str], None]
PAINTINGS: Final = Path(__file__).parent / "paintings"
SIZES: Final = ("shipped", "full")
LONGEST_SHIPPED_PX: Final = 1600


@dataclass(frozen=True)
class Demo:
    """A painting that paints itself.

    script: the module that paints it. stages: that it can be stopped after. full: what its canvas is scaled by for the
    full size; at 1 the full painting is reduced to be shipped, else it is painted smaller. every: so many operations
    lie between moments of its growth.
    """

    title: str
    words: str
    script: str
    stages: tuple[str, ...] = ()
    full: float = 1.0
    every: int = 40
    in_hand: tuple[str, str] = ("", "")
    """Part and layer that one would go on with; else the last."""
    _painted: Callable[[Progress], Script] | None = field(default=None, repr=False)

    def paint(
        self, progress: Progress = lambda done, words: None, *, until: str = "", size: str = "full",
        watched: bool = False,
    ) -> Script:  # fmt: skip
        """Paint it up to and with the stage `until` (all of it if none is named), `shipped` or `full` in size.

        watched: moments of its growth are kept.
        """
        checks.one_of("size", size, SIZES)
        if until:
            checks.one_of("stage", until, self.stages or ("none: this one is painted in one go",))
        if self._painted is not None:
            return self._painted(progress)
        # Who only paints need not wait for what it imports.
        painted = import_module(f"japanner.demo.{self.script}").paint
        more: dict[str, Any] = {"watch": self.every} if watched else {}
        if until:
            more["until"] = until
        if self.full != 1.0:
            script: Script = painted(progress, scale=self.full if size == "full" else 1.0, **more)
            return script
        script = painted(progress, **more)
        return script if size == "full" else _reduced(script)

    @property
    def file(self) -> Path | None:
        """The painting as it is shipped; None where it is not."""
        path = PAINTINGS / f"{self.script}.ora"
        return path if path.is_file() else None


def _reduced(script: Script) -> Script:
    width, height = script.painting.width, script.painting.height
    factor = LONGEST_SHIPPED_PX / max(width, height)
    from japanner.painting.operations import ScaleCanvas  # noqa: PLC0415 - the list of demos is there at once

    script.do(ScaleCanvas(round(width * factor), round(height * factor)))
    return script


# The stages are written out here, too, so that the command line need not load the scripts to list them.
DEMOS: Final = {
    "tidebell": Demo(
        "Tidebell", "An old otter, a brass bell, a glass float.", "tidebell",
        ("sketch", "flats", "values", "deeper", "blending", "material", "details", "step back"), full=1.5,
        in_hand=("Brindle", "Coat"),
    ),
    "studies": Demo(
        "Studies sheet", "A ball, an egg and a tube, from flat to highlight.", "studies",
        ("ground", "flat", "shadow", "accent", "bounce", "light", "blending", "highlight"), every=150,
    ),
    "materials": Demo("Materials sheet", "Skin, hair, fur, eye, brass, glass and cloth, by their makers.", "materials",
                      every=6),
    "heads": Demo("Heads sheet", "A young woman, an old man and a child.", "heads",
                  ("ground", "flats", "flesh", "eyes and hair", "details"), full=3.0, every=20),
    "animals": Demo("Animals sheet", "The faces of an otter and a cat.", "animals", ("ground", "otter", "cat"),
                    full=2.5, every=20),
    "hair": Demo("Hair sheet", "Six coats, twelve locks, lashes, a brow and whiskers.", "hair", every=6),
}  # fmt: skip
