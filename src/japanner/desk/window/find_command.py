"""Find: type to filter, Enter runs. Commands first, then brushes, parts, layers, settings and pages of the guide."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Final

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QLabel, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from japanner.desk.brushes.settings import SETTINGS
from japanner.desk.session.session import Session
from japanner.desk.settings import recall, remember
from japanner.desk.theme import theme
from japanner.desk.window.guide_view import GUIDE, sections, text_of
from japanner.desk.window.menus import Menus
from japanner.desk.window.ranking import fit

__all__ = ["Entry", "FindCommand"]

MOST_SHOWN: Final = 60
MOST_RECENT: Final = 12


@dataclass(frozen=True)
class Entry:
    """own: its words. around: where it stands. path: what it is remembered by; why: why it cannot run just now."""

    own: str
    around: str
    path: str
    run: Callable[[], object]
    key: str = ""
    why: str = ""


class FindCommand(QFrame):
    """A panel over the upper middle of the window; Escape or a click elsewhere closes it."""

    def __init__(
        self, parent: QWidget, menus: Menus, session: Session, *, show_setting: Callable[[str], object],
        show_topic: Callable[[str], object],
    ) -> None:  # fmt: skip
        super().__init__(parent, Qt.WindowType.Popup)
        self._window, self._menus, self._session = parent, menus, session
        self._show_setting, self._show_topic = show_setting, show_topic
        self._shown: list[Entry] = []
        self.setObjectName("panel")
        self.setStyleSheet("QFrame#panel { border: 1px solid palette(mid); }")
        self.setFixedSize(480, 360)
        self._line = QLineEdit()
        self._line.setPlaceholderText("Find a command, a brush, a part, a layer, a setting, a page of the guide")
        self._line.setToolTip("Type to filter, arrows choose, Enter runs")
        self._line.setAccessibleName("Find")
        self._line.textChanged.connect(self._filter)
        self._line.installEventFilter(self)
        self._list = QListWidget()
        self._list.itemActivated.connect(self._run)
        self._list.currentRowChanged.connect(self._say_why)
        self._why = QLabel()
        self._why.setObjectName("warning")
        self._why.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.addWidget(self._line)
        column.addWidget(self._list)
        column.addWidget(self._why)

    def open(self) -> None:
        window = self._window
        at = window.mapToGlobal(window.rect().topLeft())
        self.move(at.x() + (window.width() - self.width()) // 2, at.y() + 96)
        self._line.clear()
        self._filter("")
        self.show()
        self._line.setFocus()

    # --- what there is to find ----------------------------------------------------------------------------

    def _entries(self) -> Iterator[Entry]:
        session = self._session
        for path, command in self._menus.commands.items():
            around = " › ".join(one for one in (command.menu, command.submenu) if one)
            why = command.need.why if command.need is not None and not command.ready else ""
            key = command.keys[0] if command.keys else ""
            yield Entry(command.text, around, path, self._menus.actions[path].trigger, key, why)
        for index, brush in enumerate(session.hand.brushes):
            yield Entry(brush.name, f"brush › {brush.roll}", f"brush {brush.roll} {brush.name}",
                        partial(self._take_brush, index))  # fmt: skip
        for part in session.painting.parts:
            yield Entry(part.name, f"part › {part.material}", f"part {part.uid}",
                        partial(session.work.work_on_part, part.uid))  # fmt: skip
            for layer in part.layers:
                yield Entry(layer.name, f"layer › {part.name}", f"layer {layer.uid}",
                            partial(session.work.work_on_layer, layer.uid))  # fmt: skip
        for setting in SETTINGS:
            yield Entry(setting.label, f"setting of the brush › {setting.group}", f"setting {setting.name}",
                        partial(self._show_setting, setting.name))  # fmt: skip
        for name, _ in sections(text_of(GUIDE)):
            yield Entry(name, "guide", f"guide {name}", partial(self._show_topic, name))

    def _take_brush(self, index: int) -> None:
        hand = self._session.hand
        hand.take_brush(index)
        hand.show_roll(hand.brush.roll)

    def _filter(self, text: str) -> None:
        typed, recent = text.lower().split(), [str(path) for path in recall("found", [])]
        ranks = {path: index for index, path in enumerate(recent)}
        found = []
        for number, entry in enumerate(self._entries()):
            worth = fit(typed, entry.own, entry.around, ranks.get(entry.path))
            if worth > 0 and (typed or entry.path in self._menus.commands):
                found.append((-worth if typed else ranks.get(entry.path, MOST_RECENT), number, entry))
        found.sort(key=lambda one: one[:2])
        self._list.clear()
        self._shown = [entry for _, _, entry in found[:MOST_SHOWN]]
        for entry in self._shown:
            item = QListWidgetItem(f"{entry.own}   —   {entry.around}    {entry.key}".rstrip())
            if entry.why:
                item.setForeground(theme["quiet"])
                item.setToolTip(entry.why)
            self._list.addItem(item)
        self._list.setCurrentRow(0)

    def _say_why(self, row: int) -> None:
        """One that cannot run says why before it is tried."""
        why = self._shown[row].why if 0 <= row < len(self._shown) else ""
        self._why.setText(why)
        self._why.setVisible(bool(why))

    def _run(self, item: QListWidgetItem) -> None:
        entry = self._shown[self._list.row(item)]
        self.close()
        recent = [entry.path, *(path for path in recall("found", []) if path != entry.path)]
        remember("found", recent[:MOST_RECENT])
        entry.run()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self._list.setCurrentRow(min(max(self._list.currentRow() + step, 0), self._list.count() - 1))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                if (item := self._list.currentItem()) is not None:
                    self._run(item)
                return True
        return super().eventFilter(watched, event)
