"""Patterns of hair against differential geometry and common practice."""

from itertools import pairwise

import numpy as np
import pytest

from japanner.strand.curls import (
    FAMILIES,
    PATTERNS,
    Pattern,
    family_of,
    helix_curvature,
    helix_length,
    offsets,
    stretched,
    wave_length,
)
from japanner.strand.lock import LockKind, lock

LIGHT = (-0.45, 0.74, 0.5)


@pytest.mark.parametrize(
    ("diameter", "pitch", "length", "curvature", "torsion"),
    [
        (7, 10, 24.1580, 0.236758, 0.107661),
        (14, 25, 50.5909, 0.107972, 0.061373),
        (25, 60, 98.8357, 0.050517, 0.038593),
    ],
)
def test_helices(diameter, pitch, length, curvature, torsion):
    """Closed forms of differential geometry; values from the computation sheet, checked by polyline length."""
    assert helix_length(diameter / 2, pitch) == pytest.approx(length, abs=1e-4)
    assert helix_curvature(diameter / 2, pitch) == pytest.approx((curvature, torsion), abs=1e-6)


@pytest.mark.parametrize(("high", "pitch", "ratio"), [(5, 40, 1.139839), (10, 40, 1.463695), (20, 100, 1.320658)])
def test_waves(high, pitch, ratio):
    """Length of a sine by Legendre's E, from the computation sheet (verified with scipy)."""
    assert wave_length(high, pitch) == pytest.approx(ratio, abs=2e-6)


def curve(pattern, length=120.0, joints=6001):
    """One strand of a pattern in space, mm (m, 3), without chance."""
    along = np.linspace(0, length, joints)[None]
    across, ahead, toward = offsets(pattern, along, np.zeros(1), np.random.default_rng(1))
    return np.stack((across[0], along[0] + ahead[0], toward[0]), axis=1)


def mean_curvature(points):
    d1 = np.gradient(points, axis=0)
    d2 = np.gradient(d1, axis=0)
    cross = np.linalg.norm(np.cross(d1, d2), axis=1)
    return cross / np.maximum(np.linalg.norm(d1, axis=1) ** 3, 1e-12)


def test_a_coil_is_the_helix_that_its_sizes_say():
    pattern = Pattern("curly", "helix", 14.0, 25.0, together=1.0)
    points = curve(pattern)[2000:5500]
    assert np.median(mean_curvature(points)) == pytest.approx(0.107972, rel=0.01)
    turns = (points[-1, 1] - points[0, 1]) / 25
    assert np.linalg.norm(np.diff(points, axis=0), axis=1).sum() == pytest.approx(turns * 50.5909, rel=0.01)


def test_families_are_told_apart_by_their_curvature():
    """Straight bends least, coily most; every family's curvature lies below that of the next."""
    bends = {family: [] for family in FAMILIES}
    for pattern in PATTERNS.values():
        bends[pattern.family].append(float(np.mean(mean_curvature(curve(pattern))[1500:-500])))
    assert [len(found) for found in bends.values()] == [3, 3, 3, 3]
    for softer, tighter in pairwise(FAMILIES):
        assert max(bends[softer]) < min(bends[tighter]), (softer, tighter, bends)


def test_sizes_are_those_of_the_trade():
    """Common practice: a ringlet is as wide as a marker pen, a corkscrew as a straw, a coil as a chopstick."""
    assert 10 <= PATTERNS["ringlets"].coil_mm <= 18
    assert 5 <= PATTERNS["corkscrews"].coil_mm <= 8
    assert 4 <= PATTERNS["S coil"].coil_mm <= 6
    words = [family_of(d) for d in (250, 200, 60, 25, 10, 5, 4.9)]
    assert words == ["straight", "straight", "wave", "loose curl", "ringlet", "corkscrew", "coil"]


@pytest.mark.parametrize("name", PATTERNS)
def test_a_lock_keeps_to_its_line_and_its_count(name):
    line = np.stack((np.full(40, 200.0), np.linspace(20, 380, 40)), axis=1)
    kind = LockKind(count=50, pattern=name, stray=0.0, mm_px=2.0)
    found = lock(line, np.full(40, 18.0), kind, (0.4, 0.3, 0.2), 0.9, LIGHT, 5)
    # What coils is cut into pieces, so that front and back can be told apart; they join from root to tip.
    assert len(found.points) % 50 == 0
    assert (len(found.points) > 50) == (PATTERNS[name].shape == "helix")
    assert np.isfinite(found.points).all()
    coily = PATTERNS[name].family == "coily"
    reach = 18 + 2.0 * PATTERNS[name].coil_mm * (4 if coily else 1.6)
    assert np.abs(found.points[..., 0] - 200).max() < reach + 4
    again = lock(line, np.full(40, 18.0), kind, (0.4, 0.3, 0.2), 0.9, LIGHT, 5)
    assert np.array_equal(found.points, again.points)
    assert np.array_equal(found.shade, again.shade)


def test_a_lock_is_dark_at_its_root_and_has_a_band_of_light():
    line = np.stack((np.full(60, 100.0), np.linspace(0, 600, 60)), axis=1)
    found = lock(line, np.full(60, 30.0), LockKind(count=200, variety=0.0), (0.4, 0.3, 0.2), 0.9, LIGHT, 1)
    shade = np.median(found.shade, axis=0)
    peak = int(np.argmax(shade))
    assert shade[0] < 0.7 * shade[peak]
    assert 0.1 < peak / len(shade) < 0.6
    dull = lock(line, np.full(60, 30.0), LockKind(count=200, variety=0.0, gloss=0.0), (0.4, 0.3, 0.2), 0.9, LIGHT, 1)
    assert np.median(dull.shade, axis=0)[peak] < shade[peak]


@pytest.mark.parametrize("factor", [0.5, 1.0, 1.8, 3.0])
def test_a_stretched_coil_keeps_its_length(factor):
    for name in ("ringlets", "S coil", "S wave"):
        one, other = PATTERNS[name], stretched(PATTERNS[name], factor)
        lengths = [helix_length(p.coil_mm / 2, p.pitch_mm) for p in (one, other)]
        assert lengths[0] == pytest.approx(lengths[1])
        assert (other.coil_mm - one.coil_mm) * (factor - 1) <= 1e-9
    assert stretched(PATTERNS["flat"], factor) == PATTERNS["flat"]
