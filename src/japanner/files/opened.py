"""What comes of opening a file."""

from __future__ import annotations

from dataclasses import dataclass, field

from japanner.files.stored import Stored
from japanner.painting.document.engine import ENGINE
from japanner.painting.model import Painting
from japanner.painting.picture.moments import Moment
from japanner.types import Record

__all__ = ["Opened"]


@dataclass(frozen=True, eq=False)
class Opened:
    """A painting from a file, the records of how it grew, and remarks for the painter.

    native: saving it in place loses nothing; what came from elsewhere is first saved under a name of its own. engine:
    the one that the records were worked out by. moments: of its growth, first to last. stored: what lies in the file.
    """

    painting: Painting
    records: tuple[Record, ...] = ()
    remarks: tuple[str, ...] = ()
    native: bool = False
    engine: int = ENGINE
    moments: tuple[Moment, ...] = ()
    stored: Stored = field(default_factory=Stored)
