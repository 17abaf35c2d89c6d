"""Masks, moving, adjusting, the canvas, guides and pictures in the real window."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent, QGuiApplication, QImage
from PySide6.QtTest import QTest

from japanner.desk.widgets.picture_dialog import PictureDialog
from japanner.files import png
from japanner.painting.operations import Filter, ScaleCanvas, SetFrisket
from japanner.painting.picture.compositor import flattened
from japanner.raster.geometry import Rect
from tests.desk.steps import covered, lay_flat, pump, settle
from tests.paintings import rgba

SHIFT = Qt.KeyboardModifier.ShiftModifier


# --- masks and held edges -----------------------------------------------------------------------------


def test_painting_in_a_mask(hand):
    window, session = hand.window, hand.window.session
    session.hand.set_colour((0.6, 0.4, 0.3))
    hand.command("Stroke › Fill all")
    hand.command("Frisket › Oval")
    hand.mouse([(140, 80), (200, 150), (340, 280)])
    hand.command("Layer › Mask › Add, from the frisket")
    hand.command("Frisket › Drop")
    window.easel.leave_task()
    assert session.picture.value_at(240, 180) == pytest.approx((0.6, 0.4, 0.3), abs=0.01)
    assert session.picture.value_at(20, 20) == pytest.approx(session.painting.ground, abs=0.01)
    hand.key(Qt.Key.Key_N)
    assert "mask" in window.easel.foot_text()
    session.hand.take_brush_named("Round")
    session.hand.set_colour((1, 1, 1))
    hand.pen([(20, 20, 1), (60, 20, 1)])
    assert session.picture.value_at(40, 20) == pytest.approx((0.6, 0.4, 0.3), abs=0.01)
    hand.command("Look › The mask alone")
    seen = window.easel.grab().toImage()
    at = window.easel.view.to_view().map(QPointF(240, 180)).toPoint()
    assert seen.pixelColor(at).getRgb()[:3] == (255, 255, 255)
    hand.command("Look › The mask alone")
    hand.command("Layer › Mask › Apply")
    assert session.work.on == "paint"
    assert rgba(session.layer.pixels, 300, 20)[3] == 0


def test_holding_edges(hand):
    session = hand.window.session
    lay_flat(hand)
    before = session.layer.pixels.read(session.painting.rect)[3]
    hand.key(Qt.Key.Key_H)
    assert "holds edges" in hand.window.easel.foot_text()
    session.hand.take_brush_named("Round")
    session.hand.set_colour((1, 0, 0))
    hand.pen([(60, 60, 1), (400, 300, 1)])
    assert np.array_equal(session.layer.pixels.read(session.painting.rect)[3], before)
    assert rgba(session.layer.pixels, 240, 188)[0] > 0.9
    hand.key(Qt.Key.Key_W)
    hand.pen([(60, 60, 1), (400, 300, 1)])
    assert "holds its edges" in hand.window.messages.message.text()


def test_lights_over_a_layer(hand):
    session = hand.window.session
    lay_flat(hand)
    hand.command("Frisket › Lights over this layer")
    assert session.layer.role == "light"
    assert covered(hand.window)[180, 240] == 1


# --- moving -------------------------------------------------------------------------------------------


def centre(session):
    ys, xs = np.nonzero(session.layer.pixels.read(session.painting.rect)[3] > 32768)
    return xs.mean() + 0.5, ys.mean() + 0.5, len(xs)


def test_moving_by_hand_by_arrows_and_by_numbers(hand):
    window, session = hand.window, hand.window.session
    lay_flat(hand)
    x, y, area = centre(session)
    hand.key(Qt.Key.Key_M)
    task = window.tasks["move"]
    assert session.trials.trial is not None
    hand.mouse([(240, 180), (250, 190), (260, 200)])
    hand.key(Qt.Key.Key_Left)
    hand.key(Qt.Key.Key_Up, SHIFT)
    assert (task.pose.dx, task.pose.dy) == pytest.approx((19, 10), abs=0.6)
    task._boxes["dx"].setValue(30)
    task._boxes["sx"].setValue(80)
    assert task.pose.sy == pytest.approx(0.8)  # it keeps its shape
    task._boxes["turn_deg"].setValue(30)
    hand.key(Qt.Key.Key_Return)
    settle(window)
    assert window.easel.task is None
    assert session.trials.trial is None
    nx, ny, narea = centre(session)
    assert (nx - x, ny - y) == pytest.approx((30, 10), abs=1)
    assert narea == pytest.approx(area * 0.64, rel=0.02)


def test_scaling_by_a_corner_holds_the_opposite_one(hand):
    window, session = hand.window, hand.window.session
    lay_flat(hand)
    hand.key(Qt.Key.Key_M)
    hand.mouse([(340, 280), (300, 240), (290, 230)])
    task = window.tasks["move"]
    assert task.pose.corners(task.area)[0] == pytest.approx((140, 80), abs=0.1)
    assert task.pose.sx == pytest.approx(0.75, abs=0.01)
    hand.mouse([(290, 230), (310, 240), (320, 250)], ctrl=True)  # pull the corner: perspective
    assert task.pose.pulls[2] == pytest.approx((30, 20), abs=0.7)
    task.done()
    settle(window)
    assert session.layer.pixels.bounds().x1 > 300


def test_impossible_moves_are_said_and_the_last_pose_stays(hand):
    window = hand.window
    lay_flat(hand)
    hand.key(Qt.Key.Key_M)
    task = window.tasks["move"]
    task._boxes["sx"].setValue(0)
    assert "flat" in window.messages.message.text()
    assert task.pose.at_rest
    task._take(task.pose.__class__(pulls=((900.0, 900.0), (0.0, 0.0), (0.0, 0.0), (0.0, 0.0))))
    assert task.pose.at_rest or np.isfinite(task.pose.corners(task.area)).all()


def test_a_part_mirrored_and_marked_layers_moved(hand):
    window, session = hand.window, hand.window.session
    lay_flat(hand)
    flat = session.layer.uid
    window.building.add_layer("light")
    session.hand.take_brush_named("Round")
    hand.pen([(200, 120, 1), (210, 130, 1)])
    light = session.layer.uid
    hand.key(Qt.Key.Key_M)
    task = window.tasks["move"]
    task.what.setCurrentText("part")
    task.begin()
    assert task.layers == (flat, light)
    task._set(sx=-1.0)
    task.done()
    settle(window)
    assert rgba(session.painting.layer(light).pixels, 275, 125)[3] > 0.5
    session.work.mark_layer(flat)
    task.what.setCurrentText("layer")
    assert task.layers == (flat, light)


def test_moving_nothing_is_said(hand):
    hand.key(Qt.Key.Key_M)
    assert "nothing to move" in hand.window.messages.message.text()
    hand.key(Qt.Key.Key_Return)
    assert hand.window.easel.task is None


def test_a_cage_and_a_nudge(hand):
    window, session = hand.window, hand.window.session
    lay_flat(hand)
    x, _, _ = centre(session)
    hand.command("Edit › Cage")
    task = window.tasks["cage"]
    task.columns.setValue(2)
    task.rows.setValue(2)
    hand.mouse([(240, 180), (255, 180), (270, 180)])
    hand.key(Qt.Key.Key_Return)
    settle(window)
    assert window.easel.task is None
    assert session.document.undo_words == "cage warp"
    session.hand.take_brush_named("Nudge")
    hand.pen([(330, 180, 1), (350, 180, 1), (380, 180, 1)])
    assert session.document.undo_words == "nudge stroke"
    assert centre(session)[0] > x
    shown = session.picture.value_at(355, 180)
    hand.key(Qt.Key.Key_B)
    assert "BEFORE" in window.easel.foot_text()
    assert session.picture.value_at(355, 180) != shown
    hand.key(Qt.Key.Key_B)
    assert session.picture.value_at(355, 180) == shown


def test_what_comes_after_a_look_at_before_shows_the_present(hand):
    session = hand.window.session
    session.hand.set_colour((1, 1, 1))
    lay_flat(hand)
    shown = session.picture.value_at(240, 180)
    session.undo()
    session.redo()
    hand.key(Qt.Key.Key_B)
    session.apply(SetFrisket({"shape": "box", "x0": 0, "y0": 0, "x1": 20, "y1": 20}))
    assert not session.comparing.before_shown
    assert session.picture.value_at(240, 180) == shown


# --- adjusting ----------------------------------------------------------------------------------------


def test_adjusting_with_a_live_picture(hand):
    window, session = hand.window, hand.window.session
    session.hand.set_colour((0.5, 0.4, 0.3))
    lay_flat(hand)
    before = session.painting
    hand.command("Edit › Adjust › Brightness")
    task = window.tasks["adjust"]
    task._numbers["brightness"].setValue(20)
    tried = session.trials.trial.picture.value_at(240 // session.trials.trial.step, 180 // session.trials.trial.step)
    assert session.painting is before
    hand.key(Qt.Key.Key_Return)
    settle(window)
    assert session.picture.value_at(240, 180) == pytest.approx(tried, abs=0.02)
    assert tried[0] > 0.6
    for name in ("levels", "curve", "colour", "gradient map", "blur", "sharpen", "noise"):
        hand.command(f"Edit › Adjust › {name.capitalize()}")
        assert session.trials.trial is not None, name
        hand.key(Qt.Key.Key_Escape)
        assert session.trials.trial is None
    assert session.document.undo_words == "brightness"


def test_long_work_is_stopped_and_nothing_has_changed(hand, qtbot):
    window, session = hand.window, hand.window.session
    session.apply(ScaleCanvas(3000, 2400))
    hand.command("Stroke › Fill all")
    before, count = session.painting, len(session.document.records)
    session.carry_out(Filter((session.work.active_layer,), "blur", {"sigma_px": 30.0}))
    qtbot.waitUntil(window.messages.job.isVisible, timeout=2000)
    session.hand.take_brush_named("Round")
    hand.pen([(100, 100, 1)])
    assert "Still busy" in window.messages.message.text()
    session.jobs.stop()
    settle(window)
    assert window.messages.message.text() == "Stopped."
    assert not window.messages.job.isVisible()
    assert session.painting is before
    assert len(session.document.records) == count
    session.hand.set_colour((0.9, 0.1, 0.1))
    hand.pen([(100, 100, 1)])
    assert len(session.document.records) == count + 1


def test_what_is_asked_for_during_long_work_follows_it(hand, qtbot):
    window, session = hand.window, hand.window.session
    session.apply(ScaleCanvas(3000, 2400))
    hand.command("Stroke › Fill all")
    session.carry_out(Filter((session.work.active_layer,), "blur", {"sigma_px": 20.0}))
    hand.command("Layer › Duplicate layer")
    assert "follows as soon as" in window.messages.message.text()
    assert len(session.part.layers) == 1
    settle(window)
    qtbot.waitUntil(lambda: len(session.part.layers) == 2, timeout=5000)
    assert [record["op"] for record in session.document.records[-2:]] == ["filter", "duplicate layer"]


def test_the_strength_of_a_part(hand):
    window, session = hand.window, hand.window.session
    session.hand.set_colour((1, 1, 1))
    hand.command("Stroke › Fill all")
    window.parts._try_strength(50)
    assert session.picture.value_at(100, 100)[0] == pytest.approx((1 + session.painting.ground[0]) / 2, abs=0.01)
    window.parts._set_strength(50)
    assert session.part.strength == 0.5
    session.undo()
    assert window.parts._strength.value == 100


def test_a_curve_drawn_by_hand(hand):
    window, session = hand.window, hand.window.session
    session.hand.set_colour((0.5, 0.5, 0.5))
    lay_flat(hand)
    hand.command("Edit › Adjust › Curve")
    pad = window.tasks["adjust"]._curve
    hand.click(pad, pad._at(50, 80))
    assert pad.points[1] == pytest.approx([50, 80], abs=2)
    window.tasks["adjust"].done()
    settle(window)
    assert session.picture.value_at(240, 180)[0] > 0.7


# --- the canvas, guides, parts ------------------------------------------------------------------------


def test_framing_and_scaling_the_canvas(hand):
    window, session = hand.window, hand.window.session
    lay_flat(hand)
    hand.command("Painting › Frame the canvas")
    hand.mouse([(480, 360), (400, 320), (380, 300)])
    hand.key(Qt.Key.Key_Return)
    assert (session.painting.width, session.painting.height) == (380, 300)
    assert session.picture.levels[0].shape == (300, 380)
    hand.command("Painting › Scale the picture")
    window.tasks["scale"].width.setValue(760)
    assert window.tasks["scale"].height.value() == 600
    window.tasks["scale"].done()
    settle(window)
    assert (session.painting.width, session.painting.height) == (760, 600)
    hand.mouse([(100, 100), (110, 110)])
    for _ in range(3):
        session.undo()
    assert (session.painting.width, session.painting.height) == (480, 360)


def test_the_head_guide_turns_by_a_drag(hand):
    window, session = hand.window, hand.window.session
    hand.key(Qt.Key.Key_U)
    part = next(part for part in session.painting.parts if part.guide is not None)
    assert part.material == "drawing"
    hand.mouse([(200, 140), (230, 140), (260, 130)])
    guide = session.painting.part(part.uid).guide
    assert guide.yaw_deg > 5
    assert guide.pitch_deg > 1
    hand.mouse([(240, 180), (250, 190), (260, 200)])
    assert (session.painting.part(part.uid).guide.x, session.painting.part(part.uid).guide.y) == pytest.approx(
        (260, 200), abs=1
    )
    window.tasks["head"]._take_away()
    assert session.painting.part(part.uid).guide is None
    assert window.easel.task is None


def test_the_sketch_on_top(hand):
    window, session = hand.window, hand.window.session
    window.building.add_part("drawing")
    session.hand.take_brush_named("Round")
    session.hand.set_colour((0.05, 0.05, 0.05))
    hand.pen([(100, 180, 1), (400, 180, 1)])
    window.building.add_part("plain")
    session.hand.set_colour((0.04, 0.04, 0.05))
    hand.command("Stroke › Fill all")
    before = session.painting
    assert session.picture.value_at(250, 180)[0] < 0.1
    hand.key(Qt.Key.Key_Y)
    assert session.picture.value_at(250, 180)[0] > 0.4
    assert session.painting is before
    hand.key(Qt.Key.Key_Y)
    assert session.picture.value_at(250, 180)[0] < 0.1


def test_merging_flattening_and_duplicating_by_commands(hand):
    window, session = hand.window, hand.window.session
    lay_flat(hand)
    window.building.add_layer("light")
    session.hand.take_brush_named("Round")
    hand.pen([(200, 120, 1), (210, 130, 1)])
    hand.command("Part › Duplicate part")
    assert len(session.painting.parts) == 2
    shown = flattened(session.painting).read(session.painting.rect)
    hand.command("Layer › Merge down")
    assert len(session.part.layers) == 1
    session.undo()
    hand.command("Part › Flatten part")
    settle(window)
    after = flattened(session.painting).read(session.painting.rect)
    assert np.abs(after.astype(int) - shown).max() <= 257


def test_the_ghost_tile_sets_a_layer_up_and_takes_its_brush(hand):
    window, session = hand.window, hand.window.session
    lay_flat(hand)
    hand.window.building.add_layer("shadow")
    assert (session.layer.mode, session.layer.strength) == ("Multiply", 0.8)
    assert session.layer.pixels.bounds() == session.painting.rect  # its neutral sheet
    assert session.hand.brush.name == "Mop"
    mode = session.layer.mode
    hand.command("Layer › The mode after")
    assert session.layer.mode != mode
    hand.command("Layer › Weaker")
    assert session.layer.strength == 0.75
    assert window.build._mode.currentText() == session.layer.mode


# --- pictures -----------------------------------------------------------------------------------------


def test_copy_cut_and_paste_by_the_frisket(hand):
    session = hand.window.session
    session.hand.set_colour((0.6, 0.4, 0.3))
    hand.command("Stroke › Fill all")
    session.apply(SetFrisket({"shape": "box", "x0": 100, "y0": 90, "x1": 200, "y1": 150}))
    hand.command("Edit › Cut")
    assert rgba(session.layer.pixels, 150, 120)[3] == 0
    data = bytes(QGuiApplication.clipboard().mimeData().data("image/png").data())
    assert png.read(data, "clipboard").pixels.shape == (4, 60, 100)
    hand.command("Frisket › Drop")
    hand.command("Edit › Paste")
    assert session.layer.name == "Pasted"
    assert session.layer.pixels.bounds() == Rect(100, 90, 200, 150)  # where it came from
    assert rgba(session.layer.pixels, 150, 120) == pytest.approx([0.6, 0.4, 0.3, 1], abs=1e-4)


def test_a_png_of_another_program_is_pasted(hand):
    session = hand.window.session
    image = QImage(60, 40, QImage.Format.Format_ARGB32)
    image.fill(0x80FF0000)
    mime = QMimeData()
    mime.setImageData(image)
    QGuiApplication.clipboard().setMimeData(mime)
    hand.command("Edit › Paste")
    assert session.layer.pixels.bounds() == Rect(210, 160, 270, 200)  # in the middle
    assert rgba(session.layer.pixels, 240, 180) == pytest.approx([0.5, 0, 0, 0.5], abs=0.01)
    QGuiApplication.clipboard().clear()
    hand.command("Edit › Paste")
    assert "no picture" in hand.window.messages.message.text()


def test_a_huge_paste_is_refused_with_its_size(hand, monkeypatch):
    session, before = hand.window.session, hand.window.session.painting
    huge = np.broadcast_to(np.uint16(0), (4, 10_001, 10_000))
    hand.window.clipboard.add(huge, "Huge", "detail")
    assert "100 Mpx" in hand.window.messages.message.text()
    assert session.painting is before


def test_a_dropped_file_becomes_a_sketch(hand, tmp_path):
    window, session = hand.window, hand.window.session
    (tmp_path / "Otter.png").write_bytes(png.encode(np.full((4, 30, 40), 65535, np.uint16)))
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(tmp_path / "Otter.png"))])
    event = QDropEvent(
        QPointF(600, 300), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    window.dropEvent(event)
    assert (session.part.material, session.layer.role, session.layer.name) == ("drawing", "sketch", "Otter")
    assert session.layer.pixels.bounds() == Rect(0, 0, 480, 360)


def test_pictures_as_reference_texture_and_stamp(hand, tmp_path, monkeypatch):
    window, session = hand.window, hand.window.session
    pixels = np.zeros((4, 40, 40), np.uint16)
    pixels[0] = pixels[3] = 65535
    pixels[3, :10] = 0
    pixels[0, :10] = 0
    (tmp_path / "Red.png").write_bytes(png.encode(pixels))
    monkeypatch.setattr(PictureDialog, "asked", lambda *_: str(tmp_path / "Red.png"))
    hand.command("Painting › Import a picture › To the reference board…")
    assert [one.name for one in session.painting.board] == ["Red"]
    pump()
    hand.command("Painting › Import a picture › As a texture…")
    assert (session.layer.role, session.layer.mode) == ("texture", "Soft Light")
    assert window.easel.task is window.tasks["move"]  # to be placed with handles
    window.easel.leave_task()
    hand.command("Stroke › New stamp › From a picture…")
    assert session.hand.brush.tip == "image"
    window.building.add_part("plain")
    session.hand.take_brush(len(session.hand.brushes) - 1)
    hand.pen([(240, 180, 1)])
    assert session.layer.pixels.bounds().height in range(28, 34)
    hand.command("Layer › Add texture › Plaster")
    texture = window.tasks["texture"]
    texture.scale.setValue(2.5)
    assert session.trials.trial is not None
    hand.key(Qt.Key.Key_Return)
    settle(window)
    assert (session.layer.name, session.layer.mode, session.layer.strength) == ("Plaster", "Overlay", 0.4)


def test_a_colour_is_picked_up_from_the_reference_board(hand, tmp_path):
    window, session = hand.window, hand.window.session
    pixels = np.full((4, 40, 40), 65535, np.uint16)
    pixels[1:3] = 0
    (tmp_path / "Red.png").write_bytes(png.encode(pixels))
    window.clipboard.add_file(tmp_path / "Red.png", "reference")
    pump()
    from japanner.desk.panels.reference_picture import ReferencePicture as _Picture

    picture = window.right.findChild(_Picture)
    QTest.mouseClick(picture, Qt.MouseButton.RightButton)
    assert session.hand.colour == pytest.approx((1, 0, 0), abs=0.01)


def test_a_damaged_picture_is_said_in_one_sentence(hand, tmp_path):
    (tmp_path / "a.jpg").write_bytes(b"no picture")
    before = hand.window.session.painting
    hand.window.clipboard.add_file(tmp_path / "a.jpg", "sketch")
    assert "a.jpg" in hand.window.messages.message.text()
    assert hand.window.session.painting is before


# --- the start view -----------------------------------------------------------------------------------


def test_sizes_in_millimetres_and_inches(window, heard):
    start = window.start
    made = heard(start.new_wanted)
    start._unit.setCurrentText("mm")
    start._unit.textActivated.emit("mm")
    start._width.setValue(210)
    start._height.setValue(297)
    start._begin()
    assert made == [(2480, 3508, 300.0)]  # ISO 216 A4 at 300 ppi
    start._unit.setCurrentText("in")
    start._unit.textActivated.emit("in")
    assert start._width.value() == pytest.approx(8.27, abs=0.005)
    start._height.setValue(32000)
    start._begin()
    assert len(made) == 1
    assert "px" in start._size_words.text()


def test_beginning_from_a_sketch(window, tmp_path, monkeypatch):
    (tmp_path / "S.png").write_bytes(png.encode(np.full((4, 300, 400), 65535, np.uint16), 200.0))
    monkeypatch.setattr(PictureDialog, "asked", lambda *_: str(tmp_path / "S.png"))
    window.start.sketch_wanted.emit()
    painting = window.session.painting
    assert (painting.width, painting.height) == (400, 300)
    assert painting.ppi == pytest.approx(200, abs=0.1)
    assert painting.parts[0].material == "drawing"


def test_a_picture_pasted_or_dropped_on_the_start_view_begins_a_painting(window, tmp_path):
    image = QImage(60, 40, QImage.Format.Format_ARGB32)
    image.fill(0xFFFF0000)
    mime = QMimeData()
    mime.setImageData(image)
    QGuiApplication.clipboard().setMimeData(mime)
    window.menus.actions["Edit › Paste"].trigger()
    assert window._pages.currentIndex() == 1
    assert window.session.painting.rect == Rect(0, 0, 60, 40)
    window.session._saved_painting = window.session.painting
    window.show_start()
    (tmp_path / "S.png").write_bytes(png.encode(np.full((4, 30, 70), 65535, np.uint16)))
    files = QMimeData()
    files.setUrls([QUrl.fromLocalFile(str(tmp_path / "S.png"))])
    event = QDropEvent(
        QPointF(600, 300), Qt.DropAction.CopyAction, files, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    window.dropEvent(event)
    assert window.session.painting.rect == Rect(0, 0, 70, 30)
