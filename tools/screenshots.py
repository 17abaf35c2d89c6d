"""Pictures of the main views for docs/screenshots, made from the demo painting; run by `make screenshots`."""

from __future__ import annotations

import os
import sys
import tempfile
from dataclasses import replace
from io import BytesIO
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["JAPANNER_STATE"] = os.environ["JAPANNER_CONFIG"] = tempfile.mkdtemp(prefix="japanner-screenshots-")

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

import cv2
import numpy as np
from PIL import Image
from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QImage, QMouseEvent, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

import japanner.desk
from japanner.demo import DEMOS
from japanner.desk.app import make_application
from japanner.desk.tasks.comb import CombTask
from japanner.desk.tasks.maquette.task import MaquetteTask
from japanner.desk.tasks.output.printing import PrintTask
from japanner.desk.tasks.review.critique import CritiqueTask
from japanner.desk.tasks.review.measure import MeasureTask
from japanner.desk.theme import font, theme
from japanner.desk.window.main_window import MainWindow
from japanner.files.opening import open_painting
from japanner.files.shelf.references import pin_of
from japanner.painting.document.document import new_document
from japanner.painting.model import Painting
from japanner.painting.operations import DropFrisket, Fill, SetFrisket, UnpinPicture
from japanner.painting.picture.compositor import flattened
from japanner.painting.value.mixing_grid import mixing_grid
from japanner.raster.geometry import Rect
from japanner.raster.textures import texture
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush
from japanner.stroke.engine import StrokeInProgress
from tests.desk import tidebell
from tests.desk.hand import Hand

SMUDGE = Brush("s", kind="smudge", tip="round", edge=0.7, size_px=56, strength=0.5, spacing=0.06, carry=0.8)
FEATHER = Brush("f", kind="feather", tip="mop", size_px=90, strength=0.9, spacing=0.12)
KNIFE = Brush("k", kind="knife", tip="flat", size_px=56, strength=0.95, spacing=0.03, carry=2.0, turn="across")
WAYS = (
    ("before", None),
    ("smudge", SMUDGE),
    ("smudge keeps grain", SMUDGE.with_changes(keep_grain_px=10.0)),
    ("smudge, pigment", SMUDGE.with_changes(mixing="pigment")),
    ("feather", FEATHER),
    ("feather keeps grain", FEATHER.with_changes(keep_grain_px=10.0)),
    ("blur", Brush("b", kind="blur", tip="mop", size_px=90, soften_px=6.0)),
    ("bristle smudge", SMUDGE.with_changes(tip="filbert", bristles=60, strength=0.8, spacing=0.03, turn="across")),
    ("knife", KNIFE),
    ("wet lay", Brush("w", tip="round", edge=0.5, size_px=46, wetness=0.75, carry=1.0, strength=0.7, spacing=0.06)),
    ("glaze", Brush("g", kind="glaze", tip="mop", size_px=70, strength=0.6)),
    ("scumble", Brush("c", kind="scumble", tip="round", edge=0.6, size_px=60, strength=0.7, grain="pores")),
)

# Width and height of a patch, and how many stand side by side.
PATCH = (300, 190, 4)
# The grain of the studies are the marks of the brushes, which are broad.
ON_THE_SHEET = (
    ("before", None),
    ("smudge", SMUDGE),
    ("smudge keeps marks", SMUDGE.with_changes(keep_grain_px=16.0)),
    ("feather keeps marks", FEATHER.with_changes(keep_grain_px=16.0)),
)

GUIDE_PX, DEMO_PX = 660, 296
# Upper left corners of pieces of Tidebell, px.
CROPS, CROP_PX = ((940, 300), (960, 840), (90, 560), (330, 120)), 320
FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def main() -> int:
    FOLDER.mkdir(parents=True, exist_ok=True)
    make_application(["screenshots"])
    window = MainWindow()
    window.resize(1280, 800)
    window.show()
    _shot(window, "start")

    window.files.demo("tidebell")
    window.files.wait()
    QApplication.processEvents()
    session = window.session
    _crops(session.painting)
    _growth(window)
    _compare(window)
    _output(window)
    fur = next(part for part in session.painting.parts if part.name == "Brindle")
    session.work.work_on_layer(next(layer.uid for layer in fur.layers if layer.name == "Coat"))
    session.hand.show_roll("coat")
    session.hand.set_colour((0.62, 0.50, 0.41))
    _point(window, 1010, 640)
    window.rail.measure()
    _shot(window, "bench")
    session.looking.set_look("values")
    _shot(window, "values-look")
    session.looking.set_look("colour")
    _brushes(window)
    _blending(_egg())
    _relief(window)
    _flats(window)
    _light(window)
    _hair(window)
    _for_the_program()
    return 0


def _for_the_program() -> None:
    """The same, smaller, for the guide in the window; and the demos for the start view."""
    assets = Path(japanner.desk.__file__).parent / "assets"
    for file in sorted(FOLDER.glob("*.png")):
        picture = _reduced(file, GUIDE_PX)
        target = assets / "guide" / "pictures" / f"{file.stem}.jpg"
        cv2.imwrite(str(target), picture, [cv2.IMWRITE_JPEG_QUALITY, 86])
    for name in DEMOS:
        small = _fitted(_codes(_shipped(name)), DEMO_PX)
        cv2.imwrite(str(assets / "demos" / f"{name}.png"), small)


def _shipped(name: str) -> Painting:
    """A demo as it is shipped: run `make demos` first."""
    path = DEMOS[name].file
    assert path is not None
    return open_painting(path).painting


def _codes(painting: Painting) -> np.ndarray:
    """The picture as 8-bit blue, green, red."""
    pixels = flattened(painting).read(painting.rect)[[2, 1, 0]].transpose(1, 2, 0)
    return np.ascontiguousarray((pixels / 257).round().astype(np.uint8))


def _fitted(picture: np.ndarray, width: int) -> np.ndarray:
    size = (width, round(picture.shape[0] * width / picture.shape[1]))
    return cv2.resize(picture, size, interpolation=cv2.INTER_AREA)


def _crops(painting: Painting) -> None:
    """Four pieces of Tidebell, one to one: eye, fur, brass, glass."""
    codes = _codes(painting)
    pieces = [codes[y : y + CROP_PX, x : x + CROP_PX] for x, y in CROPS]
    strip = np.concatenate(pieces, axis=1)
    cv2.imwrite(str(FOLDER / "crops.png"), strip, [cv2.IMWRITE_PNG_COMPRESSION, 9])


def _growth(window: MainWindow) -> None:
    """The growth of Tidebell: its flats beside how it was when details came."""
    window.watch_growth()
    growth = window.growth
    growth.toggle()
    for stage in ("values", "details"):
        growth.go_to(growth.way.share_of(next(first for first, name in growth.way.stages if name == stage)) + 0.12)
        if stage == "values":
            growth.hold()
    _shot(window, "growth")
    growth.stop()


def _compare(window: MainWindow) -> None:
    """Tidebell against how it was when its values stood, as a pinned picture: lines, a divider, and a grid."""
    session = window.session
    then = next(one for one in reversed(session.document.moments) if one.stage == "values")
    codes = np.asarray(Image.open(BytesIO(then.picture))).transpose(2, 0, 1)
    whole = np.concatenate((codes, np.full((1, *codes.shape[1:]), 255, np.uint8))).astype(np.uint16) * np.uint16(257)
    session.apply(pin_of(whole, "Values, Tuesday"))
    window.show_reference("beside")
    task = window.tasks.take_up("measure")
    assert isinstance(task, MeasureTask)
    measuring = session.measuring
    for kind, ends in (
        ("line", (794, 416, 1082, 420)), ("line", (862, 505, 1440, 330)), ("divider", (1250, 300, 1250, 1190)),
        ("plumb", (830, 200, 830, 200)),
    ):  # fmt: skip
        measuring.set(kind=kind, chosen=min(measuring.chosen, 1))
        measuring.press("", ends[0], ends[1], 0.01)
        measuring.move(ends[2], ends[3])
        measuring.release(1.0)
    there = next(one for one in session.painting.measures if one.picture and one.number == 2)
    measuring.press(there.picture, there.x1, there.y1, 0.2)
    measuring.move(there.x1 - 6, there.y1 + 14)
    measuring.release(1.0)
    measuring.set(kind="line")
    task.cells.setValue(8)
    _shot(window, "compare")
    task.cells.setValue(0)
    measuring.clear()
    window.easel.leave_task()
    window.bench.set_form("board", "hidden")
    session.apply(UnpinPicture(0))


def _output(window: MainWindow) -> None:
    """Tidebell on a sheet of paper."""
    task = window.tasks.take_up("print")
    assert isinstance(task, PrintTask)
    task.wait()
    _shot(window, "output")
    window.easel.leave_task()


def _reduced(file: Path, width: int) -> np.ndarray:
    whole = cv2.imread(str(file))
    assert whole is not None
    height = round(whole.shape[0] * width / whole.shape[1])
    return whole if whole.shape[1] <= width else cv2.resize(whole, (width, height), interpolation=cv2.INTER_AREA)


def _light(window: MainWindow) -> None:
    """A figure in the maquette, and the sheets of materials and faces."""
    window.files.begin(new_document(1600, 1500, ppi=300.0, title="Ferry pilot"))
    window.building.add_part("skin")
    QApplication.processEvents()
    task = window.tasks.take_up("maquette")
    assert isinstance(task, MaquetteTask)
    task.form.want("figure", "Ione Marrash")
    task.commit(replace(task.maquette, turn=(-30.0, -3.0, 3.0), middle=(800.0, 830.0), unit_px=420.0))
    task.form.chapter.setCurrentText("eyes")
    task.form.chapter.textActivated.emit("eyes")
    task.clay.wait()
    _shot(window, "maquette")
    task.clay.stop()
    window.easel.leave_task()
    for name in ("materials", "heads", "animals"):
        _whole(name)


def _whole(name: str) -> None:
    """A demo painting as a whole, reduced."""
    small = _fitted(_codes(_shipped(name)), 1200)
    cv2.imwrite(str(FOLDER / f"{name}.png"), small, [cv2.IMWRITE_PNG_COMPRESSION, 9])


def _hair(window: MainWindow) -> None:
    """A part that is being combed, and the sheet of coats and locks."""
    window.files.begin(new_document(1600, 1200, ppi=300.0, title="Brindle"))
    window.building.add_part("fur")
    QApplication.processEvents()
    session, angle = window.session, np.linspace(0, 2 * np.pi, 80, endpoint=False)
    x = 800 + 500 * np.cos(angle) * (1 + 0.1 * np.cos(2 * angle))
    y = 610 + 420 * np.sin(angle) * (1 + 0.08 * np.sin(angle))
    session.apply(SetFrisket({"shape": "outline", "points": np.stack((x, y), axis=1).round(1).tolist()}))
    session.apply(Fill(session.work.active_layer or 0, (0.50, 0.39, 0.29)))
    session.apply(DropFrisket())
    task, hand = window.tasks.take_up("comb"), Hand(window)
    assert isinstance(task, CombTask)
    task.both.setChecked(True)
    for line in (
        [(790, 620), (640, 560), (480, 590), (350, 690)],
        [(770, 480), (660, 380), (520, 340), (430, 380)],
        [(770, 720), (720, 820), (700, 960)],
    ):
        hand.mouse(line)
    _shot(window, "comb")
    window.easel.leave_task()
    _whole("hair")


def _brushes(window: MainWindow) -> None:
    """The brush sheet."""
    session = window.session
    session.hand.show_roll("locks")
    session.hand.take_brush_named("S wave")
    session.hand.set_colour((0.86, 0.72, 0.58))
    window.show_brush_sheet()
    assert window.sheet is not None
    # Pictures of brushes are drawn one by one, those in sight first.
    for _ in range(40):
        QApplication.processEvents()
    window.sheet.grab().save(str(FOLDER / "brush-sheet.png"))
    window.sheet.close()
    session.hand.show_roll("basic")
    session.hand.take_brush_named("Mop")


def _blending(egg: Raster) -> None:
    """The same two values under pores, blended in twelve ways, and the turn of the studies' egg, at one to one."""
    patch_w, patch_h, across = PATCH
    plain = _two_values(patch_w, patch_h)
    patches = [(words, plain, brush) for words, brush in WAYS]
    patches += [(f"studies sheet, {words}", egg, brush) for words, brush in ON_THE_SHEET]
    rows = -(-len(patches) // across)
    sheet = QImage(across * (patch_w + 12) + 12, rows * (patch_h + 30) + 12, QImage.Format.Format_RGB32)
    sheet.fill(theme["panel"])
    painter = QPainter(sheet)
    painter.setFont(font(12))
    for index, (words, ground, brush) in enumerate(patches):
        pixels = ground if brush is None else _worked(ground, brush)
        codes = np.ascontiguousarray((pixels.read(pixels.rect).transpose(1, 2, 0) >> 8).astype(np.uint8))
        picture = QImage(codes.data, patch_w, patch_h, patch_w * 4, QImage.Format.Format_RGBA8888)
        x, y = 12 + index % across * (patch_w + 12), 12 + index // across * (patch_h + 30)
        painter.drawImage(x, y + 20, picture)
        painter.setPen(theme["text"])
        painter.drawText(x, y + 13, words)
    painter.end()
    sheet.save(str(FOLDER / "blending.png"))


def _egg() -> Raster:
    """A piece of the studies, in the light of the egg."""
    width, height, _ = PATCH
    piece = flattened(_shipped("studies")).read(Rect(720, 196, 720 + width, 196 + height))
    return Raster(width, height).written(0, 0, piece)


def _relief(window: MainWindow) -> None:
    """Thick paint: strokes of the cloth and skin rolls, pulled by a knife, and its light."""
    window.files.begin(new_document(1200, 800, ppi=144.0, title="Thick paint"))
    window.building.add_part("cloth")
    QApplication.processEvents()
    session, hand = window.session, Hand(window)
    assert session.work.active_layer is not None
    session.apply(Fill(session.work.active_layer, (0.45, 0.33, 0.28)))

    def strokes(name: str, colour: tuple[float, float, float], *paths: np.ndarray) -> None:
        session.hand.take_brush_named(name)
        session.hand.set_colour(colour)
        for path in paths:
            hand.pen([(float(x), float(y), float(p)) for x, y, p in path])

    def wave(left: float, right: float, y: float) -> np.ndarray:
        t = np.linspace(0, 1, 40)
        return np.column_stack((left + (right - left) * t, y + 28 * np.sin(6 * t), 0.4 + 0.6 * np.sin(np.pi * t)))

    strokes("Thick fold", (0.75, 0.60, 0.45), wave(100, 1000, 120))
    strokes("Thick fold", (0.66, 0.35, 0.25), wave(100, 1000, 210))
    strokes("Thick fold", (0.82, 0.70, 0.55), wave(100, 1000, 300))
    strokes("Thick flesh", (0.80, 0.62, 0.50), wave(100, 600, 440))
    touches = [np.array([(x, 560, 0.3), (x + 10, 600, 1), (x + 20, 660, 0.5)]) for x in range(150, 600, 60)]
    strokes("Thick light", (0.95, 0.90, 0.80), *touches)
    strokes("Thick crust", (0.35, 0.50, 0.45), wave(680, 1050, 560))
    strokes("Palette knife", (0, 0, 0), np.array([(500, 80, 1), (560, 200, 1), (600, 360, 1)]))
    hand.command("Layer › Relief › Amount and gloss")
    _shot(window, "relief")
    window.easel.leave_task()


def _two_values(width: int, height: int) -> Raster:
    """Dark and light skin that meet in an edge above and in a turn below, with pores."""
    turn = np.ones((height, 1)) * np.clip((np.arange(width) - width / 2) / 3 + 0.5, 0, 1)
    soft = np.ones((height, 1)) * np.clip((np.arange(width) - width / 2) / 110 + 0.5, 0, 1)
    lit = np.where(np.arange(height)[:, None] < height / 2, turn, soft)[..., None]
    colour = (1 - lit) * np.array((0.36, 0.22, 0.17)) + lit * np.array((0.84, 0.66, 0.55))
    colour = colour + 0.13 * (texture("pores", width, height)[..., None] - 0.5)
    pixels = np.concatenate((np.clip(colour, 0, 1), np.ones((height, width, 1))), axis=2).transpose(2, 0, 1)
    return Raster(width, height).written(0, 0, np.rint(pixels * 65535).astype(np.uint16))


def _worked(raster: Raster, brush: Brush) -> Raster:
    """Five strokes to and fro across the middle."""
    for number in range(5):
        y, xs = 22 + number * 36, np.linspace(70, 230, 20)
        rows = [(float(x), y + 6 * float(np.sin(x / 25)), 0.9, 0, 0, 0, i * 8) for i, x in enumerate(xs)]
        stroke = StrokeInProgress(raster, brush, (0.72, 0.30, 0.22), seed=number)
        stroke.add(rows if number % 2 else rows[::-1])
        stroke.finish()
        raster = stroke.result()
    return raster


def _flats(window: MainWindow) -> None:
    """The Tidebell scene from sketch to flats, by hand, and the tasks that made it."""
    window.files.begin(new_document(tidebell.WIDTH, tidebell.HEIGHT, ppi=300.0, title="Tidebell"))
    QApplication.processEvents()
    hand = Hand(window)
    tidebell.paint(hand)
    session, bell = window.session, next(part for part in window.session.painting.parts if part.name == "Bell")
    session.looking.set_view(guides_shown=False)
    session.work.work_on_part(bell.uid)
    session.hand.set_colour(tidebell.FLATS["Bell"][1])
    hand.command("Frisket › Curve")
    window.easel.look_at(1480, 900, zoom=0.42)
    tidebell.curve(hand, tidebell.BELL)
    window.rail.measure()
    _shot(window, "flats")
    window.easel.fit()
    hand.command("Frisket › Drop")
    window.easel.fit()
    critique = window.tasks.take_up("critique")
    assert isinstance(critique, CritiqueTask)
    critique.wait()
    critique.choose(next(one for one in critique.found if one.check == "figure against ground"))
    QApplication.processEvents()
    _shot(window, "critique")
    window.easel.leave_task()
    head = next(part for part in session.painting.parts if part.name == "Head")
    session.work.work_on_part(head.uid)
    session.hand.set_colour(tidebell.FLATS["Head"][1])
    session.lift(1)
    _point(window, 1000, 620)
    window.grids.surround("picture")
    window.building.propose_scale()
    _mix(hand)
    window.rail.measure()
    _shot(window, "chooser")


def _mix(hand: Hand) -> None:
    """The shadow of each undertone into its light, on the smear pad, and one of them up to the highlight."""
    session, pad = hand.window.session, hand.window.parts.pad
    rows = mixing_grid(session.painting, session.part, session.hand.colour)
    session.hand.take_brush_named("Round")
    session.hand.set_brush(size_px=34.0, strength=1.0, edge=0.25)
    for column, (_, colours) in enumerate(rows):
        for y, step in ((14, 1), (62, 3)):
            session.hand.set_colour(colours[step])
            hand.drag_on(pad, [(14 + column * 38 + x, y) for x in range(0, 16, 2)])
    session.hand.take_brush_named("Smudge")
    session.hand.set_brush(size_px=32.0, strength=0.8)
    for column in range(len(rows)):
        hand.drag_on(pad, [(20 + column * 38, y) for y in range(12, 60, 3)])
        hand.drag_on(pad, [(25 + column * 38, y) for y in range(62, 16, -3)])
    session.hand.take_brush_named("Round")
    session.hand.set_colour(rows[1][1][3])


def _shot(window: MainWindow, name: str) -> None:
    for _ in range(200):
        QApplication.processEvents()
        if not window.roll.previews.waiting:
            break
    QTest.qWait(60)  # columns lay themselves out anew
    window.grab().save(str(FOLDER / f"{name}.png"))


def _point(window: MainWindow, x: float, y: float) -> None:
    """Let the pointer rest on a canvas position."""
    QApplication.processEvents()
    at = window.easel.view.to_view().map(QPointF(x, y))
    none = Qt.MouseButton.NoButton
    event = QMouseEvent(QEvent.Type.MouseMove, at, at, none, none, Qt.KeyboardModifier.NoModifier)
    QApplication.sendEvent(window.easel, event)


if __name__ == "__main__":
    sys.exit(main())
