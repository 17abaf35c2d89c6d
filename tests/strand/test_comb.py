"""The comb field against fields whose direction is known, and against Laplace's equation."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.raster.geometry import Rect
from japanner.strand.comb import Guide, _System, combed, guides_from
from japanner.strand.guides import crossed, mirrored, parted, smoothed, thinned, whorl

SIDE = 400
AREA = Rect(0, 0, SIDE, SIDE)
YS, XS = np.mgrid[:SIDE, :SIDE] + 0.5
X, Y = XS - SIDE / 2, YS - SIDE / 2
DISC = (np.hypot(X, Y) < 190).astype(np.float32)


def degrees_off(field, x, y, u, v):
    """Angles between the field and vectors at canvas places; reversed hair counts as 180."""
    dx, dy = field.directions(np.asarray(x, np.float32), np.asarray(y, np.float32))
    return np.degrees(np.arccos(np.clip((dx * u + dy * v) / np.hypot(u, v), -1, 1)))


def places(count=2000, inner=15):
    random = np.random.default_rng(2)
    x, y = random.uniform(0, SIDE, (2, count))
    r = np.hypot(x - 200, y - 200)
    kept = (r < 185) & (r > inner)
    return x[kept], y[kept]


def along(function, starts, steps=30, step=4.0):
    """Guides that follow a vector field from some places."""
    guides = []
    for x, y in starts:
        points = [(x, y)]
        for _ in range(steps):
            u, v = function(points[-1][0] - 200, points[-1][1] - 200)
            size = np.hypot(u, v)
            points.append((points[-1][0] + step * u / size, points[-1][1] + step * v / size))
        guides.append(Guide(tuple((float(a), float(b)) for a, b in points)))
    return guides


def test_an_angle_between_two_fixed_borders_goes_as_published():
    """Double angles (Knutsson 1989): 0 and 60 degrees at the ends of a strip; checked with scipy's sparse solver."""
    system = _System.of(np.ones((9, 101), bool))
    fixed = np.zeros((9, 101), bool)
    fixed[:, [0, -1]] = True
    values = np.zeros((2, 9, 101))
    values[0, :, 0] = 1
    values[:, :, -1] = np.array((np.cos(np.radians(120)), np.sin(np.radians(120))))[:, None]
    q = system.solved(fixed, values)
    angle = np.degrees(np.arctan2(q[1], q[0]) / 2)[4, [25, 50, 75]]
    assert angle == pytest.approx((9.5533, 30, 50.4467), abs=1e-3)
    assert np.hypot(*q)[4, [25, 50, 75]] == pytest.approx((0.661438, 0.5, 0.661438), abs=1e-5)


@pytest.mark.parametrize(
    ("name", "function", "starts"),
    [
        ("uniform", lambda x, y: (1.0, 0.5), [(100, 120), (180, 260)]),
        ("radial", lambda x, y: (x, y), [(200 + 25 * np.cos(a), 200 + 25 * np.sin(a))
                                         for a in np.arange(12) * np.pi / 6]),
        ("vortex", lambda x, y: (-y, x), [(200 + r * np.cos(a), 200 + r * np.sin(a)) for r in (40, 90, 140)
                                          for a in np.arange(6) * np.pi / 3]),
    ],
)  # fmt: skip
def test_fields_whose_direction_is_known(name, function, starts):
    field = combed(DISC, AREA, along(function, starts))
    x, y = places(inner=30)
    off = degrees_off(field, x, y, *(np.asarray(v) * np.ones_like(x) for v in function(x - 200, y - 200)))
    assert off.mean() <= 3.0, name


def test_hair_lies_from_root_to_tip():
    down = Guide(((150.0, 100.0), (150.0, 300.0)))
    up = Guide(((150.0, 300.0), (150.0, 100.0)))
    x, y = places()
    for guide, way in ((down, 1.0), (up, -1.0)):
        assert degrees_off(combed(DISC, AREA, (guide,)), x, y, 0 * x, way + 0 * x).max() < 1


def test_what_lies_upstream_comes_last():
    field = combed(DISC, AREA, (Guide(((100.0, 200.0), (300.0, 200.0))),))
    ranks = field.at(field.rank, np.array([60, 120, 200, 280, 340.0]), np.full(5, 200.0))
    assert (np.diff(ranks) < 0).all()
    assert np.diff(ranks) * field.cell == pytest.approx(-np.array([60, 80, 80, 60]), rel=0.03)


def test_length_lift_and_curl_go_over_between_guides():
    guides = (Guide(((60.0, 100.0), (60.0, 300.0)), 0.5, 0.1), Guide(((340.0, 100.0), (340.0, 300.0)), 1.5, 0.5, 1.0))
    field = combed(DISC, AREA, guides)
    at = np.array([60.0, 200.0, 340.0]), np.full(3, 200.0)
    assert field.at(field.length, *at) == pytest.approx((0.5, 1.0, 1.5), abs=0.05)
    assert field.at(field.lift, *at) == pytest.approx((0.1, 0.3, 0.5), abs=0.03)
    assert field.at(field.curl, *at) == pytest.approx((0.0, 0.5, 1.0), abs=0.06)


def test_uncombed_hair_lies_outward_and_down():
    z = np.sqrt(np.clip(1 - (X**2 + Y**2) / 190**2, 0, 1))
    normal = np.stack((X / 190, -Y / 190, z)).astype(np.float32)
    field = combed(DISC, AREA, (), normal)
    assert degrees_off(field, [200], [350], np.zeros(1), np.ones(1))[0] < 5
    assert degrees_off(field, [30], [200], -np.ones(1), np.zeros(1))[0] < 45


@settings(max_examples=25, deadline=None)
@given(st.lists(st.lists(st.tuples(st.floats(-50, 450), st.floats(-50, 450)), min_size=2, max_size=6), max_size=5))
def test_any_guides_give_a_sound_field(lines):
    field = combed(DISC, AREA, [Guide(tuple(line)) for line in lines], cells=900)
    for plane in (field.direction, field.length, field.lift, field.curl, field.sure, field.rank):
        assert np.isfinite(plane).all()
    assert np.hypot(*field.direction) == pytest.approx(1, abs=1e-4)


def test_guides_from_records():
    one = Guide(((1.0, 2.0), (3.0, 4.0)), 1.2)
    assert guides_from([{"points": [[1.0, 2.0], [3.0, 4.0]], "length": 1.2}]) == (one,)
    assert one.scaled(2, (10, 0)).points == ((12.0, 4.0), (16.0, 8.0))
    for wrong in (7, [{"points": [[1, 2]]}], [{"points": [[1, 2], [3, float("nan")]]}], [{"wave": 1}]):
        with pytest.raises(InputError):
            guides_from(wrong)


def test_drawn_lines_become_few_points():
    drawn = [(float(x), 20 + 5 * np.sin(x / 30)) for x in range(200)]
    points = thinned(drawn)
    assert 3 <= len(points) <= 24
    assert (points[0], points[-1]) == ((0.0, 20.0), (199.0, round(drawn[-1][1], 1)))
    assert thinned([(1.0, 1.0), (1.5, 1.0)]) == ()
    guide = Guide(points)
    assert mirrored(mirrored(guide, 120), 120) == guide
    jagged = Guide(tuple((float(i), 10.0 * (i % 2)) for i in range(12)))
    assert np.ptp([y for _, y in smoothed([jagged])[0].points]) < 8
    assert crossed([guide, jagged], [(100, 10), (100, 40)], 2) == (0,)
    assert crossed([guide, jagged], [(6, 5)], 6) == (1,)


def test_a_parting_sends_hair_to_both_sides_and_a_crown_all_round():
    like = Guide(((0.0, 0.0), (1.0, 1.0)), 0.8)
    sides = parted([(200.0, float(y)) for y in range(60, 341, 40)], 120.0, like)
    assert all(one.length == 0.8 for one in sides)
    field = combed(DISC, AREA, sides)
    dx, _ = field.directions(np.array([120.0, 280.0]), np.array([200.0, 200.0]))
    assert dx[0] < -0.8 < 0.8 < dx[1]
    crown = combed(DISC, AREA, whorl((200.0, 200.0), 150.0, like, swirl_deg=0.0))
    x, y = places(inner=40)
    assert degrees_off(crown, x, y, x - 200, y - 200).mean() < 3
    turning = combed(DISC, AREA, whorl((200.0, 200.0), 150.0, like))
    dx, dy = turning.directions(x.astype(np.float32), y.astype(np.float32))
    round_ = ((x - 200) * dy - (y - 200) * dx) / np.hypot(x - 200, y - 200)
    assert 0.1 < round_.mean() < 0.6
