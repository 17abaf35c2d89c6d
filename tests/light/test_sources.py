"""Surfaces under key, sky, bounce and rim."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.color import srgb
from japanner.light.sources import SURFACES, Sources, shaded
from japanner.painting.model import MATERIALS, Light
from japanner.painting.picture.lighting import LIGHTS, sources_of

UP, DOWN, LEFT, FRONT = np.array(((0.0, 1, 0), (0, -1, 0), (-1, 0, 0), (0, 0, 1)))
GREY = np.full(3, 0.4)
DARK = Sources((0.0, 0.0, 1.0), (0, 0, 0), (0, 0, 0), (0, 0, 0))


def ball(count=41):
    x, y = np.meshgrid(np.linspace(-0.99, 0.99, count), np.linspace(0.99, -0.99, count))
    inside = x * x + y * y < 0.98
    return np.stack((x, y, np.sqrt(np.maximum(1 - x * x - y * y, 0))), axis=-1)[inside]


def test_every_material_of_a_part_has_a_surface():
    assert set(SURFACES) == set(MATERIALS)


@pytest.mark.parametrize("material", SURFACES)
@pytest.mark.parametrize("name", LIGHTS)
def test_any_material_in_any_light_is_sound(material, name):
    seen = shaded(ball(), GREY, sources_of(LIGHTS[name]), SURFACES[material])
    assert np.isfinite(seen).all()
    assert (seen >= 0).all()
    assert seen.max() > 0.02


def test_nothing_shines_in_the_dark():
    for kind in SURFACES.values():
        assert shaded(ball(), GREY, DARK, kind) == pytest.approx(0)


def test_sky_is_for_what_looks_up_and_bounce_for_what_looks_down():
    kind = SURFACES["drawing"]
    sky = Sources((0.0, 0.0, 1.0), (0, 0, 0), (0.3, 0.4, 0.5), (0, 0, 0))
    ground = Sources((0.0, 0.0, 1.0), (0, 0, 0), (0, 0, 0), (0.5, 0.4, 0.3))
    # Liu & Jordan 1963: all of it, none, half.
    assert shaded(np.array((UP, DOWN, LEFT)), GREY, sky, kind) == pytest.approx(
        np.outer((1, 0, 0.5), (0.3, 0.4, 0.5)) * 0.4
    )
    assert shaded(DOWN, GREY, ground, kind) == pytest.approx(np.array((0.5, 0.4, 0.3)) * 0.4)
    half_open = shaded(UP, GREY, sky, kind, openness=np.array(0.5))
    assert half_open == pytest.approx(np.array((0.3, 0.4, 0.5)) * 0.2)


def test_skin_glows_red_at_the_shadow_edge_and_a_shadow_takes_the_key_away():
    light = Sources((-1.0, 0.0, 0.0), (1, 1, 1), (0, 0, 0), (0, 0, 0))
    edge = np.array((np.sin(0.1), 0.0, np.cos(0.1)))
    skin, plain = (shaded(edge, GREY, light, SURFACES[name]) for name in ("skin", "plain"))
    assert skin[0] > 2 * skin[2]
    assert plain.max() < 0.01
    assert shaded(LEFT, GREY, light, SURFACES["plain"], lit=np.array(0.0)).max() < 0.01


def test_metal_mirrors_in_its_own_colour_and_clear_things_in_the_lights():
    gold = np.array((1.0, 0.70, 0.30))
    light = Sources((0.0, 0.0, 1.0), (1, 1, 1), (0.1, 0.1, 0.1), (0.1, 0.1, 0.1))
    metal, glass = (shaded(FRONT, gold, light, SURFACES[name]) for name in ("metal", "glass"))
    assert metal / metal[0] == pytest.approx(gold, abs=0.01)
    assert glass[2] / glass[0] > 0.9  # the highlight of glass is white


def test_a_wide_light_has_a_wider_and_weaker_highlight():
    def highlight(width):
        source = Sources((0.0, 0.0, 1.0), (1, 1, 1), (0, 0, 0), (0, 0, 0), width)
        return shaded(ball(), np.zeros(3), source, SURFACES["eye"])[:, 0]

    small, wide = highlight(0.0), highlight(0.5)
    assert wide.max() < small.max()
    assert (wide > wide.max() / 2).sum() > (small > small.max() / 2).sum()


@settings(max_examples=30, deadline=None)
@given(st.floats(1600, 14000), st.floats(0.05, 3))
def test_strength_is_luminance(kelvin, strength):
    light = sources_of(Light(kelvin=kelvin, key=strength))
    assert float(np.dot((0.2126, 0.7152, 0.0722), light.key_colour)) == pytest.approx(strength, rel=2e-3)
    warm = light.key_colour[0] - light.key_colour[2]
    assert (warm > 0) == (kelvin < 6500) or abs(kelvin - 6500) < 400  # 6500 K is near white (CIE D65)


def test_the_bounce_has_its_colour():
    found = np.array(sources_of(Light(bounce_colour=(0.8, 0.4, 0.2), bounce=0.5)).bounce_colour)
    assert found / found[0] == pytest.approx(srgb.decode(np.array((0.8, 0.4, 0.2))) / srgb.decode(0.8), rel=1e-6)


def test_a_rim_light_is_seen_on_the_edge_that_it_stands_behind():
    light = Sources((0.0, 0.0, 1.0), (0, 0, 0), (0, 0, 0), (0, 0, 0), rim=(0.6, 0.0, -0.8), rim_colour=(1.0, 0.5, 0.2),
                    rim_deg=40.0)  # fmt: skip
    right, middle, left = np.array(((0.99, 0.0, 0.14), (0.0, 0.0, 1.0), (-0.99, 0.0, 0.14)))
    seen = shaded(np.array((right, middle, left)), GREY, light, SURFACES["plain"])
    assert seen[0].min() > 0.02
    assert seen[0] / seen[0, 0] == pytest.approx((1.0, 0.5, 0.2), rel=1e-3)
    assert seen[1:] == pytest.approx(0)
