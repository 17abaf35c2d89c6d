"""The start view: a new painting by use, recent ones, what a crash left, and the demo."""

from __future__ import annotations

import datetime
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Final

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QIcon, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from japanner.demo import DEMOS
from japanner.desk.brushes.preview import scale_image
from japanner.desk.settings import recent_files
from japanner.desk.theme import font, theme
from japanner.desk.widgets.numbers import NumberBox
from japanner.desk.widgets.painter import painter_on
from japanner.desk.widgets.section import clear
from japanner.desk.widgets.words import counted
from japanner.files.stored_picture import stored_thumbnail
from japanner.painting.document.journal import journals_folder
from japanner.painting.document.leftovers import Leftover, leftovers
from japanner.painting.model import LARGEST_AREA_PX
from japanner.raster.tiles import LONGEST_SIDE

__all__ = ["StartView"]

MOST_SHOWN: Final = 6
GAP: Final = 8
BETWEEN: Final = 44
# The strokes beside the title.
STROKES: Final = (560, 84)
PICTURES: Final = Path(__file__).parent.parent / "assets" / "demos"
# How many go into an inch.
UNITS: Final[dict[str, float | None]] = {"px": None, "mm": 25.4, "in": 1.0}
USES = (
    ("Sheet", "4000 × 2000 px", 4000, 2000, 300.0),
    ("A4 portrait", "2480 × 3508 px, 300 ppi", 2480, 3508, 300.0),
    ("A3 portrait", "3508 × 4961 px, 300 ppi", 3508, 4961, 300.0),
    ("Square", "2400 × 2400 px", 2400, 2400, 300.0),
    ("Screen portrait", "1600 × 2000 px", 1600, 2000, 144.0),
    ("Small study", "1200 × 900 px", 1200, 900, 144.0),
)


@dataclass(frozen=True)
class Sizes:
    """Of cards and pictures, and how wide the right column is, px."""

    card: tuple[int, int]
    picture: tuple[int, int]
    right: int

    @property
    def width(self) -> int:
        """Of both columns together."""
        return 3 * self.card[0] + 2 * GAP + BETWEEN + self.right


SMALL: Final = Sizes((172, 112), (74, 52), 352)
LARGE: Final = Sizes((216, 150), (160, 116), 480)
FROM: Final = QSize(1500, 940)
"""Windows at least as large show the large sizes."""


class _Use(QWidget):
    """A card with the shape of the canvas."""

    chosen = Signal()

    def __init__(self, name: str, words: str, width: int, height: int) -> None:
        super().__init__()
        self._name, self._words, self._shape = name, words, (width, height)
        self.setFixedSize(*SMALL.card)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"New painting: {name}")
        self.setToolTip(f"New painting: {name}, {words}")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.chosen.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            hot = self.hasFocus() or self.underMouse()
            painter.setBrush(theme["active"] if hot else theme["tile"])
            painter.setPen(QPen(theme["gold"] if self.hasFocus() else theme["edge"], 1))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3)
            width, height = self._shape
            below = self.height() - 46.0  # where the words begin
            scale = (below - 16) / max(width, height)
            sheet = QRectF(0, 0, width * scale, height * scale)
            sheet.moveCenter(QRectF(0, 8, self.width(), below - 12).center())
            painter.setPen(QPen(theme["gold"], 1))
            painter.setBrush(theme["panel"])
            painter.drawRect(sheet)
            painter.setPen(theme["text"])
            painter.setFont(font(12, bold=True))
            painter.drawText(QRectF(0, below, self.width(), 18), Qt.AlignmentFlag.AlignCenter, self._name)
            painter.setPen(theme["quiet"])
            painter.setFont(font(11))
            painter.drawText(QRectF(0, below + 18, self.width(), 18), Qt.AlignmentFlag.AlignCenter, self._words)

    def enterEvent(self, event: object) -> None:
        self.update()

    def leaveEvent(self, event: object) -> None:
        self.update()


class StartView(QWidget):
    """What to work on."""

    new_wanted = Signal(int, int, float)
    open_wanted = Signal(object)  # Path, or None to ask for one
    recover_wanted = Signal(object)  # Leftover
    demo_wanted = Signal(str)
    growth_wanted = Signal(str)
    paint_wanted = Signal(str)
    sketch_wanted = Signal()
    tour_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._sizes, self._cards = SMALL, list[_Use]()
        left, self._right = QVBoxLayout(), QVBoxLayout()
        for column in (left, self._right):
            column.setSpacing(8)
        self._fill_left(left)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addLayout(left)
        row.addSpacing(BETWEEN)
        self._scroll = self._scrolled()
        row.addWidget(self._scroll)
        row.addStretch(1)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(8, 0, 8, 0)
        whole.addStretch(2)
        whole.addLayout(self._header())
        whole.addSpacing(22)
        whole.addLayout(row, 12)
        whole.addStretch(1)
        self.refresh()

    def _scrolled(self) -> QScrollArea:
        """Recent paintings and demos: as many as there are."""
        content = QWidget()
        content.setLayout(self._right)
        self._right.setContentsMargins(0, 0, 8, 0)
        scroll = QScrollArea()
        scroll.setWidget(content)
        scroll.setWidgetResizable(True)
        scroll.setFixedWidth(self._sizes.right)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        return scroll

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        size = event.size()
        wanted = LARGE if size.width() >= FROM.width() and size.height() >= FROM.height() else SMALL
        if wanted is not self._sizes:
            self._sizes = wanted
            for card in self._cards:
                card.setFixedSize(*wanted.card)
            self._scroll.setFixedWidth(wanted.right)
            self._title.setFixedWidth(wanted.width - STROKES[0])
            self.refresh()

    def _header(self) -> QHBoxLayout:
        title = QLabel("Japanner")
        title.setObjectName("title")
        block = self._title = QWidget()
        block.setFixedWidth(self._sizes.width - STROKES[0])
        words = QVBoxLayout(block)
        words.setContentsMargins(0, 0, 0, 0)
        words.setSpacing(0)
        words.addStretch(1)
        words.addWidget(title)
        words.addWidget(_quiet("From dark to light, one value at a time."))
        words.addStretch(1)
        strokes = QLabel()
        strokes.setPixmap(QPixmap.fromImage(scale_image(*STROKES)))
        strokes.setAccessibleName("Five strokes, from accent to highlight")
        row = QHBoxLayout()
        row.setSpacing(0)
        row.addStretch(1)
        row.addWidget(block)
        row.addWidget(strokes)
        row.addStretch(1)
        return row

    def _fill_left(self, column: QVBoxLayout) -> None:
        column.addWidget(_heading("NEW PAINTING"))
        grid = QGridLayout()
        grid.setSpacing(GAP)
        for index, (name, words, width, height, ppi) in enumerate(USES):
            card = _Use(name, words, width, height)
            card.chosen.connect(partial(self.new_wanted.emit, width, height, ppi))
            grid.addWidget(card, index // 3, index % 3)
            self._cards.append(card)
        column.addLayout(grid)
        own = QWidget()
        own.setLayout(self._own_size())
        own.hide()
        self._own = QPushButton("own size…")
        self._own.setObjectName("plain")
        self._own.setToolTip("Width, height and resolution as you like")
        self._own.clicked.connect(lambda _=False: own.setVisible(own.isHidden()))
        column.addWidget(self._own, 0, Qt.AlignmentFlag.AlignLeft)
        column.addWidget(own)
        column.addSpacing(10)
        column.addWidget(_heading("FIRST TIME HERE"))
        words = "a tour in five steps, at the pace of your hand; leave it whenever you like"
        tour = _link("Shade a ball in three minutes", words, self.tour_wanted.emit)
        tour.setFixedWidth(520)
        column.addWidget(tour)
        column.addStretch(1)

    def _own_size(self) -> QVBoxLayout:
        self._width, self._height = NumberBox(), NumberBox()
        for box, value, name in ((self._width, 3000, "Width"), (self._height, 2000, "Height")):
            box.setDecimals(0)
            box.setRange(0.01, LONGEST_SIDE)
            box.setValue(value)
            box.setFixedWidth(80)
            box.setAccessibleName(name)
            box.setToolTip(f"{name} of the canvas, up to {LONGEST_SIDE} px")
        self._unit = QComboBox()
        self._unit.addItems(list(UNITS))
        self._unit.setToolTip("Unit of width and height")
        self._unit.setAccessibleName("Unit")
        self._unit.textActivated.connect(self._in_unit)
        self._ppi = NumberBox()
        self._ppi.setDecimals(0)
        self._ppi.setRange(1, 10000)
        self._ppi.setValue(300)
        self._ppi.setSuffix(" ppi")
        self._ppi.setFixedWidth(84)
        self._ppi.setToolTip("Pixels per inch in print")
        fields = (self._width, self._height, self._ppi)
        for field in fields:
            field.setKeyboardTracking(True)  # the words below say at once what comes of it
            field.lineEdit().setTextMargins(4, 0, 0, 0)
            field.valueChanged.connect(self._say_size)
        begin = QPushButton("Begin")
        begin.setToolTip("New painting of this size")
        begin.clicked.connect(self._begin)
        row = QHBoxLayout()
        row.addWidget(QLabel("Own size"))
        row.addSpacing(8)
        for widget in (self._width, QLabel("×"), self._height, self._unit, self._ppi, begin):
            row.addWidget(widget)
        row.addStretch(1)
        self._size_words = _quiet("")
        column = QVBoxLayout()
        column.addLayout(row)
        column.addWidget(self._size_words)
        self._former_unit = self._unit.currentText()
        self._say_size()
        return column

    def _in_px(self, value: float, unit: str) -> float:
        """A length in px at the resolution that is set."""
        per_inch = UNITS[unit]
        return value if per_inch is None else value / per_inch * self._ppi.value()

    def _in_unit(self, unit: str) -> None:
        """Show the same size in another unit."""
        per_inch = UNITS[unit]
        for box in (self._width, self._height):
            px = self._in_px(box.value(), self._former_unit)
            box.setDecimals(0 if per_inch is None else 1 if unit == "mm" else 2)
            box.setValue(px if per_inch is None else px * per_inch / self._ppi.value())
        self._former_unit = unit
        self._say_size()

    def _own_pixels(self) -> tuple[int, int]:
        unit = self._unit.currentText()
        width, height = (round(self._in_px(box.value(), unit)) for box in (self._width, self._height))
        return width, height

    def _say_size(self, _: float = 0) -> None:
        """The size in px, or why it cannot be."""
        width, height = self._own_pixels()
        wrong = ""
        if not (1 <= width <= LONGEST_SIDE and 1 <= height <= LONGEST_SIDE):
            wrong = f"Each side needs 1 to {LONGEST_SIDE} px"
        elif width * height > LARGEST_AREA_PX:
            wrong = f"At most {LARGEST_AREA_PX / 1e6:.0f} Mpx"
        inches = f"{width / self._ppi.value() * 25.4:.0f} × {height / self._ppi.value() * 25.4:.0f} mm in print"
        self._size_words.setText(wrong or f"{width} × {height} px, {inches}")
        self._size_words.setObjectName("warning" if wrong else "quiet")
        self._size_words.style().polish(self._size_words)
        self._fits = not wrong

    def _begin(self) -> None:
        if self._fits:
            self.new_wanted.emit(*self._own_pixels(), self._ppi.value())

    def refresh(self) -> None:
        """Read recent files and leftovers anew."""
        clear(self._right)
        self._right.addWidget(_heading("GO ON"))
        self._right.addWidget(_link("Open a painting or a picture…", "", lambda: self.open_wanted.emit(None)))
        self._right.addWidget(
            _link("Begin from a sketch…", "a picture, in a drawing part of its own", self.sketch_wanted.emit)
        )
        for path in recent_files()[:MOST_SHOWN]:
            self._right.addWidget(_pictured(path.stem, _where_and_when(path), partial(self.open_wanted.emit, path),
                                            stored_thumbnail(path), self._sizes))  # fmt: skip
        found = leftovers(journals_folder())
        if found:
            self._right.addSpacing(12)
            self._right.addWidget(_heading("RECOVER"))
            self._right.addWidget(_quiet("Work that was not saved when the program ended:"))
            for one in found[:5]:
                self._right.addWidget(self._recover_row(one))
        self._right.addSpacing(12)
        self._right.addWidget(_heading("DEMO"))
        for name, demo in DEMOS.items():
            picture = PICTURES / f"{name}.png"
            more = [("paint it", "Its script paints it, which takes minutes", partial(self.paint_wanted.emit, name))]
            if demo.file is not None:
                grow = "How it came about, in twenty seconds"
                more.insert(0, ("watch it grow", grow, partial(self.growth_wanted.emit, name)))
            self._right.addWidget(_pictured(demo.title, demo.words, partial(self.demo_wanted.emit, name),
                                            picture.read_bytes() if picture.is_file() else None,
                                            self._sizes, more))  # fmt: skip
        self._right.addStretch(1)

    def _recover_row(self, one: Leftover) -> QWidget:
        when = datetime.datetime.fromtimestamp(one.last_change).strftime("%d %b, %H:%M")
        row = QWidget()
        layout = QHBoxLayout(row)
        layout.setContentsMargins(0, 0, 0, 0)
        words = " ".join((f"{counted(one.changes, 'change')}, {when}.", *one.remarks))
        layout.addWidget(_link(one.title, words, lambda: self.recover_wanted.emit(one), 262))
        away = QPushButton("discard")
        away.setObjectName("plain")
        away.setToolTip("Delete this unsaved work for good")
        away.clicked.connect(lambda: self._discard(one))
        layout.addWidget(away, 0, Qt.AlignmentFlag.AlignTop)
        return row

    def _discard(self, one: Leftover) -> None:
        one.discard()
        self.refresh()


def _heading(text: str) -> QLabel:
    label = QLabel(text)
    label.setObjectName("heading")
    return label


def _quiet(text: str) -> QLabel:
    label = QLabel(text)
    label.setObjectName("quiet")
    return label


def _where_and_when(path: Path) -> str:
    """The folder of a file, and when it was saved."""
    home, folder = Path.home(), path.parent
    where = f"~/{folder.relative_to(home)}" if folder.is_relative_to(home) else str(folder)
    when = datetime.datetime.fromtimestamp(path.stat().st_mtime).strftime("%d %b %Y, %H:%M")
    return f"{when}  ·  {where}"


More = tuple[str, str, Callable[[], object]]
"""What else can be done with what a link leads to: words, tooltip, what it runs."""


def _pictured(
    title: str, words: str, run: Callable[[], object], png: bytes | None, sizes: Sizes, more: Sequence[More] = ()
) -> QWidget:  # fmt: skip
    """A link with a small picture of where it leads, which is pressed as well."""
    picture = QPushButton()
    picture.setObjectName("picture")
    picture.setFixedSize(*sizes.picture)
    picture.setAccessibleName(title)
    picture.setToolTip(title)
    picture.setCursor(Qt.CursorShape.PointingHandCursor)
    picture.clicked.connect(lambda _=False: run())
    pixmap = QPixmap()
    if png is not None and pixmap.loadFromData(png):
        room = QSize(*sizes.picture) - QSize(4, 4)
        picture.setIcon(QIcon(pixmap.scaled(room * 2, Qt.AspectRatioMode.KeepAspectRatio,
                                            Qt.TransformationMode.SmoothTransformation)))  # fmt: skip
        picture.setIconSize(room)
    box = QWidget()
    row = QHBoxLayout(box)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(6)
    row.addWidget(picture, 0, Qt.AlignmentFlag.AlignTop)
    link = _link(title, words, run, sizes.right - sizes.picture[0] - 24)
    row.addWidget(link, 0, Qt.AlignmentFlag.AlignTop)
    if more:
        beside = QHBoxLayout()
        beside.setSpacing(2)
        for text, tip, act in more:
            button = QPushButton(text)
            button.setObjectName("plain")
            button.setAccessibleName(f"{title}: {text}")
            button.setToolTip(tip)
            button.setCursor(Qt.CursorShape.PointingHandCursor)
            button.clicked.connect(lambda _=False, act=act: act())
            beside.addWidget(button)
        beside.addStretch(1)
        column = link.layout()
        assert isinstance(column, QVBoxLayout)
        column.addLayout(beside)
    return box


def _link(title: str, words: str, run: Callable[[], object], width: int = 320) -> QWidget:
    box = QWidget()
    box.setFixedWidth(width)
    column = QVBoxLayout(box)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(0)
    button = QPushButton(title)
    button.setObjectName("link")
    button.setCursor(Qt.CursorShape.PointingHandCursor)
    button.clicked.connect(lambda _=False: run())  # the signal's own argument is none of theirs
    column.addWidget(button)
    if words:
        quiet = _quiet(words)
        quiet.setContentsMargins(6, 0, 0, 4)
        quiet.setWordWrap(True)
        column.addWidget(quiet)
    return box
