"""What a maquette is begun from, and what is added to it: menus of people, animals, silhouettes, forms and files."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Final

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QMenu, QPushButton, QWidget

from japanner.desk.widgets.menus import open_menu
from japanner.light.figure.people import PEOPLE
from japanner.light.pieces import FACED, KINDS
from japanner.light.shipped import shipped_maquettes

__all__ = ["ANIMALS", "Wanted", "add_menu", "animal_menu", "figure_menu", "form_menu", "open_under"]

FORMS: Final = tuple(kind for kind in KINDS if kind not in ("stroke", "head", "puff", *FACED))
ANIMALS: Final = ("cat", "otter")
ANOTHER: Final = "Another person"
Wanted = Callable[[str, str], None]
"""Called with what is wanted, `figure`, `shipped`, `form`, `silhouette`, `cloth`, `cape`, `open` or `save`, and its
name.
"""


def figure_menu(parent: QWidget, wanted: Wanted) -> QMenu:
    """People to begin from."""
    menu = QMenu("A figure", parent)
    for name in PEOPLE:
        menu.addAction(name, partial(wanted, "figure", name))
    menu.addSeparator()
    menu.addAction(ANOTHER, partial(wanted, "figure", ""))
    return menu


def animal_menu(parent: QWidget, wanted: Wanted) -> QMenu:
    """Animals to begin from."""
    menu = QMenu("An animal", parent)
    for name in ANIMALS:
        menu.addAction(name.capitalize(), partial(wanted, "shipped", name))
    return menu


def form_menu(parent: QWidget, wanted: Wanted) -> QMenu:
    """Single forms."""
    menu = QMenu("A form", parent)
    for kind in FORMS:
        menu.addAction(kind.capitalize(), partial(wanted, "form", kind))
    return menu


def add_menu(parent: QWidget, wanted: Wanted) -> QMenu:
    """All that can be added."""
    menu = QMenu(parent)
    for one in (figure_menu(menu, wanted), animal_menu(menu, wanted), form_menu(menu, wanted)):
        menu.addMenu(one)
    menu.addAction("Puff of the part's silhouette", partial(wanted, "silhouette", ""))
    menu.addAction("Cloth laid over the forms", partial(wanted, "cloth", ""))
    menu.addAction("A cape round the figure's shoulders", partial(wanted, "cape", ""))
    things = menu.addMenu("A thing")
    for name in shipped_maquettes():
        if name not in ANIMALS:
            things.addAction(name, partial(wanted, "shipped", name))
    menu.addSeparator()
    menu.addAction("From a file…", partial(wanted, "open", ""))
    menu.addAction("Save to a file…", partial(wanted, "save", ""))
    return menu


def open_under(button: QPushButton, menu: QMenu) -> None:
    """Open a menu under its button."""
    open_menu(menu, button.mapToGlobal(QPoint(0, button.height())))
