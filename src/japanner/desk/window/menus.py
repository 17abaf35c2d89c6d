"""The menus, made from the table of commands."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PySide6.QtCore import QPoint
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMainWindow, QMenu

from japanner.desk.commands.command import MENUS, Command

__all__ = ["Menus"]


class Menus:
    """One action for each command.

    An action looks disabled only while its menu is open: a key is never dead because of what a menu has once shown.
    Whether a command can run is decided when it is called (`Command.call`).
    """

    def __init__(self, window: QMainWindow, commands: Sequence[Command], tell: Callable[[str], object]) -> None:
        self._window, self._tell = window, tell
        self.commands = {command.path: command for command in commands}
        self.actions: dict[str, QAction] = {}
        self._submenus: dict[tuple[str, str], QMenu] = {}
        bar = window.menuBar()
        menus = {name: bar.addMenu(name) for name in MENUS}
        groups: dict[str, str] = {}
        for command in commands:
            menu = menus[command.menu]
            if command.menu in groups and groups[command.menu] != command.group:
                menu.addSeparator()
            groups[command.menu] = command.group
            self._add(self._submenu(menu, command) if command.submenu else menu, command)

    def popup(self, menu: str, submenu: str, at: QPoint) -> None:
        """Open a submenu at a place on the screen."""
        self._submenus[menu, submenu].popup(at)

    def _submenu(self, menu: QMenu, command: Command) -> QMenu:
        key = (command.menu, command.submenu)
        if key not in self._submenus:
            self._submenus[key] = menu.addMenu(command.submenu)
        return self._submenus[key]

    def _add(self, menu: QMenu, command: Command) -> None:
        action = QAction(command.text, self._window)
        action.setShortcuts([QKeySequence(keys) for keys in command.keys])
        action.setToolTip(command.tip or command.text)
        action.setStatusTip("")
        action.setData(command.path)
        action.setCheckable(command.checked is not None)
        action.triggered.connect(lambda _=False: command.call(self._tell))
        menu.addAction(action)
        self._window.addAction(action)  # so that its keys also work while the menu bar is hidden
        menu.aboutToShow.connect(partial(_show_state, action, command))
        menu.aboutToHide.connect(partial(action.setEnabled, True))
        self.actions[command.path] = action


def _show_state(action: QAction, command: Command) -> None:
    if command.checked is not None:
        action.setChecked(command.checked())
    if command.words is not None:
        action.setText(command.words())
    action.setEnabled(command.ready)
