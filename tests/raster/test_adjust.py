"""Adjustments of colour and filters of neighbours, against formulas and reference libraries."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter

from japanner.color import lab, oklab, srgb
from japanner.errors import InputError
from japanner.raster.adjust import adjusted, encoded
from japanner.raster.geometry import Rect
from japanner.raster.soften import blurred, noisy, sharpened
from japanner.raster.tiles import Raster
from tests.paintings import analytic, same_pixels, solid

RAMP = np.linspace(0, 1, 200)


def ramp(colours=None):
    """A raster whose columns run through colours, opaque above and half covered below."""
    rows = np.stack([RAMP] * 3) if colours is None else np.asarray(colours, float).T
    pixels = np.empty((4, 2, rows.shape[1]))
    pixels[:3, 0], pixels[3, 0] = rows, 1
    pixels[:3, 1], pixels[3, 1] = rows / 2, 0.5
    return Raster(rows.shape[1], 2).written(0, 0, np.rint(pixels * 65535).astype(np.uint16))


def colours_of(raster):
    pixels = raster.read(raster.rect) / 65535
    return (pixels[:3] / pixels[3]).transpose(1, 2, 0)


def values_of(raster):
    return lab.lightness_from_srgb(colours_of(raster))


def test_planes_are_encoded_as_the_standard_says():
    """sRGB (IEC 61966-2-1): checked against the exact formula, and held to its range."""
    light = np.concatenate((np.linspace(0, 1, 20001), (-0.5, 1.5))).astype(np.float32)
    expected = srgb.encode(np.clip(light.astype(float), 0, 1))
    assert np.abs(encoded(light) - expected).max() < 2e-6
    assert encoded(light.reshape(1, -1)[:, ::2]).shape == (1, 10002)


def test_nothing_set_changes_nothing():
    for name in ("levels", "brightness", "colour"):
        numbers = {"black": 0, "white": 100, "middle": 1, "brightness": 0, "contrast": 0, "hue": 0, "chroma": 0}
        after = adjusted(analytic(120, 90), name, numbers)
        before = analytic(120, 90)
        assert np.abs(after.read(after.rect).astype(int) - before.read(before.rect)).max() < 65535 * 0.004, name


def test_levels_stretch_values():
    before = values_of(ramp())
    after = values_of(adjusted(ramp(), "levels", {"black": 20, "white": 80, "middle": 1}))
    assert after == pytest.approx(np.clip((before - 20) / 60, 0, 1) * 100, abs=1.2)
    middle = values_of(adjusted(ramp(), "levels", {"black": 0, "white": 100, "middle": 2}))
    light = before > 10  # near black the curve is infinitely steep
    assert middle[light] == pytest.approx(100 * np.sqrt(before / 100)[light], abs=0.5)


def test_brightness_and_contrast_act_on_lightness():
    before = values_of(ramp())
    lifted = values_of(adjusted(ramp(), "brightness", {"brightness": 10, "contrast": 0}))
    inside = (before > 5) & (before < 88)
    assert (lifted - before)[inside] == pytest.approx(10, abs=0.4)
    harder = values_of(adjusted(ramp(), "brightness", {"brightness": 0, "contrast": 50}))
    inside = (before > 20) & (before < 80)
    assert harder[inside] == pytest.approx(50 + 1.5 * (before - 50)[inside], abs=0.5)


def test_a_curve_goes_through_its_points_and_never_turns_back():
    after = values_of(adjusted(ramp(), "curve", {"points": [[0, 0], [30, 50], [60, 55], [100, 90]]}))[0]
    before = values_of(ramp())[0]
    assert np.interp([30, 60, 100], before, after) == pytest.approx([50, 55, 90], abs=0.7)
    assert (np.diff(after) > -0.05).all()


def test_hue_and_chroma_turn_in_oklch():
    colours = np.stack([srgb.encode(oklab.linear_from_oklab([0.6, 0.08 * np.cos(t), 0.08 * np.sin(t)]))
                        for t in np.linspace(0, 6, 60)])  # fmt: skip
    raster = ramp(colours)
    before = oklab.oklch_from_srgb(colours_of(raster)[0])
    after = oklab.oklch_from_srgb(colours_of(adjusted(raster, "colour", {"hue": 40, "chroma": -50}))[0])
    assert (after[:, 2] - before[:, 2] + 180) % 360 - 180 == pytest.approx(40, abs=1.0)
    assert after[:, 1] == pytest.approx(before[:, 1] / 2, abs=0.002)
    assert after[:, 0] == pytest.approx(before[:, 0], abs=0.003)
    grey = adjusted(raster, "colour", {"hue": 0, "chroma": -100})
    assert oklab.oklch_from_srgb(colours_of(grey)[0])[:, 1].max() < 0.002


def test_a_gradient_map_gives_each_step_its_colour():
    steps, ends = [10, 50, 90], [(0.1, 0.05, 0.2), (0.6, 0.4, 0.3), (1.0, 0.95, 0.8)]
    greys = srgb.encode(lab.luminance_from_lightness(np.array(steps, float)))
    after = colours_of(adjusted(ramp([(g, g, g) for g in greys]), "gradient map", {"steps": steps, "colours": ends}))
    assert after[0] == pytest.approx(np.array(ends), abs=0.015)


def test_coverage_and_bare_pixels_stay():
    before = analytic(200, 160)
    after = adjusted(before, "brightness", {"brightness": 30, "contrast": 0})
    assert np.array_equal(after.read(after.rect)[3], before.read(before.rect)[3])


@pytest.mark.parametrize(
    ("name", "settings", "words"),
    [
        ("levels", {"black": 60, "white": 60, "middle": 1}, "white"),
        ("curve", {"points": [[0, 0]]}, "curve"),
        ("curve", {"points": [[50, 0], [40, 10]]}, "curve"),
        ("curve", {"points": [[0, float("nan")], [40, 10]]}, "points"),
        ("gradient map", {"steps": [1, 2], "colours": [[0, 0, 0]]}, "gradient map"),
        ("solarise", {}, "adjustment"),
    ],
)
def test_settings_that_make_no_sense_are_refused(name, settings, words):
    with pytest.raises(InputError, match=words):
        adjusted(ramp(), name, settings)


# The reference is SciPy's Gaussian, on the same linear premultiplied light.
@pytest.mark.parametrize("sigma", [1.5, 6.0, 14.0, 40.0])
def test_blur_is_a_gaussian_in_linear_light(sigma):
    raster = analytic(240, 220)
    pixels = raster.read(raster.rect) / 65535
    light = srgb.decode(pixels[:3] / np.maximum(pixels[3], 1e-9)) * pixels[3]
    planes = np.concatenate((light, pixels[3:]))
    soft = np.stack([gaussian_filter(plane, sigma, mode="constant", truncate=5) for plane in planes])
    expected = srgb.encode(np.clip(soft[:3] / np.maximum(soft[3], 1e-9), 0, 1)) * soft[3]
    found = blurred(raster, sigma).read(raster.rect) / 65535
    assert np.abs(found[:3] - expected).max() < 0.012
    assert np.abs(found[3] - soft[3]).max() < 0.012


def test_blurring_black_into_white_meets_in_the_middle_of_the_light():
    pixels = np.full((4, 40, 200), 65535, np.uint16)
    pixels[:3, :, :100] = 0
    soft = blurred(Raster(200, 40).written(0, 0, pixels), 3).read(Rect(99, 20, 101, 21))[0, 0] / 65535
    # IEC 61966-2-1: half of the light is encoded as 0.735.
    assert soft.mean() == pytest.approx(0.735, abs=0.05)


def test_blur_of_nothing_and_by_nothing():
    assert same_pixels(blurred(Raster(50, 50), 5), Raster(50, 50))
    raster = analytic(60, 50)
    assert blurred(raster, 0) is raster


def test_sharpening_leaves_flat_colour_and_lifts_contrast_at_edges():
    flat = solid(80, 80, (0.4, 0.5, 0.6))
    inner = Rect(20, 20, 60, 60)
    assert np.abs(sharpened(flat, 2, 3).read(inner).astype(int) - flat.read(inner)).max() <= 2
    soft = blurred(analytic(200, 200), 2)
    gradient = [np.abs(np.diff(r.read(r.rect)[0].astype(float), axis=1)).sum() for r in (soft, sharpened(soft, 3, 6))]
    assert gradient[1] > 1.2 * gradient[0]


def test_noise_has_its_amount_and_comes_back_with_its_seed():
    flat = solid(300, 280, (0.5, 0.5, 0.5))
    made = noisy(flat, 0.04, 3)
    found = made.read(made.rect)[:3] / 65535
    assert found.std() == pytest.approx(0.04, rel=0.03)
    assert np.array_equal(found[0], found[1])
    assert same_pixels(made, noisy(flat, 0.04, 3))
    assert not same_pixels(made, noisy(flat, 0.04, 4))


@pytest.mark.parametrize("sigma", [-1, 401, float("nan")])
def test_widths_beyond_reason_are_refused(sigma):
    with pytest.raises(InputError, match="sigma"):
        blurred(analytic(30, 30), sigma)
