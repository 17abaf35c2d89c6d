"""Ways of blending: feather, knife, wet paint, mixing models, grain that is kept, blur, glaze and scumble."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.ndimage import gaussian_filter
from skimage.feature import structure_tensor

from japanner.color import lab
from japanner.color.mixing import MIXINGS, mixed
from japanner.raster.geometry import Rect
from japanner.raster.textures import texture
from japanner.raster.tiles import Raster
from japanner.stroke.brush import Brush
from tests.paintings import rgba, same_pixels, solid
from tests.stroke.kinds.test_dynamics import painted

FEATHER = Brush("Feather", kind="feather", tip="mop", size_px=80, strength=1.0, spacing=0.1)
SMUDGE = Brush("Smudge", kind="smudge", tip="round", edge=0.7, size_px=60, strength=0.8, spacing=0.06, carry=0.8)
KNIFE = Brush("Knife", kind="knife", tip="flat", size_px=70, strength=0.95, spacing=0.03, carry=3.0, turn="across")
DARK, LIGHT = (0.25, 0.2, 0.18), (0.8, 0.7, 0.6)


def halves(width=400, height=120, left=DARK, right=LIGHT, alpha=1.0):
    raster = solid(width, height, left, alpha)
    return raster.written(width // 2, 0, solid(width - width // 2, height, right, alpha).read(
        Rect(0, 0, width - width // 2, height)))  # fmt: skip


def planes(raster):
    return raster.read(raster.rect).astype(np.float64) / 65535


def zigzag(passes=3, x0=150, x1=250, height=120):
    """Back and forth across the middle."""
    points = []
    for index, y in enumerate(np.linspace(20, height - 20, 8 * passes)):
        points.append((x0 if index % 2 else x1, y))
    return points


# --- feather ----------------------------------------------------------------------------------------------


@settings(max_examples=15, deadline=None)
@given(st.lists(st.tuples(st.floats(-20, 420), st.floats(-20, 140)), min_size=1, max_size=6), st.integers(0, 99))
def test_feathering_keeps_the_mean_and_never_raises_the_variance(points, seed):
    rng = np.random.default_rng(seed)
    pixels = rng.integers(0, 65536, (4, 120, 400)).astype(np.uint16)
    pixels[3] = 65535
    base = Raster(400, 120).written(0, 0, pixels)
    before, after = planes(base), planes(painted(FEATHER, points, base=base))
    # Half a code of 255 (asked); storing rounds each pixel by at most half of 65535.
    assert np.abs(after.mean(axis=(1, 2)) - before.mean(axis=(1, 2))).max() < 0.5 / 255
    assert (after.var(axis=(1, 2)) <= before.var(axis=(1, 2)) + 1e-9).all()


def test_feathering_softens_an_edge_and_pulls_nothing():
    base = halves()
    after = planes(painted(FEATHER, [(200, 10), (200, 60), (200, 110)], base=base))[0, 60]
    before = planes(base)[0, 60]
    assert np.abs(np.diff(after)).max() < 0.25 * np.abs(np.diff(before)).max()
    assert (np.diff(after) >= -1e-4).all()  # from dark to light without a ridge
    # The same from either side: nothing went along with the brush.
    assert after[:200] - before[0] == pytest.approx(before[-1] - after[:199:-1], abs=2e-4)


def test_feathering_adds_no_paint():
    base = Raster(400, 120).written(100, 0, solid(100, 120, LIGHT).read(Rect(0, 0, 100, 120)))
    after = planes(painted(FEATHER, [(200, 10), (200, 110)], base=base))
    assert after[3].sum() == pytest.approx(planes(base)[3].sum(), rel=1e-4)
    colour = after[:3, 60, 205] / after[3, 60, 205]
    assert 0.05 < after[3, 60, 205] < 0.95
    assert colour == pytest.approx(LIGHT, abs=2e-3)  # the bare canvas lends no colour


# --- grain that is kept -----------------------------------------------------------------------------------


def textured():
    """Two values that turn into each other, as on a form, under a fine texture."""
    grain = gaussian_filter(np.random.default_rng(4).standard_normal((160, 400)), 1.0)
    codes = gaussian_filter(planes(halves(400, 160)), (0, 0, 12))
    codes[:3] += 0.12 * grain / grain.std() / 3
    return Raster(400, 160).written(0, 0, np.rint(np.clip(codes, 0, 1) * 65535).astype(np.uint16))


def bands(raster, sigma=2.5):
    """The fine and the coarse part of the first channel, inside what the strokes reached."""
    grey = planes(raster)[0]
    coarse = gaussian_filter(grey, sigma)
    inner = (slice(50, 110), slice(160, 240))
    return float((grey - coarse)[inner].var()), gaussian_filter(grey, 6)[60:100, 130:270].mean(axis=0)


@pytest.mark.parametrize("kind", ["smudge", "feather", "knife"])
def test_kept_grain_stays_while_the_rest_blends(kind):
    brush = {"smudge": SMUDGE, "feather": FEATHER, "knife": KNIFE}[kind]
    results = {}
    for keep in (0.0, 8.0):
        raster = textured()
        for turn in range(10):
            points = [(140, 80), (260, 80)] if turn % 2 else [(260, 80), (140, 80)]
            raster = painted(brush.with_changes(keep_grain_px=keep), points, base=raster)
        results[keep] = bands(raster)
    before = bands(textured())
    assert results[8.0][0] >= (0.9 if kind == "smudge" else 0.8) * before[0]
    if kind != "knife":
        assert results[0.0][0] < 0.5 * before[0]
    steepest = [float(np.abs(np.diff(line)).max()) for _, line in (before, results[0.0], results[8.0])]
    blended = [1 - s / steepest[0] for s in steepest[1:]]
    assert blended[1] == pytest.approx(blended[0], rel=0.1, abs=0.05)


def test_an_edge_is_no_grain():
    """It is blended as without keeping grain, and leaves no line where it was."""
    raster = halves()
    before = np.abs(np.diff(planes(raster)[0, 60])).max()
    for points in ([(150, 60), (250, 60)], [(250, 60), (150, 60)]) * 3:
        raster = painted(SMUDGE.with_changes(keep_grain_px=8.0), points, base=raster)
    assert np.abs(np.diff(planes(raster)[0, 60])).max() < 0.05 * before


# --- knife ------------------------------------------------------------------------------------------------


def test_the_knife_leaves_streaks_along_the_pull():
    """Variation across the pull is at least three times that along it (structure tensor: Bigun & Granlund 1987)."""
    rng = np.random.default_rng(5)
    noise = gaussian_filter(rng.standard_normal((120, 400)), 3)
    codes = np.clip(0.5 + 0.35 * noise / noise.std(), 0, 1)
    pixels = np.rint(np.stack([codes] * 3 + [np.ones_like(codes)]) * 65535).astype(np.uint16)
    base = Raster(400, 120).written(0, 0, pixels)
    after = planes(painted(KNIFE, [(60, 60), (200, 60), (360, 60)], base=base))[0]
    inner = (slice(36, 84), slice(140, 340))
    rr, _, cc = structure_tensor(after, sigma=2, order="rc")
    assert rr[inner].mean() / cc[inner].mean() >= 3
    assert after[inner].std() > 0.03  # ridges, not a smear of one value


def test_the_knife_pulls_paint_out_of_a_silhouette():
    base = Raster(400, 120).written(0, 0, solid(150, 120, LIGHT).read(Rect(0, 0, 150, 120)))
    after = planes(painted(KNIFE, [(100, 60), (200, 60), (240, 60)], base=base))
    reached = after[3, 30:90, 175:200]
    assert reached.max() > 0.5
    assert reached.std() > 0.1  # in fingers
    assert after[:3, 60, 100] == pytest.approx(LIGHT, abs=0.02)


# --- wet paint and mixing models ---------------------------------------------------------------------------


def test_wet_paint_takes_up_what_it_goes_over_and_lays_it_on():
    def colour_at(wetness, x):
        brush = Brush("Wet", tip="round", edge=0.3, size_px=50, strength=0.9, wetness=wetness, carry=0.6, spacing=0.05)
        raster = painted(brush, [(60, 60), (200, 60), (360, 60)], base=halves(), colour=(0.9, 0.1, 0.1))
        return rgba(raster, x, 60)[:3]

    dry, wet = colour_at(0.05, 170), colour_at(0.9, 170)
    assert dry == pytest.approx((0.9, 0.1, 0.1), abs=0.08)
    assert wet[0] < dry[0] - 0.15  # full of the dark it went through
    assert colour_at(0.0, 170) == pytest.approx((0.9, 0.1, 0.1), abs=0.08)  # a plain lay at strength .9 over the dark


@pytest.mark.parametrize("how", MIXINGS)
@pytest.mark.parametrize("strength", [0.25, 0.5, 1.0])
def test_a_lay_mixes_as_its_model_says(how, strength):
    brush = Brush("Any", tip="round", edge=0.0, size_px=60, strength=strength, mixing=how)
    below, paint = (0.9, 0.8, 0.2), (0.1, 0.25, 0.7)
    found = rgba(painted(brush, [(60, 60), (300, 60)], base=solid(400, 120, below), colour=paint), 180, 60)
    assert found[:3] == pytest.approx(mixed(below, paint, strength, how), abs=2e-3)
    assert found[3] == 1


@pytest.mark.parametrize("how", MIXINGS)
def test_a_smudge_mixes_as_its_model_says(how):
    """Half-way through a blend of two colours lies what the model says of some share of the two."""
    one, other = (0.9, 0.8, 0.2), (0.1, 0.25, 0.7)
    after = planes(painted(SMUDGE.with_changes(mixing=how), [(150, 60), (260, 60)], base=halves(left=one, right=other)))
    shares = np.linspace(0, 1, 400)
    path = mixed(np.array(one), np.broadcast_to(other, (400, 3)), shares, how)
    for x in (204, 215, 230):
        pixel = after[:3, 60, x]
        assert np.abs(path - pixel).max(axis=1).min() < 0.012
    assert after[3].min() == 1


@pytest.mark.parametrize("how", MIXINGS)
def test_smudging_one_colour_leaves_it(how):
    base = solid(400, 120, (0.55, 0.12, 0.31), alpha=0.8)
    after = painted(SMUDGE.with_changes(mixing=how), [(100, 60), (300, 60)], base=base)
    assert np.abs(planes(after) - planes(base)).max() < 3e-4


def test_smudged_pigments_turn_green_and_light_turns_grey():
    base = halves(left=(0.95, 0.85, 0.1), right=(0.1, 0.2, 0.75))
    hues = {}
    for how in ("pigment", "light"):
        after = planes(painted(SMUDGE.with_changes(mixing=how), [(150, 60), (260, 60)], base=base))
        line = lab.lch_from_srgb(after[:3, 60, 200:240].T)
        hues[how] = line
    greenest = hues["pigment"][np.argmin(np.abs(hues["pigment"][:, 2] - 150))]
    assert 120 < greenest[2] < 190
    assert greenest[1] > 15
    assert hues["light"][:, 1].min() < 15


# --- blur, sharpen, glaze, scumble -----------------------------------------------------------------------


def test_a_blur_stroke_blurs_light_under_it_and_nothing_else():
    brush = Brush("Blur", kind="blur", tip="round", edge=0.1, size_px=80, strength=1.0, soften_px=5.0)
    base = halves()
    after, before = planes(painted(brush, [(200, 60)], base=base)), planes(base)
    expected = np.array([DARK, LIGHT])
    light = ((expected + 0.055) / 1.055) ** 2.4  # IEC 61966-2-1
    soft = gaussian_filter(np.repeat(light[:, 0], 200), 5.0)
    assert after[0, 60, 190:210] == pytest.approx(1.055 * soft[190:210] ** (1 / 2.4) - 0.055, abs=3e-3)
    assert np.array_equal(after[:, :, :150], before[:, :, :150])


def test_a_sharpening_stroke_steepens_and_keeps_coverage():
    soft = painted(Brush("Blur", kind="blur", tip="round", size_px=110, soften_px=4.0), [(200, 60)], base=halves())
    brush = Brush("Sharpen", kind="sharpen", tip="round", edge=0.1, size_px=80, soften_px=4.0)
    after = planes(painted(brush, [(200, 60)], base=soft))
    assert np.abs(np.diff(after[0, 60])).max() > 1.3 * np.abs(np.diff(planes(soft)[0, 60])).max()
    assert after[3].min() == 1


@pytest.mark.parametrize("strength", [0.3, 1.0])
def test_a_glaze_multiplies_and_never_lightens(strength):
    brush = Brush("Glaze", kind="glaze", tip="round", edge=0.0, size_px=60, strength=strength)
    tint = np.array((0.8, 0.5, 0.3))
    found = rgba(painted(brush, [(60, 60), (300, 60)], base=solid(400, 120, LIGHT), colour=tuple(tint)), 180, 60)
    assert found[:3] == pytest.approx(np.array(LIGHT) * (1 - strength * (1 - tint)), abs=1e-4)
    assert painted(brush, [(60, 60), (300, 60)], colour=tuple(tint)).bounds().empty  # nothing on bare canvas


def test_a_scumble_lightens_and_never_darkens():
    brush = Brush("Scumble", kind="scumble", tip="round", edge=0.0, size_px=60)
    after = planes(painted(brush, [(60, 60), (340, 60)], base=halves(), colour=(0.5, 0.5, 0.5)))
    assert after[0, 60, 100] == pytest.approx(0.5, abs=1e-3)
    assert after[:3, 60, 300] == pytest.approx(LIGHT, abs=1e-3)


def test_broken_colour_catches_on_the_heights_of_its_grain():
    brush = Brush("Scumble", kind="scumble", tip="round", edge=0.2, size_px=100, grain="plaster", grain_depth=1.0)
    after = planes(painted(brush, [(60, 60), (340, 60)], base=solid(400, 120, DARK), colour=LIGHT))
    inner = (slice(40, 80), slice(100, 300))
    heights = texture("plaster", 400, 120, contrast=1.4)[inner]
    assert np.corrcoef(after[0][inner].ravel(), heights.ravel())[0, 1] > 0.65


@pytest.mark.parametrize("kind", ["feather", "knife", "smudge", "blur", "sharpen", "glaze", "scumble", "spots"])
def test_blending_does_not_depend_on_how_a_stroke_was_bundled(kind):
    brush = Brush("Any", kind=kind, tip="round", edge=0.5, size_px=50, strength=0.7, spacing=0.1, carry=1.0)
    points = [(60, 60), (150, 30), (200, 80), (260, 50), (340, 60)]
    base = halves()
    one, other = (painted(brush, points, base=base, seed=3, bundle=b) for b in (None, 1))
    if kind == "feather":
        assert np.abs(planes(one) - planes(other)).max() < 1e-3
    assert same_pixels(one, other)
