"""The main window: the start view, and the bench with its panels around the easel."""

from __future__ import annotations

import time

from PySide6.QtCore import QEvent, QPoint, QRect, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QImage, QPixmap
from PySide6.QtWidgets import QApplication, QMainWindow, QMessageBox, QStackedWidget, QWidget

from japanner import __version__
from japanner.desk.brushes.sheet import BrushSheet
from japanner.desk.commands.desk import Desk
from japanner.desk.commands.table import all_commands
from japanner.desk.easel.easel import Easel
from japanner.desk.easel.task import Task
from japanner.desk.easel.trace_player import TracePlayer
from japanner.desk.panels.brush_roll import BrushRoll
from japanner.desk.panels.build_strip import BuildStrip
from japanner.desk.panels.parts import PartsPanel
from japanner.desk.panels.reference_pane import ReferencePane, ReferenceWindow
from japanner.desk.panels.right_column import RightColumn
from japanner.desk.panels.second_look import SecondWindow
from japanner.desk.panels.value_rail import ValueRail
from japanner.desk.screen import screens
from japanner.desk.session.building import Building
from japanner.desk.session.clipboard import Clipboard
from japanner.desk.session.files_desk import FilesDesk
from japanner.desk.session.grid_keeper import GridKeeper
from japanner.desk.session.offers import Offers
from japanner.desk.session.session import Session
from japanner.desk.settings import remember
from japanner.desk.tasks.registry import Tasks
from japanner.desk.theme import THEMES, apply_theme
from japanner.desk.trouble import report_of, trouble
from japanner.desk.widgets.working import working
from japanner.desk.window.bench_page import BenchPage
from japanner.desk.window.find_command import FindCommand
from japanner.desk.window.growth.view import GrowthView
from japanner.desk.window.guide_view import GUIDE, PANEL_TOPICS, TASK_TOPICS, GuideView
from japanner.desk.window.held_keys import HeldKeys
from japanner.desk.window.keys_view import KeysView
from japanner.desk.window.left_off import LeftOff
from japanner.desk.window.menus import Menus
from japanner.desk.window.messages import Messages
from japanner.desk.window.name_corner import NameCorner
from japanner.desk.window.opening_view import OpeningView
from japanner.desk.window.over_bars import OverBars
from japanner.desk.window.report_view import ReportView
from japanner.desk.window.start_view import StartView
from japanner.desk.window.task_line import TaskLine
from japanner.desk.window.tips import Tips
from japanner.desk.window.tour import Tour
from japanner.errors import InputError
from japanner.files.kept import taken_troubles
from japanner.files.png import Picture
from japanner.painting.document.document import new_document
from japanner.painting.document.way import way_of
from japanner.painting.working_order import users_trouble

__all__ = ["MainWindow"]

TICK_MS = 1000
IDLE_S = 3.0
START, BENCH = 0, 1


class MainWindow(QMainWindow):
    """Puts everything together; what the painter does goes through the session."""

    def __init__(self) -> None:
        super().__init__()
        self.session = Session(new_document(1200, 900), self)
        self.files, self.building = FilesDesk(self.session, self), Building(self.session, self)
        self.offers = Offers(self.session, self.building)
        self.clipboard, self.grids = Clipboard(self.session, self), GridKeeper(self.session, self)
        self.easel = Easel(self.session)
        self.task_line, self.tasks = TaskLine(), Tasks(self.session, self.easel)
        self.roll, self.parts = BrushRoll(self.session, self.easel), PartsPanel(self.session, self.building)
        self.build, self.rail = BuildStrip(self.session, self.building), ValueRail(self.session)
        self.right, self.messages, self.start = RightColumn(self.session), Messages(), StartView()
        self.second: SecondWindow | None = None
        self.reference: ReferenceWindow | None = None
        self.sheet: BrushSheet | None = None
        self._last_report, self._ended, self._page_before = "", False, START
        self._hand_moved_at = time.monotonic()
        self.board = ReferencePane(self.session, self.easel)
        self._pages = QStackedWidget()
        self.bench = BenchPage(self.easel, {
            "roll": self.roll, "parts": self.parts, "right": self.right, "build": self.build, "rail": self.rail,
            "board": self.board,
        })  # fmt: skip
        self._pages.addWidget(self.start)
        self._pages.addWidget(self.bench)
        self.setCentralWidget(self._pages)
        self.growth, self.opening = GrowthView(self._pages), OpeningView(self._pages)
        self.tour = Tour(self.session, self.building, self.files)
        bars = (self.tour.bar, self.messages.job, self.task_line, self.messages.bar)
        self.over = OverBars(self._pages, bars, self._area_of_bars)
        self.bench.arranged.connect(self.over.place)
        self._pages.currentChanged.connect(lambda _: self.over.place())
        self.desk = Desk(
            self.session, self.easel, self.tasks, self.files, self.building, self.clipboard, self.grids,
            TracePlayer(self.easel), self,
        )  # fmt: skip
        self.menus = Menus(self, all_commands(self.desk), self.tell)
        self.tasks.command = lambda path: self.menus.commands[path].call(self.tell)
        self.name_corner = NameCorner(self.session)
        self.menuBar().setCornerWidget(self.name_corner)
        self._find = FindCommand(
            self,
            self.menus,
            self.session,
            show_setting=self.show_setting,
            show_topic=self.show_guide,
        )
        self._keys = HeldKeys(
            self, self.easel, self.bench, lambda path: self.menus.commands[path].call(self.tell),
            lambda: self._pages.currentIndex() == BENCH and self.growth.isHidden(),
        )  # fmt: skip
        self.tips = Tips(self, self.topic_of, self.show_guide)
        self.left_off = LeftOff(self.session, self.easel, self)
        self._connect()
        self.setAcceptDrops(True)
        self.resize(1280, 800)

    # --- what shows -----------------------------------------------------------------------------------

    def _area_of_bars(self) -> QRect:
        """Where bars lie: over the easel, or over the start view."""
        page = self._pages.currentWidget()
        return page.geometry() if page is self.start else self.easel.geometry()

    def _connect(self) -> None:
        session, files, start = self.session, self.files, self.start
        self.parts.grid_menu_wanted.connect(self._open_grid_menu)
        self.roll.sheet_wanted.connect(self.show_brush_sheet)
        self.right.picture_wanted.connect(lambda: self.clipboard.import_file("reference"))
        self.right.own_window_wanted.connect(self.show_second_window)
        self.right.reference_wanted.connect(self.show_reference)
        self._connect_pane(self.board)
        self.board.closed.connect(lambda: self.bench.set_form("board", "hidden"))
        self.easel.pointed.connect(self.rail.set_under)
        self.easel.named.connect(self.rail.set_name)
        self.easel.task_changed.connect(self._on_task)
        self.clipboard.to_place.connect(lambda: self.tasks.take_up("move"))
        self.task_line.leave_wanted.connect(self.easel.leave_task)
        self.task_line.guide_wanted.connect(self.show_guide)
        self.messages.stop_wanted.connect(files.stop)
        self.messages.report_wanted.connect(self.show_report)
        start.new_wanted.connect(files.new)
        start.open_wanted.connect(files.open)
        start.sketch_wanted.connect(self._begin_from_sketch)
        start.recover_wanted.connect(files.recover)
        start.demo_wanted.connect(files.demo)
        start.growth_wanted.connect(lambda name: files.demo(name, then=self.watch_growth))
        start.paint_wanted.connect(lambda name: files.demo(name, size="shipped"))
        self.growth.left.connect(self.easel.setFocus)
        screens.changed.connect(self._screens_changed)
        screens.told.connect(self.tell)
        self.growth.told.connect(self.tell)
        self.growth.wanted.connect(files.go_on_from)
        self.growth.film_wanted.connect(lambda: self.tasks.take_up("film"))
        session.opened.connect(self.growth.stop)
        start.tour_wanted.connect(self.tour.begin)
        files.bench_wanted.connect(self.show_bench)
        files.glimpsed.connect(self._show_opening)
        session.jobs.ended.connect(self._end_opening)
        session.told.connect(self.tell)
        self.offers.offered.connect(lambda words, label, act: self.messages.tell(words, offer=(label, act)))
        session.jobs.started.connect(self.messages.begin)
        session.jobs.progressed.connect(self.messages.go_on)
        session.jobs.stopping.connect(self.messages.stopping)
        session.jobs.ended.connect(self.messages.end)
        trouble.told.connect(self._on_trouble)
        for signal in (session.shown, session.changed):
            signal.connect(self._on_hand)
        self._clock = QTimer(self)
        self._clock.setInterval(TICK_MS)
        self._clock.timeout.connect(self._tick)
        self._clock.start()
        for words in (users_trouble(), *taken_troubles()):
            if words:
                self.tell(words)

    def _open_grid_menu(self, at: QPoint) -> None:
        self.menus.popup("Part", "Mixing grid", at)

    # --- pages ----------------------------------------------------------------------------------------

    def show_bench(self) -> None:
        self._pages.setCurrentIndex(BENCH)
        self.easel.setFocus()

    def _show_opening(self, picture: QImage) -> None:
        """What is being opened, where the easel will show it."""
        if self.session.jobs.busy:
            self._page_before = self._pages.currentIndex()
            self._pages.setCurrentIndex(BENCH)
            self.opening.show_picture(picture, QRect(self.easel.mapTo(self._pages, QPoint(0, 0)), self.easel.size()))
            self.over.place()

    def _end_opening(self) -> None:
        """Back to where it began; what has arrived is shown by whoever opens it."""
        if not self.opening.isHidden():
            self.opening.hide()
            self._pages.setCurrentIndex(self._page_before)

    def show_start(self) -> None:
        self.session.rest_hand()
        self.start.refresh()
        self._pages.setCurrentIndex(START)

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
        if self._pages.currentIndex() == BENCH:
            self.clipboard.paste()
            return
        picture = self.clipboard.picture()
        if picture is None:
            self.tell("There is no picture on the clipboard.")
        else:
            self._begin_with(picture)

    # --- words ----------------------------------------------------------------------------------------

    def tell(self, text: str) -> None:
        """Say one sentence over the easel, or over the start view."""
        self.messages.tell(text)

    def _on_trouble(self, words: str, report: str) -> None:
        self._last_report = report
        self.messages.tell(words, with_report=True)

    def _on_task(self, task: Task | None) -> None:
        self.task_line.show_task(task)
        if task is not None:
            task.redraw.connect(lambda: self.task_line.show_hint(task.hint) if self.easel.task is task else None)

    # --- what opens beside ----------------------------------------------------------------------------

    def find_command(self) -> None:
        self._find.open()

    def show_brush_sheet(self) -> None:
        """Every setting of the brush in hand; there is one sheet at most."""
        if self.sheet is None:
            self.sheet = BrushSheet(self.session, self)
            closing = QAction(self.sheet)
            closing.setShortcuts(self.menus.actions["Stroke › Brush sheet"].shortcuts())
            closing.triggered.connect(self.sheet.close)
            self.sheet.addAction(closing)
        self.sheet.show()
        self.sheet.raise_()

    def toggle_brush_sheet(self) -> None:
        """Its key opens it and closes it."""
        if self.sheet is not None and self.sheet.isVisible():
            self.sheet.close()
        else:
            self.show_brush_sheet()

    def show_second_window(self) -> None:
        """The second look in a window of its own; there is one at most."""
        if self.second is None:
            self.second = SecondWindow(self.session, self)
        self.second.show()
        self.second.raise_()

    def begin_tour(self) -> None:
        """A ball in five values, step by step."""
        self.tour.begin()

    def show_setting(self, name: str) -> None:
        """The brush sheet, at one setting."""
        self.show_brush_sheet()
        if self.sheet is not None:
            self.sheet.reveal(name)

    def show_guide(self, topic: str = "", page: str = GUIDE) -> None:
        """A page, at the section about what has the focus or is being done."""
        GuideView(self, page, topic or (self.topic() if page == GUIDE else "")).show()

    def topic(self) -> str:
        """The section of the guide about what is being done: the task, or else the panel that has the focus."""
        if self.easel.task is not None:
            return TASK_TOPICS.get(self.easel.task.title, "")
        focus = QApplication.focusWidget()
        return "" if focus is None else self.topic_of(focus)

    def topic_of(self, widget: QWidget) -> str:
        """The section of the guide about a widget, by the panel, sheet or task line that it is in; "" for none."""
        if self.easel.task is not None and self.task_line.isAncestorOf(widget):
            return TASK_TOPICS.get(self.easel.task.title, "")
        places = [*self.bench.panels.items(), ("sheet", self.sheet)]
        name = next((name for name, place in places if place is not None and place.isAncestorOf(widget)), "")
        return PANEL_TOPICS.get(name, "")

    def _connect_pane(self, pane: ReferencePane) -> None:
        pane.picture_wanted.connect(lambda: self.clipboard.import_file("reference"))
        pane.over_wanted.connect(lambda index: self.show_reference("over", index))

    def show_reference(self, where: str, index: int = 0) -> None:
        """A pinned picture beside the easel, in a window of its own, or laid over the canvas."""
        if where == "beside":
            self.bench.set_form("board", "full")
            self.board.show_picture(index)
        elif where == "window":
            if self.reference is None:
                self.reference = ReferenceWindow(self.session, self.easel, self)
                self._connect_pane(self.reference.pane)
            self.reference.show()
            self.reference.raise_()
            self.reference.pane.show_picture(index)
        else:
            self._lay_over(index)

    def _lay_over(self, index: int) -> None:
        own = self.reference is not None and self.reference.isActiveWindow()
        pane = self.reference.pane if own and self.reference is not None else self.board
        found, painting = pane.image_of(index), self.session.painting
        if found is not None:
            self.easel.over.lay(*found, painting.width, painting.height)
            self.tasks.take_up("over")
        else:
            self.tell("There is no picture on the board: pin one first.")

    def show_keys(self) -> None:
        KeysView(self, list(self.menus.commands.values())).show()

    def show_about(self) -> None:
        words = "A bench for rendering characters and creatures, value first.\nApache License 2.0."
        box = QMessageBox(self)
        box.setWindowTitle("About Japanner")
        box.setText(f"Japanner {__version__}\n\n{words}")
        box.setIconPixmap(QPixmap())
        box.open()

    def show_report(self) -> None:
        """The last error, or if there was none, what program and machine this is."""
        ReportView(self, self._last_report or report_of(None)).show()

    def toggle_alone(self) -> None:
        """The easel alone in the window, or with its panels."""
        self.session.rest_hand()
        if not self.bench.alone:
            self.bench.keep_view()
        self.menuBar().setVisible(self.bench.alone)
        if (layout := self.layout()) is not None:
            layout.activate()  # the page has its new size now, before the picture is fitted into it
        self.bench.set_alone(not self.bench.alone)

    def _screens_changed(self) -> None:
        """Colours are shown otherwise from now on."""
        for one in QApplication.allWidgets():
            one.update()

    def watch_growth(self) -> None:
        """The way that the painting came, played over the easel."""
        document = self.session.document
        try:
            way = way_of(document.records, document.moments)
        except InputError as error:
            self.tell(str(error))
            return
        self.session.rest_hand()
        at = self.easel.mapTo(self._pages, QPoint(0, 0))
        self.growth.play(way, document.records, QRect(at, self.easel.size()))

    def show_messages(self) -> None:
        """What was said, to be read again."""
        self.messages.show_list(self._pages.mapToGlobal(self._area_of_bars().topLeft() + QPoint(8, 8)))

    @property
    def full_screen(self) -> bool:
        return self.isFullScreen()

    def toggle_full_screen(self) -> None:
        if self.isFullScreen():
            self.showNormal()
        else:
            self.showFullScreen()

    def use_theme(self, name: str) -> None:
        if name in THEMES:
            with working():
                apply_theme(QApplication.instance(), name)  # type: ignore[arg-type]
            remember("theme", name)
            for widget in self.findChildren(QWidget):
                widget.update()

    # --- pictures dropped on the window -----------------------------------------------------------------

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        mime = event.mimeData()
        if mime.hasUrls() or mime.hasImage():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """A picture dropped on the bench is a sketch, on the reference board it is pinned; on the start view it begins
        a painting.
        """
        if self._pages.currentIndex() == BENCH:
            on_board = any(one.isVisible() and one.rect().contains(one.mapFrom(self, event.position().toPoint()))
                           for one in (self.right, self.board))  # fmt: skip
            mime = event.mimeData()
            taken = self.clipboard.pin_mime(mime) if on_board else self.clipboard.take_mime(mime)
        else:
            picture = self.clipboard.dropped(event.mimeData())
            taken = picture is not None
            if picture is not None:
                self._begin_with(picture)
        if taken:
            event.acceptProposedAction()

    # --- time, and the end --------------------------------------------------------------------------------

    def _on_hand(self, _: object = None) -> None:
        self._hand_moved_at = time.monotonic()

    def _tick(self) -> None:
        """Every second: journal, saving by itself, and how long ago the painting was saved."""
        idle = not self.session.strokes.under_way and time.monotonic() - self._hand_moved_at > IDLE_S
        self.session.tick(idle=idle)
        if idle:
            self.files.save_by_itself()
        self.name_corner.refresh()

    def changeEvent(self, event: QEvent) -> None:
        """Another window comes to the front: the pen will be lifted elsewhere, unseen."""
        if event.type() == QEvent.Type.ActivationChange and not self.isActiveWindow() and hasattr(self, "session"):
            self.session.rest_hand()
        super().changeEvent(event)

    def leave(self) -> None:
        """Close the window, after a question if there is unsaved work."""
        self.close()

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self._ended:
            leaving = self.files.ask_to_leave()
            if leaving is None:
                event.ignore()
                return
            self._end(keep=leaving == "keep")
        event.accept()

    def end_at_once(self) -> None:
        """The system ends us: no question; whatever is not saved stays to be recovered."""
        if not self._ended:
            self.session.rest_hand()
            self._end(keep=self.session.unsaved)
        QApplication.quit()

    def _end(self, *, keep: bool) -> None:
        self._ended = True
        self._clock.stop()
        for beside in (self.sheet, self.second, self.reference):
            if beside is not None:
                beside.close()
        self.left_off.remember()
        self.easel.leave_task()
        self.files.wait()
        self.session.leave_document(keep=keep)
        self._keys.stop()
