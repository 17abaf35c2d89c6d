"""Combing in the real window: strokes by the pointer, lines over the picture, and a coat along them."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from japanner.desk.tasks.comb import CROWN, PARTS, TAKES, CombTask
from japanner.painting.operations import AddLayer, DropFrisket, Fill, SetFrisket
from japanner.strand.courses import DRESSED
from japanner.strand.curls import PATTERNS


@pytest.fixture
def task(hand):
    session = hand.window.session
    session.apply(SetFrisket({"shape": "oval", "x0": 120, "y0": 60, "x1": 360, "y1": 300}))
    session.apply(Fill(session.work.active_layer, (0.5, 0.42, 0.33)))
    session.apply(DropFrisket())
    task = hand.window.tasks.take_up("comb")
    assert isinstance(task, CombTask)
    return task


def grabbed(hand):
    for _ in range(3):
        QApplication.processEvents()
    return hand.easel.grab().toImage()


def test_three_strokes_comb_a_part_and_a_coat_follows(hand, task, qtbot):
    session = hand.window.session
    hand.mouse([(220, 90), (180, 120), (150, 180)])
    hand.mouse([(260, 90), (300, 120), (330, 180)])
    task.lift.setValue(50)
    hand.mouse([(240, 150), (240, 220), (240, 280)])
    assert [guide.lift for guide in session.part.comb] == [0.2, 0.2, 0.5]
    field = hand.easel.comb_lines.field()
    dx, dy = field.directions([150.0, 330.0, 240.0], [200.0, 200.0, 250.0])
    assert dx[0] < -0.3 < 0.3 < dx[1]
    assert dy[2] > 0.95
    hand.window.tasks.make("coat")
    maker = hand.window.easel.task
    maker.wait()
    hand.key(Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: hand.easel.task is not maker, timeout=20000)
    assert [layer.name for layer in session.part.layers][-4:] == ["Mass", "Undercoat", "Coat", "Edge"]


def test_lines_show_while_combing_and_by_the_key(hand, task):
    combing = grabbed(hand)
    hand.key(Qt.Key.Key_Escape)
    bare = grabbed(hand)
    assert combing != bare
    hand.key(Qt.Key.Key_R)
    assert hand.easel.comb_lines.shown
    assert grabbed(hand) != bare
    hand.key(Qt.Key.Key_R)
    assert grabbed(hand) == bare


def test_strokes_are_mirrored_smoothed_and_taken_away(hand, task):
    session = hand.window.session
    task.both.setChecked(True)
    hand.mouse([(200, 100), (170, 150), (160, 200)])
    one, other = session.part.comb
    assert other.points[0][0] == pytest.approx(480 - one.points[0][0], abs=1.5)
    task.smooth()
    assert session.part.comb[0] != one
    task.doing.setCurrentText(TAKES)
    hand.mouse([(150, 150), (190, 150)])
    assert len(session.part.comb) == 1
    hand.key(Qt.Key.Key_Backspace)
    assert session.part.comb == ()
    session.undo()
    assert len(session.part.comb) == 1


def test_partings_and_crowns(hand, task):
    session = hand.window.session
    task.doing.setCurrentText(PARTS)
    hand.mouse([(240, 90), (240, 150), (240, 250)])
    assert len(session.part.comb) > 10
    dx, _ = hand.easel.comb_lines.field().directions([180.0, 300.0], [170.0, 170.0])
    assert dx[0] < -0.5 < 0.5 < dx[1]
    session.undo()
    task.doing.setCurrentText(CROWN)
    hand.mouse([(240, 180), (300, 180), (330, 180)])
    assert len(session.part.comb) == 10


def test_combing_needs_a_part_with_a_silhouette(hand, heard):
    session = hand.window.session
    told = heard(session.told)
    hand.window.building.add_part("fur")
    hand.window.tasks.take_up("comb")
    assert "silhouette" in told[-1]
    assert hand.easel.comb_lines.field() is None
    grabbed(hand)


def test_fur_and_whiskers_by_hand_and_a_lock_of_each_pattern(hand, task):
    session = hand.window.session
    hand.mouse([(240, 90), (240, 180), (240, 280)])
    hand.key(Qt.Key.Key_Escape)
    session.apply(AddLayer(session.work.active_part, "strands", "Fur"))
    fur = session.part.layers[-1]
    session.work.work_on_layer(fur.uid)
    session.hand.show_roll("coat")
    session.hand.take_brush_named("Double coat")
    session.hand.set_brush(size_px=60.0)
    session.hand.set_colour((0.6, 0.5, 0.4))
    for y in (120, 160, 200, 240):
        hand.pen([(170, y, 1.0), (240, y, 1.0), (310, y, 1.0)])
    cover = session.painting.layer(fur.uid).pixels.read(session.painting.rect)[3]
    assert (cover[120:240, 180:300] > 0).mean() > 0.8
    session.apply(AddLayer(session.work.active_part, "strays", "Whiskers", place="over"))
    whiskers = session.part.layers[-1]
    session.work.work_on_layer(whiskers.uid)
    session.hand.show_roll("lashes")
    session.hand.take_brush_named("Whisker")
    hand.pen([(220, 200, 1.0), (140, 210, 0.8), (60, 260, 0.3)])
    assert session.painting.layer(whiskers.uid).pixels.read(session.painting.rect)[3][:, 60:120].any()
    session.hand.show_roll("locks")
    seen = set()
    for brush in [one for one in session.hand.brushes if one.roll == "locks"]:
        session.hand.take_brush_named(brush.name)
        before = session.painting.layer(whiskers.uid).pixels
        hand.pen([(400, 40, 1.0), (410, 160, 1.0), (400, 300, 0.7)])
        assert session.painting.layer(whiskers.uid).pixels is not before
        seen.add(brush.pattern)
        session.undo()
    assert seen == {*PATTERNS, *DRESSED}


def test_a_part_keeps_fur_off(hand, task):
    session = hand.window.session
    hand.window.menus.actions["Part › Keeps fur off"].trigger()
    assert session.part.bald
    session.undo()
    assert not session.part.bald


def test_an_edge_is_broken_by_a_command(hand, task, qtbot):
    session = hand.window.session
    hand.key(Qt.Key.Key_Escape)
    before = session.painting
    hand.window.menus.actions["Part › Break the edge"].trigger()
    qtbot.waitUntil(lambda: session.painting is not before)
    edge = session.part.layers[-1]
    assert (edge.name, edge.place) == ("Edge", "body")
    assert edge.pixels.read(session.painting.rect)[3, 300:].any()
    session.undo()
    assert session.painting is before


def test_fur_follows_a_layer_by_a_command(hand, task):
    session = hand.window.session
    hand.key(Qt.Key.Key_Escape)
    density = hand.window.menus.actions["Layer › Fur follows it › In density"]
    density.trigger()
    assert session.part.density_map == session.layer.uid
    density.trigger()
    assert session.part.density_map == 0
    hand.window.menus.actions["Layer › Fur follows it › In length"].trigger()
    assert session.part.length_map == session.layer.uid
