"""Questions that have to be answered before anything goes on."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QWidget

from japanner.desk.settings import recall, remember
from japanner.desk.widgets.picture_dialog import PictureDialog

__all__ = ["ask", "ask_for_name", "ask_where_from", "ask_where_to", "ask_which_folder"]

ROLES = (
    QMessageBox.ButtonRole.AcceptRole,
    QMessageBox.ButtonRole.YesRole,
    QMessageBox.ButtonRole.DestructiveRole,
    QMessageBox.ButtonRole.ActionRole,
)


def ask(window: QWidget, title: str, text: str, *answers: str) -> str:
    """Which of the answers the painter gives; the last one is also meant by Esc and by closing the box."""
    box = QMessageBox(window)
    box.setWindowTitle(title)
    box.setText(text)
    buttons = [box.addButton(answer, role) for answer, role in zip(answers[:-1], ROLES, strict=False)]
    last = box.addButton(answers[-1], QMessageBox.ButtonRole.RejectRole)
    box.setEscapeButton(last)
    box.exec()
    chosen = box.clickedButton()
    return next((button.text() for button in (*buttons, last) if button is chosen), answers[-1])


def ask_where_from(window: QWidget, title: str, kinds: str) -> Path | None:
    """A file to read, of the painter's choice."""
    name = PictureDialog.asked(window, title, _folder(title), kinds)
    return _remembered(title, Path(name)) if name else None


def ask_where_to(window: QWidget, title: str, start: str, kinds: str, ending: str) -> Path | None:
    """A file to write, of the painter's choice, with its ending; one that is there is replaced only after a question.

    The dialog asks about the name as it was typed. With the ending put on, it may be another file that is there.
    """
    given, folder = Path(start), _folder(title)
    if folder and given.parent in (Path(), Path.home()):  # it lies nowhere yet
        start = str(Path(folder) / given.name)
    name, _ = QFileDialog.getSaveFileName(window, title, start, kinds)
    if not name:
        return None
    path = _remembered(title, Path(name))
    if path.suffix.lower() == ending:
        return path
    path = path.with_name(f"{path.name}{ending}")
    if path.exists() and ask(window, title, f"{path.name} is already there.", "Replace it", "Stay") == "Stay":
        return None
    return path


def ask_which_folder(window: QWidget, title: str) -> Path | None:
    """A folder of the painter's choice."""
    name = QFileDialog.getExistingDirectory(window, title, _folder(title))
    if not name:
        return None
    remember("folders", {**recall("folders", {}), title: name})
    return Path(name)


def _folder(purpose: str) -> str:
    """Where files for this were last looked for."""
    folder = recall("folders", {}).get(purpose, "")
    return folder if isinstance(folder, str) and Path(folder).is_dir() else ""


def _remembered(purpose: str, path: Path) -> Path:
    remember("folders", {**recall("folders", {}), purpose: str(path.parent)})
    return path


def ask_for_name(window: QWidget, title: str, name: str) -> str:
    """Another name, without blanks around it; "" if the painter would rather not."""
    given, agreed = QInputDialog.getText(window, title, "Name", text=name)
    return given.strip() if agreed else ""
