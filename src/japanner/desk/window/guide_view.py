"""The guide in a window of its own, opened at the page of what is being done."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Final

from PySide6.QtCore import Qt, QTimer, QUrl
from PySide6.QtGui import QImage, QShowEvent, QTextBlockFormat, QTextCursor, QTextDocument
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QListWidget, QTextBrowser, QVBoxLayout, QWidget

__all__ = ["CHANGES", "GUIDE", "PANEL_TOPICS", "TASK_TOPICS", "WORDS", "GuideView", "sections"]

PARAGRAPH_PX: Final = 9
HEADING_PX: Final = 18
LINE_PERCENT: Final = 118
PICTURE: Final = "\ufffc"
"""What stands for a picture in a text."""
FOLDER: Final = Path(__file__).parent.parent / "assets" / "guide"
GUIDE, WORDS, CHANGES = "guide", "words", "changes"
TITLES: Final = {GUIDE: "Guide", WORDS: "Words", CHANGES: "What's new"}
# The section of the guide that is about a task, by its title.
TASK_TOPICS: Final = {
    "COMB": "Fur", "MOVE": "Sketch and flats", "MAQUETTE": "Light and maquette", "FRAME": "Sketch and flats",
    "SCALE": "Sketch and flats", "TEXTURE": "Skin", "FRISKET": "Sketch and flats", "FILL": "Sketch and flats",
    "GRADIENT": "Sketch and flats", "MAKE": "Makers", "CAGE": "Sketch and flats", "ADJUST": "Values",
    "RELIEF": "Metal and glass", "LIGHT": "Light and maquette", "SCRATCH": "Metal and glass",
    "HEAD": "Sketch and flats", "LOCKS": "Hair", "OVER": "Room to paint", "LANDMARKS": "Light and maquette",
    "CRITIQUE": "Critique", "FILM": "Growth", "PROPORTION": "Compare", "COMPARE": "Compare",
    "MEASURE": "Compare", "PRINT": "Output",
    "OUTPUT": "Output", "TEMPLATES": "The bench",
}  # fmt: skip
PANEL_TOPICS: Final = {
    "roll": "Brushes and blending", "parts": "The bench", "build": "Room to paint", "rail": "Values",
    "right": "Light and maquette", "sheet": "Brushes and blending", "board": "Room to paint",
}  # fmt: skip


def text_of(page: str) -> str:
    """The Markdown of a page."""
    return (FOLDER / f"{page}.md").read_text(encoding="utf-8")


def sections(text: str) -> list[tuple[str, str]]:
    """Headings of a Markdown text, each with what stands under it."""
    found: list[tuple[str, str]] = []
    for line in text.splitlines():
        if line.startswith("#"):
            found.append((line.lstrip("#").strip(), ""))
        elif found:
            found[-1] = (found[-1][0], f"{found[-1][1]}{line}\n")
    return found


def _spaced(document: QTextDocument) -> None:
    """Leave room between paragraphs, and more above a heading: what comes of Markdown has none."""
    block = document.begin()
    while block.isValid():
        shape = block.blockFormat()
        heading = shape.headingLevel() > 0
        shape.setTopMargin(HEADING_PX if heading else 0)
        shape.setBottomMargin(PARAGRAPH_PX)
        if block.textList() is None and PICTURE not in block.text():
            shape.setLineHeight(LINE_PERCENT, QTextBlockFormat.LineHeightTypes.ProportionalHeight.value)
        QTextCursor(block).setBlockFormat(shape)
        block = block.next()


class _Pages(QTextBrowser):
    """Shows the pictures that come with the guide."""

    def loadResource(self, kind: int, name: QUrl | str) -> Any:
        if kind == QTextDocument.ResourceType.ImageResource.value:
            return QImage(
                str(FOLDER / "pictures" / f"{Path(name if isinstance(name, str) else name.toString()).stem}.jpg")
            )
        return super().loadResource(kind, name)


class GuideView(QDialog):
    """Sections at the left, only those in which the words that are sought occur; Escape closes it."""

    def __init__(self, parent: QWidget, page: str = GUIDE, topic: str = "") -> None:
        super().__init__(parent)
        self.setWindowTitle(TITLES[page])
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        text = text_of(page)
        self._sections = sections(text)
        self.search = QLineEdit()
        self.search.setPlaceholderText("search")
        self.search.setToolTip("Only sections with these words; Enter goes from place to place")
        self.search.setAccessibleName("Search")
        self.search.textChanged.connect(self._filter)
        self.search.returnPressed.connect(self._next)
        self.names = QListWidget()
        self.names.setAccessibleName("Sections")
        self.names.setToolTip("Click to read")
        self.names.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.names.itemClicked.connect(lambda item: self.show_topic(item.text()))
        self.text = _Pages()
        self.text.setOpenExternalLinks(False)
        self.text.setOpenLinks(False)
        self.text.setAccessibleName(TITLES[page])
        self.text.setMarkdown(text)
        _spaced(self.text.document())
        left = QVBoxLayout()
        left.addWidget(self.search)
        left.addWidget(self.names, 1)
        side = QWidget()
        side.setLayout(left)
        left.setContentsMargins(0, 0, 0, 0)
        side.setFixedWidth(216)
        row = QHBoxLayout(self)
        row.addWidget(side)
        row.addWidget(self.text, 1)
        self._filter("")
        self.resize(980, 640)
        self.topic = topic

    def showEvent(self, event: QShowEvent) -> None:
        """Where a section stands is known when the lines are as wide as they will be."""
        super().showEvent(event)
        if self.topic:
            QTimer.singleShot(0, self, lambda: self.show_topic(self.topic))

    def _filter(self, text: str) -> None:
        words = text.lower().split()
        self.names.clear()
        for name, body in self._sections:
            if all(word in f"{name} {body}".lower() for word in words):
                self.names.addItem(name)

    def _next(self) -> None:
        """The next place of what is sought, from the top again after the last."""
        if not self.text.find(self.search.text()):
            self.text.moveCursor(QTextCursor.MoveOperation.Start)
            self.text.find(self.search.text())

    def show_topic(self, name: str) -> None:
        """Go to a section."""
        self.topic = name
        document = self.text.document()
        block = document.begin()
        while block.isValid():
            if block.blockFormat().headingLevel() > 0 and block.text().strip() == name:
                cursor = QTextCursor(block)
                self.text.setTextCursor(cursor)
                top = document.documentLayout().blockBoundingRect(block).top()
                self.text.verticalScrollBar().setValue(round(top))
                return
            block = block.next()
