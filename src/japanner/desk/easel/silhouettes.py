"""The silhouettes of a painting's parts, kept until a flat changes."""

from __future__ import annotations

from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.model import Painting
from japanner.raster.tiles import Sheet

__all__ = ["Silhouettes"]


class Silhouettes:
    """Of all shown parts that have one."""

    def __init__(self) -> None:
        self._kept: tuple[tuple[object, ...], list[Sheet]] = ((), [])

    def of(self, painting: Painting) -> list[Sheet]:
        """Made anew only when a flat has changed."""
        flats = [(part, layer) for part in painting.parts if part.shown for layer in part.flats]
        made_from = tuple((layer.pixels, layer.mask) for _, layer in flats)
        if made_from != self._kept[0]:
            parts = dict.fromkeys(part.uid for part, layer in flats if layer.pixels.tiles)
            self._kept = (made_from, [silhouette_sheet(painting, painting.part(uid)) for uid in parts])
        return self._kept[1]
