"""A figure in the real window: begun from, posed, slid, lit, fitted to landmarks, laid as parts."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import trimesh
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QFileDialog, QListWidget, QMenu

from japanner.color.lab import lightness_from_srgb
from japanner.desk.tasks.landmarks import _in_order
from japanner.light.figure.data import figure_data
from japanner.light.figure.fit import landmarks
from japanner.light.figure.people import PEOPLE, person
from japanner.light.figure.shape import shaped
from japanner.light.figure.sliders import CHAPTERS, sliders
from japanner.light.maquette import Maquette
from japanner.light.rays.surface import seen_at
from japanner.painting.operations import AddLayer, AddPart, SetLandmarks


@pytest.fixture
def task(bench_window):
    made = bench_window.tasks.take_up("maquette")
    yield made
    made.clay.stop()


def choose(menu: QMenu, *words: str) -> None:
    """Press what a menu offers, from menu to menu."""
    first = menu
    for word in words:
        action = next(one for one in menu.actions() if one.text() == word)
        if action.menu() is None:
            action.trigger()
        else:
            menu = action.menu()
    first.close()


def opened(form) -> QMenu:
    """The menu that a button has just opened."""
    return [one for one in form.findChildren(QMenu) if one.isVisible()][-1]


def figure(session):
    return next(one for one in session.painting.maquette.pieces if one.kind == "figure")


def test_from_nothing_to_a_laid_lit_posed_likeness_in_fifteen_actions(hand, task):
    window, session, form, actions = hand.window, hand.window.session, task.form, 0
    # Begin from a figure: it is the first thing that is offered.
    form._first[0].click()
    choose(opened(form), "Ione Marrash")
    actions += 2
    assert dict(figure(session).sliders)["African"] == 1
    assert figure(session).part == session.work.active_part
    assert not form._first[0].isVisible()
    task.clay.wait()
    # Pose it by its head.
    handles = task._handles()
    hand.mouse([handles["head"], (handles["head"][0] + 40, handles["head"][1])])
    actions += 1
    assert dict(figure(session).sliders)["turn"] > 5
    # Sliders: a chapter, and one of them.
    form.chapter.setCurrentText("expression")
    form.chapter.textActivated.emit("expression")
    form.page.faders["smile"].settled.emit(60)
    actions += 2
    assert dict(figure(session).sliders)["smile"] == pytest.approx(0.6)
    # Fit it to a picture: back to it by six landmarks on the canvas.
    form.landmarks_button.click()
    marks = window.easel.task
    standing = Maquette((), (210.0, 175.0), 90.0, (20.0, 5.0, 0.0), 9.0)
    turned = dict(figure(session).sliders)["turn"]
    points, data = shaped(dict(figure(session).sliders)), figure_data()
    for name in _in_order()[:6]:
        x, y = seen_at(standing, tuple(points[data.landmarks[name]]))
        hand.mouse([(x, y), (x, y)])
    actions += 7
    marks.fit()
    marks.wait()
    actions += 1
    # The head stands as it did; that it was turned on its neck is in how it stands now.
    assert session.painting.maquette.turn == pytest.approx((20 + turned, 5, 0), abs=6)
    assert "turn" not in dict(figure(session).sliders)
    # Turn the key, lay it flat.
    window.tasks.take_up("maquette")
    handles = task._handles()
    hand.mouse(
        [handles["light"], (session.painting.maquette.middle[0] + 100, session.painting.maquette.middle[1] - 20)]
    )
    assert session.painting.light.right_deg > 20
    task.lay_flat()
    session.jobs.wait()
    actions += 2
    cover = session.layer.pixels.read(session.painting.rect)[3]
    assert (cover > 0).mean() > 0.1
    assert actions <= 15


def test_a_face_in_twenty_actions(hand, task):
    """From nothing to skin, eyes in their lids, lashes and brows, each by what a painter presses."""
    window, session, form, actions = hand.window, hand.window.session, task.form, 0
    form._first[0].click()
    choose(opened(form), "Wren Calloway")
    actions += 2
    session.hand.set_colour((0.72, 0.54, 0.45))
    actions += 1
    form.face_button.click()
    session.jobs.wait()
    actions += 1
    names = [one.name for one in session.painting.parts]
    assert {"Lips", "Eyes", "Hair"} <= set(names)
    assert "Teeth" not in names  # the mouth is shut
    uids = {one.name: one.uid for one in session.painting.parts}
    skin = figure(session).part

    def make(part, name):
        session.work.work_on_part(part)
        window.tasks.make(name)
        maker = window.easel.task
        maker.wait()
        maker.done()
        session.jobs.wait()
        return 3

    actions += make(skin, "lay-in")
    actions += make(skin, "skin")
    actions += make(uids["Lips"], "lay-in")
    session.work.work_on_part(uids["Eyes"])
    window.tasks.make("eye")
    eye = window.easel.task
    eye.wait()
    # Whose eyes they are sets what the others begin with.
    for kind, pupil in (("cat", "slit"), ("human", "round")):
        eye.widgets["kind"].setCurrentText(kind)
        eye.widgets["kind"].textActivated.emit(kind)
        assert eye.widgets["pupil"].currentText() == pupil
    # The gaze is dragged by its handle.
    x, y = eye._aimed()
    before = eye.values["gaze_right"]
    hand.mouse([(x, y), (x + 12, y)])
    assert eye.values["gaze_right"] > before + 3
    eye.wait()
    eye.done()
    session.jobs.wait()
    actions += 4
    actions += make(uids["Hair"], "lashes and brows")
    assert actions <= 20
    # Edges are lost and found by hand: along the contours alone.
    session.work.work_on_part(skin)
    flat = next(one for one in session.part.layers if one.role == "flat")
    session.work.work_on_layer(flat.uid)
    session.hand.show_roll("blend")
    for brush in ("Lose an edge", "Find an edge"):
        session.hand.take_brush_named(brush)
        before = session.painting.layer(flat.uid).pixels
        hand.mouse([(190, 120), (200, 160), (205, 200)])
        assert session.painting.layer(flat.uid).pixels is not before, brush
    made = {one.name for part in session.painting.parts for one in part.layers if one.made}
    assert {"Zones", "Pores", "White", "Iris", "Pupil", "Lashes", "Brows"} <= made


def test_the_mouth_is_laid_when_it_is_open_and_teeth_are_never_white(hand, task):
    session = hand.window.session
    task.form.want("figure", "Wren Calloway")
    task.slide("mouth open", 0.6, stays=True)
    task.lay_face()
    session.jobs.wait()
    parts = {one.name: one for one in session.painting.parts}
    assert {"Mouth", "Teeth"} <= set(parts)
    order = [one.name for one in session.painting.parts]
    assert order.index("Mouth") < order.index("Teeth") < order.index("Lips")
    flat = parts["Teeth"].flats[0].pixels.read(session.painting.rect)
    assert (flat[3] > 32768).sum() > 10
    colour = flat[:3, flat[3] > 65000].astype(float).mean(axis=1) / 65535
    assert float(lightness_from_srgb(colour)) < 70


def test_only_a_figure_has_a_face(hand, task, heard):
    told = heard(task.session.told)
    task.add("ball")
    task.lay_face()
    task.session.jobs.wait()
    assert "Only a figure has a face" in told[-1]


def test_every_person_can_be_begun_from_and_is_in_hand(task):
    for name in PEOPLE:
        task.form.want("figure", name)
        assert task.piece is not None
        assert task.piece.name == name
        assert dict(task.piece.sliders) == person(name)
        task.take_away()
    task.form.want("figure", "")
    first = dict(task.piece.sliders)
    task.form.want("figure", "")
    assert dict(task.piece.sliders) != first
    assert "figure 2" in task.piece.name.lower()


def test_every_slider_is_there_and_moves_the_figure(task):
    task.form.want("figure", "Tobit Wrenfold")
    form, seen = task.form, set()
    for chapter in CHAPTERS:
        form.chapter.setCurrentText(chapter)
        form.chapter.textActivated.emit(chapter)
        few = set(form.page.faders)
        form.seldom.setChecked(True)
        seen |= set(form.page.faders)
        assert few <= set(form.page.faders)
        form.seldom.setChecked(False)
    assert seen == set(sliders())
    form.chapter.setCurrentText("nose")
    form.chapter.textActivated.emit("nose")
    fader, before = form.page.faders["hump"], dict(task.piece.sliders)
    fader.moved.emit(-40)
    assert dict(task.maquette.pieces[0].sliders)["hump"] == -0.4
    assert dict(task.session.painting.maquette.pieces[0].sliders) == before  # only looked at so far
    fader.settled.emit(-50)
    assert dict(task.session.painting.maquette.pieces[0].sliders)["hump"] == -0.5
    task.session.undo()
    assert dict(task.piece.sliders) == before
    assert form.page.faders["hump"].value == pytest.approx(before["hump"] * 100)


def test_zones_become_parts_and_are_laid(hand, task):
    session = hand.window.session
    task.form.want("figure", "Ione Marrash")
    skin = session.work.active_part
    session.apply(AddPart("Lips", "skin"))
    lips = session.painting.parts[-1].uid
    session.apply(AddLayer(lips, "flat"))
    session.work.work_on_layer(session.painting.parts[-1].layers[-1].uid)
    task.take(0)
    task.form.zones_button.click()
    choose(opened(task.form), "lips", "Lips")
    assert figure(session).parts == (("lips", lips),)
    task.lay_flat()
    session.jobs.wait()
    rows, columns = np.nonzero(session.layer.pixels.read(session.painting.rect)[3] > 32768)
    mouth = seen_at(task.maquette, tuple(shaped(dict(figure(session).sliders))[figure_data().landmarks["mouth"]]))
    assert (columns.mean(), rows.mean()) == pytest.approx(mouth, abs=6)
    assert session.painting.part(skin).name != "Lips"


def test_landmarks_belong_to_the_reference_over_the_canvas(hand, task, heard):
    window, session = hand.window, hand.window.session
    marks = window.tasks.take_up("landmarks")
    told = heard(session.told)
    marks.fit()
    marks.wait()
    assert "6 or more" in told[-1]
    hand.mouse([(100, 100), (100, 100)])
    assert session.painting.landmarks_on().as_places() == {"nose tip": (100.0, 100.0)}
    # Dragged, undone, taken away.
    hand.mouse([(100, 100), (130, 90)])
    assert session.painting.landmarks_on().as_places()["nose tip"] == pytest.approx((130, 90), abs=1)
    session.undo()
    assert session.painting.landmarks_on().as_places()["nose tip"] == pytest.approx((100, 100), abs=1)
    marks._next.setCurrentText("nose tip")
    hand.key(Qt.Key.Key_Backspace)
    assert session.painting.landmarks == ()
    # On a picture they keep to the picture.
    over = window.easel.over
    over.lay(QImage(200, 100, QImage.Format.Format_RGB32), "Model", session.painting.width, session.painting.height)
    marks._go_on()
    at = over.laid.to_canvas().map(QPointF(-40.0, 10.0))
    hand.mouse([(at.x(), at.y()), (at.x(), at.y())])
    assert session.painting.landmarks_on("Model").as_places()["nose tip"] == pytest.approx((60, 60), abs=1)
    over.change(x=over.laid.x + 25)
    assert marks.on_canvas()["nose tip"][0] == pytest.approx(at.x() + 25, abs=1)
    marks.clear()
    assert session.painting.landmarks == ()
    over.take_off()


def test_landmarks_of_a_figure_and_of_an_own_name(hand, task, monkeypatch):
    window, session = hand.window, hand.window.session
    marks = window.tasks.take_up("landmarks")
    marks.preset.setCurrentText("a figure")
    marks.preset.textActivated.emit("a figure")
    assert marks._next.currentText() == "crown"
    hand.mouse([(100, 50)])
    assert marks._next.currentText() == "chin", "the next one is asked for"
    monkeypatch.setattr("japanner.desk.tasks.landmarks.ask_for_name", lambda *_: "tip of the hat")
    marks._next.setCurrentText("own name…")
    marks._next.textActivated.emit("own name…")
    hand.mouse([(200, 60)])
    assert session.painting.landmarks_on().as_places() == {
        "crown": pytest.approx((100, 50), abs=1), "tip of the hat": pytest.approx((200, 60), abs=1),
    }  # fmt: skip
    hand.easel.leave_task()
    window.tasks._made.clear()
    again = window.tasks.take_up("landmarks")
    assert again._next.findText("tip of the hat") >= 0
    told = []
    session.told.connect(told.append)
    again.fit()
    again.wait()
    assert "expected" in told[-1] or "landmark" in told[-1].lower(), "own names say nothing of how a head stands"
    session.told.disconnect(told.append)


def test_a_likeness_from_many_landmarks(hand, task, heard):
    window, session = hand.window, hand.window.session
    marks = window.tasks.take_up("landmarks")
    who = person("Hesper Doon")
    standing = Maquette((), (200.0, 160.0), 85.0, (-18.0, 3.0, 2.0), 8.0)
    points, data = shaped(who), figure_data()
    places = []
    for name in _in_order()[:40]:
        x, y = seen_at(standing, tuple(points[data.landmarks[name]]))
        places.append((name, round(x, 2), round(y, 2)))
    session.apply(SetLandmarks("", tuple(places)))
    assert session.painting.maquette == Maquette()
    told = heard(session.told)
    marks.fit()
    marks.wait()
    assert "whose it is from 40 landmarks" in told[-1]
    assert session.painting.maquette.turn == pytest.approx((-18, 3, 2), abs=2.5)
    assert marks.fitted.rms < 1
    window.easel.grab()  # lines and words are drawn
    assert marks._lines


def test_a_mesh_from_a_file_becomes_a_form(task, tmp_path, monkeypatch, heard):
    path = tmp_path / "hull.ply"
    trimesh.creation.box((3.0, 1.0, 2.0)).export(path)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, **__: (str(path), ""))
    task.form.open_file(path)
    assert task.piece is not None
    assert (task.piece.kind, task.piece.name) == ("mesh", "hull")
    told = heard(task.session.told)
    bad = tmp_path / "bad.stl"
    bad.write_bytes(b"nothing")
    task.form.open_file(bad)
    assert "bad.stl" in told[-1]
    # The whole is kept as one file, mesh included.
    record = task.session.painting.maquette.to_record()
    assert Maquette.from_record(record) == task.session.painting.maquette
    assert replace(task.piece, name="x").mesh == record["pieces"][0]["mesh"]


def test_every_state_has_a_picture_to_come_back_to(hand, task):
    session = hand.window.session
    task.form.want("figure", "Sora Venn")
    task.clay.wait()
    first = session.painting.maquette
    task.change_whole(turn=(40.0, 0.0, 0.0))
    task.clay.wait()
    assert [one for one, _ in task.states.kept][:2] == [session.painting.maquette, first]
    assert not task.states.kept[0][1].isNull()
    task.form.states_button.click()
    menu = opened(task.form)
    pictures = menu.findChild(QListWidget)
    assert pictures.count() == len(task.states.kept)
    pictures.itemClicked.emit(pictures.item(1))
    assert session.painting.maquette == first
    session.undo()
    assert session.painting.maquette.turn[0] == 40


def test_a_landmark_is_pulled_by_hand(hand, task):
    session = hand.window.session
    task.form.want("figure", "Tobit Wrenfold")
    before = figure(session)
    task.form.doing.setCurrentText("pull")
    task.form.doing.textActivated.emit("pull")
    number = landmarks().index("nose tip")
    x, y = task._handles()[f"point {number}"]
    others = {name: task._handles()[f"point {landmarks().index(name)}"] for name in ("crown", "left lobe")}
    hand.mouse([(x, y), (x, y + 6)])
    after = task._handles()
    assert figure(session) != before
    assert after[f"point {number}"][1] - y == pytest.approx(6, abs=3)
    for name, place in others.items():
        assert after[f"point {landmarks().index(name)}"] == pytest.approx(place, abs=2)
    assert session.undo() is not False
    assert figure(session) == before
