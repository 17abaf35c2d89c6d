"""Keys act at once; some act while they are held."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage, QPointingDevice
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel
from tools.guide_keys import rows

from japanner.color import oklab
from japanner.desk.window.keys_view import KeysView, key_rows
from japanner.painting.operations import SetFrisket
from tests.desk import ball
from tests.desk.hand import Hand

Key = Qt.Key
ROOT = Path(__file__).resolve().parents[3]
CTRL = Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def session(hand):
    ball.take(hand.window, "Round")
    return hand.window.session


def test_q_swaps_in_hand_and_resting(hand, session):
    ball.take(hand.window, "Smudge")
    ball.take(hand.window, "Mop")
    hand.key(Key.Key_Q)
    assert session.hand.brush.name == "Smudge"
    hand.key(Key.Key_Q)
    assert session.hand.brush.name == "Mop"


def test_the_other_end_of_the_pen_wipes(hand, session):
    hand.pen([(240, 180)])
    hand.pen([(240, 180)], end=QPointingDevice.PointerType.Eraser)
    assert session.layer.pixels.read(session.painting.rect)[3].max() < 0.3 * 65535  # a rim of half-covered pixels
    assert session.document.records[-1]["wipe"] is True
    assert not session.hand.wiping


@pytest.mark.parametrize("index", range(5))
def test_1_to_5_take_the_value_steps_and_keep_the_hue(hand, session, index):
    session.hand.set_colour((0.55, 0.4, 0.28))
    hue = oklab.oklch_from_srgb(session.hand.colour)[2]
    hand.key(Key(Key.Key_1.value + index))
    assert session.hand.value == pytest.approx(session.part.scale[index], abs=0.05)
    assert oklab.oklch_from_srgb(session.hand.colour)[2] == pytest.approx(hue, abs=1)


def test_e_and_d_lift_and_lower_by_a_step(hand, session):
    scale = session.part.scale
    hand.key(Key.Key_3)
    hand.key(Key.Key_E)
    assert session.hand.value == pytest.approx(scale[3], abs=0.05)
    for expected in (scale[2], scale[1], scale[0], scale[0]):
        hand.key(Key.Key_D)
        assert session.hand.value == pytest.approx(expected, abs=0.05)
    # From between two steps, to the next one in that direction.
    session.hand.set_value(scale[1] + 7)
    hand.key(Key.Key_E)
    assert session.hand.value == pytest.approx(scale[2], abs=0.05)
    session.hand.set_value(scale[1] + 7)
    hand.key(Key.Key_D)
    assert session.hand.value == pytest.approx(scale[1], abs=0.05)


def test_w_wipes_and_again_lays(hand, session):
    hand.pen([(240, 180)])
    covered = session.layer.pixels.read(session.painting.rect)[3].sum()
    hand.key(Key.Key_W)
    assert session.hand.wiping
    assert hand.window.roll.hand.wipe.isChecked()
    hand.pen([(240, 180)])
    assert session.layer.pixels.read(session.painting.rect)[3].sum() < covered * 0.08  # a rim of half-covered pixels
    assert session.document.records[-1]["wipe"] is True
    hand.key(Key.Key_W)
    assert not session.hand.wiping


def test_g_and_t_step_the_size_by_a_fifth_root_of_two(hand, session):
    size = session.hand.brush.size_px
    for _ in range(5):
        hand.key(Key.Key_T)
    assert session.hand.brush.size_px == pytest.approx(size * 2)
    hand.tap(Key.Key_G)
    assert session.hand.brush.size_px == pytest.approx(size * 2 ** (4 / 5))
    hand.tap(Key.Key_G, heard_late_s=0.35)  # while the program was busy
    assert session.hand.brush.size_px == pytest.approx(size * 2 ** (3 / 5))
    hand.press(Key.Key_G)
    hand.key(Key.Key_5)
    hand.release(Key.Key_G)
    assert session.hand.brush.strength == pytest.approx(0.05)
    hand.tap(Key.Key_G)  # the ring that was used before is forgotten, though the pointer is not over the easel
    assert session.hand.brush.size_px == pytest.approx(size * 2 ** (2 / 5))
    session.hand.set_brush(size_px=1999)
    hand.key(Key.Key_T)
    assert session.hand.brush.size_px == 2000


def test_a_held_picks_up_what_is_under_the_pointer(hand, session):
    session.hand.set_colour((0.7, 0.2, 0.5))
    hand.pen([(240, 180)])
    session.hand.set_colour((0, 0, 0))
    count = len(session.document.records)
    hand.hover(240, 180)
    hand.press(Key.Key_A)
    assert hand.easel.holding == "pick"
    hand.hover(241, 180)
    assert session.hand.colour == (0, 0, 0)  # the ring still shows old beside new
    hand.release(Key.Key_A)
    assert session.hand.colour == pytest.approx((0.7, 0.2, 0.5), abs=0.01)
    assert hand.easel.holding is None
    assert len(session.document.records) == count


def test_g_held_is_the_stroke_ring(hand, session):
    session.hand.set_brush(size_px=40, strength=0.5)
    hand.hover(240, 180)
    hand.press(Key.Key_G)
    start = hand.view(240, 180)
    hand.mouse_event(hand_move(), start + QPointF(120, 0), Qt.MouseButton.NoButton)
    assert session.hand.brush.size_px == pytest.approx(80, rel=0.03)
    hand.mouse_event(hand_move(), start + QPointF(0, -60), Qt.MouseButton.NoButton)
    assert session.hand.brush.strength == pytest.approx(0.75, abs=0.02)
    hand.press(Key.Key_3)
    hand.release(Key.Key_3)
    hand.press(Key.Key_5)
    hand.release(Key.Key_5)
    assert session.hand.brush.strength == pytest.approx(0.35)
    value = session.hand.value
    hand.release(Key.Key_G)
    assert session.hand.value == value  # digits belonged to the ring, not to the value steps
    hand.key(Key.Key_5)
    assert session.hand.value == pytest.approx(session.part.scale[4], abs=0.05)


def hand_move():
    from PySide6.QtCore import QEvent

    return QEvent.Type.MouseMove


def test_space_moves_and_turns_the_easel(hand, session):
    view = hand.easel.view
    under = hand.easel.canvas_point(QPointF(200, 200))
    hand.press(Key.Key_Space)
    hand.drag([QPointF(200, 200), QPointF(230, 180), QPointF(260, 170)])
    hand.release(Key.Key_Space)
    moved = view.to_view().map(under)
    assert (moved.x(), moved.y()) == pytest.approx((260, 170))
    hand.press(Key.Key_Space)
    hand.drag([QPointF(500, 100), QPointF(600, 200), QPointF(640, 300)], shift=True)
    hand.release(Key.Key_Space)
    assert abs(view.turn_deg) > 10
    assert not session.strokes.under_way
    hand.key(Key.Key_X, Qt.KeyboardModifier.ShiftModifier)
    assert view.turn_deg == 0


def test_the_wheel_zooms_at_the_pointer(hand):
    at = QPointF(150, 120)
    under, zoom = hand.easel.canvas_point(at), hand.easel.view.zoom
    hand.wheel(at, 3)
    assert hand.easel.view.zoom == pytest.approx(zoom * 1.15**3)
    after = hand.easel.canvas_point(at)
    assert (after.x(), after.y()) == pytest.approx((under.x(), under.y()))


def test_v_goes_through_the_looks(hand, session):
    session.hand.set_colour((0.9, 0.1, 0.1))
    hand.pen([(240, 180)])
    hand.hover(10, 10)

    def shown():
        image: QImage = hand.easel.grab().toImage()
        return image.pixelColor(hand.view(240, 180).toPoint())

    assert shown().saturation() > 100
    before = session.painting
    hand.key(Key.Key_V)
    assert session.looking.look == "values"
    assert shown().saturation() == 0
    assert "look: values" in hand.easel.foot_text()
    hand.key(Key.Key_V)
    assert session.looking.look == "steps"
    hand.key(Key.Key_V)
    assert session.looking.look == "edges"
    # Paper, where nothing has an edge.
    assert shown().lightness() > 200
    hand.key(Key.Key_V)
    assert session.looking.look == "colour"
    assert session.painting is before


def test_x_mirrors_the_easel_and_never_the_picture(hand, session):
    before = session.painting
    left = hand.view(100, 180)
    hand.key(Key.Key_X)
    assert hand.view(100, 180).x() == pytest.approx(hand.easel.width() - left.x())
    assert "mirrored" in hand.easel.foot_text()
    assert session.painting is before


def test_letters_typed_into_a_field_are_only_text(hand, session):
    from japanner.desk.panels.stroke import ColourPanel

    field = hand.window.findChild(ColourPanel)._code
    field.setFocus()
    colour, brush = session.hand.colour, session.hand.brush
    QTest.keyClicks(field, "qwafxv12")
    assert session.hand.brush is brush
    assert hand.easel.holding is None
    assert session.looking.look == "colour"
    field.setText("#336699")
    QTest.keyClick(field, Key.Key_Return)
    assert session.hand.colour == pytest.approx((0x33 / 255, 0x66 / 255, 0x99 / 255))
    field.setText("nonsense")
    QTest.keyClick(field, Key.Key_Return)
    assert "colour: expected one of #rrggbb" in hand.window.messages.message.text()
    assert session.hand.colour != colour


def test_find_a_command_runs_what_is_typed(hand, session):
    hand.key(Key.Key_K, CTRL)
    find = hand.window._find
    assert find.isVisible()
    QTest.keyClicks(find._line, "mirror")
    assert find._list.count() >= 1
    QTest.keyClick(find._line, Key.Key_Return)
    assert not find.isVisible()
    assert hand.easel.view.mirrored
    hand.key(Key.Key_K, CTRL)
    QTest.keyClicks(find._line, "nosuchthingatall")
    assert find._list.count() == 0
    QTest.keyClick(find._line, Key.Key_Escape)
    assert not find.isVisible()


def opened(window, menu):
    """Look into a menu, and leave it again."""
    found = next(action.menu() for action in window.menuBar().actions() if action.text() == menu)
    found.popup(window.mapToGlobal(window.rect().center()))
    QApplication.processEvents()
    yield found
    found.close()
    QApplication.processEvents()


def test_a_menu_shows_what_cannot_run_and_kills_no_key(hand, session):
    window = hand.window
    while session.document.undo_words:
        session.undo()
    for _ in opened(window, "Edit"):
        assert not window.menus.actions["Edit › Undo"].isEnabled()
        assert window.menus.actions["Edit › Redo"].isEnabled()
    for _ in opened(window, "Frisket"):
        assert not window.menus.actions["Frisket › Drop"].isEnabled()
    hand.key(Key.Key_Z, CTRL | Qt.KeyboardModifier.ShiftModifier)
    hand.key(Key.Key_Z, CTRL)  # both keys work, whatever the menu has shown
    assert session.document.redo_words
    hand.key(Key.Key_Z, CTRL | Qt.KeyboardModifier.ShiftModifier)
    hand.key(Key.Key_Z, CTRL | Qt.KeyboardModifier.ShiftModifier)
    session.apply(SetFrisket({"shape": "all"}))
    hand.key(Key.Key_J)
    assert session.painting.frisket is None
    hand.key(Key.Key_J)
    assert window.messages.message.text() == "There is no frisket on: lay one first."


def test_find_a_command_kills_no_key_and_says_why(hand, session):
    window = hand.window
    hand.key(Key.Key_K, CTRL)
    find = window._find
    QTest.keyClicks(find._line, "frisket invert")
    assert find._list.item(0).toolTip() == find._why.text() == "There is no frisket on: lay one first."
    assert find._why.isVisible()
    QTest.keyClick(find._line, Key.Key_Return)
    assert "There is no frisket on" in window.messages.message.text()
    session.apply(SetFrisket({"shape": "box", "x0": 10, "y0": 10, "x1": 90, "y1": 90}))
    before = session.painting.frisket
    hand.key(Key.Key_I, CTRL)
    assert session.painting.frisket is not before


def test_the_keys_of_the_design_are_the_ones_in_the_menus(hand):
    """session.md: a table of keys; each has one command."""
    keys = {}
    for text, action in hand.window.menus.actions.items():
        for shortcut in action.shortcuts():
            assert shortcut.toString() not in keys, (text, keys.get(shortcut.toString()))
            keys[shortcut.toString()] = text
    letters, others = "QWEDTVXF12345", ("Z", "Shift+Z", "S", "O", "N", "K")
    wanted = {*letters, *(f"Ctrl+{key}" for key in others), "F1", "F11"}
    assert wanted <= set(keys)
    assert not {"Space", "A", "G"} & set(keys)  # these are held, not pressed


def test_all_keys_are_shown_and_not_in_the_way(hand, session):
    hand.key(Key.Key_F1, CTRL)
    sheet = hand.window.findChild(KeysView)
    assert sheet.isVisible()
    assert not sheet.isModal()
    texts = {label.text() for label in sheet.findChildren(QLabel)}
    assert {"Q", "Ctrl+Shift+Z", "G held", "Look › Mirror the easel"} <= texts
    QTest.keyClick(sheet, Key.Key_Escape)
    assert not sheet.isVisible()


def test_full_screen_and_right_column(hand):
    window = hand.window
    hand.key(Key.Key_F10)
    assert not window.right.isVisible()
    hand.key(Key.Key_F10)
    assert window.right.isVisible()
    hand.key(Key.Key_F11)
    QApplication.processEvents()
    assert window.isFullScreen()
    hand.key(Key.Key_F11)
    assert isinstance(hand, Hand)


def test_the_guide_has_the_keys_of_the_table(hand):
    """`tools/guide_keys.py` writes them there."""
    table = rows(key_rows(list(hand.window.menus.commands.values())))
    assert table in (ROOT / "docs" / "guide.md").read_text(encoding="utf-8")


def found(window, text):
    """What comes up for some words, and what is taken by Enter."""
    window._find.open()
    QTest.keyClicks(window._find._line, text)
    return [(entry.own, entry.around) for entry in window._find._shown]


def test_find_ranks_whole_words_and_own_words_first(hand, session):
    """Measured: of the commands with "fill" in their words or menus, the one called so was the ninth."""
    window = hand.window
    for typed, first in (("undo", "Undo"), ("mirror", "Mirror the easel"), ("steps", "Steps"), ("grow", "Grow"),
                         ("move", "Move"), ("save as", "Save as…")):  # fmt: skip
        entries = found(window, typed)
        assert entries[0][0].startswith(first), (typed, entries[:4])
        window._find.close()


def test_find_knows_brushes_parts_layers_settings_and_pages(hand, session):
    window = hand.window
    for typed, wanted in (
        ("double coat", ("Double coat", "brush › coat")), ("plain", ("Plain", "part › plain")),
        ("flat plain", ("Flat", "layer › Plain")), ("spacing", ("spacing", "setting of the brush › stroke")),
        ("whiskers lashes", ("Lashes, brows, whiskers", "guide")),
    ):  # fmt: skip
        assert wanted in found(window, typed)[:3], typed
        window._find.close()
    found(window, "double coat")
    QTest.keyClick(window._find._line, Key.Key_Return)
    assert session.hand.brush.name == "Double coat"
    found(window, "spacing")
    QTest.keyClick(window._find._line, Key.Key_Return)
    assert window.sheet.isVisible() or "means nothing" in window.messages.message.text()


def test_what_was_found_lately_comes_first(hand, session):
    window = hand.window
    before = [own for own, _ in found(window, "frisket")]
    window._find.close()
    found(window, "frisket shrink")
    QTest.keyClick(window._find._line, Key.Key_Return)
    after = [own for own, _ in found(window, "frisket")]
    assert after.index("Shrink") < before.index("Shrink")
    window._find.close()


def test_f1_opens_the_page_of_what_is_being_done(hand, session):
    from japanner.desk.tasks.registry import TASKS
    from japanner.desk.window.guide_view import GUIDE, PANEL_TOPICS, GuideView, sections, text_of

    window = hand.window
    headings = {name for name, _ in sections(text_of(GUIDE))}
    assert set(PANEL_TOPICS.values()) <= headings
    for task in TASKS:
        window.tasks.take_up(task)
        assert window.topic() in headings, task
    hand.window.tasks.take_up("comb")
    hand.key(Key.Key_F1)
    view = window.findChild(GuideView)
    assert view.topic == "Fur"
    QApplication.processEvents()
    assert view.text.verticalScrollBar().value() > 0
    QTest.keyClicks(view.search, "catch light")
    assert 0 < view.names.count() < len(headings)
    QTest.keyClick(view.search, Key.Key_Return)
    assert view.text.textCursor().selectedText().lower() == "catch light"
    view.close()
    QTest.mouseClick(window.task_line.guide, Qt.MouseButton.LeftButton)
    assert window.findChild(GuideView).topic == "Fur"


def test_the_guide_has_its_pictures(hand):
    import re

    from japanner.desk.window.guide_view import CHANGES, FOLDER, GUIDE, WORDS, text_of

    for name in re.findall(r"screenshots/([\w-]+)\.png", text_of(GUIDE)):
        assert (FOLDER / "pictures" / f"{name}.jpg").is_file(), name
    assert "silhouette" in text_of(WORDS)
    assert text_of(CHANGES).startswith("# Changes")
