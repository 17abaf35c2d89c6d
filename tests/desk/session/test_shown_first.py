"""A large canvas shown whole: strokes and large changes are seen at once, and are exact soon after."""

from __future__ import annotations

import threading
import time

import numpy as np
import pytest
from PySide6.QtWidgets import QApplication

from japanner.painting.document.document import Document, replayed
from japanner.painting.live.followed import FollowedStroke
from japanner.painting.live.stroke import LiveStroke
from japanner.painting.operations import Fill
from japanner.painting.picture.picture import Picture
from japanner.scripting import Script
from japanner.stroke.brush import Brush
from tests.paintings import same_painting

WIDE, HIGH = 3000, 1800
SOFT = Brush("Soft", size_px=500, strength=0.8, edge=0.7)


@pytest.fixture(scope="module")
def large():
    script = Script.new(WIDE, HIGH, ground=(0.2, 0.22, 0.25))
    part = script.part("Pelt", "fur")
    script.do(Fill(script.layer(part, "flat"), (0.45, 0.36, 0.28)))
    layer = script.layer(part, "light", mode="Normal")
    for i in range(4):
        script.stroke(layer, SOFT, (0.3 + 0.15 * i, 0.4, 0.7), [(300, 300 + 400 * i, 1), (2700, 500 + 300 * i, 1)])
    return script.painting


@pytest.fixture
def whole(hand, large):
    """The window with the large painting, seen whole, and its small painting at hand."""
    session = hand.window.session
    session.open_document(Document(large))
    hand.window.easel.fit()
    hand.window.easel.zoom_to(0.24)
    QApplication.processEvents()
    session.smalls.prepare(session.painting, session.looking.step)
    session.smalls.wait()
    session.work.work_on_layer(large.parts[0].layers[1].uid)
    assert session.looking.step == 4
    return hand


def settled(session):
    end = time.monotonic() + 10
    session.strokes.end()
    while session.picture.behind:
        assert time.monotonic() < end
        QApplication.processEvents()


def begin(hand, brush, rows):
    """The pen is down, and has gone all of a way but is not lifted."""
    session = hand.window.session
    session.hand.brushes[session.hand.in_hand] = brush
    session.hand.brush_changed.emit()
    hand.pen_down(rows)
    QApplication.processEvents()


def shown(session):
    level = session.looking.step.bit_length() - 1
    return session.picture.levels[level].copy()


def gap(one, other):
    split = [np.stack([pixels >> shift & 255 for shift in (16, 8, 0)]).astype(int) for pixels in (one, other)]
    return np.abs(split[0] - split[1])


ROWS = [(600 + 60 * i, 700 + 30 * i, 0.7) for i in range(16)]
LOWER = [(x, y + 200, p) for x, y, p in ROWS]


@pytest.mark.parametrize("kind", ["lay", "dodge", "smudge", "blur", "feather", "nudge"])
def test_a_stroke_shows_while_it_is_painted_and_does_not_jump_when_the_pen_lifts(whole, kind):
    session = whole.window.session
    before, fine = shown(session), session.picture.levels[0].copy()
    begin(whole, Brush("Any", kind=kind, size_px=400, strength=0.6, spacing=0.08, edge=0.6), ROWS)
    assert isinstance(session.strokes._stroke, FollowedStroke)
    during = shown(session)
    assert gap(during, before).max() >= 1
    assert np.array_equal(session.picture.levels[0], fine)  # the full size waits
    whole.pen_up(ROWS[-1])
    settled(session)
    after = Picture(session.painting)
    for one, other in zip(session.picture.levels, after.levels, strict=True):
        assert np.array_equal(one, other)
    # Where the last bit of way was still to be gone the picture changes; elsewhere by what cannot be seen.
    jump = gap(during, shown(session))
    assert jump.mean() < 0.35
    assert np.quantile(jump, 0.995) <= 10


def test_undo_of_what_covers_the_canvas_is_seen_at_once(whole):
    session = whole.window.session
    session.apply(Fill(session.work.active_layer, (0.8, 0.2, 0.2)))
    settled(session)
    session.undo()
    step = shown(session)
    assert gap(step, Picture(session.painting).levels[2]).mean() < 0.3
    assert session.picture.behind
    settled(session)
    assert np.array_equal(session.picture.levels[0], Picture(session.painting).levels[0])


def test_looking_closer_right_after_shows_the_exact_picture(whole):
    session, easel = whole.window.session, whole.window.easel
    begin(whole, SOFT, ROWS)
    whole.pen_up(ROWS[-1])
    session.strokes.end()
    assert session.picture.behind
    easel.look_at(900, 800, zoom=1.0)
    easel.grab()
    exact = Picture(session.painting).levels[0]
    assert np.array_equal(session.picture.levels[0][650:950, 750:1050], exact[650:950, 750:1050])
    settled(session)
    assert np.array_equal(session.picture.levels[0], exact)
    easel.fit()


def test_looking_closer_in_the_middle_of_a_stroke_shows_it(whole):
    session, easel = whole.window.session, whole.window.easel
    begin(whole, SOFT.with_changes(strength=1.0), ROWS)
    easel.look_at(900, 850, zoom=1.0)
    seen = easel.grab().toImage()
    x, y = seen.width() // 2 + 140, seen.height() // 2 - 60
    exact = session.picture.levels[0][790, 1040]
    tone = seen.pixelColor(x, y)
    assert abs(tone.red() - (int(exact) >> 16 & 255)) > 4  # not the picture without the stroke
    whole.pen_up(ROWS[-1])
    settled(session)
    easel.fit()


def test_one_stroke_after_the_other_without_a_pause(whole):
    session = whole.window.session
    for i in range(4):
        rows = [(x, y + 90 * i, p) for x, y, p in ROWS]
        begin(whole, SOFT, rows)
        whole.pen_up(rows[-1])
    settled(session)
    assert len(session.document.records) == 4
    assert np.array_equal(session.picture.levels[0], Picture(session.painting).levels[0])


@pytest.fixture
def gate(monkeypatch):
    """Exact strokes wait for it, ten seconds at most."""
    opened, painted = threading.Event(), LiveStroke.add

    def add(stroke, rows):
        if stroke._unseen:
            opened.wait(10)
        return painted(stroke, rows)

    monkeypatch.setattr(LiveStroke, "add", add)
    yield opened
    opened.set()


def two_strokes(hand):
    """One is lifted while its exact stroke waits, and the hand is at the next: neither counts yet."""
    begin(hand, SOFT, ROWS)
    hand.pen_up(ROWS[-1])
    begin(hand, SOFT, LOWER)
    assert hand.window.session.strokes.under_way
    assert not hand.window.session.document.records


def until_the_hand_is_free(session):
    end = time.monotonic() + 20
    while session.strokes.under_way:
        assert time.monotonic() < end
        QApplication.processEvents()


def test_a_slow_exact_stroke_keeps_nobody_from_going_on(whole, gate):
    """The pen is lifted while the exact stroke is far behind: it counts when it is done, or before all else."""
    session = whole.window.session
    begin(whole, SOFT, ROWS)
    whole.pen_up(ROWS[-1])
    assert not session.document.records
    assert session.strokes.under_way
    gate.set()
    until_the_hand_is_free(session)
    assert session.document.records
    begin(whole, SOFT, ROWS)
    whole.pen_up(ROWS[-1])
    session.undo()  # of the second one
    assert len(session.document.records) > 1
    settled(session)
    assert np.array_equal(session.picture.levels[0], Picture(session.painting).levels[0])


def test_the_next_press_waits_for_nothing(whole, gate):
    """It is painted when the stroke before counts, with all that the hand has drawn meanwhile."""
    session, start = whole.window.session, whole.window.session.painting
    two_strokes(whole)
    session.strokes.cancel()  # the one that the hand is at, and not the one before
    begin(whole, SOFT, LOWER)
    assert not session.document.records
    whole.pen_up(LOWER[-1])
    gate.set()
    until_the_hand_is_free(session)
    assert len(session.document.records) == 2
    assert same_painting(replayed(start, session.document.records), session.painting)
    settled(session)
    assert np.array_equal(session.picture.levels[0], Picture(session.painting).levels[0])


def test_what_comes_meanwhile_ends_both(whole, gate):
    session, start = whole.window.session, whole.window.session.painting
    two_strokes(whole)
    gate.set()
    session.rest_hand()
    assert not session.strokes.under_way
    assert len(session.document.records) == 2
    assert same_painting(replayed(start, session.document.records), session.painting)


def test_an_error_in_the_exact_stroke_is_told_and_the_hand_is_free_again(whole, monkeypatch):
    session = whole.window.session
    before, painting, painted = shown(session), session.painting, LiveStroke.add

    def broken(stroke, rows):
        if stroke._unseen:
            raise RuntimeError("broken")
        return painted(stroke, rows)

    monkeypatch.setattr(LiveStroke, "add", broken)
    begin(whole, SOFT, ROWS[:2])
    with pytest.raises(RuntimeError, match="broken"):
        session.rest_hand()
    assert not session.strokes.under_way
    assert session.painting is painting
    monkeypatch.setattr(LiveStroke, "add", painted)
    settled(session)
    assert np.array_equal(shown(session), before)
    begin(whole, SOFT, ROWS)
    whole.pen_up(ROWS[-1])
    settled(session)
    assert len(session.document.records) == 1


def test_a_stroke_that_is_given_up_leaves_the_picture_as_it_was(whole):
    session = whole.window.session
    before, painting = shown(session), session.painting
    begin(whole, SOFT, ROWS)
    session.strokes.cancel()
    settled(session)
    assert session.painting is painting
    assert np.array_equal(shown(session), before)


def test_what_is_under_the_pointer_is_known_meanwhile(whole):
    session = whole.window.session
    begin(whole, SOFT.with_changes(edge=0.0, strength=1.0), ROWS)
    x, y, _ = ROWS[8]
    assert session.picture.value_at(int(x), int(y)) == pytest.approx(session.hand.colour, abs=0.04)
    whole.pen_up(ROWS[-1])
    assert session.picture.value_at(int(x), int(y)) == pytest.approx(session.hand.colour, abs=0.04)
    settled(session)


def test_at_full_size_the_exact_stroke_is_what_shows(whole):
    session, easel = whole.window.session, whole.window.easel
    easel.look_at(900, 800, zoom=1.0)
    assert session.looking.step == 1
    begin(whole, SOFT, [(850, 750, 1.0), (900, 800, 1.0), (950, 820, 1.0)])
    assert not isinstance(session.strokes._stroke, FollowedStroke)
    whole.pen_up((950, 820, 1.0))
    settled(session)
    assert np.array_equal(session.picture.levels[0], Picture(session.painting).levels[0])
    easel.fit()


def test_what_lies_beyond_the_window_is_composed_when_the_hand_rests_or_looks_there(whole):
    session, easel = whole.window.session, whole.window.easel
    easel.look_at(900, 800, zoom=1.0)
    seen, edge = session.looking.area, session.looking.area.x1
    begin(whole, SOFT, [(edge - 60, 700, 1.0), (edge - 20, 800, 1.0), (edge - 10, 820, 1.0)])
    session.strokes.end()
    now = session.picture.levels[0].copy()
    after = Picture(session.painting).levels[0]
    view = np.s_[seen.y0 : seen.y1, seen.x0 : seen.x1]
    assert np.array_equal(now[view], after[view])
    assert not np.array_equal(now, after)
    assert session.picture.behind
    easel.look_at(edge + 100, 800, zoom=1.0)  # whoever looks there sees it
    easel.grab()
    seen = session.looking.area
    view = np.s_[seen.y0 : seen.y1, seen.x0 : seen.x1]
    assert np.array_equal(session.picture.levels[0][view], after[view])
    settled(session)
    assert np.array_equal(session.picture.levels[0], after)
    easel.fit()
