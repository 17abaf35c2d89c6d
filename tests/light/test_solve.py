"""The light of a ball in a picture."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.errors import InputError
from japanner.light.solve import angles_of, light_from_ball
from japanner.painting.model import Light


def marks(light, count, middle=(300.0, 200.0), radius=120.0):
    """Highlight (mirror law) and places on the terminator (square to the light) of a ball, on the canvas."""
    light = np.asarray(light)
    half = light + np.array((0, 0, 1))
    half /= np.linalg.norm(half)
    aside = np.cross(light, (0.0, 0.0, 1.0))
    aside /= max(np.linalg.norm(aside), 1e-9)
    other = np.cross(light, aside)
    turn = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    edge = [np.cos(t) * aside + np.sin(t) * other for t in turn]
    seen = [n for n in edge if n[2] > 0.1][:count]

    def placed(n):
        return middle[0] + radius * n[0], middle[1] - radius * n[1]

    return placed(half), [placed(n) for n in seen]


@settings(max_examples=20, deadline=None)
@given(st.floats(-70, 70), st.floats(-75, 75))
def test_the_marks_of_a_light_give_it_back(up, right):
    light = Light(up_deg=up, right_deg=right).direction
    highlight, edge = marks(light, 5)
    for where in ((highlight, ()), (highlight, edge)):
        assert light_from_ball((300, 200), 120, *where) == pytest.approx(light, abs=1e-6)
    if len(edge) >= 2 and np.hypot(light[0], light[1]) > 0.2:
        assert light_from_ball((300, 200), 120, None, edge) == pytest.approx(light, abs=1e-5)
    assert angles_of(light) == pytest.approx((up, right), abs=1e-6)


def test_marks_that_say_nothing_are_refused():
    with pytest.raises(InputError, match="highlight"):
        light_from_ball((0, 0), 10, None, [(1.0, 2.0)])
    with pytest.raises(InputError, match="outside"):
        light_from_ball((0, 0), 10, (40.0, 0.0))
