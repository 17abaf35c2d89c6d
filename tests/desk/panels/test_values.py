"""Values in the real window: the rail's figures, picking up, the chooser, looks, the second look."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog

from japanner.color import lab, oklab, srgb
from japanner.desk.panels.colour_field import ColourField
from japanner.files import png
from japanner.painting.operations import Fill, SetFrisket
from japanner.painting.picture.looks import EVEN_STEPS, even_scale, look, squinted
from tests.desk.hand import RIGHT


def pump():
    for _ in range(4):
        QApplication.processEvents()


@pytest.fixture
def halves(hand):
    """A part over the left half of the canvas, much lighter than the ground."""
    session = hand.window.session
    session.apply(SetFrisket({"shape": "box", "x0": 0, "y0": 0, "x1": 240, "y1": 360}))
    session.apply(Fill(session.work.active_layer, (0.8, 0.6, 0.5)))
    hand.command("Frisket › Drop")
    return hand


# --- the rail -----------------------------------------------------------------------------------------


def test_the_rail_tells_part_from_ground_in_a_word(halves):
    window, session = halves.window, halves.window.session
    window.rail.measure()
    assert window.rail.separation.word == "clear"
    assert window.rail.separation.values > 20
    session.apply(SetFrisket({"shape": "silhouette", "part": session.work.active_part}))
    session.apply(Fill(session.work.active_layer, session.painting.ground))
    window.rail.measure()
    assert window.rail.separation.word == "lost"


def test_the_part_under_the_pointer_is_named(halves):
    halves.hover(100, 100)
    assert halves.window.rail._name == "Plain"
    halves.hover(400, 100)
    assert halves.window.rail._name == "ground"


@pytest.mark.parametrize(("name", "aim", "tone"), [("Dodge", "stops", "midtones"), ("Burn", "stops", "all"),
                                                   ("Dodge", "step", "all"), ("Burn", "step", "all")])  # fmt: skip
def test_the_rail_says_what_a_full_pass_will_do_and_it_does(halves, name, aim, tone):
    """To within half an L*, as the stroke then shows."""
    window, session = halves.window, halves.window.session
    session.hand.take_brush_named(name)
    session.hand.set_brush(aim=aim, tone=tone, strength=0.8, drives=(), size_px=40, edge=1.0, stops=0.6)
    halves.hover(100, 100)
    line = window.rail.figures()[0]
    assert line.startswith("full pass")
    assert ("next step" in line) == (aim == "step")
    before, told = (float(word.strip(",")) for word in (line.split()[2], line.split()[4]))
    assert before == pytest.approx(float(lab.lightness_from_srgb(session.picture.value_at(100, 100))), abs=0.6)
    assert told > before if name == "Dodge" else told < before
    halves.pen([(60, 100, 1.0), (100, 100, 1.0), (140, 100, 1.0)])
    after = float(lab.lightness_from_srgb(session.picture.value_at(100, 100)))
    assert after == pytest.approx(told, abs=0.8)
    # Another brush is none of it.
    session.hand.take_brush_named("Round")
    assert not window.rail.figures()[0].startswith("full pass")


# ASTM D1535 luminance factors of whole Munsell values, in percent; painters' values 0 to 10 are tenths of L* within 1.1
# (common practice).
@pytest.mark.parametrize(
    ("munsell", "luminance"),
    [
        (1, 1.1799),
        (2, 3.0481),
        (3, 6.3912),
        (4, 11.7008),
        (5, 19.2718),
        (6, 29.3012),
        (7, 41.9854),
        (8, 57.6196),
        (9, 76.6956),
    ],
)  # fmt: skip
def test_munsell_neutrals_on_the_rail(hand, munsell, luminance):
    window, session = hand.window, hand.window.session
    grey = float(srgb.encode(luminance / 100))
    session.hand.set_colour((grey, grey, grey))
    figure = float(window.rail.figures()[0].split()[2])
    assert figure == pytest.approx(10 * munsell, abs=1.6)  # the figure is rounded to whole L*
    assert figure == round(float(lab.lightness(luminance / 100)))


def test_a_scale_proposed_from_the_flat(halves):
    session = halves.window.session
    halves.command("Part › Value scale from the flat")
    own = float(lab.lightness_from_srgb((0.8, 0.6, 0.5)))
    assert session.part.scale[2] == pytest.approx(own, abs=0.5)
    halves.window.building.add_part("skin")
    halves.command("Part › Value scale from the flat")
    assert "fill it first" in halves.window.messages.message.text()


def test_dodging_and_burning_apart(halves):
    window, session = halves.window, halves.window.session
    flat = session.layer
    halves.command("Layer › Add layer › Dodge and burn apart")
    assert (session.layer.mode, session.hand.brush.name) == ("Soft Light", "Dodge")
    before = session.picture.value_at(120, 180)
    session.hand.set_brush(size_px=120.0, strength=1.0)
    halves.pen([(110, 180, 1), (130, 180, 1)])
    assert session.picture.value_at(120, 180)[0] > before[0] + 0.02
    assert session.painting.layer(flat.uid) is flat  # the paint beneath is as it was
    window.session.undo()
    assert session.picture.value_at(120, 180) == before


# --- picking up ---------------------------------------------------------------------------------------


def test_the_mean_of_an_area_and_of_a_layer(halves):
    window, session = halves.window, halves.window.session
    halves.mouse([(100, 100), (101, 100)], RIGHT)
    assert session.hand.colour == pytest.approx((0.8, 0.6, 0.5), abs=0.01)
    halves.command("Stroke › Pick up › Mean of 31 × 31 px")
    halves.mouse([(240, 100), (240, 101)], RIGHT)
    assert session.painting.ground[0] + 0.1 < session.hand.colour[0] < 0.75
    halves.command("Stroke › Pick up › From this layer")
    halves.mouse([(244, 100), (244, 101)], RIGHT)
    assert session.hand.colour == pytest.approx((0.8, 0.6, 0.5), abs=0.01)
    before = session.hand.colour
    halves.mouse([(400, 100), (401, 100)], RIGHT)
    assert session.hand.colour == before  # no paint there
    assert not window.easel._pick.shown


def test_picking_up_on_touch(halves):
    session = halves.window.session
    session.hand.take_brush_named("Round")
    session.hand.set_brush(pick_up=True)
    session.hand.set_colour((0, 0, 1))
    halves.pen([(100, 100, 1), (180, 100, 1), (300, 100, 1)])
    assert session.hand.colour == pytest.approx((0.8, 0.6, 0.5), abs=0.01)
    assert session.picture.value_at(290, 100) == pytest.approx((0.8, 0.6, 0.5), abs=0.02)


def test_dodging_to_the_next_step_by_the_window(halves):
    session = halves.window.session
    session.hand.take_brush_named("Dodge")
    session.hand.set_brush(aim="step", strength=1.0, size_px=120.0, drives=())
    scale = session.part.scale
    before = float(lab.lightness_from_srgb(session.picture.value_at(120, 180)))
    target = min(step for step in scale if step > before + 0.5)
    halves.pen([(100, 180, 1), (140, 180, 1), (100, 180, 1), (140, 180, 1)])
    assert float(lab.lightness_from_srgb(session.picture.value_at(120, 180))) == pytest.approx(target, abs=0.5)


# --- the mixing grid ----------------------------------------------------------------------------------


def test_clicking_the_grid_takes_and_sets_colours(halves):
    from japanner.desk.panels.mixing_grid import MixingGrid

    window, session = halves.window, halves.window.session
    grid = window.parts.findChild(MixingGrid)
    halves.click(grid, grid.cell(1, 3).center())
    assert session.hand.colour == pytest.approx(grid.colours()[1][3], abs=1e-6)
    assert session.hand.value == pytest.approx(session.part.scale[3], abs=0.5)
    session.hand.set_colour((0.1, 0.2, 0.7))
    QTest.mouseClick(grid, RIGHT, pos=grid.cell(0, 0).center().toPoint())
    assert grid.colours()[0][0] == pytest.approx((0.1, 0.2, 0.7))
    assert session.document.undo_words.startswith("mixed")
    QTest.mouseClick(grid, Qt.MouseButton.MiddleButton, pos=grid.cell(0, 0).center().toPoint())
    assert session.part.mixed == ()


# --- the chooser --------------------------------------------------------------------------------------


def test_the_field_chooses_hue_and_chroma_at_the_value_in_hand(hand):
    session = hand.window.session
    session.hand.set_value(60)
    field = hand.window.right.findChild(ColourField)
    hand.click(field, QPointF(field.width() * 0.1, field.height() * 0.7))
    assert session.hand.value == pytest.approx(60, abs=0.3)
    assert oklab.oklch_from_srgb(session.hand.colour)[2] == pytest.approx(36, abs=3)
    place = field.place_of(session.hand.colour)
    assert (place.x(), place.y()) == pytest.approx((field.width() * 0.1, field.height() * 0.7), abs=3)
    hand.click(field, QPointF(field.width() * 0.45, 1))  # out of the gamut: as much chroma as there is
    assert session.hand.value == pytest.approx(60, abs=0.3)


def test_the_last_colours_are_remembered(hand):
    session = hand.window.session
    session.hand.take_brush_named("Round")
    for i in range(20):
        session.hand.set_colour((i / 20, 0.5, 0.5))
        hand.pen([(100 + i, 100, 1), (110 + i, 110, 1)])
    assert len(session.hand.recent) == 16
    assert session.hand.recent[0] == (19 / 20, 0.5, 0.5)


# --- looks --------------------------------------------------------------------------------------------


@pytest.mark.parametrize("count", EVEN_STEPS)
def test_the_steps_look_of_a_ramp_has_so_many_values(count):
    ramp = np.arange(256, dtype=np.uint32)
    pixels = (np.uint32(0xFF000000) | ramp << np.uint32(16) | ramp << np.uint32(8) | ramp)[None, :]
    seen = look("steps", np.ascontiguousarray(pixels), even_scale(count))
    assert len(np.unique(seen)) == count
    widths = np.diff(np.flatnonzero(np.diff(seen[0].astype(np.int64), prepend=-1, append=-1)))
    values = lab.lightness_from_srgb(np.repeat(np.arange(256)[:, None] / 255, 3, axis=1))
    edges = values[np.cumsum(widths)[:-1]]
    assert edges == pytest.approx(np.arange(1, count) * 100 / count, abs=0.7)


def test_a_squint_mixes_light():
    pixels = np.full((40, 200), 0xFF000000, np.uint32)
    pixels[:, 100:] = 0xFFFFFFFF
    seen = squinted(pixels, 0.02)
    assert int(seen[20, 99] & 255) == pytest.approx(188, abs=22)  # half of the light is encoded as 188 of 255
    assert seen[20, 0] == 0xFF000000
    assert seen[20, 199] == 0xFFFFFFFF


def test_squinting_while_the_key_is_held(halves):
    easel = halves.window.easel
    sharp = easel.grab().toImage()
    halves.press(Qt.Key.Key_S)
    assert easel.holding == "squint"
    soft = easel.grab().toImage()
    assert soft != sharp
    halves.release(Qt.Key.Key_S)
    assert easel.grab().toImage() == sharp


def test_one_part_alone_and_outlines(halves):
    window, session = halves.window, halves.window.session
    window.building.add_part("plain")
    session.apply(Fill(session.work.active_layer, (0.1, 0.1, 0.6)))
    before = session.painting
    halves.key(Qt.Key.Key_I)
    session.work.work_on_part(session.painting.parts[0].uid)
    assert session.picture.value_at(100, 100) == pytest.approx((0.8, 0.6, 0.5), abs=0.01)
    assert "this part only" in window.easel.foot_text()
    halves.key(Qt.Key.Key_I)
    assert session.picture.value_at(100, 100) == pytest.approx((0.1, 0.1, 0.6), abs=0.01)
    assert session.painting is before
    plain = window.easel.grab().toImage()
    halves.command("Look › Outlines of parts")
    assert len(halves.window.easel._silhouettes.of(session.painting)) == 2
    assert window.easel.grab().toImage() != plain


def test_a_look_is_exported_as_it_is(halves, tmp_path, monkeypatch):
    window, session = halves.window, halves.window.session
    path = tmp_path / "values.png"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    session.looking.set_look("values")
    halves.command("Painting › Export › The look, as it is…")
    session.jobs.wait()
    pump()
    pixels = png.read(path.read_bytes(), "values").pixels
    assert np.array_equal(pixels[0], pixels[1])
    grey = pixels[0, 100, 100] / 65535
    expected = float(lab.lightness_from_srgb((0.8, 0.6, 0.5)))
    assert float(lab.lightness_from_srgb((grey, grey, grey))) == pytest.approx(expected, abs=0.6)
    assert window.session.looking.look == "values"


# --- the second look ----------------------------------------------------------------------------------


def test_the_second_look_follows_a_stroke(halves, qtbot):
    from japanner.desk.panels.second_look import SecondLook

    window = halves.window
    second = window.right.findChild(SecondLook)
    colour = second.views[0]
    before = colour.grab().toImage()
    window.session.hand.take_brush_named("Round")
    window.session.hand.set_colour((0, 0, 0))
    window.session.hand.set_brush(size_px=150.0)
    halves.pen([(60, 180, 1), (200, 180, 1)])
    qtbot.waitUntil(lambda: not colour._timer.isActive(), timeout=1000)
    assert colour.grab().toImage() != before
    values = second.views[1].grab().toImage()
    middle = values.pixelColor(values.width() // 4, values.height() // 3)
    assert middle.red() == middle.green() == middle.blue()


def test_the_second_look_in_its_own_window(halves):
    window = halves.window
    window.show_second_window()
    pump()
    assert window.second.isVisible()
    window.show_second_window()
    window.second.close()
    assert not window.second.isVisible()
