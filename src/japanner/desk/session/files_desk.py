"""Opening, saving, exporting and recovering from the window; long work runs beside it."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QWidget

from japanner.demo import DEMOS
from japanner.desk.session.session import Session
from japanner.desk.settings import recall, remember_recent
from japanner.desk.widgets.questions import ask, ask_where_from, ask_where_to
from japanner.desk.widgets.words import counted
from japanner.errors import InputError, SaveError
from japanner.files import ora_write, png
from japanner.files.formats import FORMATS, NATIVE, Export, Format
from japanner.files.open_file import InUseError, OpenFile
from japanner.files.opening import Opened, open_painting
from japanner.files.recovery import document_of, recovered
from japanner.files.stored_picture import stored_picture
from japanner.files.versions import keep_version, versions_of
from japanner.painting.document.document import Document, new_document
from japanner.painting.document.journal import HeldError, Journal
from japanner.painting.document.larger import beginning, first_records, larger, resampled_only, scaled_records
from japanner.painting.document.leftovers import Leftover
from japanner.painting.operations import SetPainting
from japanner.painting.picture.looks import LOOKS, look
from japanner.painting.working_order import begin_drawing, working_order
from japanner.raster.parallel import watched

if TYPE_CHECKING:
    from japanner.scripting import Script

__all__ = ["FilesDesk"]

ENDINGS = " ".join(f"*{ending}" for kind in FORMATS if kind.open for ending in kind.endings)
KINDS = f"Paintings and pictures ({ENDINGS});;All files (*)"
PNG = next(kind for kind in FORMATS if kind.ending == ".png")
Progress = Callable[[float, str], None]


class FilesDesk(QObject):
    """Asks for paths, runs jobs one after another, and tells the session the outcome."""

    bench_wanted = Signal()  # a painting is there to work on
    glimpsed = Signal(object)  # QImage: what a painting that is being opened looks like

    def __init__(self, session: Session, window: QWidget) -> None:
        super().__init__(window)
        self._session = session
        self._window = window

    @property
    def busy(self) -> bool:
        return self._session.jobs.busy

    # --- what the painter asks for --------------------------------------------------------------------

    def new(self, width: int, height: int, ppi: float) -> None:
        """A new painting, with a sketch layer and a brush to draw on it in hand."""
        document = new_document(width, height, ppi=ppi)
        begin_drawing(document)
        if (leaving := self.ask_to_leave()) is not None:
            self.begin(document, leaving)
            self._session.hand.take_brush_named(working_order("drawing")[0].brush)

    def open(self, path: Path | None = None) -> None:
        self._session.rest_hand()
        chosen = path or ask_where_from(self._window, "Open", KINDS)
        if chosen is not None:
            held = self._held(chosen)
            self._change_to(f"Opening {chosen.name}", lambda _: self._read(chosen, held), partial(self._open, chosen))

    def save(self) -> None:
        if self._session.path is None:
            self.save_as()
        else:
            self._save_to(self._session.path)

    def save_as(self) -> None:
        start = str(self._session.path or Path.home() / f"{self._session.painting.title}.ora")
        self._session.rest_hand()
        path = ask_where_to(self._window, "Save as", start, f"{NATIVE.name} (*{NATIVE.ending})", NATIVE.ending)
        if path is not None:
            self._save_to(path)

    def save_by_itself(self) -> None:
        """Save a painting that lies in a file already, if the painter wants that and it is time."""
        session, minutes = self._session, recall("autosave", 0)
        last = session.stored_at
        due = minutes > 0 and last is not None and time.monotonic() - last > minutes * 60
        if due and session.unsaved and session.path is not None and not self.busy:
            file = session.file
            if file is not None and file.changed:
                return  # a question must not come by itself
            self._save_to(session.path)

    def versions(self) -> list[Path]:
        """Earlier versions of the painting's file, newest first."""
        return [] if self._session.path is None else versions_of(self._session.path)

    def version_words(self, index: int) -> str:
        """What an earlier version is called: when it was saved."""
        found = self.versions()
        return found[index].stem if index < len(found) else f"Version {index + 1}"

    def open_version(self, index: int) -> None:
        """Open an earlier version as a painting of its own."""
        found = self.versions()
        if index < len(found):
            path = found[index]
            self._change_to(f"Opening {path.stem}", lambda _: (open_painting(path), None), partial(self._open, path))

    def export(self, kind: Format, export: Export) -> None:
        """Write the picture to a file of some kind."""
        title = f"Export {export.words.rstrip('…')}"
        path = self._ask_where(title, self._session.painting.title, kind)
        if path is not None:
            painting = self._session.painting
            self._export(path, lambda _: export.write(painting, path))

    def export_look(self) -> None:
        """What the look shows of the whole picture, as a PNG."""
        session = self._session
        path = self._ask_where("Export the look", f"{session.painting.title} {session.looking.look}", PNG)
        if path is not None:
            scale = session.looking.look_scale
            session.picture.settle()
            shown, how, ppi = session.picture.levels[0].copy(), session.looking.look, session.painting.ppi
            name = how if how in LOOKS else "colour"
            self._export(path, lambda _: png.export_pixels(look(name, shown, scale), path, ppi))

    def recover(self, leftover: Leftover) -> None:
        """Bring back what a crash has left; its journal goes on, so that nothing has to be written for it."""
        journal: Journal | None = None
        try:
            journal = leftover.go_on()
        except HeldError as error:
            self._session.told.emit(str(error))
            return
        except SaveError:
            pass  # a disk that is full must not keep it from coming back; what is there stays until it is saved
        self._change_to(
            f"Recovering {leftover.title}", lambda _: recovered(leftover),
            lambda document, leaving: self._recover(leftover, journal, document, leaving),
            lambda: journal.close(keep=True) if journal is not None else None,
        )  # fmt: skip

    def demo(self, name: str, stage: str = "", size: str = "", then: Callable[[], object] = lambda: None) -> None:
        """Open a demo as it is shipped, and `then` do something; where it is not, or some stage or size is asked for,
        paint it.
        """
        demo = DEMOS[name]
        path = demo.file
        if path is not None and not stage and not size:

            def take(found: Opened, leaving: str) -> None:
                self._open_a_copy(path, found, leaving)
                self._session.work.work_on_named(*demo.in_hand)
                then()

            self._change_to(f"Opening {demo.title}", lambda _: self._looked_at(path), take)
            return

        def begin(script: Script, leaving: str) -> None:
            self.begin(script.document, leaving)
            self._session.work.work_on_named(*demo.in_hand)

        self._change_to(
            f"Painting {demo.title}", lambda told: demo.paint(told, until=stage, size=size or "shipped"), begin
        )

    def larger(self, times: float) -> None:
        """Paint it anew from its strokes, so many times as large, and go on with that."""
        records = list(self._session.document.records)
        try:
            beginning(records)
        except InputError as error:
            self._session.told.emit(str(error))
            return
        self._session.rest_hand()

        def work(told: Progress) -> Document:
            fresh = scaled_records(records, times)
            return Document(larger(fresh, 1.0, told), records=fresh)

        def begin(document: Document, leaving: str) -> None:
            self.begin(document, leaving)
            only = ", ".join(resampled_only(records))
            words = f"Only resampled, as it came in as pixels: {only}." if only else "Save it under a name of its own."
            self._session.told.emit(f"Painted anew, {times:g} times as large. {words}")

        self._change_to(f"Painting it {times:g} times as large", work, begin)

    def go_on_from(self, changes: int) -> None:
        """Go on from how the painting was after so many changes, as a painting of its own."""
        try:
            records = first_records(self._session.document.records, changes)
        except InputError as error:
            self._session.told.emit(str(error))
            return
        self._session.rest_hand()

        def begin(document: Document, leaving: str) -> None:
            self.begin(document, leaving)
            self._session.told.emit("This is how it was then, as a painting of its own.")

        self._change_to(
            "Painting it as it was", lambda told: Document(larger(records, 1.0, told), records=records), begin
        )

    def stop(self) -> None:
        self._session.jobs.stop()

    def wait(self) -> None:
        """Finish the job that runs."""
        self._session.jobs.wait()

    def _read(self, path: Path, held: OpenFile | None) -> tuple[Opened, OpenFile | None]:
        """The painting, and its file held for it; None if another Japanner holds it, or it is no painting of ours."""
        opened = self._looked_at(path)
        if not opened.native:
            return opened, None
        try:
            file = held or OpenFile(path)
        except InUseError:
            return opened, None
        file.renew()
        file.stored = opened.stored
        return opened, file

    def _looked_at(self, path: Path) -> Opened:
        """A painting; what its file holds as its picture is shown first, for its layers take longer to read."""
        png = stored_picture(path)
        picture = QImage() if png is None else QImage.fromData(png)
        if not picture.isNull():
            self.glimpsed.emit(picture)
        return open_painting(path)

    # --- leaving a painting ---------------------------------------------------------------------------

    def ask_to_leave(self) -> str | None:
        """What becomes of unsaved work when another painting stands: "drop" or "keep" its journal; None to stay."""
        session = self._session
        session.rest_hand()
        if not session.unsaved:
            return "drop"
        text = f"{session.painting.title} has changes that are not saved."
        answer = ask(self._window, "Unsaved work", text, "Save", "Keep for Recover", "Discard", "Stay")
        if answer == "Save":
            self.save()
            self.wait()
            return None if session.unsaved else "drop"
        if answer == "Keep for Recover" and not session.keeper.safe:
            session.told.emit("It cannot be kept: the journal could not be written. Save it instead.")
            return None
        return {"Keep for Recover": "keep", "Discard": "drop"}.get(answer)

    def _change_to(
        self, words: str, work: Callable[[Progress], Any], arrive: Callable[[Any, str], None],
        give_up: Callable[[], object] = lambda: None,
    ) -> None:  # fmt: skip
        """Get another painting beside the window. The one on the bench is left only when the other is there; what
        was painted on it meanwhile is asked about again. `give_up` follows if nothing comes of it.
        """
        leaving = self.ask_to_leave()
        painting = self._session.painting

        def arrived(result: Any) -> None:
            self._session.rest_hand()
            again = leaving if self._session.painting is painting else self.ask_to_leave()
            if again is None:
                give_up()
                self._let_go(result)
            else:
                arrive(result, again)

        if leaving is None or not self._session.jobs.run(words, work, arrived, give_up, self._let_go):
            give_up()

    # --- outcomes -------------------------------------------------------------------------------------

    def begin(self, document: Document, leaving: str = "drop") -> None:
        """Work on a new document."""
        self._session.open_document(document, keep=leaving == "keep")
        self._session.keeper.start(document, None, document.records)
        self.bench_wanted.emit()

    def _open_a_copy(self, path: Path, opened: Opened, leaving: str) -> None:
        """Work on what a file holds, to be saved elsewhere."""
        document = document_of(opened)
        self._session.open_document(document, keep=leaving == "keep")
        self._session.keeper.start(document, path)
        document.mark_engine(opened.engine)
        self.bench_wanted.emit()

    def _open(self, path: Path, found: tuple[Opened, OpenFile | None], leaving: str) -> None:
        opened, file = found
        if file is None and opened.native and path not in self.versions():
            answer = ask(
                self._window, "In use", f"{path.name} is open in another Japanner. Whoever saves last would win.",
                "Open a copy", "Open anyway", "Stay",
            )  # fmt: skip
            if answer == "Stay":
                return
            if answer == "Open anyway":
                file = OpenFile(path, anyway=True)
        document = document_of(opened)
        self._session.open_document(document, file, keep=leaving == "keep")
        self._session.keeper.start(document, path)
        document.mark_engine(opened.engine)
        remember_recent(path)
        self.bench_wanted.emit()
        for remark in opened.remarks:
            self._session.told.emit(remark)

    def _recover(self, leftover: Leftover, journal: Journal | None, document: Document, leaving: str) -> None:
        self._session.open_document(document, keep=leaving == "keep", saved=False)
        if journal is not None:
            self._session.keeper.go_on(document, journal)
        else:
            self._session.keeper.start(document, leftover.base, leftover.records)
        document.mark_engine(leftover.engine)
        self.bench_wanted.emit()
        words = f"{leftover.title} is back, with {counted(leftover.changes, 'change')}. Save it to keep it."
        self._session.told.emit(" ".join((words, *leftover.remarks)))

    def _ask_where(self, title: str, name: str, kind: Format) -> Path | None:
        self._session.rest_hand()
        kinds = f"{kind.name} (*{kind.ending})"
        return ask_where_to(self._window, title, f"{name}{kind.ending}", kinds, kind.ending)

    def _export(self, path: Path, work: Callable[[Progress], None]) -> None:
        self._session.jobs.run(
            f"Exporting {path.name}", work, lambda _: self._session.told.emit(f"Exported {path.name}."), writes=True
        )

    def _save_to(self, path: Path) -> None:
        session = self._session
        session.rest_hand()
        file = self._file_for(path)
        if file is None:
            return
        if session.painting.title == "Untitled" and path.stem.isprintable():
            session.apply(SetPainting({"title": path.stem[:200]}))
        painting, records, place = session.painting, list(session.document.records), recall("versions", "state")
        moments, before = session.document.moments, (session.file or file).stored

        def work(progress: Progress) -> None:
            keep_version(path, place)
            with watched(lambda done: progress(done, words)):
                file.stored = ora_write.write(painting, path, records, moments, stored=before)
            file.renew()

        def give_up() -> None:
            if file is not session.file:
                file.release()

        words = f"Saving {path.name}"
        if not session.jobs.run(words, work, lambda _: session.mark_saved(painting, file), give_up, writes=True):
            give_up()

    def _file_for(self, path: Path) -> OpenFile | None:
        """The file to save to, once it is clear that nobody else's work is lost; None to stay."""
        file = self._held(path)
        if file is not None:
            if not file.changed:
                return file
            text = f"{path.name} has been changed by another program since it was opened or saved here."
            answer = ask(self._window, "Changed meanwhile", text, "Replace it", "Save under another name", "Stay")
            if answer == "Save under another name":
                self.save_as()
            return file if answer == "Replace it" else None
        try:
            return OpenFile(path)
        except InUseError as error:
            answer = ask(self._window, "In use", str(error), "Replace it anyway", "Stay")
            return OpenFile(path, anyway=True) if answer == "Replace it anyway" else None

    def _held(self, path: Path) -> OpenFile | None:
        """The file on the bench, if it is this one."""
        file = self._session.file
        return file if file is not None and file.path.resolve() == path.resolve() else None

    def _let_go(self, result: Any) -> None:
        """Nothing comes of what was opened."""
        if isinstance(result, tuple) and isinstance(result[1], OpenFile) and result[1] is not self._session.file:
            result[1].release()
