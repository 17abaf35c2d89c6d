"""The two themes: named colours, one style sheet template, and the shipped type."""

from __future__ import annotations

from functools import cache, lru_cache
from pathlib import Path
from typing import Final

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication

from japanner.color.lab import luminance_from_lightness
from japanner.color.srgb import encode
from japanner.desk.theme_colours import THEMES

__all__ = ["THEMES", "Theme", "apply_theme", "font", "surround_colour", "theme"]

ASSETS: Final = Path(__file__).parent / "assets"


class Theme:
    """The colours in force, as QColor by name."""

    def __init__(self) -> None:
        self.name = "Lacquer"

    def __getitem__(self, name: str) -> QColor:
        return QColor(THEMES[self.name][name])


theme: Final = Theme()


def apply_theme(app: QApplication, name: str = "Lacquer") -> None:
    """Give the application a theme; widgets that paint themselves read `theme` when they next do."""
    theme.name = name
    _load_fonts()
    sheet = (ASSETS / "theme.qss").read_text(encoding="utf-8")
    values = {**THEMES[name], "assets": ASSETS.as_posix()}
    for key in sorted(values, key=len, reverse=True):
        sheet = sheet.replace(f"@{key}", values[key])
    # A sheet that takes the place of another is worked out for each widget against both, several times
    # over; from none it takes a quarter of the time, and nothing is drawn in between.
    app.setStyleSheet("")
    app.setPalette(_palette())
    app.setFont(font(12))
    app.setStyleSheet(sheet)


@cache
def _load_fonts() -> None:
    """The shipped type, once in a process."""
    for file in sorted((ASSETS / "fonts").glob("*.ttf")):
        QFontDatabase.addApplicationFont(str(file))


def font(size_px: int, *, bold: bool = False) -> QFont:
    """The shipped type with tabular figures."""
    result = QFont("Open Sans")
    result.setPixelSize(size_px)
    result.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    result.setFeature(QFont.Tag("tnum"), 1)
    return result


def _palette() -> QPalette:
    """For what the style sheet does not reach, such as the lists of file dialogs."""
    role = QPalette.ColorRole
    colours = {
        role.Window: "panel", role.WindowText: "text", role.Base: "tile", role.AlternateBase: "panel",
        role.Text: "text", role.Button: "tile", role.ButtonText: "text", role.Highlight: "active",
        role.HighlightedText: "gold", role.ToolTipBase: "panel", role.ToolTipText: "text",
        role.PlaceholderText: "quiet", role.Mid: "hairline", role.Link: "gold",
    }  # fmt: skip
    palette = QPalette()
    for where, name in colours.items():
        palette.setColor(where, theme[name])
    return palette


@lru_cache(maxsize=200)
def surround_colour(value: float) -> QColor:
    """The neutral grey of L* `value` around the canvas."""
    level = round(float(encode(luminance_from_lightness(value))) * 255)
    return QColor(level, level, level)
