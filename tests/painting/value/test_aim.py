"""Aiming through modes: the outcome is the step, or the mode's limit."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from japanner.color import lab
from japanner.color.value import srgb_from_value
from japanner.painting.operations import AddLayer, Fill
from japanner.painting.picture.compositor import flattened
from japanner.painting.value.aim import NEAR_ENOUGH, aimed, outcomes
from japanner.raster.modes import MODES
from japanner.scripting import Script

BASES = [srgb_from_value(48, 0.05, 60), srgb_from_value(20, 0.02, 250), srgb_from_value(85, 0.03, 90), (0.5, 0.5, 0.5)]
STEPS = (10.0, 26.0, 44.0, 64.0, 84.0)


def lightness(colour):
    return float(lab.lightness_from_srgb(np.asarray(colour)))


@cache
def colours_of(chroma, hue):
    return [srgb_from_value(v, chroma, hue) for v in np.linspace(0, 100, 101)]


def limits(chroma, hue, base, mode, strength):
    """The lowest and the highest value that any colour of this hue comes to, tried one by one."""
    reached = lab.lightness_from_srgb(outcomes(colours_of(chroma, hue), base, mode, strength))
    return reached.min(), reached.max(), np.sort(reached)


@pytest.mark.parametrize("mode", MODES)
@pytest.mark.parametrize("strength", [1.0, 0.8, 0.45, 0.1])
def test_every_step_through_every_mode(mode, strength):
    for base in BASES:
        low, high, reached = limits(0.06, 55.0, base, mode, strength)
        for step in STEPS:
            _, comes_to = aimed(step, 0.06, 55.0, base, mode, strength)
            # Between two tried values there may be a jump (Color Burn, Hue): then the nearer side is the limit.
            nearest = reached[np.argmin(np.abs(reached - step))]
            if low <= step <= high and np.abs(reached - step).min() < NEAR_ENOUGH:
                assert comes_to == pytest.approx(step, abs=NEAR_ENOUGH), (base, step)
            else:
                assert abs(comes_to - step) <= abs(nearest - step) + 0.01, (base, step)


@given(
    st.sampled_from(sorted(MODES)), st.floats(0.02, 1), st.floats(0, 100), st.floats(0, 0.2), st.floats(0, 360),
    st.tuples(*[st.floats(0, 1)] * 3),
)  # fmt: skip
def test_no_colour_of_the_hue_comes_nearer(mode, strength, value, chroma, hue, base):
    colour, comes_to = aimed(value, chroma, hue, base, mode, strength)
    assert all(0 <= c <= 1 for c in colour)
    tried = [srgb_from_value(v, chroma, hue) for v in np.linspace(0, 100, 101)]
    reached = lab.lightness_from_srgb(outcomes(tried, base, mode, strength))
    assert abs(comes_to - value) <= np.abs(reached - value).min() + 0.05


@pytest.mark.parametrize("mode", ["Multiply", "Screen", "Overlay", "Soft Light", "Luminosity", "Plus", "Color Burn"])
def test_the_picture_comes_to_what_was_promised(mode):
    """Against the compositor itself: a flat, a layer over it, filled with the colour that was aimed."""
    script = Script.new(64, 64, title="Aim", ground=(0.2, 0.2, 0.2))
    part = script.part("A")
    flat = script.layer(part, "flat")
    base = BASES[0]
    script.do(Fill(flat, base))
    script.do(AddLayer(part, "shadow", mode=mode, strength=0.7))
    layer = script.painting.parts[0].layers[-1].uid
    colour, comes_to = aimed(30.0 if mode in ("Multiply", "Color Burn") else 70.0, 0.05, 60.0, base, mode, 0.7)
    script.do(Fill(layer, colour))
    pixel = flattened(script.painting).read(script.painting.rect)[:3, 32, 32] / 65535
    assert lightness(pixel) == pytest.approx(comes_to, abs=0.1)


def test_multiply_cannot_lighten_and_screen_cannot_darken():
    assert aimed(84, 0.05, 60, BASES[0], "Multiply", 1.0)[1] == pytest.approx(lightness(BASES[0]), abs=0.6)
    assert aimed(10, 0.05, 60, BASES[0], "Screen", 1.0)[1] == pytest.approx(lightness(BASES[0]), abs=0.6)


def test_normal_at_full_strength_is_the_colour_itself():
    colour, comes_to = aimed(64, 0.05, 60, BASES[1], "Normal", 1.0)
    assert comes_to == pytest.approx(64, abs=0.05)
    assert colour == pytest.approx(srgb_from_value(64, 0.05, 60), abs=0.004)
