"""Similarity fits against a published example, angles, and what is told of misfits."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from skimage.transform import SimilarityTransform

from japanner.errors import InputError
from japanner.review.proportion import line_of, proportion, similarity

BOX = np.array(((0, 0), (10, 0), (10, 20), (0, 20), (5, 10)), float)


def test_umeyamas_own_example():
    """Umeyama 1991, section V: the residual is the mean squared error of his e."""
    found = similarity([(0, 0), (1, 0), (0, 2)], [(0, 0), (-1, 0), (0, 2)])
    assert found.scale == pytest.approx(0.721110, abs=1e-6)
    assert found.rotation == pytest.approx(np.array(((0.832050, 0.554700), (-0.554700, 0.832050))), abs=1e-6)
    assert found.shift == pytest.approx((-0.8, 0.4), abs=1e-6)
    assert found.mean_squared == pytest.approx(0.533333, abs=1e-6)


def test_a_known_move_is_found_and_one_place_that_is_off_shows():
    """Checked with scikit-image (K2 of the reference)."""
    moved = SimilarityTransform(scale=1.5, rotation=np.radians(30), translation=(10, -5))(BOX)
    exact = similarity(BOX, moved)
    assert (exact.scale, exact.turn_deg) == (pytest.approx(1.5), pytest.approx(30))
    assert exact.rms == pytest.approx(0, abs=1e-9)
    moved[1] += (0, 3)
    off = similarity(BOX, moved)
    assert (off.scale, off.turn_deg) == (pytest.approx(1.464109, abs=1e-6), pytest.approx(32.1913, abs=1e-4))
    assert np.hypot(*off.residuals.T) == pytest.approx((1.2093, 1.65, 0.6185, 0.15, 0.6), abs=1e-3)
    assert off.rms == pytest.approx(0.994987, abs=1e-6)


@given(
    st.floats(0.2, 5), st.floats(-179, 179), st.floats(-500, 500), st.floats(-500, 500), st.integers(0, 2**31),
    st.floats(0, 0.05),
)  # fmt: skip
def test_similarities_are_found_under_noise(scale, turn, x, y, seed, noise):
    random = np.random.default_rng(seed)
    source = np.concatenate((BOX, random.uniform(0, 20, (8, 2))))
    wanted = SimilarityTransform(scale=scale, rotation=np.radians(turn), translation=(x, y))
    found = similarity(source, wanted(source) + noise * scale * random.standard_normal(source.shape))
    assert found.scale == pytest.approx(scale, rel=0.01 + 0.05 * noise)
    assert abs((found.turn_deg - turn + 180) % 360 - 180) < 0.1 + 20 * noise
    assert found.at(source) == pytest.approx(wanted(source), abs=(1e-6 + 6 * noise) * scale)


@pytest.mark.parametrize(
    ("source", "words"),
    [([(0, 0), (1, 1)], "3 landmarks"), ([(0, 0), (1, 1), (2, 2)], "in a line"), ([(4, 4)] * 3, "in a line")],
)
def test_too_few_places_or_a_line_of_them_are_no_proportion(source, words):
    with pytest.raises(InputError, match=words):
        similarity(source, source)


def test_angles_and_tilts_of_lines():
    """K4: trigonometry, y down."""
    assert line_of((0, 0), (100, -100))[1:] == (pytest.approx(45), pytest.approx(-45))
    assert line_of((0, 0), (100, 10))[1:] == (pytest.approx(-5.710593), pytest.approx(-5.710593))
    long, angle, tilt = line_of((50, 0), (40, 100))
    assert (angle, tilt) == (pytest.approx(-95.710593), pytest.approx(-5.710593))
    assert long == pytest.approx(np.hypot(10, 100))


def test_a_jaw_that_was_moved_is_named_with_its_share_of_the_head():
    face = {"crown": (100.0, 0.0), "chin": (100.0, 200.0), "left eye": (130.0, 100.0), "right eye": (70.0, 100.0),
            "nose tip": (100.0, 150.0), "jaw": (150.0, 170.0), "ear": (40.0, 110.0)}  # fmt: skip
    painted = {name: (2 * x + 30, 2 * y - 40) for name, (x, y) in face.items()}
    painted["jaw"] = painted["jaw"][0], painted["jaw"][1] + 0.08 * 400
    found = proportion(face, painted)
    assert found.head == pytest.approx(400, rel=0.03)
    worst = found.misfits[0]
    assert worst.name == "jaw"
    assert worst.down == pytest.approx(6.5, abs=1.2)
    assert "too low" in worst.words
    assert "jaw" in found.lines[0].names
    assert "degrees off" in found.lines[0].words


def test_only_landmarks_that_both_have_count():
    with pytest.raises(InputError, match="both"):
        proportion({"a": (0, 0), "b": (1, 0), "c": (0, 1)}, {"a": (0, 0), "b": (1, 0), "d": (0, 1)})
