"""Moving, cages, nudges, filters, canvas and pictures as operations."""

from __future__ import annotations

import json
from dataclasses import asdict

import numpy as np
import pytest

from japanner.errors import InputError
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.painting.document.document import begun
from japanner.painting.model.head_guide import HeadGuide
from japanner.painting.operations import (
    AddMask,
    AddPicture,
    AddTexture,
    CageWarp,
    Fill,
    Filter,
    FrameCanvas,
    ScaleCanvas,
    SetFrisket,
    SetGuide,
    SetMaquette,
    Transform,
)
from japanner.painting.operations.moving import content_area
from japanner.painting.operations.pictures import fitted_matrix
from japanner.painting.operations.warping import cage_points
from japanner.painting.picture.compositor import flattened
from japanner.painting.picture.reduced import reduced
from japanner.raster.codec import from_text, to_text
from japanner.raster.geometry import Rect
from japanner.raster.tiles import straight
from japanner.scripting import Script
from japanner.stroke.brush import Brush
from tests.paintings import HARD, analytic, psnr, rgba, same_painting, same_pixels

BOX = {"shape": "box", "x0": 100.0, "y0": 80.0, "x1": 180.0, "y1": 140.0}
NUDGE = Brush("Nudge", kind="nudge", size_px=80, spacing=0.05)


@pytest.fixture
def waves():
    """A part with a disc of waves on its flat."""
    script = Script.new(320, 240)
    part = script.part("Part")
    raster = analytic(320, 240)
    script.do(AddPicture(part, to_text(straight(raster.read(raster.rect))), "Waves", "flat", "body"))
    return script, script.painting.parts[0].layers[0].uid


def pixels(script, layer):
    raster = script.painting.layer(layer).pixels
    return raster.read(raster.rect)


def moved(dx, dy):
    return (1.0, 0.0, dx, 0.0, 1.0, dy, 0.0, 0.0, 1.0)


def test_a_layer_and_its_mask_move_together(waves):
    script, layer = waves
    script.do(SetFrisket(BOX))
    script.do(AddMask(layer, True))
    script.document.undo(), script.document.undo()
    script.do(AddMask(layer))
    script.stroke(layer, HARD, (0, 0, 0), [(150, 110, 1)], on="mask")
    before = flattened(script.painting).read(Rect(60, 40, 240, 200))
    script.do(Transform((layer,), moved(20.0, 10.0)))
    assert np.array_equal(flattened(script.painting).read(Rect(80, 50, 260, 210)), before)


def test_only_what_the_frisket_lets_through_moves(waves):
    script, layer = waves
    before = pixels(script, layer)
    script.do(SetFrisket(BOX))
    script.do(Transform((layer,), moved(100.0, 0.0)))
    after = pixels(script, layer)
    assert not after[:, 85:135, 105:175].any()  # lifted out
    assert np.array_equal(after[:, 85:135, 205:235], before[:, 85:135, 105:135])
    assert np.array_equal(after[:, :75], before[:, :75])
    assert script.painting.frisket.sheet.bounds() == Rect(200, 80, 280, 140)


def test_several_layers_and_their_area(waves):
    script, layer = waves
    light = script.layer(script.painting.parts[0].uid, "light")
    script.stroke(light, HARD.with_changes(size_px=20), (1, 1, 1), [(300, 220, 1)])
    assert content_area(script.painting, (layer, light)).x1 > content_area(script.painting, (layer,)).x1
    script.do(Transform((layer, light), moved(-30.0, 0.0)))
    assert rgba(script.painting.layer(light).pixels, 270, 220)[3] == 1


@pytest.mark.parametrize(
    ("matrix", "words"),
    [
        ((1, 0, 0, 0, 0, 0, 0, 0, 1), "flat"),
        ((1, 0, 0, 0, 1, 0, -0.02, 0, 1), "steep"),
        ((1, 0, 0, 0, 1, float("nan"), 0, 0, 1), "expected"),
        ((1, 0, 0), "9 numbers"),
    ],
)
def test_impossible_moves_are_refused(waves, matrix, words):
    script, layer = waves
    before = script.painting
    with pytest.raises(InputError, match=words):
        script.do(Transform((layer,), matrix))
    assert script.painting is before


def test_nothing_to_move_is_said(waves):
    script, _ = waves
    empty = script.layer(script.painting.parts[0].uid, "light")
    with pytest.raises(InputError, match="nothing to move"):
        script.do(Transform((empty,), moved(5.0, 5.0)))
    with pytest.raises(InputError, match="number of layers"):
        script.do(Transform((), moved(5.0, 5.0)))


# --- nudging ------------------------------------------------------------------------------------------


def test_ten_nudges_at_one_place_do_not_soften_it(waves):
    script, layer = waves
    before = pixels(script, layer)
    for _ in range(5):
        script.stroke(layer, NUDGE, (0, 0, 0), [(140, 120), (160, 120), (180, 124)])
        script.stroke(layer, NUDGE, (0, 0, 0), [(180, 124), (160, 120), (140, 120)])
    pushed = pixels(script, layer)
    inner = (slice(None), slice(60, 180), slice(90, 230))

    def detail(picture):
        return np.abs(np.diff(picture[inner].astype(float), 2, axis=2)).sum()

    assert not np.array_equal(before, pushed)
    # The picture is compressed in some places and stretched in others; blurred it would have lost most of this.
    assert detail(pushed) > 0.9 * detail(before)
    back = NUDGE.with_changes(nudge="back", size_px=260)
    for _ in range(12):
        script.stroke(layer, back, (0, 0, 0), [(60, 120), (260, 120), (60, 120)])
    assert psnr(pixels(script, layer)[inner], before[inner]) > 40


def test_a_push_takes_what_is_under_the_tip_along(waves):
    script, layer = waves
    script.do(Fill(layer, (0.2, 0.2, 0.2)))
    script.stroke(layer, HARD.with_changes(size_px=16), (1, 0, 0), [(120, 120, 1)])
    script.stroke(layer, NUDGE.with_changes(size_px=120), (0, 0, 0), [(120, 120), (140, 120), (160, 120)])
    red = pixels(script, layer)[0].astype(float) - pixels(script, layer)[1]
    ys, xs = np.nonzero(red > 20000)
    assert xs.mean() == pytest.approx(160, abs=6)
    assert ys.mean() == pytest.approx(120, abs=2)


@pytest.mark.parametrize(("how", "factor"), [("grow", 1.15), ("shrink", 0.87)])
def test_grow_and_shrink(waves, how, factor):
    script, layer = waves
    script.do(Fill(layer, (0.2, 0.2, 0.2)))
    script.stroke(layer, HARD.with_changes(size_px=30), (1, 0, 0), [(160, 120, 1)])
    count = (pixels(script, layer)[1] < 3000).sum()
    brush = NUDGE.with_changes(nudge=how, size_px=140, spacing=0.01)
    script.stroke(layer, brush, (0, 0, 0), [(160, 120), (163, 120), (160, 123), (157, 120), (160, 117)] * 4)
    after = (pixels(script, layer)[1] < 3000).sum()
    assert (after > count * factor) if factor > 1 else (after < count * factor)


def test_nudging_replays_to_the_bit_and_painting_begins_anew(waves):
    script, layer = waves
    script.stroke(layer, NUDGE, (0, 0, 0), [(140, 120), (180, 124)])
    assert script.painting.layer(layer).warp is not None
    script.stroke(layer, NUDGE, (0, 0, 0), [(150, 90), (150, 130)])
    script.stroke(layer, HARD, (1, 1, 1), [(60, 60, 1)])
    assert script.painting.layer(layer).warp is None
    script.stroke(layer, NUDGE, (0, 0, 0), [(60, 60), (90, 60)])
    again = begun(json.loads(json.dumps(script.document.records)))
    assert same_painting(again, script.painting)


def test_a_nudge_respects_the_frisket(waves):
    script, layer = waves
    before = pixels(script, layer)
    script.do(SetFrisket(BOX))
    script.stroke(layer, NUDGE.with_changes(size_px=150), (0, 0, 0), [(120, 110), (160, 110)])
    after = pixels(script, layer)
    assert np.array_equal(after[:, :80], before[:, :80])
    assert np.array_equal(after[:, :, 180:], before[:, :, 180:])
    assert not np.array_equal(after, before)


def cage(area, columns, rows, moves):
    points = cage_points(area, columns, rows).reshape(-1, 2)
    for index, (dx, dy) in moves.items():
        points[index] += (dx, dy)
    return tuple((float(x), float(y)) for x, y in points)


def test_a_cage_moves_what_is_under_its_point(waves):
    script, layer = waves
    script.do(Fill(layer, (0.2, 0.2, 0.2)))
    script.stroke(layer, HARD.with_changes(size_px=16), (1, 0, 0), [(160, 120, 1)])
    area = Rect(80, 60, 240, 180)
    script.do(CageWarp((layer,), tuple(area), 2, 2, cage(area, 2, 2, {4: (14.0, -9.0)})))
    red = pixels(script, layer)[0].astype(float) - pixels(script, layer)[1]
    ys, xs = np.nonzero(red > 20000)
    assert (xs.mean(), ys.mean()) == pytest.approx((174, 111), abs=1.5)
    assert np.array_equal(
        pixels(script, layer)[:, :, :2], np.broadcast_to(pixels(script, layer)[:, :1, :1], (4, 240, 2))
    )


@pytest.mark.parametrize(
    ("points", "words"),
    [
        (cage(Rect(80, 60, 240, 180), 2, 2, {}), "at rest"),
        (((1.0, 1.0),) * 4, "place for each"),
        (cage(Rect(80, 60, 240, 180), 2, 2, {4: (900.0, 0.0)}), "too far"),
        (cage(Rect(80, 60, 240, 180), 2, 2, {4: (float("nan"), 0.0)}), "points"),
    ],
)
def test_cages_that_cannot_be_are_refused(waves, points, words):
    script, layer = waves
    with pytest.raises(InputError, match=words):
        script.do(CageWarp((layer,), (80, 60, 240, 180), 2, 2, points))


# --- filters ------------------------------------------------------------------------------------------


def test_filters_respect_the_frisket_and_leave_the_rest(waves):
    script, layer = waves
    before = pixels(script, layer)
    script.do(SetFrisket(BOX))
    for name in ("levels", "colour", "blur", "noise"):
        settings = {"levels": {"black": 30.0}, "colour": {"hue": 90.0}, "blur": {"sigma_px": 5.0}, "noise": {}}[name]
        script.do(Filter((layer,), name, settings))
        after = pixels(script, layer)
        assert np.array_equal(after[:, :80], before[:, :80]), name
        assert not np.array_equal(after[:, 85:135, 105:175], before[:, 85:135, 105:175]), name
        script.document.undo()


def test_a_filter_on_a_mask(waves):
    script, layer = waves
    script.do(AddMask(layer))
    script.stroke(layer, HARD, (0, 0, 0), [(150, 110, 1)], on="mask")
    script.do(Filter((layer,), "blur", {"sigma_px": 6.0}, "mask"))
    soft = script.painting.layer(layer).mask.pixels.read(script.painting.rect)[3] / 65535
    assert ((soft > 0.1) & (soft < 0.9)).sum() > 500


@pytest.mark.parametrize(
    ("name", "settings", "words"),
    [
        ("blur", {"sigma_px": float("nan")}, "sigma"),
        ("blur", {"sigma_px": 4000.0}, "sigma"),
        ("curve", {}, "points is missing"),
        ("emboss", {}, "filter"),
        ("brightness", {"brightness": "much"}, "brightness"),
    ],
)
def test_filters_with_nonsense_are_refused(waves, name, settings, words):
    script, layer = waves
    with pytest.raises(InputError, match=words):
        script.do(Filter((layer,), name, settings))


def test_a_filter_on_nothing_is_said(waves):
    script, _ = waves
    empty = script.layer(script.painting.parts[0].uid, "light")
    with pytest.raises(InputError, match="nothing to change"):
        script.do(Filter((empty,), "blur", {"sigma_px": 3.0}))


# --- the canvas ---------------------------------------------------------------------------------------


def test_cropping_and_extending(waves):
    script, layer = waves
    before = pixels(script, layer)
    script.do(SetFrisket(BOX))
    script.do(FrameCanvas(50, 40, 200, 150))
    assert script.painting.rect == Rect(0, 0, 200, 150)
    assert np.array_equal(pixels(script, layer), before[:, 40:190, 50:250])
    assert script.painting.frisket.sheet.bounds() == Rect(50, 40, 130, 100)
    script.do(FrameCanvas(-50, -40, 320, 240))
    assert not pixels(script, layer)[:, :40].any()
    script.document.undo(), script.document.undo()
    assert np.array_equal(pixels(script, layer), before)
    assert script.painting.rect == Rect(0, 0, 320, 240)


def test_scaling(waves):
    script, layer = waves
    script.do(ScaleCanvas(640, 480, 600.0))
    assert (script.painting.width, script.painting.height, script.painting.ppi) == (640, 480, 600)
    script.do(ScaleCanvas(320, 240))
    inner = (slice(None), slice(60, 180), slice(90, 230))
    assert psnr(pixels(script, layer)[inner], pixels_of(analytic(320, 240))[inner]) > 40


def pixels_of(raster):
    return raster.read(raster.rect)


@pytest.mark.parametrize(
    ("operation", "words"),
    [
        (FrameCanvas(900, 0, 100, 100), "outside"),
        (FrameCanvas(0, 0, 0, 100), "width"),
        (FrameCanvas(0, 0, 30000, 30000), "Mpx"),
        (ScaleCanvas(40000, 5), "width"),
        (ScaleCanvas(100, 100, float("nan")), "ppi"),
    ],
)
def test_canvases_that_cannot_be_are_refused(waves, operation, words):
    with pytest.raises(InputError, match=words):
        waves[0].do(operation)


# --- pictures -----------------------------------------------------------------------------------------


def test_a_picture_keeps_its_pixels(waves):
    script, _ = waves
    random = np.random.default_rng(3)
    picture = random.integers(0, 65536, (4, 50, 60), dtype=np.uint16)
    picture[3] = 65535
    assert np.array_equal(from_text(to_text(picture)), picture)
    eight = (picture >> 8) * np.uint16(257)
    assert len(to_text(eight)) < 0.7 * len(to_text(picture))
    script.do(AddPicture(1, to_text(picture), place="over", matrix=moved(30.0, 40.0)))
    layer = script.painting.parts[0].layers[-1]
    assert np.array_equal(layer.pixels.read(Rect(30, 40, 90, 90)), picture)


@pytest.mark.parametrize(
    ("fit", "expected"), [("size", (110, 95, 210, 145)), ("inside", (0, 40, 320, 200)), ("over", (-80, 0, 400, 240))]
)
def test_a_picture_fits_the_canvas(fit, expected):
    matrix = fitted_matrix(100, 50, Rect(0, 0, 320, 240), fit)
    corners = (matrix @ np.array([(0, 0, 1), (100, 50, 1)]).T)[:2].T.reshape(-1)
    assert corners == pytest.approx(expected)


@pytest.mark.parametrize("data", ["", "?", "AAAA", "iVBORw0KGgo="])
def test_data_that_is_no_picture_is_refused(waves, data):
    with pytest.raises(InputError, match="picture"):
        waves[0].do(AddPicture(1, data))


def test_a_texture_is_a_layer_like_any_other(waves):
    script, _ = waves
    script.do(AddTexture(1, "felt", 1.5, 1.0, 7))
    layer = script.painting.parts[0].layers[-1]
    assert (layer.role, layer.mode, layer.place) == ("texture", "Overlay", "body")
    again = begun(json.loads(json.dumps(script.document.records)))
    assert same_pixels(again.parts[0].layers[-1].pixels, layer.pixels)


# --- trying out at a smaller size ---------------------------------------------------------------------


@pytest.mark.parametrize("step", [2, 4])
def test_a_trial_on_a_reduced_painting_shows_the_same(waves, step):
    script, layer = waves
    operations = (
        Transform((layer,), (0.9, 0.2, 10.0, -0.2, 0.9, 40.0, 0.0, 0.0, 1.0)),
        Filter((layer,), "blur", {"sigma_px": 8.0}),
        CageWarp((layer,), (80, 60, 240, 180), 2, 2, cage(Rect(80, 60, 240, 180), 2, 2, {4: (14.0, -9.0)})),
    )
    small = reduced(script.painting, step)
    for operation in operations:
        whole, _ = operation.apply(script.painting)
        trial = operation.scaled(1 / step)
        tried, _ = getattr(trial, "glance", trial.apply)(small)
        expected = flattened(reduced(whole, step))
        assert psnr(flattened(tried).read(small.rect)[:3], expected.read(small.rect)[:3]) > 27, operation.op


def test_guides_and_the_maquette_go_along_with_the_canvas():
    script = Script.new(300, 200)
    part = script.part("Drawing", "drawing")
    script.do(SetGuide(part, asdict(HeadGuide(x=100, y=80, height_px=60))))
    ball = Maquette((Piece("Ball"),), (120.0, 90.0), 40.0)
    script.do(SetMaquette(ball.to_record()))
    script.do(FrameCanvas(20, 10, 240, 160))
    guide, maquette = script.painting.part(part).guide, script.painting.maquette
    assert (guide.x, guide.y, guide.height_px) == (80, 70, 60)
    assert (maquette.middle, maquette.unit_px) == ((100, 80), 40)
    script.do(ScaleCanvas(480, 320))
    guide, maquette = script.painting.part(part).guide, script.painting.maquette
    assert (guide.x, guide.y, guide.height_px) == (160, 140, 120)
    assert (maquette.middle, maquette.unit_px) == ((200, 160), 80)
