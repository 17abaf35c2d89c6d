"""Light and materials in the real window: the maquette view, makers, guides, scratches."""

from __future__ import annotations

import json
import threading

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QInputDialog, QPushButton

from japanner.desk.easel.light_guides import AGAINST_LIGHT
from japanner.desk.panels.light_ball import LightBall
from japanner.desk.widgets.picture_dialog import PictureDialog
from japanner.desk.widgets.world_pad import WorldPad
from japanner.files import ora_read, ora_write
from japanner.light.shipped import shipped_maquettes
from japanner.painting.makers import MAKERS
from japanner.painting.model import DEFAULT_SCALE
from japanner.painting.operations import (
    AddPart,
    Change,
    DropFrisket,
    Fill,
    Make,
    SetFrisket,
    SetPart,
    operation_from_record,
)
from japanner.raster.codec import from_text
from tests.paintings import same_painting


@pytest.fixture
def task(bench_window):
    """The maquette view over a part with an oval silhouette."""
    session = bench_window.session
    session.apply(SetFrisket({"shape": "oval", "x0": 140, "y0": 80, "x1": 340, "y1": 280}))
    session.apply(Fill(session.work.active_layer, (0.55, 0.45, 0.4)))
    session.apply(DropFrisket())
    made = bench_window.tasks.take_up("maquette")
    yield made
    made.clay.stop()


def test_a_ball_and_a_tube_are_built_turned_lit_and_laid_in(hand, task, qtbot):
    window, session = hand.window, hand.window.session
    task.add("ball")
    task.add("tube")
    assert [piece.name for piece in session.painting.maquette.pieces] == ["Ball 1", "Tube 1"]
    task.clay.wait()
    seen = task.clay.surface
    assert seen.step == 1
    assert set(np.unique(seen.piece)) == {-1, 0, 1}
    # The tube is taken where it is seen and dragged to the right.
    rows, columns = np.nonzero(seen.piece == 1)
    at = (float(columns.mean()), float(rows.mean()))
    before = session.painting.maquette.pieces[1].place
    hand.mouse([at, (at[0] + 45, at[1])])
    moved = session.painting.maquette.pieces[1].place
    assert moved[0] - before[0] == pytest.approx(45 / session.painting.maquette.unit_px, rel=0.1)
    assert moved[1:] == pytest.approx(before[1:], abs=0.03)
    # Beside it, a drag turns the whole.
    hand.mouse([(20, 20), (90, 20)])
    assert session.painting.maquette.turn[0] > 10
    task.clay.wait()
    # Another light, other shading.
    lit = task.clay.image.copy()
    ball = window.findChild(LightBall)
    disc = ball._disc().center()
    hand.drag_on(ball, [(disc.x(), disc.y()), (disc.x() + 20, disc.y() + 5), (disc.x() + 30, disc.y() + 8)])
    assert session.painting.light.right_deg > 40
    task.clay.wait()
    assert task.clay.image != lit
    # Undo takes the steps back, and the view follows.
    session.undo()
    session.undo()
    assert task.maquette == session.painting.maquette
    assert task.maquette.turn[0] == 0
    # Laid in from the form.
    window.tasks.make("lay-in")
    maker = window.easel.task
    assert session.trials.trial is not None
    count = len(session.part.layers)
    hand.key(Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: window.easel.task is not maker, timeout=20000)
    assert len(session.part.layers) == count + 5
    assert all(layer.made for layer in session.part.layers[count:])


def test_numbers_handles_and_strokes_change_the_form_in_hand(hand, task, heard):
    session = hand.window.session
    task.add("ball")
    form = task.form
    form.triple.setCurrentText("size")
    form.triple.textActivated.emit("size")
    form._boxes[0].setValue(0.9)
    assert session.painting.maquette.pieces[0].size == (0.9, 0.7, 0.7)
    form.mirror.setChecked(True)
    form.blend.setValue(0.2)
    piece = session.painting.maquette.pieces[0]
    assert (piece.mirror, piece.blend, piece.part) == (True, 0.2, session.work.active_part)
    form.mirror.setChecked(False)
    handles = task._handles()
    hand.mouse([handles["size"], (handles["size"][0] + 40, handles["size"][1] + 40)])
    assert session.painting.maquette.pieces[0].size[0] > 0.95
    handles = task._handles()
    hand.mouse([handles["turn"], (handles["turn"][0] + 50, handles["turn"][1])])
    assert session.painting.maquette.pieces[0].turn[0] != 0
    told = heard(session.told)
    form.edge.setValue(50)
    assert any("edge" in text for text in told)
    assert session.painting.maquette.pieces[0].edge == 0
    form.doing.setCurrentText("raise")
    hand.mouse([(220, 180), (240, 180), (260, 185)])
    assert [one.kind for one in session.painting.maquette.pieces] == ["ball", "stroke"]
    hand.mouse([(5, 5), (15, 5)])
    assert any("begins on a form" in text for text in told)
    form.doing.setCurrentIndex(0)
    task.take(1)
    hand.key(Qt.Key.Key_Backspace)
    assert len(session.painting.maquette.pieces) == 1
    task.take(0)
    task.copy()
    assert session.painting.maquette.pieces[1].name == "Ball 1 copy"


def test_the_silhouette_is_blown_up_where_it_is(hand, task):
    task.add("puff")
    task.clay.wait()
    piece = hand.window.session.painting.maquette.pieces[0]
    assert (piece.kind, piece.part) == ("puff", hand.window.session.work.active_part)
    rows, columns = np.nonzero(task.clay.surface.seen)
    assert (columns.min(), columns.max(), rows.min(), rows.max()) == pytest.approx((140, 340, 80, 280), abs=4)
    task.form.planes.setValue(7)
    task.clay.wait()
    assert task.clay.image.pixelColor(240, 180).alpha() == 255


@pytest.mark.parametrize("name", shipped_maquettes())
def test_every_shipped_maquette_can_be_begun_from(task, name):
    task.form.want("shipped", name)
    assert task.session.painting.maquette.pieces
    # It stands within the canvas.
    x, y = task.session.painting.maquette.middle
    assert (x, y) == (240, 180)
    assert {"A figure", "A form"} & {action.text() for action in task.form.menu().actions()}


def test_cloth_is_laid_over_the_forms(task, heard):
    told = heard(task.session.told)
    task.drape()
    assert "no form" in told[-1]
    task.add("ball")
    task.drape()
    cloth = task.session.painting.maquette.pieces[-1]
    assert (cloth.kind, cloth.join, task.form.join.currentText()) == ("sheet", "drape", "drape")
    task.clay.wait()
    assert (task.clay.surface.piece == 1).sum() > (task.clay.surface.piece == 0).sum()


def test_points_names_and_groups_of_forms(hand, task, monkeypatch):
    session = hand.window.session
    task.add("cord")
    at = task._handles()["point 1"]
    hand.mouse([at, (at[0], at[1] + 45)])
    points = session.painting.maquette.pieces[0].points
    assert points[1][1] == pytest.approx(0.3 - 45 / session.painting.maquette.unit_px, abs=0.03)
    middle = np.mean((task._handles()["point 0"], task._handles()["point 1"]), axis=0)
    QTest.mouseDClick(hand.easel, Qt.MouseButton.LeftButton, pos=hand.view(*middle).toPoint())
    assert len(session.painting.maquette.pieces[0].points) == 4
    for button, field in ((task.form._rename, "name"), (task.form._group, "group")):
        monkeypatch.setattr(QInputDialog, "getText", lambda *_, f=field, **__: (f"my {f}", True))
        button()
        assert getattr(session.painting.maquette.pieces[0], field) == f"my {field}"
    # A landmark of a head is pulled, and its mirror image goes with it.
    task.form.want("shipped", "head")
    task.take(0)
    head = task.maquette.pieces[0]
    number = head.names.index("cheek front")
    at = task._handles()[f"point {number}"]
    hand.mouse([at, (at[0] - 20, at[1])])
    moved = session.painting.maquette.pieces[0]
    assert moved.points[number] != head.points[number]
    assert [i for i, one in enumerate(moved.points) if one != head.points[i]] == [number]
    task.lay_in_wanted.emit()
    assert hand.window.easel.task.name == "lay-in"


def test_maquettes_are_kept_in_files(task, tmp_path, monkeypatch, heard):
    path = tmp_path / "forms.json"
    task.add("egg")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    task.form._save()
    record = json.loads(path.read_text(encoding="utf-8"))
    record["mood"] = "calm"
    path.write_text(json.dumps(record), encoding="utf-8")
    task.take(0)
    task.take_away()
    told = heard(task.session.told)
    monkeypatch.setattr(PictureDialog, "asked", lambda *_: str(path))
    task.form._open()
    assert [piece.kind for piece in task.session.painting.maquette.pieces] == ["egg"]
    assert any("mood" in text for text in told)
    path.write_text("{", encoding="utf-8")
    task.form._open()
    assert any("cannot be opened" in text for text in told)


# --- makers ---------------------------------------------------------------------------------------------------


def skin_to_make(hand):
    """The maker taken up, on a part with a flat."""
    window, session = hand.window, hand.window.session
    session.apply(SetPart(session.work.active_part, {"material": "skin"}))
    session.apply(SetFrisket({"shape": "oval", "x0": 140, "y0": 80, "x1": 340, "y1": 280}))
    session.apply(Fill(session.work.active_layer, (0.55, 0.45, 0.4)))
    session.apply(DropFrisket())
    return window, session


def test_the_outcome_is_coarse_then_fine_and_worked_out_while_it_is_looked_at(hand, qtbot, monkeypatch):
    window, session = skin_to_make(hand)
    steps = []
    session.trials.tried.connect(lambda: steps.append(session.trials.trial and session.trials.trial.step))
    window.tasks.make("skin")
    task = window.easel.task
    task.wait()
    fine = task._fine.step
    assert steps[-2:] == [4 * fine, fine]
    qtbot.waitUntil(lambda: task._ahead is not None and task._ahead.done, timeout=20000)
    ran = []
    monkeypatch.setattr(Make, "apply", lambda *_: ran.append(1))
    hand.key(Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: window.easel.task is not task, timeout=20000)
    assert not ran  # it was there
    monkeypatch.undo()
    before = session.document.former[0]
    record = session.document.records[-1]
    again, _ = operation_from_record(json.loads(json.dumps(record))).apply(before)
    assert same_painting(again, session.painting)


def test_other_settings_and_leaving_wait_for_nothing(hand, qtbot, monkeypatch):
    window, session = skin_to_make(hand)
    going, held, over = threading.Event(), threading.Event(), threading.Event()

    def slow(self, painting):
        going.set()
        held.wait(20)
        over.set()
        return painting, Change("nothing")

    monkeypatch.setattr(Make, "apply", slow)
    monkeypatch.setattr(Make, "sketch", slow)
    window.tasks.make("skin")
    assert going.wait(5)
    window.easel.task.seed.setValue(5)
    hand.key(Qt.Key.Key_Escape)
    assert window.easel.task is None
    assert not over.is_set()  # the work goes on, and nobody cares
    held.set()
    assert all(record["op"] != "make" for record in session.document.records)
    assert session.trials.trial is None


def test_a_maker_runs_from_the_menu_and_again(hand, qtbot, tmp_path):
    """One of them; what each makes is tried on the operation."""
    name = "skin"
    window, session = hand.window, hand.window.session
    material = (*MAKERS[name].materials, "plain")[0]
    session.apply(SetPart(session.work.active_part, {"material": material}))
    session.apply(SetFrisket({"shape": "oval", "x0": 140, "y0": 80, "x1": 340, "y1": 280}))
    session.apply(Fill(session.work.active_layer, (0.55, 0.45, 0.4)))
    session.apply(DropFrisket())
    count = len(session.part.layers)
    window.tasks.make(name)
    task = window.easel.task
    bare = window.easel.grab().toImage()
    task.wait()
    assert window.easel.grab().toImage() != bare
    hand.key(Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: window.easel.task is not task, timeout=20000)
    made = session.part.layers[count:]
    assert made
    # Taken up again, it begins with what it was made with, and makes the same layers anew.
    window.tasks.make(name)
    again = window.easel.task
    assert again.renew.isChecked()
    assert again.again == made[0].made.run
    again.seed.setValue(8)
    hand.key(Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: window.easel.task is not again, timeout=20000)
    fresh = session.part.layers[count:]
    assert [layer.uid for layer in fresh] == [layer.uid for layer in made]
    assert fresh[0].made.seed == 8
    # And all of it is in the file.
    path = tmp_path / "made.ora"
    ora_write.write(session.painting, path, session.document.records)
    assert same_painting(ora_read.opened(path).painting, session.painting)


def test_settings_try_out_and_a_refusal_is_told(hand, qtbot, heard):
    window, session = hand.window, hand.window.session
    told = heard(session.told)
    window.tasks.make("metal")
    task = window.easel.task
    task.wait()
    assert any("no silhouette" in text for text in told)
    task.widgets["polish"].setValue(20)
    assert task.values["polish"] == 20
    pad = task.widgets["world"]
    assert isinstance(pad, WorldPad)
    session.hand.set_colour((0.9, 0.2, 0.1))
    QTest.mousePress(pad, Qt.MouseButton.LeftButton, pos=QPoint(40, 30))
    QTest.mouseMove(pad, QPoint(60, 34))
    QTest.mouseRelease(pad, Qt.MouseButton.LeftButton, pos=QPoint(60, 34))
    painted = from_text(task.values["world"])
    assert painted[3].max() > 30000
    assert painted[:, 13, 18][0] > 4 * painted[:, 13, 18][1]
    # The other button takes it off; Delete takes all off.
    QTest.mousePress(pad, Qt.MouseButton.RightButton, pos=QPoint(40, 30))
    QTest.mouseRelease(pad, Qt.MouseButton.RightButton, pos=QPoint(40, 30))
    assert from_text(task.values["world"])[3, 12, 17] < painted[3, 12, 17]
    shown = pad._world.copy()
    box = task.widgets["around"]
    for words in ("woods", "the painting"):
        box.setCurrentText(words)
        box.textActivated.emit(words)
        assert pad._world != shown
    QTest.keyClick(pad, Qt.Key.Key_Delete)
    assert task.values["world"] == ""
    QTest.mouseClick(pad, Qt.MouseButton.LeftButton, pos=QPoint(70, 30))
    assert task.values["world"]
    clear = next(one for one in task.options.findChildren(QPushButton) if one.text() == "clear")
    QTest.mouseClick(clear, Qt.MouseButton.LeftButton)
    assert task.values["world"] == ""
    hand.key(Qt.Key.Key_Escape)
    assert session.trials.trial is None
    window.tasks.make("skin")
    box = window.easel.task.widgets["freckle_map"]
    assert box.itemText(0) == "no map"
    layer = session.part.layers[0]
    box.setCurrentIndex(1)
    box.activated.emit(1)
    assert window.easel.task.values["freckle_map"] == layer.uid
    hand.key(Qt.Key.Key_Escape)
    session.apply(AddPart("Eye", "eye"))
    session.work.work_on_part(session.painting.parts[-1].uid)
    window.tasks.make("eye")
    eye = window.easel.task
    hand.mouse([(100, 90), (120, 95)])
    assert (eye.values["x"], eye.values["y"]) == pytest.approx((120, 95), abs=2)
    session.hand.set_colour((0.2, 0.5, 0.3))
    QTest.mouseClick(eye.widgets["iris"], Qt.MouseButton.LeftButton)
    assert eye.values["iris"] == pytest.approx((0.2, 0.5, 0.3))


# --- guides, light, scratches -----------------------------------------------------------------------------------


def test_lines_and_the_look_against_the_light(hand, task):
    window, session = hand.window, hand.window.session
    hand.key(Qt.Key.Key_Escape)
    guides = window.easel.light_guides
    hand.key(Qt.Key.Key_T, Qt.KeyboardModifier.ShiftModifier)
    assert guides.lines_shown
    guide = guides.guide()
    assert guide.lines["terminator"]
    assert guide.lines["values"]
    plain = window.easel.grab().toImage()
    session.looking.set_look(AGAINST_LIGHT)
    QApplication.processEvents()
    assert window.easel.grab().toImage() != plain
    # The flat is too dark where the light falls, and too light where it does not.
    light = session.painting.light.direction
    lit, dark = (guides.words_at(240 + s * 75 * light[0], 180 - s * 75 * light[1]) for s in (1, -1))
    assert "too dark" in lit
    assert "too light" in dark
    assert guides.words_at(3, 3) == ""
    assert "against the light" in window.easel.foot_text()


def test_the_light_of_a_ball(hand, heard):
    window, session = hand.window, hand.window.session
    window.tasks.take_up("light from a ball")
    hand.mouse([(140, 80), (340, 280)])
    hand.mouse([(240 - 50, 180 - 50)])
    hand.key(Qt.Key.Key_Return)
    # The normal at half the radius left and up: twice its angle from the viewer.
    assert session.painting.light.right_deg == pytest.approx(np.degrees(np.arctan2(-0.7071, 0.0)), abs=4)
    assert session.painting.light.up_deg == pytest.approx(45, abs=4)
    told = heard(session.told)
    window.tasks.take_up("light from a ball")
    window.easel.task._clear()
    hand.key(Qt.Key.Key_Return)
    assert any("ring round a ball" in text for text in told)


def test_a_drag_is_a_scratch(hand):
    window, session = hand.window, hand.window.session
    session.apply(Fill(session.work.active_layer, (0.5, 0.5, 0.5)))
    window.tasks.take_up("scratch")
    hand.mouse([(100, 100), (160, 110), (220, 140)])
    assert [layer.name for layer in session.part.layers][-2:] == ["Scratches, shaded", "Scratches, lit"]
    session.undo()
    assert len(session.part.layers) == 1


def test_a_scale_that_nobody_touched_follows_the_flat(hand):
    """A coat on a dark flat came out far lighter than what it was laid on."""
    session = hand.window.session
    session.apply(SetFrisket({"shape": "oval", "x0": 120, "y0": 60, "x1": 360, "y1": 300}))
    session.apply(Fill(session.work.active_layer, (0.16, 0.12, 0.1)))
    session.apply(DropFrisket())
    assert session.part.scale == DEFAULT_SCALE
    hand.window.tasks.make("lay-in")
    hand.window.easel.leave_task()
    assert session.part.scale[2] < 25
    session.apply(SetPart(session.part.uid, {"scale": [5.0, 15.0, 30.0, 50.0, 70.0]}))
    hand.window.tasks.make("lay-in")
    hand.window.easel.leave_task()
    assert session.part.scale == (5.0, 15.0, 30.0, 50.0, 70.0)  # one that was touched stays


def test_a_cape_is_put_round_a_figures_shoulders_as_a_part_of_cloth(task, heard):
    told = heard(task.session.told)
    task.want("cape", "")
    assert "no figure" in told[-1]
    task.add_figure("Bao Tarn")
    parts = len(task.session.painting.parts)
    task.want("cape", "")
    task.session.jobs.wait()
    painting = task.session.painting
    cape = painting.maquette.pieces[-1]
    assert (cape.kind, cape.join) == ("sheet", "wear")
    fresh = next(one for one in painting.parts if one.uid == cape.part)
    assert (fresh.name, fresh.material, len(painting.parts)) == ("Cape", "cloth", parts + 1)
    assert fresh.flats[0].pixels.tiles
    task.session.undo()
    assert len(task.session.painting.parts) == parts
