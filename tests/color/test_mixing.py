"""How colours mix, against worked values and the theory of Kubelka and Munk."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.color import lab, pigment, srgb
from japanner.color.mixing import MIXINGS, mixed
from japanner.errors import InputError

unit = st.floats(0, 1)
colours = st.tuples(unit, unit, unit)
RED, BLUE, YELLOW = (1.0, 0.0, 0.0), (0.0, 0.0, 1.0), (1.0, 1.0, 0.0)


def codes(colour):
    return np.asarray(colour) * 255


# Worked with colour-science from IEC 61966-2-1 and Ottosson 2020.
@pytest.mark.parametrize(
    ("how", "one", "other", "expected"),
    [
        ("light", RED, BLUE, (187.5, 0, 187.5)),
        ("encoded", RED, BLUE, (127.5, 0, 127.5)),
        ("perceptual", RED, BLUE, (140.4, 83.0, 162.3)),
        ("light", YELLOW, BLUE, (187.5, 187.5, 187.5)),
        ("encoded", YELLOW, BLUE, (127.5, 127.5, 127.5)),
        ("perceptual", YELLOW, BLUE, (107.8, 171.5, 199.0)),
        ("light", (0, 0, 0), (1, 1, 1), (187.5, 187.5, 187.5)),
        ("encoded", (0, 0, 0), (1, 1, 1), (127.5, 127.5, 127.5)),
        ("perceptual", (0, 0, 0), (1, 1, 1), (99.1, 99.1, 99.1)),
    ],
)
def test_midpoints(how, one, other, expected):
    assert codes(mixed(one, other, 0.5, how)) == pytest.approx(expected, abs=0.15)


@pytest.mark.parametrize("how", MIXINGS)
@given(one=colours, other=colours, share=unit)
def test_ends_are_exact_and_what_is_between_is_sound(how, one, other, share):
    assert mixed(one, other, 0.0, how) == pytest.approx(one, abs=2e-6)
    assert mixed(one, other, 1.0, how) == pytest.approx(other, abs=2e-6)
    between = mixed(one, other, share, how)
    assert np.isfinite(between).all()
    assert mixed(one, one, share, how) == pytest.approx(one, abs=2e-6)


@pytest.mark.parametrize("yellow", [YELLOW, (0.95, 0.82, 0.12), (1.0, 0.9, 0.05)])
@pytest.mark.parametrize("blue", [BLUE, (0.05, 0.15, 0.8), (0.1, 0.25, 0.6)])
def test_blue_into_yellow_is_green_as_paints_are(yellow, blue):
    """Common practice: every painter's first lesson; light gives grey instead."""
    value, chroma, hue = lab.lch_from_srgb(mixed(yellow, blue, 0.5, "pigment"))
    assert 120 < hue < 190
    assert chroma > 15
    assert value < float(lab.lightness_from_srgb(yellow))


@pytest.mark.parametrize("share", [0.25, 0.5, 0.75])
def test_red_into_blue_is_never_grey_evenly_to_the_eye(share):
    ends = [float(lab.lightness_from_srgb(c)) for c in (RED, BLUE)]
    value, chroma, _ = lab.lch_from_srgb(mixed(RED, BLUE, share, "perceptual"))
    assert chroma > 45
    assert min(ends) - 2 < value < max(ends) + 2


# K/S = (1 - R)^2 / 2R and its inverse (Kubelka & Munk 1931).
@pytest.mark.parametrize(
    ("reflectance", "expected"),
    [(0.05, 9.025), (0.1, 4.05), (0.2, 1.6), (0.5, 0.25), (0.8, 0.025), (0.9, 0.0055556)],
)
def test_absorption(reflectance, expected):
    assert pigment.absorption(reflectance) == pytest.approx(expected, abs=1e-6)
    assert pigment.reflectance_of(expected) == pytest.approx(reflectance, abs=1e-5)


# Halves of .9 and .1 give .169905, three to one .265397 (single constant: all S equal; Duncan 1940).
@pytest.mark.parametrize(("share", "expected"), [(0.5, 0.169905), (0.25, 0.265397)])
def test_sums_of_absorption(share, expected):
    q = (1 - share) * pigment.absorption(0.9) + share * pigment.absorption(0.1)
    assert pigment.reflectance_of(q) == pytest.approx(expected, abs=1e-6)


def test_reflectances_add_up_to_white_and_give_their_colour_back():
    assert pigment.REFLECTANCES.sum(axis=0) == pytest.approx(np.ones(pigment.BANDS), abs=2e-5)
    assert (pigment.REFLECTANCES > 0).all()
    assert (pigment.REFLECTANCES < 1).all()
    back = pigment.REFLECTANCES @ pigment.FROM_REFLECTANCE.T
    assert back == pytest.approx(np.eye(3), abs=2e-4)


def test_a_little_black_does_not_swallow_white():
    """Common practice: white paint scatters most; half and half is a middle to dark grey, not black."""
    grey = mixed((0, 0, 0), (1, 1, 1), 0.5, "pigment")
    assert 25 < float(lab.lightness_from_srgb(grey)) < 50
    assert np.ptp(grey) < 0.01


@given(colours, colours, unit)
def test_mixing_is_the_same_either_way_round(one, other, share):
    a, b = (srgb.decode(np.array(c)) for c in (one, other))
    assert pigment.mixed_linear(a, b, share) == pytest.approx(pigment.mixed_linear(b, a, 1 - share), abs=1e-9)


def test_an_unknown_way_is_refused():
    with pytest.raises(InputError, match="mixing"):
        mixed(RED, BLUE, 0.5, "soup")
