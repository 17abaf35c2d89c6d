"""Templates: parts of paintings kept for others, each an OpenRaster file with its picture in the state folder."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass, replace
from pathlib import Path

from japanner import checks
from japanner.errors import InputError, SaveError
from japanner.files import ora_write
from japanner.files.opening import open_painting
from japanner.files.reading import reason
from japanner.files.stored_picture import stored_thumbnail
from japanner.painting.document.journal import state_folder
from japanner.painting.model import Painting
from japanner.painting.operations import AddParts, template_of

__all__ = ["Kept", "forget_template", "keep_template", "kept_templates", "template_in", "templates_folder"]


@dataclass(frozen=True)
class Kept:
    """A template on the shelf."""

    name: str
    path: Path

    @property
    def picture(self) -> bytes | None:
        """Its picture as PNG; None where its file has none."""
        return stored_thumbnail(self.path)


def templates_folder() -> Path:
    """Where templates are kept."""
    return state_folder() / "templates"


def kept_templates() -> list[Kept]:
    """All that are kept, by name."""
    try:
        return [Kept(path.stem, path) for path in sorted(templates_folder().glob("*.ora"))]
    except OSError:
        return []


def keep_template(painting: Painting, uids: Collection[int], name: str) -> Path:
    """Keep parts of a painting under a name; one of that name is replaced. InputError without parts or a name that can
    be a file's, SaveError where the disk refuses.
    """
    name = checks.text("name", name.strip(), 60)
    if not name or re.search(r"[/\\\0]|^\.", name):
        raise InputError(f"name: expected one that a file can have, got {name!r}")
    chosen = tuple(part for part in painting.parts if part.uid in uids)
    if not chosen:
        raise InputError("Choose a part: a template is made of parts")
    own = {part.uid for part in chosen}
    pieces = tuple(one for one in painting.maquette.pieces if one.owners and one.owners <= own)
    alone = replace(
        painting, parts=chosen, title=name, frisket=None, board=(), landmarks=(), measures=(),
        maquette=replace(painting.maquette, pieces=pieces),
    )  # fmt: skip
    path = templates_folder() / f"{name}.ora"
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise SaveError(f"{name} could not be kept: {reason(error)}.") from error
    ora_write.write(alone, path)
    return path


def template_in(path: Path) -> AddParts:
    """What a file drops into a painting: all parts of it; FileFormatError or InputError where it cannot."""
    painting = open_painting(path).painting
    return template_of(painting, [part.uid for part in painting.parts])


def forget_template(path: Path) -> None:
    """Take a template off the shelf; SaveError where the disk refuses."""
    try:
        path.unlink(missing_ok=True)
    except OSError as error:
        raise SaveError(f"{path.stem} could not be taken away: {reason(error)}.") from error
