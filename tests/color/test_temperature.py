"""The colour of lights, against colour-science and facts of the trade."""

from __future__ import annotations

import warnings

import numpy as np
import pytest

from japanner.color import oklab
from japanner.color.temperature import light_colour, planckian_uv
from japanner.errors import InputError

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour


# Krystek (1985), as colour-science has it.
@pytest.mark.parametrize("kelvin", [1500, 2000, 2856, 4300, 5000, 6504, 10000, 15000])
def test_the_locus_is_krysteks(kelvin):
    expected = colour.temperature.CCT_to_uv_Krystek1985(kelvin)
    assert planckian_uv(kelvin) == pytest.approx(tuple(expected), abs=1e-9)


# CIE illuminant A is a black body of 2856 K: x .44757, y .40745 (CIE 15).
def test_illuminant_a():
    u, v = planckian_uv(2856)
    x, y = 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)
    assert (x, y) == pytest.approx((0.44757, 0.40745), abs=6e-4)  # c2 of 1968 and of today


def test_low_temperatures_are_warm_and_high_ones_cool():
    """Common practice: lamps are orange, shade is blue, noon is nearly white."""

    def hue_and_chroma(kelvin):
        _, a, b = oklab.oklab_from_linear(np.array(light_colour(kelvin)))
        return float(np.degrees(np.arctan2(b, a))) % 360, float(np.hypot(a, b))

    assert 50 < hue_and_chroma(2900)[0] < 80
    assert 250 < hue_and_chroma(9000)[0] < 290
    assert hue_and_chroma(6500)[1] < 0.012
    chromas = [hue_and_chroma(kelvin)[1] for kelvin in (1900, 2900, 4300, 5500)]
    assert chromas == sorted(chromas, reverse=True)


@pytest.mark.parametrize("kelvin", [0, 1499, 15001, float("nan")])
def test_lights_that_cannot_be_are_refused(kelvin):
    with pytest.raises(InputError):
        light_colour(kelvin)
