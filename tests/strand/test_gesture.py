"""What becomes of the line that a hand draws: bows, falls, flicks."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.strand.gesture import swung


def straight(dx, dy, long=100.0, points=41):
    t = np.linspace(0, 1, points)[:, None]
    return np.array((200.0, 200.0)) + t * long * np.array((dx, dy))


def length(line):
    return np.hypot(*np.diff(line, axis=0).T).sum()


def test_nothing_asked_nothing_changed():
    line = straight(1, 0)
    assert swung(line) is line
    assert len(swung(line[:1], 1.0, 1.0, 50.0)) == 1


@pytest.mark.parametrize("way", [1, -1])
def test_a_hair_bows_up_whichever_way_it_runs(way):
    bowed = swung(straight(way, 0), arch=0.5)
    assert bowed[0] == pytest.approx((200, 200))
    assert bowed[-1] == pytest.approx((200 + way * 100, 200))
    # At a full arch the bow is 0.35 chords high, in its middle.
    assert bowed[:, 1].min() == pytest.approx(200 - 0.5 * 0.35 * 100, abs=0.3)
    assert int(bowed[:, 1].argmin()) == 20
    assert swung(straight(way, 0), arch=-0.5)[20, 1] > 215
    upright = swung(straight(0, way), arch=0.5)
    assert np.abs(upright[:, 0] - 200).max() < 1e-9


def test_what_falls_keeps_its_length_and_its_root():
    for dx, dy in ((1, 0), (-0.6, -0.8), (0.0, -1.0), (0, 1)):
        line = straight(dx, dy)
        fallen = swung(line, gravity=0.8)
        assert fallen[0] == pytest.approx(line[0])
        assert length(fallen) == pytest.approx(100, rel=1e-6)
        assert fallen[-1, 1] >= line[-1, 1] - 1e-9
    # The more towards its tip: it leaves the root as the hand had it.
    fallen = np.diff(swung(straight(1, 0), gravity=0.8), axis=0)
    angles = np.degrees(np.arctan2(fallen[:, 1], fallen[:, 0]))
    assert angles[0] < 5
    assert (np.diff(angles) > 0).all()
    assert 40 < angles[-1] < 80


def test_a_flick_draws_the_end_out_on_its_way():
    flicked = swung(straight(0.6, 0.8), flick_px=30.0)
    assert length(flicked) == pytest.approx(130, rel=1e-6)
    assert flicked[-1] == pytest.approx((200 + 130 * 0.6, 200 + 130 * 0.8), abs=0.5)
    assert np.array_equal(flicked[:41], straight(0.6, 0.8))
    # A bend goes on bending; and no flick is longer than most of its stroke.
    t = np.linspace(0, 1.5, 60)[:, None]
    bend = 100 * np.concatenate((np.cos(t), np.sin(t)), axis=1)
    on = swung(bend, flick_px=60.0)
    tangent, way = bend[-1] - bend[-2], on[-1] - bend[-1]
    assert tangent[0] * way[1] - tangent[1] * way[0] > 0
    assert length(swung(bend, flick_px=1e6)) < 1.9 * length(bend)


@settings(max_examples=20, deadline=None)
@given(
    st.lists(st.tuples(st.floats(-1e4, 1e4), st.floats(-1e4, 1e4)), min_size=1, max_size=20),
    st.floats(-1, 1), st.floats(0, 1), st.floats(0, 1e4),
)  # fmt: skip
def test_any_line_stays_sound(points, arch, gravity, flick):
    found = swung(np.array(points), arch, gravity, flick)
    assert np.isfinite(found).all()
    assert len(found) >= len(points)
    assert found[0] == pytest.approx(points[0], abs=1e-6)
