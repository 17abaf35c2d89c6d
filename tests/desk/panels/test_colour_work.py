"""Working with colour in the real window: the smear pad, kept grids, picking up anywhere, moments to compare with."""

from __future__ import annotations

import json

import numpy as np
import pytest
from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QCursor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QInputDialog

from japanner.color import lab, oklab
from japanner.desk.panels.mixing_grid import MixingGrid
from japanner.desk.widgets.picture_dialog import PictureDialog
from japanner.files import png
from japanner.painting.live.moments import MOST_KEPT
from japanner.painting.operations import Fill, SetPart
from tests.desk.hand import RIGHT
from tests.desk.steps import lay_flat, pump


@pytest.fixture
def flat(hand):
    """A disc of skin on the grey ground."""
    hand.window.session.hand.set_colour((0.75, 0.55, 0.45))
    lay_flat(hand)
    return hand


def seen(pad, x, y):
    return np.array(pad._picture.value_at(x, y))


# --- value and chroma -----------------------------------------------------------------------------------


def test_chroma_that_the_gamut_took_comes_back(hand):
    window, session = hand.window, hand.window.session
    colour = (0.75, 0.30, 0.25)
    session.hand.set_colour(colour)
    value = session.hand.value
    session.hand.set_value(95.0)
    assert session.hand.chroma_lost > 0.3
    assert "−" in window.rail.figures()[0]
    session.hand.set_value(0.0)
    session.hand.set_value(value)
    assert session.hand.colour == pytest.approx(colour, abs=2e-3)
    assert session.hand.chroma_lost < 0.02
    assert "%" not in window.rail.figures()[0]


def test_numbers_are_cie_lch(hand):
    session = hand.window.session
    from japanner.desk.panels.stroke import ColourPanel

    panel = hand.window.right.findChild(ColourPanel)
    session.hand.set_colour((0.5, 0.5, 0.5))
    for fader, figure in ((panel._value, "60"), (panel._chroma, "30"), (panel._hue_fader, "40")):
        QTest.keyClick(fader, Qt.Key.Key_Return)
        fader._field.setText(figure)
        QTest.keyClick(fader._field, Qt.Key.Key_Return)
        hand.easel.setFocus()
    assert tuple(lab.lch_from_srgb(session.hand.colour)) == pytest.approx((60, 30, 40), abs=0.3)
    panel._code.setText("#804020")
    QTest.keyClick(panel._code, Qt.Key.Key_Return)
    assert session.hand.colour == pytest.approx((128 / 255, 64 / 255, 32 / 255), abs=1e-3)


# --- the smear pad --------------------------------------------------------------------------------------


def test_real_brushes_mix_on_the_pad(hand):
    window, session, pad = hand.window, hand.window.session, hand.window.parts.pad
    before, bare = session.painting, seen(pad, 60, 38)
    session.hand.take_brush_named("Round")
    session.hand.set_brush(size_px=300.0, strength=1.0, edge=0.2)
    session.hand.set_colour((0.9, 0.2, 0.1))
    hand.drag_on(pad, [(50, 38), (60, 38), (70, 38)])
    assert seen(pad, 60, 38) == pytest.approx((0.9, 0.2, 0.1), abs=0.02)
    assert seen(pad, 60, 5) == pytest.approx(bare, abs=0.01)  # a large tip is made smaller
    session.hand.set_colour((0.1, 0.2, 0.9))
    hand.drag_on(pad, [(120, 38), (130, 38), (140, 38)])
    session.hand.take_brush_named("Smudge")
    session.hand.set_brush(size_px=30.0, strength=0.9)
    hand.drag_on(pad, [(x, 38) for x in range(60, 112, 4)])
    pulled = seen(pad, 96, 38)
    assert pulled[0] > bare[0] + 0.05  # red has been pulled into the grey
    hand.drag_on(pad, [(96, 38), (96, 38)], RIGHT)
    assert session.hand.colour == pytest.approx(tuple(pulled), abs=0.03)
    window.parts.pad.clean()
    assert seen(pad, 60, 38) == pytest.approx(bare, abs=1e-6)
    assert session.painting is before  # nothing of it is in the painting


def test_wiping_and_picking_up_on_touch_work_on_the_pad(hand):
    session, pad = hand.window.session, hand.window.parts.pad
    bare = seen(pad, 60, 38)
    session.hand.take_brush_named("Round")
    session.hand.set_brush(size_px=30.0, strength=1.0, edge=0.2)
    session.hand.set_colour((0.9, 0.2, 0.1))
    hand.drag_on(pad, [(50, 38), (70, 38)])
    session.hand.set_colour((0.1, 0.9, 0.1))
    session.hand.set_brush(pick_up=True)
    hand.drag_on(pad, [(60, 38), (100, 38), (130, 38)])
    assert session.hand.colour == pytest.approx((0.9, 0.2, 0.1), abs=0.03)
    assert seen(pad, 120, 38)[0] > 0.8
    session.hand.toggle_wiping()
    hand.drag_on(pad, [(50, 38), (60, 38), (70, 38)])
    assert seen(pad, 60, 38) == pytest.approx(bare, abs=0.02)


# --- picking up where the pointer is ----------------------------------------------------------------------


def test_the_ring_shows_new_and_old(flat):
    window, session, easel = flat.window, flat.window.session, flat.easel
    session.hand.set_colour((0.1, 0.2, 0.9))
    at = flat.view(240, 180)
    flat.mouse_event(QEvent.Type.MouseButtonPress, at, RIGHT)
    pump()
    image = easel.grab().toImage()
    above, below = (image.pixelColor(int(at.x()), int(at.y()) + dy) for dy in (-34, 34))
    assert (above.redF(), above.blueF()) == pytest.approx((0.75, 0.45), abs=0.03)
    assert (below.redF(), below.blueF()) == pytest.approx((0.1, 0.9), abs=0.03)
    assert session.hand.colour == pytest.approx((0.1, 0.2, 0.9))  # not before the button is let go
    flat.mouse_event(QEvent.Type.MouseButtonRelease, at, RIGHT)
    assert session.hand.colour == pytest.approx((0.75, 0.55, 0.45), abs=0.02)
    pump()
    assert not window.easel._pick.shown


def test_a_held_picks_up_from_the_pad(hand):
    session, pad = hand.window.session, hand.window.parts.pad
    session.hand.take_brush_named("Round")
    session.hand.set_brush(size_px=30.0, strength=1.0, edge=0.2)
    session.hand.set_colour((0.9, 0.2, 0.1))
    hand.drag_on(pad, [(50, 38), (70, 38)])
    session.hand.set_colour((0.2, 0.2, 0.2))
    QCursor.setPos(pad.mapToGlobal(QPoint(60, 38)))
    if QApplication.widgetAt(QCursor.pos()) is not pad:
        pytest.skip("this screen does not place the pointer")
    hand.press(Qt.Key.Key_A)
    assert pad.pick.shown
    hand.release(Qt.Key.Key_A)
    assert session.hand.colour == pytest.approx((0.9, 0.2, 0.1), abs=0.02)


@pytest.mark.parametrize("side", [1, 15])
def test_the_board_gives_the_mean_of_an_area(hand, tmp_path, side):
    """A board of black and white stripes: one pixel is either, the mean of many is their mean in linear light."""
    window, session = hand.window, hand.window.session
    pixels = np.full((4, 60, 60), 65535, np.uint16)
    pixels[:3, :, ::2] = 0
    (tmp_path / "Stripes.png").write_bytes(png.encode(pixels))
    window.clipboard.add_file(tmp_path / "Stripes.png", "reference")
    pump()
    from japanner.desk.panels.reference_picture import ReferencePicture as _Picture

    picture = window.right.findChild(_Picture)
    session.looking.set_view(pick_side=side)
    QTest.mouseClick(picture, RIGHT)
    grey = session.hand.colour[0]
    if side == 1:
        assert min(grey, 1 - grey) < 1e-6
    else:
        assert grey == pytest.approx(0.735, abs=0.03)  # half the light: encoded .735 (IEC 61966-2-1)
    picture._surround()
    assert session.part.around == pytest.approx((0.735,) * 3, abs=0.01)


# --- kept grids -----------------------------------------------------------------------------------------


def test_a_grid_is_kept_written_and_taken(flat, tmp_path, monkeypatch):
    window, session = flat.window, flat.window.session
    grid = window.parts.findChild(MixingGrid)
    before = grid.colours()
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("Cheek", True))
    flat.command("Part › Mixing grid › Keep it under a name…")
    assert session.part.grid.name == "Cheek"
    file = tmp_path / "Otter cheek"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(file), ""))
    flat.command("Part › Mixing grid › Write it to a file…")
    written = json.loads((tmp_path / "Otter cheek.json").read_text())
    assert written["name"] == session.part.grid.name == "Otter cheek"
    window.building.add_part("fur")
    assert grid.colours() != before
    monkeypatch.setattr(PictureDialog, "asked", lambda *_, **__: str(tmp_path / "Otter cheek.json"))
    flat.command("Part › Mixing grid › Take it from a file…")
    assert np.allclose(grid.colours(), before, atol=1e-9)
    assert window.parts._grid_section._heading.text() == "OTTER CHEEK"
    flat.command("Part › Mixing grid › Work it out anew")
    assert session.part.grid is None


def test_a_grid_of_another_part(flat):
    window, session = flat.window, flat.window.session
    first = session.work.active_part
    session.apply(SetPart(first, {"scale": [5, 20, 40, 60, 80]}))
    before = window.parts.findChild(MixingGrid).colours()
    window.building.add_part("metal")
    window.grids.take_from(first)
    assert window.parts.findChild(MixingGrid).colours() == before
    assert session.part.scale == (5, 20, 40, 60, 80)


@pytest.mark.parametrize("content", [b"", b"{}", b"\xff\xfe", b"[1, 2]"])
def test_a_file_that_is_no_grid_is_said(flat, tmp_path, monkeypatch, content):
    window, before = flat.window, flat.window.session.painting
    (tmp_path / "a.json").write_bytes(content)
    monkeypatch.setattr(PictureDialog, "asked", lambda *_, **__: str(tmp_path / "a.json"))
    flat.command("Part › Mixing grid › Take it from a file…")
    assert "a.json was not taken" in window.messages.message.text()
    assert window.session.painting is before


def test_surroundings_are_sampled_around_the_part(flat):
    window, session = flat.window, flat.window.session
    window.building.add_part("plain")
    backdrop = session.work.active_part
    window.building.move_part(backdrop, -1)
    session.apply(Fill(session.work.active_layer, (0.2, 0.3, 0.6)))
    session.work.work_on_part(session.painting.parts[1].uid)
    flat.command("Part › Mixing grid › Surroundings from around the part")
    assert session.part.around == pytest.approx((0.2, 0.3, 0.6), abs=0.02)
    hue = oklab.oklch_from_srgb(window.parts.findChild(MixingGrid).colours()[-1][2])[2]
    assert 200 < hue < 330
    flat.command("Part › Mixing grid › Surroundings as the ground")
    assert session.part.around is None


# --- moments --------------------------------------------------------------------------------------------


def test_before_against_moments_that_were_kept(flat):
    window, session = flat.window, flat.window.session
    at = session.picture.value_at
    flat.command("Look › Keep this moment")
    first = at(240, 180)
    for grey in (0.2, 0.4, 0.6):
        session.apply(Fill(session.work.active_layer, (grey,) * 3))
    flat.key(Qt.Key.Key_B)
    assert at(240, 180) == first
    assert "BEFORE: kept at" in window.easel.foot_text()
    flat.key(Qt.Key.Key_B)
    assert at(240, 180) == pytest.approx((0.6,) * 3, abs=0.01)
    flat.command("Look › Compare with › The last change")
    flat.key(Qt.Key.Key_B)
    assert at(240, 180) == pytest.approx((0.4,) * 3, abs=0.01)
    flat.key(Qt.Key.Key_B)
    flat.command("Look › Compare with › The last save")
    flat.key(Qt.Key.Key_B)
    assert at(240, 180) == pytest.approx(session.painting.ground, abs=0.01)  # as it was begun
    flat.key(Qt.Key.Key_B)
    for _ in range(MOST_KEPT + 2):
        session.comparing.keep_moment()
    assert len(session.comparing.moments.kept) == MOST_KEPT


def test_c_held_shows_before(flat):
    session = flat.window.session
    session.apply(Fill(session.work.active_layer, (0.1, 0.1, 0.1)))
    flat.press(Qt.Key.Key_C)
    assert session.comparing.before_shown
    assert session.picture.value_at(240, 180)[0] == pytest.approx(0.75, abs=0.02)
    flat.release(Qt.Key.Key_C)
    assert not session.comparing.before_shown
    assert session.picture.value_at(240, 180)[0] == pytest.approx(0.1, abs=0.02)


# --- what follows a stroke --------------------------------------------------------------------------------


def test_the_rail_follows_while_the_brush_is_down(flat, qtbot):
    window, session = flat.window, flat.window.session
    window.rail.measure()
    before = window.rail.histograms.part.copy()
    session.hand.take_brush_named("Round")
    session.hand.set_brush(size_px=120.0, strength=1.0)
    session.hand.set_colour((0.05, 0.05, 0.05))
    session.begin_stroke([(200, 180, 1.0)])
    session.strokes.go_on([(280, 180, 1.0)])
    qtbot.waitUntil(lambda: not np.array_equal(window.rail.histograms.part, before), timeout=2000)
    assert session.strokes.under_way
    assert window.rail.histograms.part[:10].sum() > 0.1
    session.strokes.end()
