"""Where strokes go, what is offered when they can go nowhere, and which brush comes with a layer."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from japanner.color.lab import lightness_from_srgb
from japanner.desk.panels.mixing_grid import MixingGrid
from japanner.painting.live.landing import landing
from japanner.painting.model import MATERIALS
from japanner.painting.operations import AddLayer, DropFrisket, Fill, SetFrisket, SetLayer
from japanner.painting.working_order import working_order
from japanner.stroke.brush.shipped import shipped_brush, shipped_brushes

OUTSIDE = [(30, 30), (60, 60)]


@pytest.fixture
def session(hand):
    """A part with a flat in its middle, a body layer in hand."""
    session = hand.window.session
    session.apply(SetFrisket({"shape": "box", "x0": 200, "y0": 140, "x1": 280, "y1": 220}))
    session.apply(Fill(session.work.active_layer, (0.5, 0.4, 0.3)))
    session.apply(DropFrisket())
    session.apply(AddLayer(session.work.active_part, "light"))
    session.work.work_on_layer(session.part.layers[-1].uid)
    session.hand.set_brush(size_px=20.0)
    return session


def offered(hand):
    bar = hand.window.messages.bar
    assert bar.isVisible()
    assert not bar.offer.isHidden()
    words = bar.offer.text()
    QTest.mouseClick(bar.offer, Qt.MouseButton.LeftButton)
    return words


# --- over the silhouette ------------------------------------------------------------------------------------


def test_whiskers_go_on_a_layer_over_and_the_foot_says_so_first(hand, session):
    held = session.work.active_layer
    session.hand.take_brush_named("Whisker")
    assert "Over: Plain · a new layer of detail" in hand.easel.foot_text()
    assert "new layer, over" in hand.window.roll.hand._lands.toolTip()
    hand.pen([(240, 180, 1), (60, 60, 0.5)])
    over = session.part.layers[-1]
    assert (over.place, over.role) == ("over", "detail")
    assert over.pixels.read(session.painting.rect)[3][:, 60:120].any()
    assert session.work.active_layer == held  # the layer in hand stays there
    count = len(session.part.layers)
    assert "Over: Plain · Detail" in hand.easel.foot_text()
    hand.pen([(240, 180, 1), (400, 60, 0.5)])  # found this time
    assert len(session.part.layers) == count
    session.undo()
    session.undo()
    session.undo()
    assert len(session.part.layers) == count - 1


def test_a_brush_for_the_inside_stays_there(session):
    place = landing(session.painting, session.work.active_layer, shipped_brush("Mop"))
    assert place.layer == session.work.active_layer


def test_all_that_reaches_beyond_is_marked():
    """Common practice: lashes, brows, whiskers, strays and edge coils lie over the outline."""
    over = {brush.name for brush in shipped_brushes() if brush.over}
    assert {"Upper lashes", "Brow", "Whisker", "Loose stray", "Stray hair", "Edge coils", "Loose tips"} <= over
    assert {brush.name for brush in shipped_brushes() if brush.roll == "lashes"} <= over
    assert not {"Mop", "Double coat", "Flat lock"} & over


# --- nothing is silent --------------------------------------------------------------------------------------


def test_a_stroke_outside_the_silhouette_says_so_and_offers_a_layer_over(hand, session):
    session.hand.take_brush_named("Round")
    session.hand.set_brush(size_px=20.0)
    count = len(session.document.records)
    hand.pen(OUTSIDE)
    assert len(session.document.records) == count + 1
    assert "outside the silhouette of Plain" in hand.window.messages.message.text()
    assert offered(hand) == "Paint on a layer over"
    assert session.layer.place == "over"
    hand.pen(OUTSIDE)
    assert session.layer.pixels.tiles


def test_a_shade_over_the_hairs_of_an_edge_shows(hand, session):
    hand.window.building.add_layer("edge")
    session.hand.take_brush_named("Loose stray")
    hand.pen(OUTSIDE)
    assert session.layer.role == "edge"
    assert session.layer.pixels.tiles
    hand.window.building.add_layer("shadow")
    session.hand.take_brush_named("Round")
    count = len(session.document.records)
    hand.pen(OUTSIDE)
    assert len(session.document.records) == count + 1
    assert "outside the silhouette" not in hand.window.messages.message.text()


def test_a_hidden_layer_is_shown_by_one_press(hand, session):
    session.apply(SetLayer(session.work.active_layer, {"shown": False}))
    hand.pen([(240, 180)])
    assert offered(hand).startswith("Show Light")
    assert session.layer.shown


def test_an_empty_layer_and_a_brush_that_changes_paint(hand, session):
    session.hand.take_brush_named("Burn")
    hand.pen([(240, 180)])
    assert offered(hand).startswith("Take up ")
    assert session.hand.brush.does.lays
    hand.pen([(240, 180)])
    assert session.layer.pixels.tiles


def test_a_frisket_that_keeps_a_stroke_off_is_taken_off(hand, session):
    session.apply(SetFrisket({"shape": "box", "x0": 300, "y0": 60, "x1": 340, "y1": 100}))
    session.hand.take_brush_named("Round")
    session.hand.set_brush(size_px=10.0)
    count = len(session.document.records)
    hand.pen([(240, 180), (250, 180)])
    assert len(session.document.records) == count  # not a code has changed
    assert offered(hand) == "Take the frisket off"
    assert session.painting.frisket is None


def test_without_a_part_a_drawing_is_begun(hand):
    session = hand.window.session
    session.undo()
    session.undo()
    assert session.part is None
    hand.pen([(100, 100), (200, 200)])
    assert offered(hand) == "Begin a drawing"
    assert (session.part.material, session.layer.role) == ("drawing", "sketch")
    hand.pen([(100, 100), (200, 200)])
    assert session.layer.pixels.tiles


# --- brushes with layers --------------------------------------------------------------------------------------


@pytest.mark.parametrize(("material", "role", "roll"), [
    ("fur", "strands", "coat"), ("hair", "strands", "locks"), ("hair", "strays", "hair"), ("skin", "detail", "skin"),
    ("eye", "highlight", "eye"), ("metal", "highlight", "metal"), ("glass", "highlight", "glass"),
    ("cloth", "texture", "cloth"),
])  # fmt: skip
def test_the_next_role_brings_a_brush_of_its_material(hand, material, role, roll):
    session, building = hand.window.session, hand.window.building
    building.add_part(material)
    held = session.hand.brush
    building.add_layer(role)
    assert session.hand.brush.roll == roll
    assert session.hand.roll == roll
    hand.key(Qt.Key.Key_Q)
    assert session.hand.brush is held


def test_any_role_of_no_order_leaves_the_brush(hand):
    session, building = hand.window.session, hand.window.building
    building.add_part("plain")
    session.hand.take_brush_named("Charcoal stick")
    building.add_layer("glow")
    assert session.hand.brush.name == "Charcoal stick"


def test_every_brush_of_the_orders_exists_and_finds_what_it_needs():
    for material in MATERIALS:
        for stage in working_order(material):
            assert not shipped_brush(stage.brush).changes_paint or stage.neutral, (material, stage)


# --- sizes --------------------------------------------------------------------------------------------------------


def test_shipped_sizes_fit_the_canvas_and_own_ones_stay(hand):
    from japanner.painting.document.document import new_document

    session = hand.window.session
    shipped = shipped_brush("Round").size_px
    session.open_document(new_document(4000, 2000))
    session.hand.take_brush_named("Round")
    assert session.hand.brush.size_px == pytest.approx(2 * shipped)
    session.hand.set_brush(size_px=33.0)
    session.open_document(new_document(1000, 800))
    session.hand.take_brush_named("Mop")
    assert session.hand.brush.size_px == pytest.approx(shipped_brush("Mop").size_px / 2)
    session.hand.take_brush_named("Round")
    assert session.hand.brush.size_px == 33.0


def test_a_flat_that_grows_is_said_once(hand, session):
    session.work.work_on_layer(session.part.flats[0].uid)
    session.hand.take_brush_named("Round")
    session.hand.set_brush(size_px=20.0)
    hand.pen([(240, 180), (250, 180)])
    assert "grown" not in hand.window.messages.message.text()
    hand.pen(OUTSIDE)
    assert "The silhouette of Plain has grown" in hand.window.messages.message.text()


# --- values through modes -----------------------------------------------------------------------------------------


def light_at(session, x, y):
    return float(lightness_from_srgb(session.picture.value_at(x, y)))


def test_a_step_through_multiply_is_what_shows(hand, session):
    building = hand.window.building
    building.add_layer("shadow")
    assert session.layer.mode == "Multiply"
    session.hand.take_brush_named("Round")
    session.hand.set_brush(size_px=60.0, strength=1.0)
    hand.key(Qt.Key.Key_2)
    step = session.part.scale[1]
    assert session.aiming.value == pytest.approx(step, abs=0.5)
    assert session.hand.value > step + 5  # the colour itself is lighter
    hand.pen([(235, 180, 1), (250, 180, 1)])
    assert light_at(session, 243, 180) == pytest.approx(step, abs=1.2)
    figures = hand.window.rail.figures()
    assert figures[0].startswith(f"brush {session.hand.value:.0f}  comes to ")


def test_a_step_out_of_reach_is_said(hand, session):
    hand.window.building.add_layer("shadow")
    hand.key(Qt.Key.Key_5)  # Multiply lightens nothing
    assert "out of reach" in hand.window.rail.figures()[0]
    hand.key(Qt.Key.Key_1)
    assert "out of reach" not in hand.window.rail.figures()[0]


def test_grid_and_rail_aim_too(hand, session):
    hand.window.building.add_layer("shadow")
    rail, grid = hand.window.rail, hand.window.parts.findChild(MixingGrid)
    wanted = float(lightness_from_srgb(grid.colours()[0][1]))
    QTest.mouseClick(grid, Qt.MouseButton.LeftButton, pos=grid.cell(0, 1).center().toPoint())
    assert session.aiming.value == pytest.approx(wanted, abs=0.6)
    QTest.mouseClick(rail, Qt.MouseButton.LeftButton, pos=QPoint(round(rail.x_of(20)), round(rail._ramp().top()) + 2))
    assert session.aiming.value == pytest.approx(20, abs=0.7)
    hand.key(Qt.Key.Key_E)  # lifted by one step, counted on the outcome
    assert session.aiming.value == pytest.approx(session.part.scale[1], abs=0.6)


def test_over_what_is_under_the_pointer(hand, session):
    hand.window.building.add_layer("shadow")
    hand.command("Stroke › Aim through modes › Over what is under the pointer")
    hand.hover(60, 60)  # the ground, dark grey
    hand.key(Qt.Key.Key_1)
    over_ground = session.hand.value
    hand.hover(240, 180)  # the flat
    hand.key(Qt.Key.Key_1)
    assert session.hand.value != pytest.approx(over_ground, abs=1)


def test_on_a_normal_layer_a_step_is_the_colour(hand, session):
    hand.key(Qt.Key.Key_2)
    assert session.hand.value == pytest.approx(session.part.scale[1], abs=0.05)
    assert hand.window.rail.comes_to is None


def test_the_foot_says_what_hairs_follow(hand, session):
    foot = hand.easel.foot_text
    session.hand.take_brush_named("Double coat")
    assert "hairs follow the comb" in foot()
    session.hand.set_brush(turn="along")
    assert "hairs follow the hand" in foot()
    session.hand.take_brush_named("S wave")
    assert "hairs follow the hand" in foot()
    session.hand.take_brush_named("Round")
    assert "hairs" not in foot()
