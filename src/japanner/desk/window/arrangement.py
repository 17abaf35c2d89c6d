"""Where everything on the bench lies: plain arithmetic."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Final

from PySide6.QtCore import QRect, QSize

__all__ = ["EDGES", "FORMS", "LINE", "NARROWEST", "PANELS", "WIDEST", "Arrangement", "edge_of"]

FORMS: Final = ("hidden", "slim", "full")
PANELS: Final = {
    "roll": ("hidden", "full"),
    "board": ("hidden", "full"),
    **dict.fromkeys(("parts", "build", "rail", "right"), FORMS),
}
NARROWEST, WIDEST = 130, 480
# The reference beside the easel is dragged freely; the easel keeps this share of what both have.
BOARD_WIDEST, EASEL_SHARE = 2000, 0.3
LINE: Final = 1
# Px that a strip is high, and a column is wide as long as nobody drags it.
HEIGHTS: Final = {
    "roll": {"full": 62},
    "build": {"slim": 42, "full": 84},
    "rail": {"slim": 40, "full": 64},
}
WIDTHS: Final = {"parts": {"slim": 130, "full": 196}, "right": {"slim": 180, "full": 228},
                 "board": {"full": 380}}  # fmt: skip
# In *easel alone*: what comes in from which edge.
EDGES: Final = {"top": ("roll",), "left": ("parts",), "right": ("right",), "bottom": ("build", "rail")}
# From this window width on, there is room for everything.
WIDE_WINDOW: Final = 1600


def edge_of(name: str) -> str:
    """From where a panel comes in over the picture."""
    return next(edge for edge, names in EDGES.items() if name in names)


@dataclass(frozen=True)
class Arrangement:
    """The form of each panel, and the widths that columns were dragged to (px by panel and form)."""

    forms: dict[str, str]
    widths: dict[str, dict[str, int]]

    @staticmethod
    def first(window_width: int) -> Arrangement:
        """As it begins in a window so wide."""
        form = "full" if window_width >= WIDE_WINDOW else "slim"
        made = {name: form if form in forms else "full" for name, forms in PANELS.items()}
        return Arrangement({**made, "board": "hidden"}, {})

    @staticmethod
    def read(kept: dict[str, Any], window_width: int) -> Arrangement:
        """From what was remembered, as far as it makes sense."""
        made = Arrangement.first(window_width)
        forms, widths = kept.get("forms"), kept.get("widths")
        if isinstance(forms, dict):
            for name, form in forms.items():
                if form in PANELS.get(name, ()):
                    made = made.formed(name, form)
        if isinstance(widths, dict):
            for name, by_form in widths.items():
                for form, px in by_form.items() if isinstance(by_form, dict) else ():
                    if name in WIDTHS and form in WIDTHS[name] and isinstance(px, int):
                        made = made.widened(name, form, px)
        return made

    def kept(self) -> dict[str, Any]:
        """To be remembered."""
        return {"forms": self.forms, "widths": self.widths}

    def formed(self, name: str, form: str) -> Arrangement:
        """With a panel in another form."""
        return Arrangement({**self.forms, name: form}, self.widths)

    def next_form(self, name: str) -> str:
        """Hidden, slim, full in turn."""
        forms = PANELS[name]
        return forms[(forms.index(self.forms[name]) + 1) % len(forms)]

    def widened(self, name: str, form: str, px: int) -> Arrangement:
        """With a column that is so wide in this form."""
        wide = min(max(px, NARROWEST), BOARD_WIDEST if name == "board" else WIDEST)
        return Arrangement(self.forms, {**self.widths, name: {**self.widths.get(name, {}), form: wide}})

    def width_of(self, name: str) -> int:
        """Px that a column is wide, shown or not."""
        form = self.forms[name] if self.forms[name] != "hidden" else next(iter(WIDTHS[name]))
        return self.widths.get(name, {}).get(form, WIDTHS[name][form])

    def height_of(self, name: str) -> int:
        """Px that a strip is high, shown or not."""
        form = self.forms[name] if self.forms[name] != "hidden" else next(iter(HEIGHTS[name]))
        return HEIGHTS[name][form]

    def lay_out(self, size: QSize) -> dict[str, QRect]:
        """The place of every panel that shows, and of the easel, in a bench of this size; a line lies between any two.

        Columns give way where the easel would have less than a third.
        """
        places: dict[str, QRect] = {}
        width, top, bottom = size.width(), 0, size.height()
        if self.forms["roll"] != "hidden":
            places["roll"] = QRect(0, 0, width, self.height_of("roll"))
            top = self.height_of("roll") + LINE
        for name in ("rail", "build"):
            if self.forms[name] != "hidden":
                high = self.height_of(name)
                places[name] = QRect(0, bottom - high, width, high)
                bottom -= high + LINE
        left, right, most = 0, width, width // 3
        if self.forms["parts"] != "hidden":
            wide = min(self.width_of("parts"), most)
            places["parts"] = QRect(0, top, wide, bottom - top)
            left = wide + LINE
        if self.forms["right"] != "hidden":
            wide = min(self.width_of("right"), most)
            places["right"] = QRect(width - wide, top, wide, bottom - top)
            right = width - wide - LINE
        if self.forms["board"] != "hidden":
            wide = min(self.width_of("board"), round((right - left) * (1 - EASEL_SHARE)))
            places["board"] = QRect(right - wide, top, wide, bottom - top)
            right -= wide + LINE
        places["easel"] = QRect(left, top, right - left, bottom - top)
        return places

    def slid_in(self, size: QSize, edge: str) -> dict[str, QRect]:
        """*Easel alone*: the places of the panels that come in over the picture from an edge."""
        width, height = size.width(), size.height()
        if edge in ("left", "right"):
            name = EDGES[edge][0]
            wide = min(self.width_of(name), width // 3)
            return {name: QRect(0 if edge == "left" else width - wide, 0, wide, height)}
        places, y = {}, 0 if edge == "top" else height
        for name in reversed(EDGES[edge]):
            high = self.height_of(name)
            y -= high if edge == "bottom" else 0
            places[name] = QRect(0, y, width, high)
        return places
