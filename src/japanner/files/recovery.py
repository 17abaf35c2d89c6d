"""From what a crash left to the painting as it was."""

from __future__ import annotations

from japanner.errors import FileFormatError, InputError
from japanner.files.opening import Opened, open_painting
from japanner.painting.document.document import Document, begun, replayed
from japanner.painting.document.leftovers import Leftover

__all__ = ["document_of", "recovered"]


def recovered(leftover: Leftover) -> Document:
    """The document that a journal describes; FileFormatError if it cannot be replayed."""
    try:
        if leftover.base is None:
            return Document(begun(leftover.records), records=leftover.records)
        opened = open_painting(leftover.base)
        painting = replayed(opened.painting, leftover.records)
    except InputError as error:
        raise FileFormatError(f"The journal of {leftover.title} cannot be replayed: {error}.") from error
    return Document(painting, records=(*opened.records, *leftover.records))


def document_of(opened: Opened) -> Document:
    """What was opened, to be worked on."""
    document = Document(opened.painting, records=opened.records)
    document.moments = opened.moments
    return document
