"""The brush sheet: all brushes, a patch that shows what the one in hand does, and every setting of it."""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import QEvent, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QIcon, QImage, QKeyEvent, QPaintEvent, QPen, QPixmap
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from japanner.color.srgb import srgb_from_hex
from japanner.desk.brushes.drive_rows import DriveRows
from japanner.desk.brushes.preview import patch_image, preview_image
from japanner.desk.brushes.setting_rows import Choice, SettingRows
from japanner.desk.brushes.settings import GROUPS, SETTINGS
from japanner.desk.session.own_brushes import OWN
from japanner.desk.session.session import Session
from japanner.desk.theme import theme
from japanner.desk.widgets.painter import painter_on
from japanner.desk.widgets.questions import ask_for_name, ask_where_from, ask_where_to
from japanner.desk.widgets.section import Section
from japanner.errors import FileFormatError, InputError, SaveError
from japanner.files.reading import read_bytes
from japanner.files.writing import write_text
from japanner.stroke.brush import Brush
from japanner.stroke.brush.files import brushes_from_text, text_of_brushes
from japanner.stroke.brush.shipped import shipped_brushes

__all__ = ["BrushSheet"]

FILES = "Brushes (*.json)"
LARGEST_FILE = 16 << 20
LABEL_WIDTH = 92
ROLE = Qt.ItemDataRole.UserRole


class _Patch(QWidget):
    """Two values side by side, and on them strokes of the brush in hand: one across both, one in each."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: tuple[object, QImage] | None = None
        self.setFixedHeight(132)
        self.setMinimumWidth(300)
        self.setAccessibleName("Test patch")
        self.setToolTip("What the brush in hand does on dark and on light")
        for signal in (session.hand.brush_changed, session.hand.colour_changed):
            signal.connect(self.update)

    def paintEvent(self, event: QPaintEvent) -> None:
        session = self._session
        with painter_on(self) as painter:
            key = (session.hand.brush, session.hand.colour, self.size().toTuple())
            if self._shown is None or self._shown[0] != key:
                self._shown = (key, patch_image(session.hand.brush, self.width(), self.height(), session.hand.colour))
            painter.drawImage(0, 0, self._shown[1])
            painter.setPen(QPen(theme["edge"], 1))
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))


class BrushSheet(QWidget):
    """A window of its own, so that it can stay open beside the easel; all of it acts on the brush in hand."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._session = session
        self.search, self.names = QLineEdit(), QListWidget()
        self._draw_next = QTimer(self)
        self._draw_next.timeout.connect(self._draw_icon)
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setWindowTitle("Brush sheet")
        self.resize(880, 640)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 10, 10, 10)
        row.setSpacing(10)
        row.addLayout(self._brushes())
        row.addLayout(self._settings(), 1)
        session.hand.roll_changed.connect(self._list)
        session.hand.brush_changed.connect(self._mark)
        self._list()

    # --- all brushes ----------------------------------------------------------------------------------

    def _brushes(self) -> QVBoxLayout:
        self.search.setPlaceholderText("search: a name, a roll, a kind, a tip")
        self.search.setToolTip("Only brushes with these words in their name, roll, kind or tip")
        self.search.setFixedWidth(236)
        self.search.textChanged.connect(self._list)
        self.names.setFixedWidth(236)
        self.names.setIconSize(QSize(72, 22))
        self.names.setAccessibleName("Brushes")
        self.names.setToolTip("Click to take in hand")
        self.names.itemClicked.connect(self._take)
        self.names.itemActivated.connect(self._take)
        column = QVBoxLayout()
        column.setSpacing(6)
        column.addWidget(self.search)
        column.addWidget(self.names, 1)
        return column

    def _list(self, *_: object) -> None:
        words = self.search.text().lower().split()
        self.names.clear()
        for index, brush in enumerate(self._session.hand.brushes):
            text = f"{brush.name} {brush.roll} {brush.kind} {brush.tip}".lower()
            if all(word in text for word in words):
                item = QListWidgetItem(f"{brush.name}\n{brush.roll}, {brush.kind}")
                item.setSizeHint(QSize(0, 44))
                item.setData(ROLE, index)
                self.names.addItem(item)
        self._mark()
        self._draw_next.start()

    def changeEvent(self, event: QEvent) -> None:
        """Another theme, another ink."""
        if event.type() == QEvent.Type.StyleChange and self.names.count():
            for row in range(self.names.count()):
                self.names.item(row).setIcon(QIcon())
            self._draw_next.start()
        super().changeEvent(event)

    def _draw_icon(self) -> None:
        """Draw one brush that has no picture yet, first of those in sight; the window stays awake meanwhile."""
        top = max(self.names.indexAt(self.names.viewport().rect().topLeft()).row(), 0)
        for row in (*range(top, self.names.count()), *range(top)):
            item = self.names.item(row)
            if item.icon().isNull() and int(item.data(ROLE)) < len(self._session.hand.brushes):
                item.setIcon(_icon(self._session.hand.brushes[int(item.data(ROLE))], theme["text"].name()))
                return
        self._draw_next.stop()

    def _mark(self) -> None:
        for group, section in self._sections.items():
            section.setVisible(any(one.applies(self._session.hand.brush) for one in SETTINGS if one.group == group))
        for row in range(self.names.count()):
            if self.names.item(row).data(ROLE) == self._session.hand.in_hand:
                self.names.setCurrentRow(row)

    def _take(self, item: QListWidgetItem) -> None:
        index = int(item.data(ROLE))
        if index < len(self._session.hand.brushes):
            self._session.hand.take_brush(index)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.close()
        else:
            super().keyPressEvent(event)

    def reveal(self, name: str) -> None:
        """Scroll to a setting and put the keyboard on it, if it means something to the brush in hand."""
        row = next((rows.rows[name] for rows in self.rows.values() if name in rows.rows), None)
        if row is None or row.isHidden():
            self._session.told.emit(f"{self._session.hand.brush.name} has no such setting: it means nothing to it.")
            return
        self._scroll.ensureWidgetVisible(row)
        (row.box if isinstance(row, Choice) else row).setFocus()

    # --- the brush in hand ----------------------------------------------------------------------------

    def _settings(self) -> QVBoxLayout:
        columns = QHBoxLayout()
        columns.setSpacing(14)
        half = [QVBoxLayout(), QVBoxLayout()]
        self.rows: dict[str, SettingRows] = {}
        self._sections: dict[str, Section] = {}
        for number, group in enumerate(GROUPS):
            rows = SettingRows(self._session, [one for one in SETTINGS if one.group == group], LABEL_WIDTH)
            self.rows[group], self._sections[group] = rows, Section(group.upper(), rows)
            half[number % 2].addWidget(self._sections[group])
        half[1].addWidget(Section("DRIVEN BY", DriveRows(self._session, LABEL_WIDTH)))
        for column in half:
            column.setSpacing(0)
            column.addStretch(1)
            columns.addLayout(column, 1)
        content = QWidget()
        content.setLayout(columns)
        scroll = self._scroll = QScrollArea()
        scroll.setObjectName("panel")
        scroll.setWidget(content)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        whole = QVBoxLayout()
        whole.setSpacing(8)
        whole.addWidget(_Patch(self._session))
        whole.addWidget(scroll, 1)
        whole.addLayout(self._buttons())
        return whole

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        for text, tip, run in (
            ("As shipped", "Take back all changes to a brush that came with the program", self.reset),
            ("Keep as own…", "A copy under a name of its own, in the roll of your own brushes", self.keep),
            ("Write to a file…", "The brush in hand, to take elsewhere", self.save),
            ("Take from a file…", "Brushes that were written to a file, into your own roll", self.open),
        ):
            button = QPushButton(text)
            button.setToolTip(tip)
            button.clicked.connect(run)
            row.addWidget(button)
        row.addStretch(1)
        return row

    def reset(self) -> None:
        """Make the brush in hand what it was when it was shipped."""
        brush = self._session.hand.brush
        shipped = next((one for one in shipped_brushes() if (one.name, one.roll) == (brush.name, brush.roll)), None)
        if shipped is None:
            self._session.told.emit(f"{brush.name} is your own: there is none of that name to go back to.")
        else:
            self._session.hand.take_back(shipped)

    def keep(self) -> None:
        """Keep the brush in hand as one's own, under a name."""
        name = ask_for_name(self, "Keep as own", self._session.hand.brush.name)
        if name:
            try:
                self._session.hand.add_brush(self._session.hand.brush.with_changes(name=name, roll=OWN))
            except InputError as error:
                self._session.told.emit(str(error))
                return
            self._session.hand.keep_own()

    def save(self) -> None:
        """Write the brush in hand to a file."""
        brush = self._session.hand.brush
        path = ask_where_to(self, "Write the brush", f"{brush.name}.json", FILES, ".json")
        if path is None:
            return
        try:
            write_text(path, text_of_brushes([brush]))
        except SaveError as error:
            self._session.told.emit(str(error))
            return
        self._session.told.emit(f"{brush.name} is in {path.name}.")

    def open(self) -> None:
        """Take brushes from a file; what is wrong with it is told, and what is right is used."""
        path = ask_where_from(self, "Take brushes", FILES)
        if path is None:
            return
        try:
            data = read_bytes(path, LARGEST_FILE)
            found, wrong = brushes_from_text(data.decode("utf-8", errors="replace"))
        except (FileFormatError, InputError) as error:
            self._session.told.emit(f"{path.name} was not taken: {error}")
            return
        for brush in found:
            self._session.hand.add_brush(brush.with_changes(roll=OWN))
        self._session.hand.keep_own()
        if wrong:
            more = f" And {len(wrong) - 1} more." if len(wrong) > 1 else ""
            self._session.told.emit(f"{path.name}: {wrong[0]}{more}")


@lru_cache(maxsize=400)
def _icon(brush: Brush, ink: str) -> QIcon:
    return QIcon(QPixmap.fromImage(preview_image(brush, 72, 22, srgb_from_hex(ink))))
