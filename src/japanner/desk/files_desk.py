"""Opening, saving, exporting and recovering from the window; long work runs beside it."""

from __future__ import annotations

import time
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from japanner.demo import DEMOS
from japanner.desk.settings import remember_recent
from japanner.desk.workbench import Workbench
from japanner.files import ora_write, png
from japanner.files.opening import Opened, open_painting
from japanner.files.recovery import recovered
from japanner.painting.document import Document, new_document
from japanner.painting.journal import Leftover
from japanner.painting.looks import LOOKS, look
from japanner.painting.operations import SetPainting

__all__ = ["FilesDesk"]


class FilesDesk(QObject):
    """Asks for paths, runs jobs one after another, and tells the workbench the outcome."""

    bench_wanted = Signal()  # a painting is there to work on

    def __init__(self, workbench: Workbench, window: QWidget) -> None:
        super().__init__(window)
        self._bench = workbench
        self._window = window
        self._began = time.monotonic()

    @property
    def busy(self) -> bool:
        return self._bench.jobs.busy

    # --- what the painter asks for --------------------------------------------------------------------

    def new(self, width: int, height: int, ppi: float) -> None:
        if self.may_leave():
            self.begin(new_document(width, height, ppi=ppi))

    def open(self, path: Path | None = None) -> None:
        if not self.may_leave():
            return
        if path is None:
            name, _ = QFileDialog.getOpenFileName(
                self._window, "Open", "", "Paintings and pictures (*.ora *.png);;All files (*)"
            )
            if not name:
                return
            path = Path(name)
        chosen = path
        self._bench.jobs.run(
            f"Opening {path.name}", lambda _: open_painting(chosen), lambda opened: self._opened(chosen, opened)
        )

    def save(self) -> None:
        if self._bench.path is None:
            self.save_as()
        else:
            self._save_to(self._bench.path)

    def save_as(self) -> None:
        start = str(self._bench.path or Path.home() / f"{self._bench.painting.title}.ora")
        name, _ = QFileDialog.getSaveFileName(self._window, "Save as", start, "OpenRaster (*.ora)")
        if name:
            path = Path(name)
            self._save_to(path if path.suffix.lower() == ".ora" else path.with_name(f"{path.name}.ora"))

    def export(self, bits: int) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self._window, f"Export {bits}-bit PNG", f"{self._bench.painting.title}.png", "PNG (*.png)"
        )
        if name:
            path, painting = Path(name), self._bench.painting
            self._bench.jobs.run(
                f"Exporting {path.name}",
                lambda _: png.export(painting, path, bits=bits),
                lambda _: self._bench.told.emit(f"Exported {path.name}."),
            )

    def export_look(self) -> None:
        """What the look shows of the whole picture, as a PNG."""
        bench = self._bench
        name, _ = QFileDialog.getSaveFileName(
            self._window, "Export the look", f"{bench.painting.title} {bench.look}.png", "PNG (*.png)"
        )
        if name:
            path, scale = Path(name), bench.look_scale
            shown, how, ppi = bench.picture.levels[0].copy(), bench.look, bench.painting.ppi
            self._bench.jobs.run(
                f"Exporting {path.name}",
                lambda _: png.export_pixels(look(how if how in LOOKS else "colour", shown, scale), path, ppi),
                lambda _: bench.told.emit(f"Exported {path.name}."),
            )

    def recover(self, leftover: Leftover) -> None:
        if self.may_leave():
            self._bench.jobs.run(
                f"Recovering {leftover.title}",
                lambda _: recovered(leftover),
                lambda document: self._recovered(leftover, document),
            )

    def demo(self, name: str) -> None:
        if self.may_leave():
            demo = DEMOS[name]
            self._bench.jobs.run(f"Painting {demo.title}", demo.paint, lambda script: self.begin(script.document))

    def stop(self) -> None:
        self._bench.jobs.stop()

    def may_leave(self) -> bool:
        """Ask what to do with unsaved work; False to stay."""
        if not self._bench.unsaved:
            return True
        box = QMessageBox(self._window)
        box.setWindowTitle("Unsaved work")
        box.setText(f"{self._bench.painting.title} has changes that are not saved.")
        save = box.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
        keep = box.addButton("Keep for Recover", QMessageBox.ButtonRole.YesRole)
        drop = box.addButton("Discard", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Stay", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        chosen = box.clickedButton()
        if chosen is save:
            self.save()
            self.wait()
            return not self._bench.unsaved
        if chosen is keep:
            self._bench.keeper.close(keep=True)
            return True
        return chosen is drop

    def wait(self) -> None:
        """Finish the job that runs."""
        self._bench.jobs.wait()

    # --- outcomes -------------------------------------------------------------------------------------

    def begin(self, document: Document) -> None:
        """Work on a new document."""
        self._bench.open_document(document)
        self._bench.keeper.start(None, document.records)
        self.bench_wanted.emit()

    def _opened(self, path: Path, opened: Opened) -> None:
        document = Document(opened.painting, records=opened.records)
        self._bench.open_document(document, path if opened.native else None)
        self._bench.keeper.start(path)
        remember_recent(path)
        self.bench_wanted.emit()
        for remark in opened.remarks:
            self._bench.told.emit(remark)

    def _recovered(self, leftover: Leftover, document: Document) -> None:
        self._bench.open_document(document, saved=False)
        self._bench.keeper.start(leftover.base, leftover.records)
        leftover.discard()
        self.bench_wanted.emit()
        self._bench.told.emit(f"{leftover.title} is back, with {len(leftover.records)} changes. Save it to keep it.")

    def _save_to(self, path: Path) -> None:
        bench = self._bench
        if bench.painting.title == "Untitled" and path.stem.isprintable():
            bench.apply(SetPainting({"title": path.stem[:200]}))
        painting, records = bench.painting, list(bench.document.records)
        self._bench.jobs.run(
            f"Saving {path.name}",
            lambda _: ora_write.write(painting, path, records),
            lambda _: bench.mark_saved(painting, path),
        )
