"""The field of hues and chromas at one value."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.color import lab, oklab
from japanner.color.field import hue_chroma_field
from japanner.color.value import with_value

HUES, CHROMAS = np.arange(0, 360, 10.0), np.linspace(0, 0.3, 16)


@pytest.mark.parametrize("value", [5, 20, 50, 80, 96])
def test_all_colours_have_the_value_and_their_hue_and_chroma(value):
    colours, inside = hue_chroma_field(value, HUES, CHROMAS)
    assert inside[0].all()  # grey is always there
    assert not inside[-1].all()
    assert np.abs(lab.lightness_from_srgb(colours) - value)[inside].max() < 0.2
    lch = oklab.oklch_from_srgb(colours)
    assert np.abs(lch[..., 1] - CHROMAS[:, None])[inside].max() < 0.002
    apart = np.abs((lch[..., 2] - HUES[None, :] + 180) % 360 - 180)
    assert apart[inside & (CHROMAS[:, None] > 0.02)].max() < 1


@pytest.mark.parametrize("value", [12, 45, 77])
def test_moving_a_colour_to_a_value_keeps_its_hue(value):
    for hue in range(0, 360, 45):
        colours, inside = hue_chroma_field(50, np.array([float(hue)]), np.array([0.09]))
        if inside[0, 0]:
            moved = oklab.oklch_from_srgb(np.array(with_value(colours[0, 0], value)))
            assert abs((moved[2] - hue + 180) % 360 - 180) < 1
            assert float(lab.lightness_from_srgb(np.array(with_value(colours[0, 0], value)))) == pytest.approx(
                value, abs=0.1
            )
