"""Panels show the truth and change it: move the model and look at the widget, and back."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractSpinBox,
    QApplication,
    QCheckBox,
    QComboBox,
    QInputDialog,
    QLineEdit,
    QMessageBox,
    QPushButton,
    QWidget,
)

from japanner.color import lab
from japanner.color.srgb import srgb_from_hex
from japanner.desk.brushes.pen_panel import PenPanel
from japanner.desk.panels.build_strip import _Tile
from japanner.desk.panels.light_ball import LightBall, LightPanel, angles_from_ball, ball_from_angles
from japanner.desk.panels.mixing_grid import MixingGrid
from japanner.desk.panels.parts import _Card
from japanner.desk.theme import THEMES
from japanner.desk.widgets.fader import Fader
from japanner.painting.model import Light
from japanner.painting.operations import SetLayer, SetLight
from japanner.painting.picture.lighting import LIGHTS
from tests.desk import ball

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def window(bench_window):
    for role in ("shadow", "light"):
        bench_window.building.add_layer(role)
    QApplication.processEvents()
    return bench_window


def tiles(window):
    return sorted(window.build._tiles.findChildren(_Tile), key=lambda tile: tile.x())


def cards(window):
    return sorted(window.parts._cards.findChildren(_Card), key=lambda card: card.y())


def drag(widget, start, end):
    QTest.mousePress(widget, LEFT, pos=start)
    QTest.mouseMove(widget, end)
    QTest.mouseRelease(widget, LEFT, pos=end)
    QApplication.processEvents()


# --- build ----------------------------------------------------------------------------------------------


def test_the_build_has_a_tile_per_layer_in_order(window):
    assert [tile.uid for tile in tiles(window)] == [layer.uid for layer in window.session.part.layers]
    assert window.build._title.text() == "BUILD — Plain, first to last"


def test_clicking_a_tile_works_on_its_layer_and_dragging_reorders(window):
    first, second, third = (tile.uid for tile in tiles(window))
    QTest.mouseClick(tiles(window)[0], LEFT, pos=QPoint(80, 20))
    assert window.session.work.active_layer == first
    QApplication.processEvents()
    drag(tiles(window)[0], QPoint(30, 30), QPoint(30 + 144 * 2, 30))
    assert [layer.uid for layer in window.session.part.layers] == [second, third, first]
    window.session.undo()
    assert [layer.uid for layer in window.session.part.layers] == [first, second, third]


def test_a_tile_stays_itself_while_it_is_dragged(window):
    """A tile made anew under the pointer would never hear that the button was let go."""
    before = tiles(window)
    QTest.mousePress(before[0], LEFT, pos=QPoint(80, 20))
    assert tiles(window) == before
    assert before[0].isVisible()
    QTest.mouseRelease(before[0], LEFT, pos=QPoint(80, 20))
    window.session.apply(SetLayer(before[0].uid, {"name": "Another", "strength": 0.5}))
    assert tiles(window) == before
    assert before[0].accessibleName() == "Layer Another"


def test_the_lamp_shows_and_hides(window):
    tile = tiles(window)[1]
    QTest.mouseClick(tile, LEFT, pos=tile.lamp().toPoint())
    assert not window.session.painting.layer(tile.uid).shown
    QApplication.processEvents()
    tile = tiles(window)[1]
    QTest.mouseClick(tile, LEFT, pos=tile.lamp().toPoint())
    assert window.session.painting.layer(tile.uid).shown


def test_mode_strength_and_place_of_the_layer_worked_on(window):
    build, session = window.build, window.session
    build._mode.setCurrentText("Screen")
    build._mode.activated.emit(build._mode.currentIndex())
    assert session.layer.mode == "Screen"
    build._place.setCurrentIndex(build._place.findData("over"))
    build._place.activated.emit(build._place.currentIndex())
    assert session.layer.place == "over"
    count = len(session.document.records)
    track = build._strength._track()
    drag(build._strength, track.center().toPoint(), QPoint(int(track.left() + track.width() * 0.25), 9))
    assert session.layer.strength == pytest.approx(0.25, abs=0.02)
    assert len(session.document.records) == count + 1  # a drag is one operation
    session.apply(SetLayer(session.work.active_layer, {"strength": 0.8, "mode": "Color Burn"}))
    assert build._strength.value == pytest.approx(80)
    assert build._mode.currentText() == "Color Burn"


def test_renaming_duplicating_and_deleting(window, monkeypatch):
    session = window.session
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("First glaze", True))
    tile = tiles(window)[1]
    QTest.mouseDClick(tile, LEFT, pos=QPoint(80, 20))
    assert session.painting.layer(tile.uid).name == "First glaze"
    window.menus.actions["Layer › Duplicate layer"].trigger()
    assert len(session.part.layers) == 4
    window.menus.actions["Layer › Delete layer"].trigger()
    assert len(session.part.layers) == 3
    for _ in range(3):
        window.menus.actions["Layer › Delete layer"].trigger()
    assert session.part.layers == ()
    assert session.layer is None
    assert not window.build._mode.isVisible()


def test_a_name_that_cannot_be_is_said(window, monkeypatch):
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("x" * 99, True))
    window.building.rename_layer(window.session.work.active_layer)
    assert "name: expected 1 to 80 printable characters" in window.messages.message.text()


def test_the_ghost_tile_goes_through_the_working_order(window):
    while ghosts := [b for b in window.build.findChildren(QPushButton) if b.text().endswith("next in order")]:
        ghosts[0].click()
        QApplication.processEvents()
    assert {layer.role for layer in window.session.part.layers} == {
        "flat", "shadow", "accent", "bounce", "light", "highlight",
    }  # fmt: skip
    assert window.session.part.layers[1].mode == "Multiply"


# --- parts ----------------------------------------------------------------------------------------------


def test_parts_are_added_shown_reordered_and_deleted(window, monkeypatch):
    session = window.session
    window.building.add_part("fur")
    QApplication.processEvents()
    assert [card.uid for card in cards(window)] == [part.uid for part in session.painting.parts]
    assert session.part.material == "fur"
    assert session.layer.role == "flat"
    back = cards(window)[0]
    QTest.mouseClick(back, LEFT, pos=QPoint(90, 15))
    assert session.work.active_part == back.uid
    drag(back, QPoint(60, 20), QPoint(60, 20 + 48))
    assert [part.uid for part in session.painting.parts][-1] == back.uid
    QTest.mouseClick(cards(window)[0], LEFT, pos=cards(window)[0].lamp().toPoint())
    assert not session.painting.parts[0].shown
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("Otter", True))
    QTest.mouseDClick(cards(window)[0], LEFT, pos=QPoint(90, 15))
    assert session.painting.parts[0].name == "Otter"
    window.menus.actions["Part › Material › Hair"].trigger()
    window.menus.actions["Part › Delete part"].trigger()
    assert len(session.painting.parts) == 1


def test_value_steps_can_be_clicked(window):
    grid = window.findChild(MixingGrid)
    QTest.mouseClick(grid, LEFT, pos=grid.cell(0, 3).center().toPoint())
    assert window.session.hand.value == pytest.approx(68, abs=0.05)


# --- value rail -----------------------------------------------------------------------------------------


@pytest.mark.parametrize("value", [0, 12.5, 50, 87, 100])
def test_clicking_the_ramp_sets_the_value(window, value):
    rail = window.rail
    QTest.mouseClick(rail, LEFT, pos=QPointF(rail.x_of(value), rail._ramp().top() + 4).toPoint())
    assert window.session.hand.value == pytest.approx(value, abs=0.15)


def test_the_ramp_is_a_true_neutral_ramp(window):
    """Each grey on screen has the L* of its place, CIE 15 with IEC 61966-2-1."""
    window.session.hand.set_value(0)
    image = window.rail.grab().toImage()
    y = int(window.rail._ramp().top() + 12)
    for value in (20, 38, 58, 78, 95):
        colour = image.pixelColor(round(window.rail.x_of(value)), y)
        assert colour.red() == colour.green() == colour.blue()
        assert float(lab.lightness_from_srgb(colour.getRgbF()[:3])) == pytest.approx(value, abs=0.4)


def test_the_steps_can_be_dragged_and_stay_in_order(window):
    rail, session = window.rail, window.session
    y = int(rail._ramp().bottom() + 2)
    drag(rail, QPoint(round(rail.x_of(48)), y), QPoint(round(rail.x_of(55)), y))
    assert session.part.scale[2] == pytest.approx(55, abs=0.2)
    drag(rail, QPoint(round(rail.x_of(55)), y), QPoint(round(rail.x_of(99)), y))
    assert session.part.scale[2] == pytest.approx(67, abs=0.1)  # one below the next step
    session.undo()
    assert session.part.scale[2] == pytest.approx(55, abs=0.2)


def test_the_rail_shows_what_is_under_the_pointer_and_the_histograms(window, hand):
    ball.take(window, "Round")
    window.session.work.work_on_layer(window.session.part.layers[0].uid)
    window.session.hand.set_brush(size_px=120)
    ball.set_value(window, 70)
    hand.pen([(240, 180), (250, 180)])
    hand.hover(245, 180)
    assert float(lab.lightness_from_srgb(window.rail._under)) == pytest.approx(70, abs=0.5)
    window.rail.measure()
    assert window.rail.histograms.part.argmax() == 70
    assert window.rail.histograms.ground.argmax() == round(
        float(lab.lightness_from_srgb(window.session.painting.ground))
    )
    hand.easel.leaveEvent(None)
    assert window.rail._under is None


# --- light, stroke, colour ------------------------------------------------------------------------------


def test_the_light_ball_stores_the_direction(window):
    light_ball = window.findChild(LightBall)
    disc = light_ball._disc()
    at = QPoint(round(disc.center().x() + disc.width() * 0.25), round(disc.center().y() - disc.height() * 0.25))
    drag(light_ball, disc.center().toPoint(), at)
    light = window.session.painting.light
    x, y, z = light.direction
    assert (x, y) == pytest.approx((0.5, 0.5), abs=0.03)
    assert z > 0
    assert window.session.document.undo_words == "light"
    QTest.keyClick(light_ball, Qt.Key.Key_Up)
    assert window.session.painting.light.up_deg == pytest.approx(light.up_deg + 5)
    window.session.apply(SetLight(10, 20))
    assert light_ball._angles() == (10, 20)


def test_lights_to_begin_from_and_their_numbers(window):
    session, panel = window.session, window.findChild(LightPanel)
    assert not panel._faders["sky"].isVisible()
    panel.more.click()
    assert panel._faders["sky"].isVisible()
    panel._begin.box.textActivated.emit("window")
    assert session.painting.light == LIGHTS["window"]
    assert panel._faders["size_deg"].value == pytest.approx(28)
    assert panel._faders["sky"].value == pytest.approx(12)
    panel._faders["rim"].settled.emit(40.0)
    assert session.painting.light == replace(LIGHTS["window"], rim=0.4)
    assert panel._begin.box.currentIndex() == -1
    # Turning the ball leaves the rest of the light as it is.
    QTest.keyClick(window.findChild(LightBall), Qt.Key.Key_Right)
    assert session.painting.light == replace(LIGHTS["window"], rim=0.4, right_deg=-53.0)
    session.undo()
    session.undo()
    assert panel._begin.box.currentText() == "window"


def test_the_ball_is_of_the_parts_material(window):
    light_ball = window.findChild(LightBall)
    seen = {}
    for material in ("plain", "metal", "skin"):
        window.building.add_part(material)
        seen[material] = light_ball._ball(48.0, -40.0)
    assert len({image.pixel(100, 40) for image in seen.values()}) == 3


@pytest.mark.parametrize("angles", [(0, 0), (48, -40), (-30, 70), (85, 10)])
def test_ball_and_angles_are_inverse(angles):
    x, y = ball_from_angles(Light(*angles).direction)
    assert angles_from_ball(x, y) == pytest.approx(angles, abs=1e-9)


def test_stroke_settings_follow_the_brush_and_change_it(window):
    session = window.session
    faders = {fader.accessibleName(): fader for fader in window.right.findChildren(Fader)}
    ball.take(window, "Smudge")
    assert faders["strength"].value == pytest.approx(session.hand.brush.strength * 100)
    assert faders["carries" if "carries" in faders else "carry"].isVisible()
    assert not faders["exposure"].isVisible()
    ball.take(window, "Dodge")
    assert faders["exposure"].isVisible()
    fader = faders["size"]
    fader.setFocus()
    QTest.keyClick(fader, Qt.Key.Key_Return)
    QTest.keyClicks(fader._field, "123")
    QTest.keyClick(fader._field, Qt.Key.Key_Return)
    assert session.hand.brush.size_px == pytest.approx(123)
    before = session.hand.brush.size_px
    QTest.keyClick(fader, Qt.Key.Key_Right)
    assert session.hand.brush.size_px > before


def test_the_pen_drives_what_the_faders_say(window):
    session = window.session
    faders = {fader.accessibleName(): fader for fader in window.right.findChildren(Fader)}
    ball.take(window, "Round")
    before = session.hand.brush.drive("size")
    assert faders["size by pen"].value == pytest.approx(before.amount * 100)
    faders["size by pen"].moved.emit(25.0)
    assert session.hand.brush.drive("size").amount == pytest.approx(0.25)
    assert session.hand.brush.drive("size").gamma == before.gamma


def test_the_practice_pen_can_be_set(window, hand):
    session = window.session
    faders = {fader.accessibleName(): fader for fader in window.right.findChildren(Fader)}
    faders["at most"].moved.emit(35.0)
    ball.take(window, "Round")
    hand.mouse([(100, 100), (150, 100)])
    assert {sample[2] for sample in session.document.records[-1]["samples"]} == {0.35}
    window.menus.actions["Stroke › Practice pen › Pressure from speed"].trigger()
    assert window.findChild(PenPanel)._source.box.currentText() == "speed"


def test_colour_faders_keep_value_first(window):
    session = window.session
    faders = {fader.accessibleName(): fader for fader in window.right.findChildren(Fader)}
    session.hand.set_colour(srgb_from_hex("#a07050"))
    value = session.hand.value
    faders["hue"].setFocus()
    QTest.keyClick(faders["hue"], Qt.Key.Key_Right)
    assert session.hand.value == pytest.approx(value, abs=0.05)
    assert session.hand.colour != srgb_from_hex("#a07050")


# --- what holds for all controls ------------------------------------------------------------------------


def controls(window):
    kinds = (QPushButton, QComboBox, QCheckBox, Fader, _Tile, _Card, QLineEdit, QAbstractSpinBox)
    inner = (QAbstractSpinBox, Fader, QComboBox)
    for widget in window.findChildren(QWidget):
        if isinstance(widget, kinds) and not isinstance(widget.parent(), inner):
            yield widget


def test_every_control_has_a_tooltip_and_can_be_reached_by_keyboard(window):
    for widget in controls(window):
        name = f"{type(widget).__name__} {widget.accessibleName() or getattr(widget, 'text', str)()}"
        assert widget.toolTip() or widget.objectName() == "link", name
        assert widget.focusPolicy() & Qt.FocusPolicy.TabFocus, name


def test_every_command_says_what_it_does(window):
    for text, action in window.menus.actions.items():
        assert action.toolTip(), text


# WCAG 2.1, contrast of text: (L1 + .05) / (L2 + .05) of relative luminances, at least 4.5.
@pytest.mark.parametrize("name", THEMES)
@pytest.mark.parametrize("ink", ["text", "quiet", "gold", "warning"])
@pytest.mark.parametrize("paper", ["lacquer", "panel", "tile", "active"])
def test_text_contrast(name, ink, paper):
    from japanner.color.srgb import decode, luminance

    one, two = (float(luminance(decode(srgb_from_hex(THEMES[name][key])))) for key in (ink, paper))
    assert (max(one, two) + 0.05) / (min(one, two) + 0.05) >= 4.5


def test_both_themes_can_be_worn(window, qtbot):
    for name in ("Plaster", "Lacquer"):
        window.menus.actions[f"Look › Theme › {name}"].trigger()
        panel = window.grab().toImage().pixelColor(6, 200)
        expected = srgb_from_hex(THEMES[name]["panel"])
        assert panel.getRgbF()[:3] == pytest.approx(expected, abs=0.01)
        # Dialogs too: their text has the theme's colour, so their ground must have it as well.
        for dialog in (QMessageBox(window), QInputDialog(window)):
            dialog.show()
            assert dialog.grab().toImage().pixelColor(2, 2).getRgbF()[:3] == pytest.approx(expected, abs=0.01)
            dialog.close()
