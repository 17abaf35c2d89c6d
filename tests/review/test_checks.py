"""Checks of the picture: against published and synthetic values, on clean pictures, and on spoilt ones."""

from __future__ import annotations

import json
import re

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter
from scipy.stats import wasserstein_distance

from japanner.color import lab, srgb
from japanner.demo import DEMOS, PAINTINGS
from japanner.files.opening import open_painting
from japanner.painting.operations import DropFrisket, Fill, SetFrisket, SetGuide, SetLandmarks
from japanner.review.checks import CHECKS
from japanner.review.checks.ground import edge_kinds
from japanner.review.checks.hair import directions_in
from japanner.review.checks.light import gradient_azimuth, lit_from
from japanner.review.checks.skin import ashy_index, hue_spread
from japanner.review.critique import as_html, as_json, critique, marked
from japanner.review.finding import Range
from japanner.review.seen import Seen
from japanner.review.separation import earth_mover
from japanner.scripting import Script
from tests.paintings import HARD
from tests.review.damages import DAMAGES


def seen_of(codes: np.ndarray) -> Seen:
    """A picture without parts."""
    script = Script.new(codes.shape[1], codes.shape[0])
    return Seen.of(script.painting).with_codes(np.ascontiguousarray(codes, np.float32))


def grey(values: np.ndarray) -> np.ndarray:
    """A neutral picture (h, w, 3) of L* (h, w)."""
    codes = srgb.encode(lab.luminance_from_lightness(np.clip(values, 0, 100)))
    return np.repeat(codes[..., None], 3, axis=-1)


def say(name: str, seen: Seen):
    return CHECKS[name].run(seen)


# --- against values of the reference ----------------------------------------------------------------------


def test_the_range_of_a_ramp():
    """L1: P2, P98 and their difference of a ramp 0..100 are 2, 98, 96."""
    (found,) = say("value range", seen_of(grey(np.tile(np.linspace(0, 100, 2001), (40, 1)))))
    assert found.number == pytest.approx(96, abs=0.3)


def test_ashy_indices():
    """L6: less light keeps the index at 1; grey mixed in by half gives .7092, by 70 % .5090; black by half .9321."""
    skin = np.array((224, 172, 105)) / 255
    light = lab.lab_from_srgb(np.tile(skin, (60, 1)))

    def index(shadow):
        return ashy_index(np.concatenate((np.tile(lab.lab_from_srgb(shadow), (20, 1)), light)))

    for share in (0.5, 0.25):
        assert index(srgb.encode(srgb.decode(skin) * share)) == pytest.approx(1.0, abs=1e-3)
    dull = np.array((64, 64, 64)) / 255
    assert index(0.5 * skin + 0.5 * dull) == pytest.approx(0.7092, abs=1e-3)
    assert index(0.3 * skin + 0.7 * dull) == pytest.approx(0.5090, abs=1e-3)
    assert index(0.5 * skin) == pytest.approx(0.9321, abs=1e-3)


@pytest.mark.parametrize("sigma", [1.0, 2.0, 4.0])
def test_widths_of_edges(sigma):
    """L7, second form: a Gaussian edge's height over its steepest slope."""
    figure = np.zeros((400, 2000), bool)
    figure[:, 1000:] = True
    seen = seen_of(np.zeros((*figure.shape, 3)))
    vars(seen)["values"] = (40 + 30 * gaussian_filter(figure.astype(float), (0, sigma))).astype(np.float32)
    _, found, _ = edge_kinds(seen, figure)
    assert np.median(found) == pytest.approx(sigma, abs=0.15)


def test_shares_of_hard_soft_and_lost_edges():
    """L8: three equal parts of an edge, hard, soft, and at 2 L*."""
    shape = (1500, 2000)
    figure = np.zeros(shape, bool)
    figure[:, 1000:] = True
    step = figure.astype(float)
    values = np.empty(shape, np.float32)
    for k, (sigma, contrast) in enumerate(((0.7, 30), (4.0, 30), (4.0, 2))):
        band = slice(500 * k, 500 * k + 500)
        values[band] = 40 + contrast * gaussian_filter(step[band], (0, sigma))
    seen = seen_of(np.zeros((*shape, 3)))
    vars(seen)["values"] = values
    contrast, sigma, ring = edge_kinds(seen, figure)
    assert ring.sum() == pytest.approx(1498, abs=4)
    lost = contrast < 5
    assert lost.mean() == pytest.approx(1 / 3, abs=0.02)
    assert (~lost & (sigma < 1.5)).mean() == pytest.approx(1 / 3, abs=0.02)
    assert (~lost & (sigma >= 1.5) & (sigma < 6)).mean() == pytest.approx(1 / 3, abs=0.02)


@pytest.mark.parametrize("degrees", [0, 30, 75, 120, 170])
def test_directions_of_a_grating(degrees):
    """G13, L9: a grating at 30 degrees against a field at 40 is 10 off."""
    y, x = np.mgrid[:200, :200]
    across = np.radians(degrees + 90)
    lines = np.sin(2 * np.pi * (x * np.cos(across) - y * np.sin(across)) / 9).astype(np.float32)
    angle, sure = directions_in(lines, 4.0)
    off = (angle[40:160, 40:160] - degrees + 90) % 180 - 90
    assert np.abs(off).max() < 1.0
    assert sure[40:160, 40:160].min() > 0.9


@pytest.mark.parametrize(("light", "azimuth"), [((-0.5, 0.5, 0.707), 135.0), ((0.6, 0.3, 0.742), 26.57)])
def test_a_ball_tells_where_it_is_lit_from(light, azimuth):
    """L10 (Johnson & Farid 2005), with full normals."""
    y, x = np.mgrid[1:-1:301j, -1:1:301j]
    inside = x**2 + y**2 < 0.98
    normal = np.stack((x, y, np.sqrt(np.maximum(1 - x**2 - y**2, 0)))).astype(np.float32)
    shade = np.clip(np.einsum("i,ihw->hw", light, normal), 0, None)
    found, up, explained = lit_from(normal, shade + 0.1, inside & (shade > 0))
    assert found == pytest.approx(azimuth, abs=0.1)
    assert up == pytest.approx(np.degrees(np.arcsin(light[2])), abs=0.2)
    assert explained > 0.99


@pytest.mark.parametrize(("light", "azimuth"), [((-0.5, 0.5, 0.707), 135.0), ((0.6, 0.3, 0.742), 26.41)])
def test_a_ball_tells_it_without_normals_too(light, azimuth):
    """L11 (Pentland 1982): cruder, from the shading's summed gradient alone."""
    y, x = np.mgrid[1:-1:301j, -1:1:301j]
    inside = x**2 + y**2 < 0.98
    normal = np.stack((x, y, np.sqrt(np.maximum(1 - x**2 - y**2, 0))))
    shade = np.clip(np.einsum("i,ihw->hw", light, normal), 0, None)
    assert gradient_azimuth(shade + 0.1, inside) == pytest.approx(azimuth, abs=1.2)


def test_how_far_values_have_to_be_moved():
    """L4: apart by 30; by 20 although the means agree; the picture of L3, half of whose outline is lost, by 15."""
    assert earth_mover(np.array([0, 10, 20]), np.array([30, 40, 50])) == pytest.approx(30)
    assert earth_mover(np.array([50, 50]), np.array([30, 70])) == pytest.approx(20)
    inside, outside = np.full(100, 70), np.repeat((40, 70), 50)
    assert earth_mover(inside, outside) == pytest.approx(15)
    random = np.random.default_rng(9)
    for one, other in (
        (random.normal(40, 9, 500), random.normal(50, 3, 77)),
        (np.full(3, 7.0), random.uniform(0, 9, 40)),
    ):
        assert earth_mover(one, other) == pytest.approx(wasserstein_distance(one, other), rel=1e-9)


@pytest.mark.parametrize(
    ("hues", "weights", "mean", "length", "spread"),
    [
        ((350, 10), (1, 1), 0, 0.984808, 10.0256), ((40, 60), (1, 1), 50, 0.984808, 10.0256),
        ((0, 90), (3, 1), 18.4349, 0.790569, None),
    ],
)  # fmt: skip
def test_spread_of_hues(hues, weights, mean, length, spread):
    """L5 (Mardia & Jupp 2000), weighted by chroma."""
    angle, chroma = np.radians(hues), 10.0 * np.array(weights)
    lab_ = np.stack((np.full(len(hues), 50.0), chroma * np.cos(angle), chroma * np.sin(angle)), axis=1)
    found = hue_spread(lab_)
    assert (found[0] + 180) % 360 - 180 == pytest.approx(mean, abs=1e-3)
    assert found[1] == pytest.approx(length, abs=1e-5)
    if spread is not None:
        assert found[2] == pytest.approx(spread, abs=1e-3)


def test_all_hues_have_no_mean_and_greys_do_not_count():
    angle = np.radians((0, 90, 180, 270))
    whole = np.stack((np.full(4, 50.0), 10 * np.cos(angle), 10 * np.sin(angle)), axis=1)
    assert hue_spread(whole)[1] == pytest.approx(0, abs=1e-9)
    greys = np.concatenate((whole[:1], np.tile((50.0, 0.5, -0.5), (30, 1))))
    assert hue_spread(greys)[0] == pytest.approx(0, abs=1e-6)


def test_skin_of_one_hue_is_told_and_skin_of_several_is_not():
    script = Script.new(300, 240)
    script.do(Fill(script.layer(script.part("Skin", "skin"), "flat"), (0.7, 0.5, 0.4), "canvas"))
    seen, random = Seen.of(script.painting), np.random.default_rng(5)
    value = 55 + 12 * gaussian_filter(random.standard_normal((240, 300)), 4) * 10

    def skin(turn):
        hue = np.radians(55 + turn * gaussian_filter(random.standard_normal((240, 300)), 6) * 15)
        colours = np.stack((value, 20 * np.cos(hue), 20 * np.sin(hue)), axis=-1)
        return np.clip(lab.srgb_from_lab(colours), 0, 1).astype(np.float32)

    (one,) = say("undertones", seen.with_codes(skin(0.0)))
    (several,) = say("undertones", seen.with_codes(skin(12.0)))
    assert one.word == "problem"
    assert several.word == "good"


def eyes_at(places, roll=0.0):
    """Two eyes on a head whose guide is rolled; each a white oval with a dark iris."""
    script = Script.new(600, 400)
    head = script.part("Head", "skin")
    script.do(Fill(script.layer(head, "flat"), (0.7, 0.5, 0.4), "canvas"))
    script.do(SetGuide(head, {"x": 300.0, "y": 220.0, "height_px": 500.0, "roll_deg": roll}))
    part = script.part("Eyes", "eye")
    flat, iris = script.layer(part, "flat"), script.layer(part, "detail")
    for x, y in places:
        script.do(SetFrisket({"shape": "oval", "x0": x - 50, "y0": y - 25, "x1": x + 50, "y1": y + 25}))
        script.do(Fill(flat, (0.9, 0.9, 0.88)))
        script.do(SetFrisket({"shape": "oval", "x0": x - 20, "y0": y - 20, "x1": x + 20, "y1": y + 20}))
        script.do(Fill(iris, (0.1, 0.08, 0.06)))
    script.do(DropFrisket())
    return Seen.of(script.painting)


def test_eyes_are_level_as_the_head_is():
    assert say("level of eyes", eyes_at([(200, 200), (400, 200)]))[0].word == "good"
    (off,) = say("level of eyes", eyes_at([(200, 200), (400, 225)]))
    assert off.word == "problem"
    assert off.number == pytest.approx(np.degrees(np.arctan2(25, 200)), abs=0.3)
    assert say("level of eyes", eyes_at([(200, 200), (400, 235)], roll=10.0))[0].word == "good", "the head is tilted"


def test_stripes_and_noise():
    random = np.random.default_rng(3)
    noise = gaussian_filter(random.standard_normal((600, 800)), 2) * 12
    x = np.arange(800)[None]
    (quiet,) = say("stripes", seen_of(grey(50 + noise)))
    (striped,) = say("stripes", seen_of(grey(50 + noise + 4 * np.sign(np.sin(x / 4)))))
    assert quiet.word == "good"
    assert striped.word != "good"


def test_three_masses_and_clutter():
    random = np.random.default_rng(3)
    masses = np.repeat(np.repeat(((20, 50), (80, 50)), 300, axis=0), 400, axis=1).astype(float)
    assert say("three masses", seen_of(grey(masses)))[0].word == "good"
    clutter = 50 + 25 * np.sign(gaussian_filter(random.standard_normal((600, 800)), 1.5))
    assert say("three masses", seen_of(grey(clutter)))[0].word == "problem"


def test_flats_in_pure_black_are_told():
    script = Script.new(200, 160)
    part = script.part("Part")
    flat = script.layer(part, "flat")
    script.stroke(flat, HARD, (0, 0, 0), [(60, 80, 1.0), (140, 80, 1.0)])
    (found,) = say("flats", Seen.of(script.painting))
    assert found.word == "problem"
    script.do(Fill(flat, (0.4, 0.3, 0.2), "silhouette"))
    assert say("flats", Seen.of(script.painting))[0].word == "good"


def test_texture_that_was_blended_away_since_a_kept_moment():
    random = np.random.default_rng(3)
    rough = grey(50 + 6 * random.standard_normal((300, 400)))
    flat = grey(np.full((300, 400), 50.0))
    seen = seen_of(flat)
    assert say("texture kept", seen) == []
    lost = Seen(seen.painting, 1, flat.astype(np.float32), (), rough.astype(np.float32))
    assert say("texture kept", lost)[0].word == "problem"
    assert say("texture kept", lost.with_codes(rough.astype(np.float32)))[0].word == "good"


def test_landmarks_off_the_reference_are_a_matter_of_proportion():
    script = Script.new(200, 200)
    places = [("crown", 100.0, 10.0), ("chin", 100.0, 190.0), ("left eye", 130.0, 90.0), ("right eye", 70.0, 90.0)]
    script.do(SetLandmarks("", tuple(places)))
    assert say("proportion", Seen.of(script.painting)) == []
    script.do(SetLandmarks("photo", tuple(places)))
    assert say("proportion", Seen.of(script.painting))[0].word == "good"
    places[2] = ("left eye", 145.0, 60.0)
    script.do(SetLandmarks("", tuple(places)))
    (found,) = say("proportion", Seen.of(script.painting))
    assert found.word == "problem"
    assert "left eye" in found.why


# --- on whole pictures ------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def clean():
    """The demo paintings, for checks; each opened once."""
    kept: dict[str, Seen] = {}

    def seen(name):
        if name not in kept:
            kept[name] = Seen.of(open_painting(PAINTINGS / f"{name}.ora").painting)
        return kept[name]

    return seen


@pytest.mark.parametrize("name", DEMOS)
def test_clean_pictures_stay_quiet(clean, name):
    told = [
        (one.check, one.figure) for check in CHECKS.values() for one in check.run(clean(name)) if one.word != "good"
    ]
    assert not told


BASES = {"edges sharpened": "heads"}


@pytest.mark.parametrize("damage", DAMAGES)
def test_each_damage_is_told_by_its_own_check_and_at_most_one_other(clean, damage):
    spoil, own = DAMAGES[damage]
    seen = clean(BASES.get(damage, "animals"))
    spoilt = seen.with_codes(spoil(seen).astype(np.float32))
    told = {one.check for check in CHECKS.values() for one in check.run(spoilt) if one.word != "good"}
    assert own in told
    assert len(told) <= 2, told


def test_a_critique_says_all_as_json_and_as_a_page_that_needs_nothing_else(clean):
    seen = clean("heads")
    painting = seen.painting
    steps: list[float] = []
    again, found = critique(painting, told=lambda done, words: steps.append(done))
    assert steps == sorted(steps)
    assert steps[0] == 0
    record = json.loads(as_json(painting, found))
    assert len(record["findings"]) == len(found) > 10
    assert {"check", "word", "number", "unit", "good", "why", "try", "with"} <= record["findings"][0].keys()
    page = as_html(painting, again, found)
    assert "http" not in page.replace("http-equiv", "")
    assert page.count("<section") == len(found)
    assert re.search(r"data:image/jpeg;base64,[A-Za-z0-9+/=]{2000,}", page)
    for one in found:
        assert marked(again, one).shape == (*again.values.shape, 3)


def test_a_critique_of_an_empty_painting_says_little_and_does_not_fail():
    _, found = critique(Script.new(64, 48).painting)
    assert {one.check for one in found} <= {"value range", "clipping", "three masses"}


def test_every_check_asks_advises_and_names_a_tool():
    for one in CHECKS.values():
        assert one.asks.endswith("?")
        assert one.advice
        assert one.tool


def test_words_by_range():
    span = Range((2, 4), (1, 8))
    assert [span.word(v) for v in (0.5, 1.0, 2.0, 4.0, 8.0, 9.0)] == [
        "problem", "look again", "good", "good", "look again", "problem"
    ]  # fmt: skip
