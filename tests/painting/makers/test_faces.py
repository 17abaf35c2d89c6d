"""Eyes in their lids, lashes, brows, skin by zones and flesh strokes, on a figure."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from japanner.color import lab, srgb
from japanner.errors import InputError
from japanner.light.figure.people import person
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.light.rays.owners import zone
from japanner.painting.form.coverages import silhouette_sheet
from japanner.painting.form.forms import seen_of
from japanner.painting.makers import MAKERS, Scene
from japanner.painting.makers.eyes.balls import GAZE, eyeballs_of, target_of
from japanner.painting.makers.eyes.fitting import fitted
from japanner.painting.makers.eyes.lashes import ALIKE, chances, lash_roots
from japanner.painting.makers.flesh.relief import PORES, pits, relief
from japanner.painting.makers.flesh.zones import Zones
from japanner.painting.model import Part
from japanner.painting.operations import Make, SetLight, SetMaquette, SetPart
from japanner.painting.picture.compositor import flattened
from japanner.painting.value.value_scale import proposed_scale
from japanner.scripting import Script, lch

SIZE, UNIT = (480, 560), 190.0
SKIN = (60.0, 24.0, 56.0)


def figure(turn=-24.0, eye=9.0, **sliders):
    values = {**person("Wren Calloway"), "turn": turn, **sliders}
    return Piece("Figure", "figure", sliders=tuple(sorted(values.items()))), eye


def head(turn=-24.0, eye=9.0, unit=UNIT, skin=SKIN, **sliders):
    """A script with a figure whose skin, lips and eyes are laid flat; uids of these parts."""
    script = Script.new(*SIZE)
    uids = [script.part(name, material) for name, material in (("Skin", "skin"), ("Lips", "skin"), ("Eyes", "eye"))]
    piece, eye = figure(turn, eye, **sliders)
    piece = replace(piece, part=uids[0], parts=(("left eye", uids[2]), ("lips", uids[1]), ("right eye", uids[2])))
    script.do(SetMaquette(Maquette((piece,), (240.0, 260.0), unit, eye=eye).to_record()))
    for uid, colour in zip(uids, (skin, (48.0, 26.0, 36.0), (55.0, 8.0, 70.0)), strict=True):
        script.fill(uid, "flat", lch(*colour))
    return script, uids


@pytest.fixture(scope="module")
def turned_head():
    return head()


def layers(script, part):
    return {one.name: one for one in script.painting.part(part).layers if one.made}


def planes(layer, rect):
    codes = layer.pixels.read(rect).astype(np.float32) / 65535
    return codes[:3] / np.maximum(codes[3], 1e-6), codes[3]


def scene_of(script, part, maker, **given):
    painting = script.painting
    return Scene(painting, painting.part(part), MAKERS[maker].checked(given), 3)


# --- eyes -------------------------------------------------------------------------------------------------


@settings(max_examples=25, deadline=None)
@given(st.floats(-60, 60), st.floats(-25, 25), st.floats(4, 40), st.floats(-30, 30), st.floats(-20, 20),
       st.floats(120, 3000))  # fmt: skip
def test_both_gazes_meet_under_any_turn_and_perspective(turn, nod, eye, right, up, far):
    piece, _ = figure(turn, nod=nod)
    painting = Script.new(100, 100).painting
    maquette = Maquette((replace(piece, part=7),), (50.0, 50.0), 40.0, (10.0, 5.0, 3.0), eye)
    balls = eyeballs_of(replace(painting, maquette=maquette), Part(7, "Eyes", "eye"))
    assert len(balls) == 2
    assert balls[0].place[0] < balls[1].place[0] or abs(turn) > 55
    target = target_of(balls, right, up, far)
    mm = balls[0].mm
    # Where the two lines come nearest to each other.
    (p, q), (a, b) = (one.place for one in balls), (one.gaze(target) for one in balls)
    s, t = np.linalg.lstsq(np.stack((a, -b), 1), q - p, rcond=None)[0]
    assert np.linalg.norm((p + s * a) - (q + t * b)) / mm < 1
    assert np.linalg.norm(p + s * a - target) / mm < 1
    # Pupils of grown-ups are 51 to 75 mm apart (common practice), and a figure's eyes in its own millimetres, too.
    assert 48 < np.linalg.norm(p - q) / mm < 75


def test_pupils_are_where_the_gaze_goes_through_the_ball():
    script, (_, _, eyes) = head(turn=-20.0, eye=6.0)
    script.do(Make(eyes, "eye", {"gaze_right": 12.0, "far": 700.0}, seed=3))
    painting = script.painting
    balls = eyeballs_of(painting, painting.part(eyes))
    target = target_of(balls, 12.0, 0.0, 700.0)
    _, cover = planes(layers(script, eyes)["Pupil"], painting.rect)
    ys, xs = np.mgrid[: SIZE[1], : SIZE[0]] + 0.5
    maquette = painting.maquette
    for ball in balls:
        # The pupil lies nearly as far out as the ball's surface.
        x, y, z = ball.place + ball.gaze(target) * (ball.globe_mm + 0.5) * ball.mm
        larger = maquette.eye / (maquette.eye - z) * maquette.unit_px
        at = maquette.middle[0] + x * larger, maquette.middle[1] - y * larger
        near = cover * (np.hypot(xs - at[0], ys - at[1]) < 5 * ball.mm * larger)
        found = (xs * near).sum() / near.sum(), (ys * near).sum() / near.sum()
        assert found[0] == pytest.approx(at[0], abs=1.2)
        assert found[1] == pytest.approx(at[1], abs=1.8)  # the upper lid may cut it


def test_both_eyes_are_of_one_size_on_the_form(turned_head):
    script, (_, _, eyes) = turned_head
    scene = scene_of(script, eyes, "eye")
    balls = eyeballs_of(script.painting, script.painting.part(eyes))
    both = fitted(scene, scene.part, balls, target_of(balls, 0, 0, 900))
    assert [one.inner for one in both] == [1.0, -1.0]  # noses between them
    for one, ball in zip(both, balls, strict=True):
        assert one.px / ball.larger() == pytest.approx(ball.mm * script.painting.maquette.unit_px)
        assert one.globe == pytest.approx(ball.globe_mm)
    assert both[0].px == pytest.approx(both[1].px, rel=0.08)
    # As much is covered as the maquette shows of the balls.
    found = seen_of(script.painting)
    shown = (zone(found, "left eye") + zone(found, "right eye")).sum()
    assert sum(float(one.cover.sum()) for one in both) == pytest.approx(shown, rel=0.06)


def test_the_white_of_the_eye_is_never_white_and_darker_in_its_corners(turned_head):
    script, (_, _, eyes) = turned_head
    script.do(Make(eyes, "eye", {}, seed=3))
    colour, cover = planes(layers(script, eyes)["White"], script.painting.rect)
    value = lab.lightness_from_srgb(np.moveaxis(colour, 0, -1))
    assert value[cover > 0.5].max() <= 66
    script.document.undo()


def test_kinds_are_what_other_settings_begin_with():
    eye = MAKERS["eye"]
    assert eye.checked({"kind": "cat"})["pupil"] == "slit"
    assert eye.checked({"kind": "cat", "pupil": "round"})["pupil"] == "round"
    assert eye.checked({})["iris"] == eye.checked({"kind": "human"})["iris"]
    assert {"human", "otter", "cat", "dog", "horse", "bird"} == set(eye.kinds)


def test_the_gazes_handle_is_where_it_is_put(turned_head):
    script, (_, _, eyes) = turned_head
    painting, part = script.painting, script.painting.part(eyes)
    values = MAKERS["eye"].checked({"gaze_right": 8.0, "gaze_up": -5.0})
    x, y = GAZE.at(painting, part, values)
    again = GAZE.towards(painting, part, values, x + 25, y - 14)
    assert GAZE.at(painting, part, {**values, **again}) == pytest.approx((x + 25, y - 14), abs=0.1)
    # Past what is reached it goes as far as it can.
    far = GAZE.towards(painting, part, values, 1e5, y)
    assert far["gaze_right"] <= 45
    assert GAZE.at(painting, painting.part(script.painting.parts[0].uid), values) is None


# --- lashes and brows -------------------------------------------------------------------------------------


def test_lashes_are_rooted_on_the_edge_of_the_lid(turned_head):
    script, (_, _, eyes) = turned_head
    scene = scene_of(script, eyes, "eye")
    balls = eyeballs_of(script.painting, scene.part)
    for eye in fitted(scene, scene.part, balls, target_of(balls, 0, 0, 900)):
        share = np.linspace(0.1, 0.95, 40)
        for upper in (True, False):
            roots = lash_roots(eye, share, upper)
            columns = np.round((roots[:, 0] - eye.x[0, 0]) * eye.px).astype(int)
            rows = (eye.y[0, 0] - roots[:, 1]) * eye.px
            for column, row in zip(columns, rows, strict=True):
                inside = np.flatnonzero(eye.cover[:, column] > 0.5)
                edge = inside[0] - 0.5 if upper else inside[-1] + 0.5
                assert row == pytest.approx(edge, abs=1.0)


@pytest.mark.parametrize("count", [110, 420])
def test_no_two_hairs_are_alike(count):
    dice = chances(np.random.default_rng(4), count)
    apart = np.abs(dice[:, None] - dice[None]).max(axis=-1) + np.eye(count)
    assert apart.min() > ALIKE
    assert dice.min() >= 0
    assert dice.max() <= 1


def test_lashes_and_brows_are_layers_of_their_own(turned_head):
    script, _ = turned_head
    hairs = script.part("Lashes", "hair")
    script.do(Make(hairs, "lashes and brows", {}, seed=3))
    found = layers(script, hairs)
    assert list(found) == ["Brows, pale", "Brows", "Lashes, pale", "Lashes"]
    _, lashes = planes(found["Lashes"], script.painting.rect)
    _, brows = planes(found["Brows"], script.painting.rect)
    centre = [float((np.arange(SIZE[1]) * one.sum(axis=1)).sum() / one.sum()) for one in (brows, lashes)]
    assert centre[0] < centre[1] - 8  # brows above
    before = found
    script.do(Make(hairs, "lashes and brows", {"lower": 0.0, "brows": 0.0}, seed=3))
    assert "Brows" not in {one.name for one in script.painting.part(hairs).layers[4:]}
    assert before["Lashes"].pixels.tiles
    for _ in range(3):
        script.document.undo()


def test_without_eyes_of_a_maquette_there_are_no_lashes():
    script = Script.new(100, 100)
    part = script.part("Lashes", "hair")
    with pytest.raises(InputError, match="grow on eyes of the maquette"):
        script.do(Make(part, "lashes and brows"))


# --- skin -------------------------------------------------------------------------------------------------


def strongest(plane):
    """The strongest wavelength of a plane, px: of the spectrum by rings."""
    window = np.hanning(plane.shape[0])[:, None] * np.hanning(plane.shape[1])
    power = np.abs(np.fft.fft2((plane - plane.mean()) * window)) ** 2
    f = np.hypot(np.fft.fftfreq(plane.shape[0])[:, None], np.fft.fftfreq(plane.shape[1]))
    rings = np.round(f * 300).astype(int)
    mean = np.bincount(rings.ravel(), power.ravel()) / np.maximum(np.bincount(rings.ravel()), 1)
    mean = np.convolve(mean, np.ones(5) / 5, mode="same")
    first = 6
    return 300 / (first + int(np.argmax(mean[first:150])))


@pytest.mark.parametrize("apart", [6.0, 9.0, 14.0])
def test_pores_are_as_far_apart_as_asked_for(apart):
    found = pits(np.random.default_rng(3), (400, 400), apart)
    assert strongest(found) == pytest.approx(apart, rel=0.15)
    assert -2 < found.min() < -0.5
    assert abs(found.mean()) < 0.02


@pytest.mark.parametrize("name", ["cheeks", "forehead", "nose tip"])
def test_every_zone_has_pores_of_its_size(name):
    unit, apart = (300.0, 8.0) if name == "forehead" else (430.0, 4.0)
    script, (skin, _, _) = head(turn=0.0, unit=unit)
    scene = scene_of(script, skin, "skin", pores=apart)
    zones = Zones(scene)
    found, share = relief(scene, zones), zones.share(name) * scene.form.cover
    room = cv2.distanceTransform((share > 0.9).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    y, x = (int(one) for one in np.unravel_index(np.argmax(room), room.shape))
    side = int(room.max() / np.sqrt(2))
    assert side > 4 * apart
    patch = found[y - side : y + side, x - side : x + side]
    assert strongest(patch) == pytest.approx(apart * PORES[name].apart, rel=0.15)


SKINS = ((25, 18, 48), (28, 22, 55), (33, 24, 52), (38, 26, 53), (45, 30, 58), (52, 30, 60), (58, 28, 54),
         (63, 28, 58), (68, 25, 62), (74, 22, 58), (80, 20, 60), (85, 16, 64))  # fmt: skip


@pytest.mark.parametrize("skin", SKINS)
def test_lay_in_keeps_the_hue_of_a_skin_at_its_halftone(skin):
    """Hue rises from shadow to light, and chroma is highest between halftone and light (common practice)."""
    script = Script.new(260, 260)
    part = script.part("Skin", "skin")
    script.do(SetMaquette(Maquette((Piece("Ball", part=part),), (130.0, 130.0), 110.0).to_record()))
    script.fill(part, "flat", lch(*skin))
    script.do(SetLight(25.0, -65.0))
    scale = proposed_scale(skin[0], "skin", script.painting.light)
    script.do(SetPart(part, {"scale": list(scale)}))
    script.do(Make(part, "lay-in", {"way": "smooth"}, seed=1))
    picture = flattened(script.painting).read(script.painting.rect).astype(float)[:3] / 65535
    found = lab.lch_from_srgb(np.moveaxis(picture, 0, -1))
    inside = np.hypot(*(np.mgrid[:260, :260] - 129.5)) < 104
    found = found[inside]

    def at(value):
        return np.median(found[np.abs(found[:, 0] - value) < 1.2], axis=0)

    darkest, lightest = np.percentile(found[:, 0], (2, 98))
    half, shadow, light = at(scale[2]), at(darkest + 1), at(lightest - 1)
    assert shadow[0] < scale[2] - 0.15 * (scale[2] - scale[1])
    assert light[0] > scale[2] + 0.4 * (scale[3] - scale[2])
    assert half[2] == pytest.approx(skin[2], abs=2)
    assert half[1] == pytest.approx(skin[1], rel=0.08)
    assert shadow[2] < half[2] < light[2]
    chromas = [(at(v)[1], v) for v in np.linspace(darkest + 1, lightest - 1, 9)]
    assert scale[2] - 3 <= max(chromas)[1] <= scale[3] + 3


def test_skin_of_a_figure_differs_by_zone_and_is_broken_up_where_it_is_wet():
    script, (skin, _, _) = head(turn=-10.0, unit=300.0)
    script.do(SetPart(skin, {"scale": list(proposed_scale(SKIN[0], "skin", script.painting.light))}))
    script.do(Make(skin, "lay-in", {"way": "smooth"}, seed=2))
    script.do(Make(skin, "skin", {"pores": 5.0}, seed=3))
    found = layers(script, skin)
    assert {"Zones", "Blood", "Mouth line", "Nostrils", "Light through", "Wet highlights", "Pores"} <= set(found)
    painting = script.painting
    zoned, _ = planes(found["Zones"], painting.rect)
    seen = seen_of(painting)
    mean = {name: zoned[:, zone(seen, name) > 0.9].mean(axis=1) for name in ("forehead", "nose tip", "eye sockets")}
    # Redder at the tip of the nose than on the forehead; the sockets darkest.
    assert mean["nose tip"][1] / mean["nose tip"][0] < mean["forehead"][1] / mean["forehead"][0] - 0.01
    assert mean["eye sockets"].mean() < min(mean["forehead"].mean(), mean["nose tip"].mean())
    # The wet film: within a highlight, brightness goes up and down from pore to pore.
    wet, _ = planes(found["Wet highlights"], painting.rect)
    bright = srgb.decode(wet.mean(axis=0))
    spot = bright > 0.25 * bright.max()
    assert spot.sum() > 60
    rough = np.abs(np.diff(bright, axis=1))[spot[:, 1:]].mean() / bright[spot].mean()
    assert rough > 0.05


def test_fine_hair_stands_out_over_the_silhouette_and_not_over_other_zones(turned_head):
    script, (skin, lips, _) = turned_head
    script.do(Make(skin, "skin", {"pores": 6.0, "down": 100.0}, seed=3))
    hairs = layers(script, skin)["Fine hair"]
    assert hairs.place == "over"
    _, cover = planes(hairs, script.painting.rect)
    seen = seen_of(script.painting).seen
    assert (cover[~seen] > 0.05).sum() > 100
    mouth = silhouette_sheet(script.painting, script.painting.part(lips)).coverage(script.painting.rect) > 0.9
    assert cover[mouth].max() < 0.02
    script.document.undo()
    script.do(Make(skin, "skin", {"pores": 6.0, "down": 0.0}, seed=3))
    assert "Fine hair" not in layers(script, skin)
    script.document.undo()


def test_spots_are_fewer_and_softer_on_dark_skin():
    amounts = []
    for value in (75.0, 28.0):
        script, (skin, _, _) = head(skin=(value, 22.0, 55.0))
        script.do(Make(skin, "skin", {"pores": 4.0, "freckles": 60.0, "age_spots": 50.0, "beard": 40.0}, seed=3))
        found = layers(script, skin)
        assert {"Freckles", "Age spots", "Beard shadow"} <= set(found)
        _, cover = planes(found["Freckles"], script.painting.rect)
        steep = np.abs(np.diff(cover, axis=1))
        amounts.append((float(cover.sum()), float(np.percentile(steep[steep > 0.003], 95))))
    assert amounts[1][0] < 0.8 * amounts[0][0]
    assert amounts[1][1] < amounts[0][1]


def test_flesh_strokes_keep_the_values_of_zones():
    script, (skin, _, _) = head(unit=300.0)
    script.do(SetPart(skin, {"scale": list(proposed_scale(SKIN[0], "skin", script.painting.light))}))
    script.do(Make(skin, "lay-in", {"way": "smooth"}, seed=2))
    script.do(Make(skin, "skin", {"pores": 4.0}, seed=3))
    rect = script.painting.rect

    def values():
        picture = flattened(script.painting).read(rect)[:3].astype(float) / 65535
        return lab.lightness_from_srgb(np.moveaxis(picture, 0, -1))

    before = values()
    script.do(Make(skin, "flesh strokes", {"brush": 16.0, "strength": 100.0}, seed=5))
    after, seen = values(), seen_of(script.painting)
    assert np.abs(after - before).mean() > 0.3  # it does something
    for name in ("forehead", "cheeks", "nose tip", "chin", "neck", "jaw"):
        own = zone(seen, name) > 0.9
        assert own.sum() > 100, name
        assert after[own].mean() == pytest.approx(before[own].mean(), abs=1.0), name
    _, cover = planes(layers(script, skin)["Flesh strokes"], rect)
    silhouette = silhouette_sheet(script.painting, script.painting.part(skin)).coverage(rect)
    assert (cover <= silhouette + 1e-3).all()
