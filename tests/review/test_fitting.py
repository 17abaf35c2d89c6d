"""A cage that moves what is off in proportion."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.review.fitting import cage_moves, moved_places
from japanner.review.proportion import proportion

FACE = {"crown": (200.0, 40.0), "chin": (200.0, 360.0), "left eye": (260.0, 200.0), "right eye": (140.0, 200.0),
        "nose tip": (200.0, 270.0), "jaw": (290.0, 300.0), "ear": (80.0, 210.0), "mouth": (200.0, 310.0)}  # fmt: skip


@pytest.fixture(scope="module")
def off():
    painted = dict(FACE)
    painted["jaw"] = 290.0, 330.0
    painted["left eye"] = 272.0, 196.0
    return painted, proportion(FACE, painted)


def moves_at(off, softness, strength=1.0):
    painted, compared = off
    places = np.array(list(painted.values()))
    return dict(zip(painted, cage_moves(compared, painted, places, strength, softness), strict=True))


@pytest.mark.parametrize(("softness", "left"), [(0.05, 0.35), (0.12, 0.35), (0.3, 0.7)])
def test_what_is_off_comes_nearer_the_more_the_harder(off, softness, left):
    painted, before = off
    moved = moved_places(painted, {name: tuple(map(float, v)) for name, v in moves_at(off, softness).items()})
    after = proportion(FACE, {name: (x, y) for name, x, y in moved})
    assert after.rms < left * before.rms
    assert max(one.size for one in after.misfits) < 1.5 * left * before.misfits[0].size


def test_strength_is_a_share_and_far_from_all_nothing_moves(off):
    painted, compared = off
    whole, half = moves_at(off, 0.1)["jaw"], moves_at(off, 0.1, 0.5)["jaw"]
    assert half == pytest.approx(whole / 2)
    far = cage_moves(compared, painted, np.array((2000.0, 2000.0)), 1.0, 0.1)
    assert np.abs(far).max() < 0.01


@pytest.mark.parametrize("name", ["strength", "softness"])
def test_settings_have_ranges(off, name):
    painted, compared = off
    with pytest.raises(InputError, match=name):
        cage_moves(compared, painted, np.zeros(2), **{"strength": 1.0, "softness": 0.1, name: 3.0})
