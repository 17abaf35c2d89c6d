"""Relief under the key light, against Lambert's law on known slopes."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.ndimage import distance_transform_edt

from japanner.color import srgb
from japanner.light.relief import LOWEST, light_relief, raised_light
from japanner.raster import accumulate
from japanner.raster.geometry import TILE

GREY = 0.4


def lit(heights, direction, **settings):
    """Linear light of a grey sheet under `direction`, as a share of what it is without relief."""
    acc = accumulate.filled((GREY, GREY, GREY))
    light_relief(acc, np.ascontiguousarray(heights, np.float32), direction, **settings)
    return srgb.decode(acc[0].astype(float)) / srgb.decode(GREY)


def unit(x, y, z):
    length = math.sqrt(x * x + y * y + z * z)
    return x / length, y / length, z / length


def ramp(across, down):
    ys, xs = np.mgrid[: TILE + 2, : TILE + 2]
    return across * xs + down * ys


# Chamfers of slope 1 all around a square, and Lambert's cosine on each flank, worked out from the planes (Lambert 1760;
# heights by distance, Felzenszwalb & Huttenlocher 2012). Directions have y up.
CHAMFERS = [
    ((-1, 1, 1), {"left": 0.816497, "top": 0.816497, "right": 0.0, "bottom": 0.0}, 0.577350),
    ((-1, 0, 1), {"left": 1.0, "top": 0.5, "right": 0.0, "bottom": 0.5}, 0.707107),
    ((-1, 1, 2), {"left": 0.866025, "top": 0.866025, "right": 0.288675, "bottom": 0.288675}, 0.816497),
]


@pytest.mark.parametrize(("direction", "flanks", "flat"), CHAMFERS)
def test_chamfers_are_lit_by_lamberts_law(direction, flanks, flat):
    mask = np.zeros((TILE + 2, TILE + 2), bool)
    mask[60:200, 60:200] = True
    seen = lit(np.minimum(distance_transform_edt(mask), 20), unit(*direction), ambient=0.0)
    at = {"left": (130, 68), "right": (130, 190), "top": (68, 130), "bottom": (190, 130)}
    for name, cosine in flanks.items():
        assert seen[at[name]] == pytest.approx(cosine / flat, abs=2e-3), name
    assert seen[130, 130] == seen[10, 10] == pytest.approx(1, abs=1e-6)


@settings(max_examples=40, deadline=None)
@given(
    st.floats(-2, 2), st.floats(-2, 2), st.floats(-1, 1), st.floats(-1, 1), st.floats(0.4, 1), st.floats(0, 1)
)  # fmt: skip
def test_any_slope_under_any_light_in_front(across, down, x, y, z, ambient):
    direction = unit(x, y, z)
    if direction[2] < LOWEST:
        return
    length = math.sqrt(1 + across * across + down * down)
    # The normal of height h is (-h_x, -h_y, 1); image rows run down, the light's y up.
    cosine = max((direction[2] - across * direction[0] + down * direction[1]) / length, 0)
    wanted = (ambient + (1 - ambient) * cosine) / (ambient + (1 - ambient) * direction[2])
    # Full light ends at white.
    wanted = min(wanted, 1 / srgb.decode(GREY))
    seen = lit(ramp(across, down), direction, ambient=ambient)
    assert np.abs(seen - wanted).max() <= 3e-3


def test_gloss_shines_most_where_the_half_way_vector_points():
    direction = unit(-1, 1, 1)
    half = unit(direction[0], direction[1], direction[2] + 1)
    slopes = np.linspace(-1.5, 1.5, 61)
    shine = []
    for slope in slopes:
        # Along the light's own azimuth: a slope that rises away from it faces it.
        heights = ramp(slope / math.sqrt(2), slope / math.sqrt(2))
        plain, glossy = (lit(heights, direction, gloss=gloss)[100, 100] for gloss in (0.0, 0.3))
        shine.append(glossy - plain)
    best = slopes[int(np.argmax(shine))]
    assert best == pytest.approx(math.sqrt(1 - half[2] ** 2) / half[2], abs=0.06)
    assert shine[30] == pytest.approx(0, abs=1e-6)  # flat paint stays as it is


def test_strength_goes_from_nothing_to_all():
    heights, direction = ramp(0.5, 0.2), unit(-1, 0.5, 1)
    none, half, full = (lit(heights, direction, strength=s)[9, 9] for s in (0.0, 0.5, 1.0))
    assert none == pytest.approx(1, abs=1e-6)
    assert half == pytest.approx((none + full) / 2, abs=1e-4)


def test_light_from_the_side_or_behind_is_lifted():
    for direction in (unit(-1, 0.2, 0), unit(0.4, 0.9, -0.5), (0.0, 0.0, -1.0)):
        x, y, z = raised_light(direction)
        assert x * x + y * y + z * z == pytest.approx(1)
        assert z >= LOWEST
        assert x * direction[1] == pytest.approx(y * direction[0])
    assert raised_light((0.0, 0.0, 1.0)) == (0.0, 0.0, 1.0)
