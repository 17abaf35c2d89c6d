"""The main window: panels around the easel, commands, and keys that act while they are held."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QEvent, QObject, QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QCursor, QDragEnterEvent, QDropEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMainWindow,
    QMenu,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from japanner.desk.brushes.pen_panel import PenPanel
from japanner.desk.brushes.sheet import BrushSheet
from japanner.desk.commands.command import MENUS, Command
from japanner.desk.commands.window_commands import all_commands
from japanner.desk.easel.easel import Easel
from japanner.desk.easel.pick_ring import PickRing
from japanner.desk.easel.task import Task
from japanner.desk.easel.trace_player import TracePlayer
from japanner.desk.panels.brush_roll import BrushRoll
from japanner.desk.panels.build_strip import BuildStrip
from japanner.desk.panels.light_ball import LightPanel
from japanner.desk.panels.parts import PartsPanel
from japanner.desk.panels.reference_board import ReferenceBoard
from japanner.desk.panels.second_look import SecondLook, SecondWindow
from japanner.desk.panels.stroke import ColourPanel, StrokePanel
from japanner.desk.panels.value_rail import ValueRail
from japanner.desk.session.clipboard import Clipboard
from japanner.desk.session.files_desk import FilesDesk
from japanner.desk.session.grid_keeper import GridKeeper
from japanner.desk.session.session import Session
from japanner.desk.session.settings import remember
from japanner.desk.tasks.registry import Tasks
from japanner.desk.theme import THEMES, apply_theme
from japanner.desk.widgets.section import Section, hairline
from japanner.desk.window.find_command import FindCommand
from japanner.desk.window.start_view import StartView
from japanner.desk.window.task_line import TaskLine
from japanner.files.png import Picture
from japanner.painting.document.document import new_document
from japanner.painting.working_order import users_trouble

__all__ = ["MainWindow"]

TOLD_MS = 9000
HELD_KEYS = {
    Qt.Key.Key_Space: "move",
    Qt.Key.Key_A: "pick",
    Qt.Key.Key_F: "ring",
    Qt.Key.Key_S: "squint",
    Qt.Key.Key_C: "before",
}


class MainWindow(QMainWindow):
    """Start view and bench; everything the painter does goes through the workbench."""

    def __init__(self) -> None:
        super().__init__()
        self.session = Session(new_document(1200, 900), self)
        self.files = FilesDesk(self.session, self)
        self.clipboard, self.grids = Clipboard(self.session, self), GridKeeper(self.session, self)
        self.easel = Easel(self.session)
        self.roll, self.parts = BrushRoll(self.session), PartsPanel(self.session)
        self.task_line, self.tasks = TaskLine(), Tasks(self.session, self.easel)
        self.traces = TracePlayer(self.easel)
        self.build, self.rail = BuildStrip(self.session), ValueRail(self.session)
        self.start = StartView()
        self.second: SecondWindow | None = None
        self.sheet: BrushSheet | None = None
        self.second_look = SecondLook(self.session)
        self._refreshers: list[Callable[[], None]] = []
        self.actions_by_text: dict[str, QAction] = {}
        self.submenus: dict[tuple[str, str], QMenu] = {}
        self._ring: PickRing | None = None  # the one that A has put up beside the easel
        self._pages = QStackedWidget()
        self._pages.addWidget(self.start)
        self._pages.addWidget(self._bench_page())
        self.setCentralWidget(self._pages)
        self._make_menus(all_commands(self))
        self._find = FindCommand(self, list(self.actions_by_text.values()))
        self._connect()
        self.setWindowTitle("Japanner")
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        QApplication.instance().installEventFilter(self)  # type: ignore[union-attr]

    # --- layout ---------------------------------------------------------------------------------------

    def _bench_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.roll)
        column.addWidget(hairline())
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.parts)
        middle.addWidget(hairline(vertical=True))
        middle.addLayout(self._easel_column(), 1)
        middle.addWidget(hairline(vertical=True))
        self.right = self._right_column()
        middle.addWidget(self.right)
        column.addLayout(middle, 1)
        for widget in (hairline(), self.build, hairline(), self.rail):
            column.addWidget(widget)
        return page

    def _easel_column(self) -> QVBoxLayout:
        self._message = QLabel()
        self._message.setObjectName("panel")
        self._message.setWordWrap(True)
        self._message.setContentsMargins(10, 4, 10, 4)
        self._message.setStyleSheet("QLabel#panel { font-size: 12px; }")
        self._message.hide()
        self._progress_line = self._make_progress_line()
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addWidget(self._progress_line)
        column.addWidget(self.task_line)
        column.addWidget(self._message)
        column.addWidget(self.easel, 1)
        return column

    def _make_progress_line(self) -> QWidget:
        line = QWidget()
        line.setObjectName("panel")
        line.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._progress_words, self._progress = QLabel(), QProgressBar()
        self._progress.setTextVisible(False)
        stop = QPushButton("Stop")
        stop.setToolTip("Give up what is being done; the painting stays as it is")
        stop.clicked.connect(self.files.stop)
        row = QHBoxLayout(line)
        row.setContentsMargins(10, 3, 10, 3)
        row.addWidget(self._progress_words)
        row.addWidget(self._progress, 1)
        row.addWidget(stop)
        line.hide()
        return line

    def _right_column(self) -> QWidget:
        content = QWidget()
        self._stroke_section = Section("STROKE", StrokePanel(self.session))
        column = QVBoxLayout(content)
        column.setContentsMargins(0, 2, 0, 4)
        column.setSpacing(0)
        pin = QPushButton("+ picture")
        pin.setObjectName("plain")
        pin.setToolTip("Pin a picture to look at and to pick up colours from")
        pin.clicked.connect(lambda: self.clipboard.import_file("reference"))
        column.addWidget(Section("REFERENCE BOARD", ReferenceBoard(self.session), pin))
        free = QPushButton("own window")
        free.setObjectName("plain")
        free.setToolTip("The second look in a window of its own, for a second screen")
        free.clicked.connect(self.show_second_window)
        column.addWidget(Section("SECOND LOOK", self.second_look, free))
        light = LightPanel(self.session)
        column.addWidget(Section("LIGHT", light, light.more))
        column.addWidget(Section("COLOUR IN HAND", ColourPanel(self.session)))
        column.addWidget(self._stroke_section)
        column.addWidget(Section("PEN", PenPanel(self.session)))
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setObjectName("panel")
        scroll.setWidget(content)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        panel = QWidget()
        panel.setObjectName("panel")
        panel.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        panel.setFixedWidth(250)
        outer = QVBoxLayout(panel)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scroll)
        return panel

    def _open_grid_menu(self, at: QPoint) -> None:
        self.submenus["Part", "Mixing grid"].popup(at)

    def _connect(self) -> None:
        session, files, start = self.session, self.files, self.start
        self.parts.grid_menu_wanted.connect(self._open_grid_menu)
        self.roll.sheet_wanted.connect(self.show_brush_sheet)
        self.easel.pointed.connect(self.rail.set_under)
        self.easel.named.connect(self.rail.set_name)
        self.easel.task_changed.connect(self._on_task)
        self.clipboard.to_place.connect(lambda: self.tasks.take_up("move"))
        self.task_line.leave_wanted.connect(self.easel.leave_task)
        session.told.connect(self.tell)
        session.hand.brush_changed.connect(self._name_stroke)
        start.new_wanted.connect(files.new)
        start.open_wanted.connect(files.open)
        start.sketch_wanted.connect(self._begin_from_sketch)
        start.recover_wanted.connect(files.recover)
        start.demo_wanted.connect(files.demo)
        files.bench_wanted.connect(self.show_bench)
        session.jobs.started.connect(self._on_job)
        session.jobs.progressed.connect(self._on_progress)
        session.jobs.ended.connect(self._on_job_end)
        self._hush = QTimer(self)
        self._hush.setSingleShot(True)
        self._hush.timeout.connect(self._message.hide)
        self._clock = QTimer(self)
        self._clock.setInterval(5000)
        self._clock.timeout.connect(self._name_painting)
        self._clock.start()
        for signal in (session.opened, session.changed, session.saved):
            signal.connect(self._name_painting)
        self._name_painting()
        self._name_stroke()
        if trouble := users_trouble():
            self.tell(trouble)

    # --- pages and words ------------------------------------------------------------------------------

    def show_bench(self) -> None:
        self._pages.setCurrentIndex(1)
        self.easel.setFocus()

    def _begin_from_sketch(self) -> None:
        """A new painting as large as a picture, which becomes its sketch."""
        path = self.clipboard.ask_for_picture()
        picture = None if path is None else self.clipboard.read(path)
        if picture is not None:
            self._begin_with(picture)

    def _begin_with(self, picture: Picture) -> None:
        leaving = self.files.ask_to_leave()
        if leaving is not None:
            _, height, width = picture.pixels.shape
            ppi = picture.ppi if picture.ppi and 1 <= picture.ppi <= 10000 else 300.0
            self.files.begin(new_document(width, height, ppi=ppi), leaving)
            self.clipboard.add(picture.pixels, "Sketch", "sketch")

    def paste(self) -> None:
        """The picture on the clipboard: a layer on the bench, the sketch of a new painting on the start view."""
        if self._pages.currentIndex() == 1:
            self.clipboard.paste()
            return
        picture = self.clipboard.picture()
        if picture is None:
            self.tell("There is no picture on the clipboard.")
        else:
            self._begin_with(picture)

    def show_start(self) -> None:
        self.start.refresh()
        self._pages.setCurrentIndex(0)

    def tell(self, text: str) -> None:
        """Say one sentence above the easel; it goes by itself."""
        if text and text[-1] not in ".!?…":
            text += "."
        if self._pages.currentIndex() == 0:
            self.statusBar().showMessage(text, TOLD_MS)
        self._message.setText(text)
        self._message.show()
        self._hush.start(TOLD_MS)

    def _on_task(self, task: Task | None) -> None:
        self.task_line.show_task(task)
        if task is not None:
            task.redraw.connect(lambda: self.task_line.show_hint(task.hint) if self.easel.task is task else None)

    def _on_job(self, words: str) -> None:
        self._progress_words.setText(words)
        self._progress.setRange(0, 0)
        self._progress_line.show()
        if self._pages.currentIndex() == 0:
            self.statusBar().showMessage(f"{words} …")

    def _on_progress(self, done: float, words: str) -> None:
        self._progress.setRange(0, 1000)
        self._progress.setValue(round(done * 1000))
        self._progress_words.setText(words)
        if self._pages.currentIndex() == 0:
            self.statusBar().showMessage(f"{words} — {done * 100:.0f} %")

    def _on_job_end(self) -> None:
        self._progress_line.hide()
        self.statusBar().clearMessage()
        self.statusBar().hide()

    def _name_painting(self, *_: object) -> None:
        session = self.session
        if session.saved_at is None:
            state = "not saved yet" if session.unsaved or session.painting.parts else "new"
        else:
            state = f"saved {_ago(time.monotonic() - session.saved_at)} ago" + (
                ", changed since" if session.unsaved else ""
            )
        self._corner.setText(f"{session.painting.title} — {state}")
        self.setWindowTitle(f"{session.painting.title} — Japanner")

    def _name_stroke(self) -> None:
        brush = self.session.hand.brush
        kind = "wipe" if self.session.hand.wiping else brush.kind
        self._stroke_section.set_title(f"STROKE — {brush.name}" + ("" if kind == brush.name.lower() else f", {kind}"))

    # --- commands -------------------------------------------------------------------------------------

    def _make_menus(self, commands: list[Command]) -> None:
        bar = self.menuBar()
        menus = {name: bar.addMenu(name) for name in MENUS}
        submenus = self.submenus
        groups: dict[str, str] = {}
        for command in commands:
            menu = menus[command.menu]
            if command.menu in groups and groups[command.menu] != command.group:
                menu.addSeparator()
            groups[command.menu] = command.group
            if command.submenu:
                key = (command.menu, command.submenu)
                if key not in submenus:
                    submenus[key] = menu.addMenu(command.submenu)
                menu = submenus[key]
            self._add_action(menu, command)
        self._corner = QLabel()
        self._corner.setObjectName("quiet")
        self._corner.setContentsMargins(0, 5, 12, 0)
        self._corner.setFixedSize(420, 24)
        self._corner.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
        bar.setCornerWidget(self._corner)

    def _add_action(self, menu: QMenu, command: Command) -> None:
        action = QAction(command.text, self)
        action.setShortcuts([QKeySequence(keys) for keys in command.keys])
        action.setToolTip(command.tip or command.text)
        action.setStatusTip("")
        path = [command.menu, command.submenu, command.text] if command.submenu else [command.menu, command.text]
        action.setData(" › ".join(path))
        action.triggered.connect(lambda _=False: command.run())
        if command.checked is not None:
            action.setCheckable(True)
        menu.addAction(action)
        self.addAction(action)  # so that its keys also work while the menu bar is hidden
        menu.aboutToShow.connect(partial(self._update_action, action, command))
        self._refreshers.append(partial(self._update_action, action, command))
        self.actions_by_text[" › ".join(path)] = action

    @staticmethod
    def _update_action(action: QAction, command: Command) -> None:
        if command.checked is not None:
            action.setChecked(command.checked())
        if command.ready is not None:
            action.setEnabled(command.ready())
        if command.words is not None:
            action.setText(command.words())

    def find_command(self) -> None:
        for refresh in self._refreshers:
            refresh()
        self._find.open()

    def show_brush_sheet(self) -> None:
        """Every setting of the brush in hand; there is one sheet at most."""
        if self.sheet is None:
            self.sheet = BrushSheet(self.session, self)
        self.sheet.show()
        self.sheet.raise_()

    def show_second_window(self) -> None:
        """The second look in a window of its own; there is one at most."""
        if self.second is None:
            self.second = SecondWindow(self.session, self)
        self.second.show()
        self.second.raise_()

    def toggle_right(self) -> None:
        self.right.setVisible(not self.right.isVisible())

    def toggle_full_screen(self) -> None:
        if self.isFullScreen():
            self.showNormal()
        else:
            self.showFullScreen()

    def use_theme(self, name: str) -> None:
        if name in THEMES:
            apply_theme(QApplication.instance(), name)  # type: ignore[arg-type]
            remember("theme", name)
            for widget in self.findChildren(QWidget):
                widget.update()

    # --- keys that are held ---------------------------------------------------------------------------

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and self.isActiveWindow() and self._pages.currentIndex() == 1:
            typing = isinstance(QApplication.focusWidget(), QLineEdit)
            if not typing and watched is QApplication.focusWidget() and self._held(event):
                return True
        return super().eventFilter(watched, event)

    def _held(self, event: QKeyEvent) -> bool:
        """Space, A, F, S and C act while they are down; digits in between belong to the stroke ring."""
        key, kind = Qt.Key(event.key()), event.type()
        if kind == QEvent.Type.ShortcutOverride and self._digit(event) is not None and self.easel.holding == "ring":
            event.accept()
            return True
        plain = not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if kind == QEvent.Type.KeyPress:
            digit = self._digit(event)
            if digit is not None and self.easel.type_digit(digit):
                return True
            if key in HELD_KEYS and plain:
                if not event.isAutoRepeat():
                    self._hold(HELD_KEYS[key])
                return True
        elif kind == QEvent.Type.KeyRelease and key in HELD_KEYS:
            if not event.isAutoRepeat():
                self._let_go(HELD_KEYS[key])
            return True
        return False

    def _hold(self, what: str) -> None:
        """A key that is held acts where the pointer is: colours can be picked up beside the easel, too."""
        if what == "pick" and not self.easel.has_pointer:
            widget, at = QApplication.widgetAt(QCursor.pos()), QCursor.pos()
            ring = getattr(widget, "pick", None)
            if widget is not None and isinstance(ring, PickRing):
                self._ring = ring
                ring.move(QPointF(widget.mapFromGlobal(at)))
                return
        self.easel.hold(what)

    def _let_go(self, what: str) -> None:
        if self._ring is not None and what == "pick":
            self._ring.take()
            self._ring = None
        elif self.easel.holding == what:
            self.easel.letting_go()

    @staticmethod
    def _digit(event: QKeyEvent) -> int | None:
        number = event.key() - Qt.Key.Key_0.value
        return number if 0 <= number <= 9 else None

    # --- pictures dropped on the window -----------------------------------------------------------------

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        mime = event.mimeData()
        if mime.hasUrls() or mime.hasImage():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """A picture dropped on the bench is a sketch there; on the start view it begins a painting."""
        if self._pages.currentIndex() == 1:
            taken = self.clipboard.take_mime(event.mimeData())
        else:
            picture = self.clipboard.dropped(event.mimeData())
            taken = picture is not None
            if picture is not None:
                self._begin_with(picture)
        if taken:
            event.acceptProposedAction()

    # --- the end --------------------------------------------------------------------------------------

    def closeEvent(self, event: QCloseEvent) -> None:
        leaving = self.files.ask_to_leave()
        if leaving is None:
            event.ignore()
            return
        self._end(keep=leaving == "keep")
        event.accept()

    def end_at_once(self) -> None:
        """Close without a question: whatever is not saved stays to be recovered."""
        self.session.rest_hand()
        self._end(keep=self.session.unsaved)
        QApplication.quit()

    def _end(self, *, keep: bool) -> None:
        self.easel.leave_task()
        self.files.wait()
        self.session.leave_document(keep=keep)
        QApplication.instance().removeEventFilter(self)  # type: ignore[union-attr]


def _ago(seconds: float) -> str:
    if seconds < 60:
        return f"{seconds:.0f} s"
    return f"{seconds / 60:.0f} min" if seconds < 3600 else f"{seconds / 3600:.0f} h"
