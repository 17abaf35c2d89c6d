"""Scripts find their way on a form: by piece, by point, along outlines; and comb it by rule."""

from __future__ import annotations

import numpy as np
import pytest

from japanner.color.lab import lch_from_srgb
from japanner.errors import InputError
from japanner.files.opening import open_painting
from japanner.light.figure.people import person
from japanner.light.maquette import Maquette
from japanner.light.pieces import Piece
from japanner.raster.geometry import Rect
from japanner.scripting import Comb, OnForm, Script, lch
from tests.paintings import HARD, same_painting

FAR = 1000.0  # so far away that there is hardly any perspective
BALL = Piece("Ball", place=(0.5, 0, 0), size=(0.5, 0.5, 0.5), part=1)
BOX = Piece("Box", "box", place=(-0.6, 0, 0), size=(0.3, 0.3, 0.3), part=2)


@pytest.fixture
def form():
    return OnForm(Maquette((BALL, BOX), middle=(200.0, 150.0), unit_px=100.0, eye=FAR), 400, 300)


def test_places_by_point_and_by_piece(form):
    assert form.at((0, 0, 0)) == pytest.approx((200, 150))
    assert form.at((0.25, 0.5, 0)) == pytest.approx((225, 100), abs=0.01)  # y goes up there, down here
    assert form.place("Ball") == pytest.approx((250, 150), abs=0.01)
    assert form.place("Ball", (0, 0.5, 0)) == pytest.approx((250, 100), abs=0.01)
    assert form.place("Ball", mirrored=True) == pytest.approx((150, 150), abs=0.01)
    with pytest.raises(InputError, match="piece: expected one of Ball, Box, got 'Nose'"):
        form.place("Nose")


def test_what_is_seen_at_a_place(form):
    point, normal, name = form.under(250, 150)
    assert name == "Ball"
    assert point == pytest.approx((0.5, 0, 0.5), abs=0.02)
    assert normal == pytest.approx((0, 0, 1), abs=0.05)
    assert form.under(10, 10) is None


def test_a_curve_goes_through_its_points(form):
    seen = np.array(form.curve(((0, 0, 0), (0.5, 0.5, 0), (1, 0, 0)), 41))
    assert len(seen) == 41
    for x, y in ((200, 150), (250, 100), (300, 150)):
        assert np.hypot(*(seen - (x, y)).T).min() < 1.5
    for bad in ([(0, 0, 0)], [(0, 0, 0), (0, 0, 0), (1, 0, 0)]):
        with pytest.raises(InputError, match="points"):
            form.curve(bad)


def test_the_outline_of_a_ball_is_a_circle(form):
    ring = np.array(form.outline("Ball", step=1))
    assert np.hypot(*(ring - (250, 150)).T) == pytest.approx(50, abs=1.5)
    x, y = ring.T
    assert (x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2 == pytest.approx(np.pi * 50**2, rel=0.04)  # clockwise
    assert ring[0].sum() == pytest.approx(ring.sum(axis=1).min())
    of_part = np.array(form.outline(part=2, step=1))
    assert np.ptp(of_part[:, 0]) == pytest.approx(60, abs=3)
    with pytest.raises(InputError, match="nothing is seen of Ghost"):
        form.outline("Ghost")


def test_a_rule_combs_every_place_of_its_part(form):
    def to_the_right(point, normal, name):
        assert name == "Ball"
        return None if point[1] > 0 else Comb((1, 0, 0), length=0.5, lift=0.4)

    guides = form.combed(1, to_the_right, apart_px=10)
    assert len(guides) > 15
    for guide in guides:
        (x0, y0), (x1, y1) = guide["points"]
        assert y0 > 145  # nothing where the rule says so
        assert np.hypot(x1 - x0, y1 - y0) == pytest.approx(7)
        # What lies on the ball of what points to the right, as it is seen: (1 - nx^2, -nx ny), y up.
        nx, ny = (x0 - 250) / 50, (150 - y0) / 50
        off = np.arctan2(y1 - y0, x1 - x0) - np.arctan2(nx * ny, 1 - nx * nx)
        assert abs(np.degrees(off)) < 12
        assert (guide["length"], guide["lift"]) == (0.5, 0.4)
    along = form.combed_along(((0.2, 0, 0.4), (0.5, 0.2, 0.45), (0.8, 0, 0.4)), lift=0.3)
    assert len(along["points"]) == 12
    assert along["lift"] == 0.3


# --- the script's own words ---------------------------------------------------------------------------------


def test_a_form_is_stood_filled_and_combed_at_any_scale():
    made = []
    for scale in (1.0, 0.5):
        script = Script.new(400, 300, scale=scale)
        fur = script.part("Fur", "fur")
        form = script.stand(Maquette((BALL,), middle=(200.0, 150.0), unit_px=100.0, eye=FAR))
        assert (form.width, form.height) == (400, 300)
        flat = script.fill(fur, "flat", lch(40, 20, 70))
        script.comb(fur, form, lambda point, normal, name: Comb((0, -1, 0)), apart_px=16, most=12)
        made.append(script.painting)
        area = script.painting.layer(flat).pixels.bounds()
        assert (area.x0 / scale, area.x1 / scale) == pytest.approx((200, 300), abs=6)
        assert 4 <= len(script.painting.parts[0].comb) <= 12
    (large, small) = (one.parts[0].comb[0].points[0] for one in made)
    assert tuple(small) == pytest.approx([0.5 * one for one in large])


# CIE 15: L*, C* and h of what comes out are those that went in, where sRGB holds the colour.
def test_a_colour_by_value_chroma_and_hue():
    assert np.asarray(lch_from_srgb(lch(52, 21, 75))) == pytest.approx((52, 21, 75), abs=0.1)


def test_a_sheet_over_all(script):
    before = script.painting
    layer = script.over_all((0.9, 0.7, 0.4), "Multiply", 0.5)
    part, made = script.painting.find(layer)
    assert part is script.painting.parts[-1]
    assert (made.mode, made.strength, made.place) == ("Multiply", 0.5, "over")
    assert made.pixels.bounds() == before.rect


def test_a_script_goes_on_with_a_file(script, tmp_path):
    script.save(tmp_path / "a.ora")
    again = Script.open(tmp_path / "a.ora")
    assert same_painting(again.painting, script.painting)
    count = len(again.document.records)
    again.stroke(again.painting.parts[0].layers[1].uid, HARD, (1, 1, 1), [(20, 20, 1.0)])
    assert len(again.document.records) == count + 1


def test_moments_are_kept_every_so_often_and_as_stages_begin(script, tmp_path):
    flat = script.painting.parts[0].layers[0].uid
    script.watch(3)
    base = len(script.document.records) - 1  # one record says how the painting began
    script.stage = "first"
    for x in range(40, 240, 20):
        if x == 160:
            script.stage = "second"
        script.stroke(flat, HARD, (1, 1, 1), [(x, 60, 1.0)])
    stages = [one.stage for one in script.document.moments]
    assert stages == ["first", "first", "second"]
    assert [one.strokes - base for one in script.document.moments] == [3, 6, 9]
    script.save(tmp_path / "a.ora")
    found = open_painting(tmp_path / "a.ora")
    assert found.moments == script.document.moments
    assert all(one.picture[:2] == b"\xff\xd8" for one in found.moments)  # JPEG, ISO/IEC 10918-1: start of image
    with pytest.raises(InputError, match="every"):
        script.watch(0)


@pytest.fixture(scope="module")
def sitter():
    """A figure three quarters to the left, with its lips a part of their own."""
    piece = Piece("Ione", "figure", sliders=tuple(sorted(person("Ione Marrash").items())), part=1, parts=(("lips", 2),))
    return OnForm(Maquette((piece,), middle=(200.0, 170.0), unit_px=120.0, turn=(-30.0, 0.0, 0.0), eye=9.0), 400, 400)


def test_landmarks_and_zones_of_a_figure_are_places(sitter):
    nose, chin, left, right = (np.array(sitter.on(name)) for name in
                               ("nose tip", "chin", "left mouth corner", "right mouth corner"))  # fmt: skip
    assert nose[0] < sitter.on("nape")[0]
    assert nose[1] < left[1] < chin[1]
    # The figure's left is to the viewer's right.
    assert left[0] > right[0]
    lips = np.array(sitter.on("lips"))
    assert right[0] - 2 < lips[0] < left[0] + 2
    point, normal, name = sitter.under(*sitter.on("right cheek"))
    assert name == "Ione"
    assert normal @ point > 0


def test_zones_and_parts_of_a_figure_have_outlines(sitter):
    lips, part = (np.array(ring) for ring in (sitter.outline("lips", step=1), sitter.outline(part=2, step=1)))
    assert np.abs(lips.mean(axis=0) - part.mean(axis=0)).max() < 1
    skin = np.array(sitter.outline(part=1))
    assert np.ptp(skin[:, 1]) > 4 * np.ptp(lips[:, 1])


def test_hair_is_combed_on_a_zone(sitter):
    from dataclasses import replace

    piece = replace(sitter.maquette.pieces[0], parts=(("scalp", 3),))
    form = OnForm(replace(sitter.maquette, pieces=(piece,)), 400, 400)
    guides = form.combed(3, lambda point, normal, name: Comb((0.0, -1.0, -0.5)), 16)
    assert len(guides) > 10
    starts = np.array([one["points"][0] for one in guides])
    assert starts[:, 1].max() < form.on("right lobe")[1]


def test_a_script_asks_what_stands_before_its_canvas(sitter):
    for scale in (1.0, 2.0):
        script = Script.new(400, 400, scale=scale)
        part = script.part("Skin", "skin")
        layer = script.layer(part, "flat")
        piece = Piece("Somebody", "figure", part=part)
        form = script.stand(Maquette((piece,), (200.0, 180.0), 110.0, eye=9.0))
        assert script.at((0.1, 0.2, 0.3)) == pytest.approx(form.at((0.1, 0.2, 0.3)), abs=0.01)
        assert script.on("nose tip") == pytest.approx(form.on("nose tip"), abs=0.01)
        assert len(script.outline(part=part)) == pytest.approx(len(form.outline(part=part)), rel=0.1)
        script.stroke(layer, HARD, (0.5, 0.2, 0.1), [(-0.2, 0.5, 1.0, 0.8), (0.2, 0.5, 1.0, 0.8)], form=form)
        x, y = (round(one * scale) for one in form.at((0.0, 0.5, 1.0)))
        painted = next(one for _, one in script.painting.layers() if one.uid == layer)
        assert painted.pixels.read(Rect(x, y, x + 1, y + 1))[3, 0, 0] > 0
