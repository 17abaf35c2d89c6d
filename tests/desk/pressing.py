"""Pressing everything there is: actions, keys, buttons, faders, choices and fields, wherever they stand."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import QEvent, QPointF, Qt, qInstallMessageHandler
from PySide6.QtGui import QKeySequence
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QListWidget,
    QMessageBox,
    QWidget,
)
from shiboken6 import isValid

from japanner.demo import DEMOS, Demo
from japanner.desk.easel.easel import Easel
from japanner.desk.trouble import trouble
from japanner.desk.widgets.fader import Fader
from japanner.desk.widgets.numbers import NumberBox
from japanner.desk.widgets.picture_dialog import PictureDialog
from japanner.desk.window.main_window import MainWindow
from japanner.painting.document.document import Document
from japanner.painting.operations import AddMask, PinPicture, SetComb, SetFrisket, SetMaquette
from japanner.scripting import Script
from tests.desk.hand import Hand
from tests.paintings import HARD
from tests.strategies import picture_text

__all__ = ["SIDE", "STATES", "TASKS", "Presser", "answering"]

SIDE = 256
MOST_ALIKE = 1
"""Of many that look alike, such as rows of a list, so many are pressed."""
# What this platform says of itself, whoever runs on it.
HARMLESS = ("propagateSizeHints", "This plugin does not support", "QFont::")
TASKS = (
    "frisket", "fill", "gradient", "move", "cage", "adjust", "frame", "scale", "head", "maquette", "maker",
    "light from a ball", "scratch", "comb", "texture", "relief", "locks", "critique", "film", "proportion", "compare",
    "measure", "print", "output", "templates",
)  # fmt: skip

Press = Callable[[], object]


def _script(*steps: str) -> Script:
    """A small painting: parts with paint, and what else is asked for."""
    script = Script.new(SIDE, SIDE, title="Pressed")
    if "empty" in steps:
        return script
    parts = 6 if "many parts" in steps else 2
    for index in range(parts):
        part = script.part(f"Part {index}", ("fur", "skin", "metal", "eye", "hair", "cloth")[index])
        flat = script.layer(part, "flat")
        at = 70 + 20 * index
        script.stroke(flat, HARD.with_changes(size_px=70), (0.6, 0.45, 0.35), [(at, at, 1.0), (at + 30, at + 20, 1.0)])
        light = script.layer(part, "light", mode="Normal")
        script.stroke(light, HARD.with_changes(size_px=30), (0.8, 0.7, 0.6), [(at, at - 10, 1.0)])
    last = script.painting.parts[-1]
    if "mask" in steps:
        script.do(AddMask(last.layers[-1].uid))
    if "frisket" in steps:
        script.do(SetFrisket({"shape": "oval", "x0": 20, "y0": 20, "x1": 230, "y1": 220}))
    if "maquette" in steps:
        record = {**script.painting.maquette.to_record(), "middle": [128, 128], "unit_px": 60.0}
        script.do(SetMaquette({**record, "pieces": [{"name": "Ball", "part": last.uid}]}))
    if "comb" in steps:
        script.do(SetComb(last.uid, ({"points": ((60, 60), (150, 140))},)))
    if "board" in steps:
        script.do(PinPicture("Board", picture_text()))
    return script


STATES = {
    "empty": ("empty",),
    "one layer": (),
    "many parts": ("many parts",),
    "mask": ("mask",),
    "frisket": ("frisket",),
    "maquette": ("maquette",),
    "everything": ("mask", "frisket", "maquette", "comb", "board"),
}


@pytest.fixture
def answering(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> Path:
    """Every dialog is answered at once, and demos are small."""
    picture = tmp_path / "picture.png"
    _script().export(picture)

    def to_open(*args: object, **_: object) -> str:
        wants_json = any("json" in str(one) for one in args)
        return "" if wants_json else str(picture)

    def run_box(box: QMessageBox) -> int:
        buttons = box.buttons()
        box.setProperty("pressed", buttons[-1].text())
        monkeypatch.setattr(QMessageBox, "clickedButton", lambda one: one.escapeButton())
        return 0

    monkeypatch.setattr(PictureDialog, "asked", to_open)
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName",
        lambda *args, **_: (str(tmp_path / "written" / Path(str(args[2]) or "a").name), ""),
    )  # fmt: skip
    (tmp_path / "written").mkdir()
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_, **__: str(tmp_path / "written"))
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("Pressed", True))
    monkeypatch.setattr(QMessageBox, "exec", run_box)
    monkeypatch.setattr(QMessageBox, "open", lambda box: None)
    monkeypatch.setattr(QApplication, "quit", lambda: None)
    for name in DEMOS:
        small = Demo(DEMOS[name].title, "Small.", "none", _painted=lambda progress: _script())
        monkeypatch.setitem(DEMOS, name, small)
    return tmp_path


class Presser:
    """Presses one thing after another; after each, nothing may have gone wrong."""

    def __init__(self, window: MainWindow) -> None:
        self.window, self.hand = window, Hand(window)
        self.pressed: list[str] = []
        self._wrong: list[str] = []
        self._base = window.session.painting

    def __enter__(self) -> Presser:
        self._former = qInstallMessageHandler(self._on_message)
        trouble.told.connect(self._on_trouble)
        return self

    def __exit__(self, *_: object) -> None:
        qInstallMessageHandler(self._former)
        trouble.told.disconnect(self._on_trouble)

    def _on_message(self, kind: object, context: object, text: str) -> None:
        if not any(one in text for one in HARMLESS):
            self._wrong.append(f"Qt: {text}")

    def _on_trouble(self, words: str, report: str) -> None:
        self._wrong.append(report)

    def begin(self, state: str) -> None:
        """A painting in some state, with its last part worked on."""
        script = _script(*STATES[state])
        session = self.window.session
        session._saved_painting = session.painting
        session.open_document(Document(script.painting, records=script.document.records), saved=False)
        session.keeper.start(session.document, None, session.document.records)
        self._base = session.painting
        self.window.resize(1024, 700)  # less to draw after each press
        self.window.show_bench()
        self.settle()

    def settle(self) -> None:
        """Everything that was begun comes to its end."""
        QApplication.processEvents()
        while self.window.session.jobs.busy:
            self.window.session.jobs.wait()
            QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # as an event loop would

    def press(self, what: str, act: Press) -> None:
        """Press one thing, see that nothing went wrong, and take it back by undoing."""
        window = self.window
        act()
        self.settle()
        for dialog in window.findChildren(QDialog):
            dialog.close()
        if (popup := QApplication.activePopupWidget()) is not None:
            popup.close()
        window.easel.hold(None)
        assert not self._wrong, f"{what}: {self._wrong[0]}"
        assert not window.session.jobs.busy, what
        window.show_bench()
        self.take_back(what)
        assert window.isVisible(), what
        # Never saved: who quits is asked, and stays.
        window.session._saved_painting, window.session._nowhere = replace(window.session.painting), True
        self.pressed.append(what)

    def take_back(self, what: str) -> None:
        """Undo to where it began; another painting is left for the one that it began with."""
        session = self.window.session
        session.rest_hand()
        if session.document.painting is self._base:
            return
        for _ in range(60):
            if session.painting is self._base or session.document.undo_words is None:
                break
            session.undo()
        if session.painting is not self._base:
            # Opened, begun or saved: what stands now is no descendant of the base by undo alone.
            assert session.document.undo_words is None, what
            session._saved_painting = session.painting
            session.open_document(Document(self._base), saved=False)

    # --- what there is --------------------------------------------------------------------------------

    def actions(self) -> Iterator[tuple[str, Press]]:
        """Every command, once."""
        for path, action in self.window.menus.actions.items():
            yield path, action.trigger

    def shortcuts(self) -> Iterator[tuple[str, Press]]:
        """Every key of the table, pressed on the easel."""
        for command in self.window.menus.commands.values():
            for keys in command.keys:
                yield f"{keys}: {command.path}", lambda keys=keys: self._key(keys)

    def _key(self, keys: str) -> None:
        both = QKeySequence.fromString(keys)[0]  # type: ignore[index]
        self.window.easel.setFocus()
        QTest.keyClick(self.window.easel, both.key(), both.keyboardModifiers())

    def widgets(self, within: QWidget) -> Iterator[tuple[str, Press]]:
        """Whatever can be pressed in a widget, and stands there now, is enabled and seen."""
        for widget in within.findChildren(QWidget):
            if isValid(widget) and widget.isVisible() and widget.isEnabled():
                for words, act in self._acts(widget):
                    words_on = widget.text() if isinstance(widget, QAbstractButton) else ""
                    where = widget.accessibleName() or words_on or type(widget).__name__
                    yield f"{type(widget).__name__} {where} {words}", act

    def press_all(self, within: Callable[[], QWidget], mark: str = "", most: int = 1000) -> None:
        """Press all in a widget; what a press has put in the place of something is found anew."""
        done: set[str] = set()
        while len(done) < most and (found := self._next(within(), done)) is not None:
            what, act = found
            done.add(what)
            self.press(f"{mark}{what}", act)

    def _next(self, within: QWidget, done: set[str]) -> tuple[str, Press] | None:
        counts: dict[str, int] = {}
        for what, act in self.widgets(within):
            counts[what] = counts.get(what, 0) + 1
            numbered = f"{what} #{counts[what]}"
            if numbered not in done and counts[what] <= MOST_ALIKE:
                return numbered, act
        return None

    def _acts(self, widget: QWidget) -> Iterator[tuple[str, Press]]:
        if isinstance(widget, Easel):
            return
        if widget.objectName() == "fold":
            yield "fold and unfold", lambda: _if_there(widget, lambda: [widget.click() for _ in range(2)])
        elif isinstance(widget, QAbstractButton):
            yield "click", lambda: _if_there(widget, lambda: QTest.mouseClick(widget, Qt.MouseButton.LeftButton))
        elif isinstance(widget, Fader):
            yield "drag", lambda: _if_there(widget, lambda: self._drag(widget))
            yield "type", lambda: _if_there(widget, lambda: self._type_into_fader(widget))
        elif isinstance(widget, QComboBox):
            for index in {0, widget.count() - 1}:
                yield f"choose {index}", lambda index=index: _if_there(widget, lambda: _choose(widget, index))
        elif isinstance(widget, NumberBox):
            yield "type", lambda: _if_there(widget, lambda: _type(widget, "3"))
        elif isinstance(widget, QLineEdit) and not isinstance(widget.parent(), NumberBox):
            yield "type", lambda: _if_there(widget, lambda: _type(widget, "#336699"))
        elif isinstance(widget, QListWidget):
            yield "row", lambda: _if_there(widget, lambda: widget.setCurrentRow(widget.count() - 1))
        elif hasattr(widget, "mousePressEvent") and type(widget).__module__.startswith("japanner"):
            yield "press", lambda: _if_there(widget, lambda: self._drag(widget))

    def _drag(self, widget: QWidget) -> None:
        width, height = widget.width(), widget.height()
        self.hand.drag_on(widget, [(width * 0.5, height * 0.5), (width * 0.7, height * 0.6)])

    def _type_into_fader(self, fader: Fader) -> None:
        fader.setFocus()
        QTest.keyClick(fader, Qt.Key.Key_Right)
        fader._open_field()
        _type(fader._field, "1,5")

    def stroke(self) -> None:
        """A stroke of the mouse on the easel, or what a task makes of it."""
        easel = self.window.easel
        at = [QPointF(easel.width() * share, easel.height() * 0.45) for share in (0.42, 0.5, 0.58)]
        self.hand.drag(at)


def _if_there(widget: QWidget, act: Press) -> None:
    """What was pressed before may have taken it away."""
    if isValid(widget) and widget.isVisible() and widget.isEnabled():
        act()


def _choose(box: QComboBox, index: int) -> None:
    if index < box.count():
        box.setCurrentIndex(index)
        box.textActivated.emit(box.itemText(index))
        box.activated.emit(index)


def _type(widget: QWidget, text: str) -> None:
    widget.setFocus()
    if hasattr(widget, "selectAll"):
        widget.selectAll()
    QTest.keyClicks(widget, text)
    QTest.keyClick(widget, Qt.Key.Key_Return)
