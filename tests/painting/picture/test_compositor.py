"""From painting to picture: places, groups, dirty areas, looks."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.color import lab
from japanner.errors import InputError
from japanner.painting.model import Layer, Painting, Part
from japanner.painting.operations import Fill, SetLayer, SetPart
from japanner.painting.picture.compositor import Compositor, flattened, limit_tile, plan, silhouette_tile
from japanner.painting.picture.looks import grey_code, look, nearest_step
from japanner.painting.picture.picture import Picture
from japanner.raster.geometry import TILE, Rect
from japanner.raster.modes import MODES, blend
from japanner.raster.tiles import Raster
from japanner.scripting import Script
from tests.paintings import HARD, rgba, solid

GROUND = (0.2, 0.3, 0.4)
FLAT, LIGHT = (0.6, 0.5, 0.4), (0.9, 0.8, 0.7)
NAMES = iter(range(100, 10_000_000))


def sheet(colour, alpha=1.0, role="light", **settings):
    return Layer(next(NAMES), "Any", role, solid(20, 20, colour, alpha), **settings)


def painting_of(*layers, **settings):
    return Painting(20, 20, ground=GROUND, parts=(Part(1, "A", layers=layers, **settings),), next_uid=1 << 30)


def picture_at(painting, x=5, y=5):
    return rgba(flattened(painting), x, y)[:3]


def over(below, colour, alpha, mode="Normal"):
    return blend(mode, (*below, 1), (*colour, alpha))[0, :3]


def test_without_layers_the_ground_is_seen():
    assert picture_at(painting_of()) == pytest.approx(GROUND, abs=1e-5)


def test_the_body_is_an_isolated_group():
    """Multiply inside the body meets the flat alone: where the flat is thin, the ground takes no part."""
    painting = painting_of(sheet(FLAT, 0.5, "flat"), sheet(LIGHT, 1.0, mode="Multiply"))
    multiplied = [f * la for f, la in zip(FLAT, LIGHT, strict=True)]
    assert picture_at(painting) == pytest.approx(over(GROUND, multiplied, 0.5), abs=3e-5)


# "Atop": an edge pixel of half coverage shows the light colour and the ground, no fringe of the flat.
def test_no_fringe_of_the_flat_at_the_silhouette():
    painting = painting_of(sheet(FLAT, 0.5, "flat"), sheet(LIGHT, 1.0))
    assert picture_at(painting) == pytest.approx(over(GROUND, LIGHT, 0.5), abs=3e-5)


# A coat's hairs leave the silhouette, and a shade over the coat ends where the hairs end.
def test_what_is_painted_over_an_edge_takes_its_coverage():
    def strip(role, colour, alpha, x0, x1):
        codes = solid(20, 20, colour, alpha).read(Rect(0, 0, x1 - x0, 20))
        return Layer(next(NAMES), "Any", role, Raster(20, 20).written(x0, 0, codes))

    flat, hairs = strip("flat", FLAT, 1.0, 0, 10), strip("edge", (0.7, 0.4, 0.2), 0.6, 10, 16)
    under, shade = sheet((0.1, 0.9, 0.1)), sheet((0.5, 0.5, 0.5), mode="Multiply")
    painting = painting_of(flat, under, hairs, shade)
    assert picture_at(painting, 5) == pytest.approx((0.05, 0.45, 0.05), abs=3e-5)
    assert picture_at(painting, 12) == pytest.approx(over(GROUND, (0.35, 0.2, 0.1), 0.6), abs=3e-5)
    assert picture_at(painting, 18) == pytest.approx(GROUND, abs=1e-5)
    part = painting.parts[0]
    assert [limit_tile(part, one, (0, 0))[5, 12] for one in (under, shade)] == pytest.approx([0, 0.6], abs=1e-4)
    # Over another part, the hairs and their shade hide it as hairs do.
    whole = replace(painting, parts=(Part(2, "B", layers=(sheet(LIGHT, role="flat"),)), part))
    assert picture_at(whole, 12) == pytest.approx(over(LIGHT, (0.35, 0.2, 0.1), 0.6), abs=3e-5)


def test_the_silhouette_limits_the_body_and_not_what_is_over():
    half = Layer(
        next(NAMES), "Flat", "flat", Raster(20, 20).written(0, 0, solid(10, 20, FLAT).read(Rect(0, 0, 10, 20)))
    )
    inside = painting_of(half, sheet(LIGHT, 0.8))
    assert picture_at(inside, 15) == pytest.approx(GROUND, abs=1e-5)
    outside = painting_of(half, sheet(LIGHT, 0.8, place="over"))
    assert picture_at(outside, 15) == pytest.approx(over(GROUND, LIGHT, 0.8), abs=3e-5)


def test_behind_lies_under_the_flat():
    thin = sheet(FLAT, 0.5, "flat")
    painting = painting_of(thin, sheet(LIGHT, 0.6, place="behind"))
    assert picture_at(painting) == pytest.approx(over(over(GROUND, LIGHT, 0.6), FLAT, 0.5), abs=5e-5)


def test_a_body_without_a_flat_is_a_plain_group():
    painting = painting_of(sheet(FLAT, 0.5), sheet(LIGHT, 0.5))
    below = blend("Normal", (*FLAT, 0.5), (*LIGHT, 0.5))[0]
    expected = below[:3] + (1 - below[3]) * np.array(GROUND)
    assert picture_at(painting) == pytest.approx(expected, abs=5e-5)


def test_part_strength_weighs_the_group_and_the_free_layers():
    painting = painting_of(sheet(FLAT, 1.0, "flat"), sheet(LIGHT, 1.0, place="over", mode="Screen"), strength=0.5)
    assert picture_at(painting) == pytest.approx(over(over(GROUND, FLAT, 0.5), LIGHT, 0.5, "Screen"), abs=5e-5)


@pytest.mark.parametrize("mode", MODES)
def test_every_mode_blends_over_all_that_is_beneath(mode):
    painting = painting_of(sheet(FLAT, 1.0, "flat"), sheet(LIGHT, 0.7, place="over", mode=mode, strength=0.6))
    assert picture_at(painting) == pytest.approx(over(FLAT, LIGHT, 0.42, mode), abs=1e-4)


def test_what_is_hidden_takes_no_part():
    seen = painting_of(sheet(FLAT, 1.0, "flat"))
    assert picture_at(painting_of(*seen.parts[0].layers, sheet(LIGHT, shown=False))) == pytest.approx(FLAT, abs=3e-5)
    assert picture_at(painting_of(sheet(FLAT, 1.0, "flat"), shown=False)) == pytest.approx(GROUND, abs=3e-5)
    assert len(plan(painting_of(sheet(FLAT), sheet(LIGHT, strength=0.0)))) == 2


def test_the_silhouette_is_all_flats_together():
    part = painting_of(sheet(FLAT, 0.5, "flat"), sheet(LIGHT, 0.5, "flat"), sheet(LIGHT, 1.0)).parts[0]
    assert silhouette_tile(part, (0, 0))[5, 5] == pytest.approx(0.75, abs=3e-5)
    assert silhouette_tile(part, (3, 3)) is None
    assert silhouette_tile(Part(1, "A"), (0, 0)) is None


@settings(max_examples=40)
@given(st.data())
def test_a_picture_renewed_piece_by_piece_is_the_whole_picture(data):
    """Dirty areas with what is remembered under the active layer give the same pixels as starting anew."""
    rng = np.random.default_rng(data.draw(st.integers(0, 99)))

    def noise(alpha):
        pixels = np.zeros((4, 200, 300), np.uint16)
        pixels[3] = (rng.random((200, 300)) < alpha) * rng.integers(1, 65536, (200, 300))
        pixels[:3] = pixels[3] * rng.random((3, 200, 300))
        return Raster(300, 200).written(0, 0, pixels)

    modes = st.sampled_from(list(MODES))
    layers = tuple(
        Layer(uid, "Any", role, noise(0.6), data.draw(st.sampled_from(["behind", "body", "over"])), data.draw(modes))
        for uid, role in ((2, "flat"), (3, "light"), (4, "detail"), (5, "glow"))
    )
    painting = Painting(300, 200, parts=(Part(1, "A", layers=layers),), next_uid=9)
    picture = Picture(painting)
    for _ in range(3):
        active = data.draw(st.sampled_from([2, 3, 4, 5]))
        x, y = data.draw(st.integers(0, 280)), data.draw(st.integers(0, 180))
        width, height = data.draw(st.integers(1, 90)), data.draw(st.integers(1, 90))
        area = Rect(x, y, x + width, y + height).intersected(painting.rect)
        patch = noise(0.8).read(area)
        painting = painting.with_layer(active, pixels=painting.layer(active).pixels.written(x, y, patch))
        picture.refresh(painting, [area], active)
    fresh = Picture(painting)
    for renewed, whole in zip(picture.levels, fresh.levels, strict=True):
        assert np.array_equal(renewed, whole)


def test_what_is_remembered_never_goes_stale():
    painting = painting_of(sheet(FLAT, 1.0, "flat"), sheet(LIGHT, 0.5))
    flat, light = painting.parts[0].layers
    compositor = Compositor()
    first = compositor.tile(painting, plan(painting), (0, 0), active=light.uid)[:, 5, 5].copy()
    changed = painting.with_layer(flat.uid, mode="Normal", strength=0.5)
    second = compositor.tile(changed, plan(changed), (0, 0), active=light.uid)[:, 5, 5].copy()
    assert not np.allclose(first, second)
    assert np.allclose(second, Compositor().tile(changed, plan(changed), (0, 0))[:, 5, 5])


def test_the_picture_knows_the_colour_under_a_pixel():
    picture = Picture(painting_of(sheet(FLAT, 1.0, "flat")))
    assert picture.value_at(5, 5) == pytest.approx(FLAT, abs=0.003)
    assert picture.value_at(-1, 5) is None
    assert picture.value_at(5, 20) is None


def test_levels_halve_until_they_are_small():
    levels = Picture(Painting(1000, 700)).levels
    assert [level.shape for level in levels] == [(700, 1000), (350, 500), (175, 250), (88, 125)]


def test_flattening_leaves_nothing_beyond_the_canvas():
    raster = flattened(Painting(TILE + 3, TILE + 5))
    for tile in raster.tiles.values():
        assert tile[3].sum() % 65535 == 0
    assert raster.bounds() == raster.rect


# The values look: the neutral grey of the same CIE L* (CIE 15, IEC 61966-2-1).
@given(st.integers(0, 0xFFFFFF))
def test_the_values_look_keeps_lightness(code):
    rgb = np.array([code >> 16, code >> 8 & 255, code & 255]) / 255
    grey = int(look("values", np.array([[code | 0xFF000000]], np.uint32))[0, 0]) & 255
    assert lab.lightness_from_srgb(np.full(3, grey / 255)) == pytest.approx(lab.lightness_from_srgb(rgb), abs=0.45)


def test_the_steps_look_has_the_five_values_of_the_scale():
    scale = (10.0, 28.0, 48.0, 68.0, 90.0)
    ramp = (np.arange(256, dtype=np.uint32) * 0x010101) | np.uint32(0xFF000000)
    greys = np.unique(look("steps", ramp[None], scale) & 255)
    assert greys.tolist() == [grey_code(value) for value in scale]
    assert nearest_step(scale, 57.9) == 2
    assert nearest_step(scale, 58.1) == 3


def test_the_look_of_edges_tells_hard_soft_and_lost_ones_apart():
    """One step of values from left to right, seen through three blurs, and one that is hardly any."""
    across = np.arange(240, dtype=float)

    def seen(low, high, blur):
        share = np.clip((across - 120) / max(blur, 1) + 0.5, 0, 1)
        grey = np.tile(np.rint(low + (high - low) * share), (60, 1)).astype(np.uint32)
        found = look("edges", grey * 0x010101 | np.uint32(0xFF000000))[30]
        return np.stack([found >> shift & 255 for shift in (16, 8, 0)], axis=-1).astype(int)

    hard, soft, lost = seen(60, 180, 1), seen(60, 180, 16), seen(118, 122, 1)
    assert hard[116:124].min() < 90
    warmth = hard[:, 0] - hard[:, 2]
    assert warmth[90:150].max() < 60  # ink, not a band
    assert soft[112:128].min(axis=0)[0] > 120
    assert (soft[:, 0] - soft[:, 2])[112:128].max() > 60
    assert np.ptp(lost) < 30
    assert np.ptp(hard[:60]) < 30


def test_an_unknown_look_is_named():
    with pytest.raises(InputError, match="look: expected one of colour, values, steps, edges"):
        look("x-ray", np.zeros((1, 1), np.uint32))


def test_bodies_above_the_layer_in_hand_are_kept_and_made_anew_when_they_change():
    script = Script.new(300, 280, ground=(0.3, 0.2, 0.25))
    layers = []
    for number in range(3):
        part = script.part(f"Part {number}")
        for at, (role, mode) in enumerate((("flat", "Normal"), ("shadow", "Multiply"), ("light", "Soft Light"))):
            layers.append(script.layer(part, role, mode=mode))
            rows = [(60 + 40 * number, 40 + 30 * at, 1.0), (200, 90 + 60 * number, 0.8)]
            script.stroke(layers[-1], HARD.with_changes(size_px=120, thick_px=4 * at), (0.7, 0.2 * at, 0.3), rows)
        layers.append(script.layer(part, "glow", place="over", mode="Screen"))
        script.stroke(layers[-1], HARD, (0.2, 0.3, 0.1), [(150, 140, 1.0)])
    compositor = Compositor()

    def same(active):
        steps = plan(script.painting)
        for key, local in script.painting.rect.tiles():
            here = compositor.tile(script.painting, steps, key, local, active)
            anew = Compositor().tile(script.painting, steps, key)
            inner = np.s_[:, local.y0 : local.y1, local.x0 : local.x1]
            assert np.array_equal(here[inner], anew[inner])

    for active in (layers[1], layers[5], layers[-1]):
        same(active)
        same(active)
    body = [uid for key, uid in compositor._kept if uid]
    assert body
    script.stroke(layers[9], HARD, (0.9, 0.9, 0.1), [(150, 140, 1.0)])
    same(layers[1])
    script.do(SetPart(script.painting.parts[2].uid, {"strength": 0.5}))
    same(layers[1])
    script.do(SetLayer(layers[10], {"shown": False}))
    same(layers[1])


def test_what_is_remembered_is_bounded_and_the_latest_stays():
    script = Script.new(1300, 300)
    part = script.part("Part")
    flat, top = script.layer(part, "flat"), script.layer(part, "light")
    script.do(Fill(flat, (0.5, 0.4, 0.3)))
    compositor, steps = Compositor(most=4), plan(script.painting)
    for key, _ in script.painting.rect.tiles():
        compositor.tile(script.painting, steps, key, active=top)
    assert compositor._count == sum(one.state.size for one in compositor._kept.values()) <= 4
    assert next(reversed(compositor._kept))[0] == key
