"""Light on hair and the way hair grows, against closed forms."""

import numpy as np
import pytest
from scipy.special import ellipe

from japanner.raster.geometry import Rect
from japanner.strand.comb import Guide, combed
from japanner.strand.growing import clumped, grown, nearest_clump, spread, waved
from japanner.strand.shine import diffuse, longitudinal, shifted, specular


def at(degrees):
    """A unit vector in the plane of strand and light, so far from the strand."""
    return np.array((np.cos(np.radians(degrees)), np.sin(np.radians(degrees)), 0.0))


@pytest.mark.parametrize(
    ("light", "viewer", "power", "wanted_diffuse", "wanted"),
    [
        (90, 90, 1, 1, 1),
        (60, 120, 8, 0.866025, 1),
        (60, 60, 20, 0.866025, 9.5367e-7),
        (45, 90, 20, 0.707107, 9.7656e-4),
    ],
)
def test_kajiya_and_kay(light, viewer, power, wanted_diffuse, wanted):
    """Kajiya & Kay 1989; values from the computation sheet (verified with numpy)."""
    strand = np.array((1.0, 0.0, 0.0))
    assert diffuse(strand, at(light)) == pytest.approx(wanted_diffuse, abs=1e-6)
    assert specular(strand, at(light), at(viewer), power) == pytest.approx(wanted, rel=1e-4)


def test_lobes_of_marschner():
    """Normal densities over the half angle (Marschner et al. 2003); values from the computation sheet."""
    assert longitudinal(np.array((-7.5, -2.5)), -7.5, 5) == pytest.approx((4.571542, 4.571542 * 0.606531), rel=1e-5)
    angles = np.linspace(-90, 90, 20001)
    assert np.trapezoid(longitudinal(angles, 11.25, 10), np.radians(angles)) == pytest.approx(1, abs=1e-6)


def test_scales_that_lean_move_the_highlight_by_as_much():
    """On a cylinder of hair bent over a head the highlight stands where light and viewer are mirrored; leaning the
    tangent by an angle moves it by that angle.
    """
    angle = np.radians(np.linspace(-60, 60, 12001))
    tangent = np.stack((np.cos(angle), -np.sin(angle), 0 * angle), axis=1)
    normal = np.stack((np.sin(angle), np.cos(angle), 0 * angle), axis=1)
    up = np.array((0.0, 1.0, 0.0))
    light = np.array((np.sin(0.4), np.cos(0.4), 0.0))
    for shift_deg in (0.0, -5.0, 7.5):
        leaned = shifted(tangent, normal, np.full(len(angle), np.tan(np.radians(shift_deg))))
        peak = angle[np.argmax(specular(leaned, light, up, 200))]
        assert np.degrees(peak) == pytest.approx(np.degrees(0.2) + shift_deg, abs=0.05)


def test_places_are_spread_evenly():
    found = spread(4096, np.random.default_rng(1))
    counts, *_ = np.histogram2d(*found.T, bins=16)
    assert counts.mean() == 16
    # Far more even than chance, which would vary by 4.
    assert counts.std() < 1.8
    assert np.array_equal(found, spread(4096, np.random.default_rng(1)))


def field():
    return combed(np.ones((200, 200), np.float32), Rect(0, 0, 200, 200), (Guide(((20.0, 100.0), (180.0, 100.0))),))


def test_strands_follow_the_field_and_keep_their_length():
    x, y = np.full(5, 30.0), np.linspace(20, 180, 5)
    points = grown(field(), x, y, np.full(5, 90.0), np.radians((0.0, 0, 10, 10, -20)), joints=10)
    ends = points[:, -1] - points[:, 0]
    assert np.hypot(*ends.T) == pytest.approx(90, abs=0.1)
    assert np.degrees(np.arctan2(ends[:, 1], ends[:, 0])) == pytest.approx((0, 0, 10, 10, -20), abs=0.6)


def test_clumps_draw_tips_together_and_leave_roots():
    random = np.random.default_rng(5)
    x, y = random.uniform(20, 180, (2, 4000))
    points = grown(field(), x, y, np.full(4000, 40.0), np.zeros(4000))
    which, middle = nearest_clump(points, 16.0, random)
    drawn = clumped(points, middle, 0.8, 12.0)
    assert np.array_equal(drawn[:, 0], points[:, 0])

    def gap(of):
        return np.mean([np.ptp(of[which == k, -1, 1]) for k in np.unique(which)])

    assert gap(drawn) < 0.45 * gap(points)
    assert np.abs(drawn[:, -1] - points[:, -1]).max() <= 12.01


def test_waves_are_sines_of_the_length_that_legendre_gives():
    """Length ratio (2/pi) sqrt(1 + m^2) E(m^2 / (1 + m^2)), m = 2 pi A / wavelength: 1.139839 for A 5, 40."""
    joints = 4001
    line = np.stack((np.linspace(0, 400, joints), np.zeros(joints)), axis=1)[None]
    wave = waved(line, 5.0, 10.0, np.zeros(1)).astype(float)[0, joints // 2 :]
    ratio = np.hypot(*np.diff(wave, axis=0).T).sum() / 200
    m = 2 * np.pi * 5 / 40
    assert 2 / np.pi * np.sqrt(1 + m * m) * ellipe(m * m / (1 + m * m)) == pytest.approx(1.139839, abs=1e-6)
    assert ratio == pytest.approx(1.139839, rel=2e-3)
    assert np.abs(wave[:, 1]).max() == pytest.approx(5, rel=1e-2)
